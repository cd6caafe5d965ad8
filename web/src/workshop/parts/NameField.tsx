import TextField from '@mui/material/TextField';

/** What a new part is to be called, as the first question of a dialog. */
export function NameField(props: {
  readonly label?: string;
  readonly value: string;
  readonly onChange: (name: string) => void;
  /** Why it cannot be called so. */
  readonly problem: string | undefined;
  /** Said below while there is no problem. */
  readonly hint?: string;
  /** It comes after other questions. */
  readonly isLater?: boolean;
}) {
  const { label = 'Name', value, onChange, problem, hint, isLater = false } = props;
  return (
    <TextField
      label={label}
      value={value}
      autoFocus={!isLater}
      required
      onChange={(event) => onChange(event.target.value)}
      error={problem !== undefined}
      helperText={problem ?? hint}
    />
  );
}
