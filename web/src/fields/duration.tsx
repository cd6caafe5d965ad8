import { TimerIcon } from '@phosphor-icons/react';
import { noSettings, type FieldInputProps, type FieldKindView, type FieldOf } from './kind.js';
import { TextCell } from './cells.js';
import { Line } from './line.js';
import { TypedStart } from './start.js';

export const duration: FieldKindView<FieldOf<'duration'>> = {
  Icon: TimerIcon,
  Input: (props: FieldInputProps<FieldOf<'duration'>>) => <Line {...props} mode="text" />,
  CellEditor: TextCell,
  picture: 'bars',
  settings: noSettings,
  start: { Input: TypedStart, computed: '' },
  picks: () => [],
  hint: 'Such as duration("PT1H30M")',
  canConvert: true,
};
