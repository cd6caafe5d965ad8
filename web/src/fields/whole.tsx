import { HashIcon } from '@phosphor-icons/react';
import { anExpression, noSettings, type FieldInputProps, type FieldKindView, type FieldOf } from './kind.js';
import { TextCell } from './cells.js';
import { Line } from './line.js';
import { TypedStart } from './start.js';

export const whole: FieldKindView<FieldOf<'whole'>> = {
  Icon: HashIcon,
  Input: (props: FieldInputProps<FieldOf<'whole'>>) => <Line {...props} mode="numeric" />,
  CellEditor: TextCell,
  picture: 'bars',
  settings: noSettings,
  start: { Input: TypedStart, computed: '' },
  picks: () => [],
  hint: anExpression,
  canConvert: true,
};
