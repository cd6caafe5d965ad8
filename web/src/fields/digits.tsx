import TextField from '@mui/material/TextField';
import type { FieldKind } from '@bibliona/core';
import { settingsOf, type DraftProblem, type KindSettings } from './kind.js';

/** A whole number from `least` to `most`, as typed in a setting; null if it is none. */
export function readWhole(typed: string, least: number, most: number): number | null {
  const number = Number(typed);
  return typed.trim() !== '' && Number.isInteger(number) && number >= least && number <= most ? number : null;
}
/** Digits after the decimal point, as typed; null if they are no number of digits. */
export const readDigits = (typed: string, most = 12): number | null => readWhole(typed, 0, most);

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

/** The settings of a kind that has none but its decimal places. */
export const digitsSettings = (kind: FieldKind, first: number, most: number): KindSettings =>
  settingsOf<string>({
    start: (field) => (field?.kind === kind && 'digits' in field ? String(field.digits) : String(first)),
    Editor: ({ settings, onChange, problem }) => <DigitsInput value={settings} onChange={onChange} problem={problem} />,
    read: (typed) => {
      const digits = readDigits(typed, most);
      return digits === null ? { ok: false, problem: { at: 'digits', text: `A whole number from 0 to ${most}` } } : { ok: true, plan: { digits } };
    },
  });
