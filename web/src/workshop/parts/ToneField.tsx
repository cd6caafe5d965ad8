import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { tones, type Tone } from '@bibliona/core';
import { ToneMark } from '../../fields/ChoiceMark.js';

/** Picks one of the colours. */
export function ToneField({ value, onChange }: { readonly value: Tone; readonly onChange: (tone: Tone) => void }) {
  return (
    <TextField select label="Colour" value={value} onChange={(event) => onChange(event.target.value as Tone)}>
      {tones.map((tone) => (
        <MenuItem key={tone} value={tone}>
          <ToneMark tone={tone} />
          {tone}
        </MenuItem>
      ))}
    </TextField>
  );
}
