import TextField from '@mui/material/TextField';
import { named, shared, textOf, type FieldInputProps } from './kind.js';
import { useTyped } from './typed.js';

/** An input of one line. `mode`: the keyboard of a phone, for numbers. */
export function Line({ mode, ...props }: FieldInputProps & { readonly mode?: 'numeric' | 'decimal' }) {
  const [typed, type, tell] = useTyped(textOf(props.value), props.onChange);
  return (
    <TextField
      {...shared(props)}
      value={typed}
      onChange={(event) => type(event.target.value)}
      onBlur={() => (tell(), props.onBlur())}
      autoComplete="off"
      slotProps={{ htmlInput: { ...named(props), ...(mode === undefined ? {} : { inputMode: mode, className: 'right' }) } }}
    />
  );
}
