import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { countryCodes, countryName } from '@bibliona/core';
import { pickerIcons } from '../ui/picker-icons.js';

const inOrder = [...countryCodes].sort((code, other) => countryName(code).localeCompare(countryName(other)));

/** Picks a country by its name; the value is its code. */
export function CountryInput({ label, value, onChange }: { readonly label: string; readonly value: string; readonly onChange: (code: string) => void }) {
  return (
    <Autocomplete
      options={inOrder}
      value={value}
      getOptionLabel={countryName}
      onChange={(_, code) => onChange(code)}
      disableClearable
      autoHighlight
      {...pickerIcons}
      noOptionsText="No such country."
      renderInput={(params) => <TextField {...params} label={label} />}
    />
  );
}
