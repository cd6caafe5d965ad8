import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { allCurrencies, currencyName } from '@bibliona/core';
import { pickerIcons } from '../ui/picker-icons.js';

const nameOf = (code: string): string => `${code} · ${currencyName(code)}`;

export function CurrencyInput({ label, value, onChange }: { readonly label: string; readonly value: string; readonly onChange: (currency: string) => void }) {
  return (
    <Autocomplete
      options={allCurrencies()}
      value={value}
      getOptionLabel={nameOf}
      onChange={(_, currency) => onChange(currency)}
      disableClearable
      autoHighlight
      {...pickerIcons}
      noOptionsText="No such currency."
      renderInput={(params) => <TextField {...params} label={label} />}
    />
  );
}
