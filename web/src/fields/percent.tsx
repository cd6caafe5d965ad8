import { PercentIcon } from '@phosphor-icons/react';
import { TextCell } from './cells.js';
import { digitsSettings } from './digits.js';
import type { FieldInputProps, FieldKindView, FieldOf } from './kind.js';
import { Line } from './line.js';
import { TypedStart } from './start.js';

export const percent: FieldKindView<FieldOf<'percent'>> = {
  Icon: PercentIcon,
  Input: (props: FieldInputProps<FieldOf<'percent'>>) => <Line {...props} mode="decimal" />,
  CellEditor: TextCell,
  picture: 'bars',
  settings: digitsSettings('percent', 0, 10),
  start: { Input: TypedStart, computed: '' },
  picks: () => [],
  hint: 'A value or an expression: 0.125 is 12.5%; null empties it',
  canConvert: true,
};
