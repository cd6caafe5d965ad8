import TextField from '@mui/material/TextField';
import { useState } from 'react';

/** Several short texts, one per line. */
export function Lines(props: {
  readonly label: string;
  readonly values: readonly string[];
  readonly onChange: (values: readonly string[]) => void;
  readonly hint: string;
  readonly isWrong: boolean;
}) {
  const { label, values, onChange, hint, isWrong } = props;
  // An empty line is one that is still to be written.
  const [text, setText] = useState(values.join('\n'));
  const linesOf = (of: string): readonly string[] => of.split('\n').flatMap((line) => (line.trim() === '' ? [] : [line.trim()]));
  const shown = JSON.stringify(linesOf(text)) === JSON.stringify(values) ? text : values.join('\n');
  return (
    <TextField
      label={label}
      value={shown}
      onChange={(event) => {
        setText(event.target.value);
        onChange(linesOf(event.target.value));
      }}
      helperText={hint}
      error={isWrong}
      multiline
    />
  );
}
