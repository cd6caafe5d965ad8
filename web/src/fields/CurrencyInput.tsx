import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { CaretDownIcon } from '@phosphor-icons/react';
import { allCurrencies, currencyName } from '@bibliona/core';

const nameOf = (code: string): string => `${code} · ${currencyName(code)}`;

export function CurrencyInput({ value, onChange }: { readonly value: string; readonly onChange: (currency: string) => void }) {
  return (
    <Autocomplete
      options={allCurrencies}
      value={value}
      getOptionLabel={nameOf}
      onChange={(_, currency) => onChange(currency)}
      disableClearable
      autoHighlight
      popupIcon={<CaretDownIcon size={14} />}
      noOptionsText="No such currency."
      renderInput={(params) => <TextField {...params} label="Currency" />}
    />
  );
}
