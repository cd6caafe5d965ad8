import { CoinsIcon } from '@phosphor-icons/react';
import { currencyOf } from '@bibliona/core';
import { lazy } from 'react';
import { locale } from '../state/locale.js';
import { TextCell } from './cells.js';
import { anExpression, settingsOf, type FieldInputProps, type FieldKindView, type FieldOf, type SettingsProps } from './kind.js';
import { Line } from './line.js';
import { TypedStart } from './start.js';

// Only the Workshop asks for a currency.
const CurrencyInput = lazy(async () => ({ default: (await import('./CurrencyInput.js')).CurrencyInput }));
export const CurrencySetting = ({ settings, onChange, label = 'Currency' }: SettingsProps<string> & { readonly label?: string }) => (
  <CurrencyInput label={label} value={settings} onChange={onChange} />
);

export const money: FieldKindView<FieldOf<'money'>> = {
  Icon: CoinsIcon,
  Input: (props: FieldInputProps<FieldOf<'money'>>) => <Line {...props} mode="decimal" />,
  CellEditor: TextCell,
  picture: 'bars',
  words: ({ currency }) => `money in ${currency}`,
  settings: settingsOf<string>({
    start: (field) => (field?.kind === 'money' ? field.currency : currencyOf(locale().region)),
    Editor: CurrencySetting,
    read: (currency) => ({ ok: true, plan: { currency } }),
  }),
  start: { Input: TypedStart, computed: '' },
  picks: () => [],
  hint: anExpression,
  canConvert: true,
};
