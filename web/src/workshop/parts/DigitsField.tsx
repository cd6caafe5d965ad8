import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';

/** With how many digits after the point numbers are printed; null: with as many as there are. */
export function DigitsField({ value, onChange }: { readonly value: number | null; readonly onChange: (digits: number | null) => void }) {
  return (
    <TextField select label="Decimal places" value={value ?? ''} onChange={(event) => onChange(event.target.value === '' ? null : Number(event.target.value))}>
      <MenuItem value="">as many as there are</MenuItem>
      {[0, 1, 2, 3, 4].map((each) => (
        <MenuItem key={each} value={each}>
          {each}
        </MenuItem>
      ))}
    </TextField>
  );
}
