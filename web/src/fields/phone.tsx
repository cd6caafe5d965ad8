import { PhoneIcon } from '@phosphor-icons/react';
import { countryOf, loadKinds } from '@bibliona/core';
import { lazy, useEffect } from 'react';
import { locale } from '../state/locale.js';
import { TextCell } from './cells.js';
import { quotedText, settingsOf, type FieldInputProps, type FieldKindView, type FieldOf, type SettingsProps } from './kind.js';
import { Line } from './line.js';
import { TypedStart } from './start.js';

type Phone = FieldOf<'phone'>;

// Only the Workshop asks for a country.
const CountryInput = lazy(async () => ({ default: (await import('./CountryInput.js')).CountryInput }));
const Editor = ({ settings, onChange }: SettingsProps<string>) => <CountryInput label="Country of numbers without one" value={settings} onChange={onChange} />;

function Input(props: FieldInputProps<Phone>) {
  // A table that gets its first phone number while it is open has not loaded what is known of them.
  useEffect(() => void loadKinds(['phone']), []);
  return <Line {...props} mode="tel" />;
}

export const phone: FieldKindView<Phone> = {
  Icon: PhoneIcon,
  Input,
  CellEditor: TextCell,
  picture: 'bars',
  settings: settingsOf<string>({
    start: (field) => (field?.kind === 'phone' ? field.country : countryOf(locale().region)),
    Editor,
    read: (country) => ({ ok: true, plan: { country } }),
  }),
  start: { Input: TypedStart, computed: '' },
  picks: () => [],
  hint: quotedText,
  canConvert: true,
};
