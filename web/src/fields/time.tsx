import { ClockIcon } from '@phosphor-icons/react';
import { noSettings, type FieldInputProps, type FieldKindView, type FieldOf } from './kind.js';
import { TextCell } from './cells.js';
import { Line } from './line.js';
import { TypedStart } from './start.js';

export const time: FieldKindView<FieldOf<'time'>> = {
  Icon: ClockIcon,
  Input: (props: FieldInputProps<FieldOf<'time'>>) => <Line {...props} mode="text" />,
  CellEditor: TextCell,
  picture: 'bars',
  settings: noSettings,
  start: { Input: TypedStart, computed: '' },
  picks: () => [],
  hint: 'Such as time(9, 30, 0)',
  canConvert: true,
};
