import { PercentIcon } from '@phosphor-icons/react';
import { DigitsInput, readDigits } from './digits.js';
import { anExpression, settingsOf, type FieldInputProps, type FieldKindView, type FieldOf } from './kind.js';
import { TextCell } from './cells.js';
import { Line } from './line.js';
import { TypedStart } from './start.js';

export const decimal: FieldKindView<FieldOf<'decimal'>> = {
  Icon: PercentIcon,
  Input: (props: FieldInputProps<FieldOf<'decimal'>>) => <Line {...props} mode="decimal" />,
  CellEditor: TextCell,
  picture: 'bars',
  settings: settingsOf<string>({
    start: (field) => (field?.kind === 'decimal' ? String(field.digits) : '2'),
    Editor: ({ settings, onChange, problem }) => <DigitsInput value={settings} onChange={onChange} problem={problem} />,
    read: (typed) => {
      const digits = readDigits(typed);
      return digits === null ? { ok: false, problem: { at: 'digits', text: 'A whole number from 0 to 12' } } : { ok: true, plan: { digits } };
    },
  }),
  start: { Input: TypedStart, computed: '' },
  picks: () => [],
  hint: anExpression,
  canConvert: true,
};
