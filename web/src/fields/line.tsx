import { parseValue, typedValue } from '@bibliona/core';
import TextField from '@mui/material/TextField';
import { locale } from '../state/locale.js';
import { named, shared, textOf, type FieldInputProps } from './kind.js';
import { useTyped } from './typed.js';

/** An input of one line. `mode`: for numbers, the keyboard of a phone; when left, a number shows how it was read. */
export function Line({ mode, ...props }: FieldInputProps & { readonly mode?: 'numeric' | 'decimal' }) {
  const [typed, type, tell] = useTyped(textOf(props.value), props.onChange);
  return (
    <TextField
      {...shared(props)}
      value={typed}
      onChange={(event) => type(event.target.value)}
      onBlur={() => {
        tell();
        const parsed = parseValue(props.field, typed, locale());
        if (mode !== undefined && parsed.ok) props.onChange(typedValue(props.field, parsed.value, locale()));
        props.onBlur();
      }}
      autoComplete="off"
      slotProps={{ htmlInput: { ...named(props), ...(mode === undefined ? {} : { inputMode: mode, className: 'right' }) } }}
    />
  );
}
