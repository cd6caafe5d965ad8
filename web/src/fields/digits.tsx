import TextField from '@mui/material/TextField';
import type { DraftProblem } from './kind.js';

/** Digits after the decimal point, as typed; null where they are no number of digits. */
export function readDigits(typed: string): number | null {
  const digits = Number(typed);
  return typed.trim() !== '' && Number.isInteger(digits) && digits >= 0 && digits <= 12 ? digits : null;
}

export function DigitsInput(props: {
  readonly value: string;
  readonly hint?: string;
  readonly problem: DraftProblem | null;
  readonly onChange: (digits: string) => void;
}) {
  const isWrong = props.problem?.at === 'digits';
  return (
    <TextField
      label="Decimal places"
      type="number"
      value={props.value}
      error={isWrong}
      helperText={isWrong ? props.problem?.text : props.hint}
      onChange={(event) => props.onChange(event.target.value)}
    />
  );
}
