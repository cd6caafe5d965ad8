import { DivideIcon } from '@phosphor-icons/react';
import { TextCell } from './cells.js';
import { digitsSettings } from './digits.js';
import { anExpression, type FieldInputProps, type FieldKindView, type FieldOf } from './kind.js';
import { Line } from './line.js';
import { TypedStart } from './start.js';

export const decimal: FieldKindView<FieldOf<'decimal'>> = {
  Icon: DivideIcon,
  Input: (props: FieldInputProps<FieldOf<'decimal'>>) => <Line {...props} mode="decimal" />,
  CellEditor: TextCell,
  picture: 'bars',
  settings: digitsSettings('decimal', 2, 12),
  start: { Input: TypedStart, computed: '' },
  picks: () => [],
  hint: anExpression,
  canConvert: true,
};
