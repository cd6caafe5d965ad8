import FormControl from '@mui/material/FormControl';
import FormControlLabel from '@mui/material/FormControlLabel';
import FormLabel from '@mui/material/FormLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import { useId } from 'react';
import type { StarterChoice } from '../state/starters.js';

interface StartWithProps {
  readonly starters: readonly StarterChoice[];
  /** The id of a starter, `empty` or `spreadsheet`. */
  readonly value: string;
  readonly onChange: (value: string) => void;
}

/** What a new app begins with. */
export function StartWith({ starters, value, onChange }: StartWithProps) {
  const label = useId();
  const ways = [
    { id: 'empty', name: 'Nothing', description: 'You make the tables yourself.' },
    { id: 'spreadsheet', name: 'A spreadsheet', description: 'Its rows become a table.' },
    ...starters,
  ];
  return (
    <FormControl className="start-with">
      <FormLabel id={label}>Start with</FormLabel>
      <RadioGroup aria-labelledby={label} value={value} onChange={(_, next) => onChange(next)}>
        {ways.map((way) => (
          <FormControlLabel
            key={way.id}
            value={way.id}
            control={<Radio />}
            label={
              <>
                <b>{way.name}</b>
                <span className="q"> {way.description}</span>
              </>
            }
          />
        ))}
      </RadioGroup>
    </FormControl>
  );
}
