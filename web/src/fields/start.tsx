import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { StartProps } from './kind.js';

/** A default that is typed. */
export function TypedStart({ settings: _, onChange, ...rest }: StartProps) {
  return <TextField {...rest} onChange={(event) => onChange(event.target.value)} />;
}

/** A default that is picked. */
export function PickedStart({
  options,
  settings: _,
  onChange,
  ...rest
}: StartProps & { readonly options: readonly (readonly [value: string, label: string])[] }) {
  return (
    <TextField select {...rest} onChange={(event) => onChange(event.target.value)}>
      <MenuItem value="">nothing</MenuItem>
      {options.map(([value, label]) => (
        <MenuItem key={value} value={value}>
          {label}
        </MenuItem>
      ))}
    </TextField>
  );
}
