import IconButton from '@mui/material/IconButton';
import InputAdornment from '@mui/material/InputAdornment';
import TextField from '@mui/material/TextField';
import { ArrowSquareOutIcon } from '@phosphor-icons/react';
import { kindOf, parseValue, typedValue, unitMark } from '@bibliona/core';
import { locale } from '../state/locale.js';
import { named, shared, textOf, type FieldInputProps } from './kind.js';
import { useTyped } from './typed.js';

export type LineMode = 'numeric' | 'decimal' | 'email' | 'url' | 'tel' | 'text';

/** An input of one line. `mode`: the keyboard of a phone; with one, the input shows when it is left how it was read. */
export function Line({ mode, ...props }: FieldInputProps & { readonly mode?: LineMode }) {
  const { field } = props;
  const [typed, type, tell] = useTyped(textOf(props.value), props.onChange);
  const isNumber = mode === 'numeric' || mode === 'decimal';
  const { link, unit: unitOf } = kindOf(field);
  const unit = unitOf?.(field) ?? null;
  const parsed = link === undefined ? null : parseValue(field, typed, locale());
  const to = parsed?.ok === true ? (link?.(parsed.value) ?? null) : null;
  return (
    <TextField
      {...shared(props)}
      value={typed}
      onChange={(event) => type(event.target.value)}
      onBlur={() => {
        tell();
        const read = parseValue(field, typed, locale());
        const echo = read.ok ? typedValue(field, read.value, locale()) : null;
        // Shown also where the form has this value already.
        if (mode !== undefined && typeof echo === 'string' && echo !== typed) {
          type(echo);
          tell();
        }
        props.onBlur();
      }}
      autoComplete="off"
      slotProps={{
        htmlInput: { ...named(props), ...(mode === undefined ? {} : { inputMode: mode }), ...(isNumber ? { className: 'right' } : {}) },
        ...(to === null
          ? unit === null
            ? {}
            : { input: { endAdornment: <InputAdornment position="end">{unitMark(unit)}</InputAdornment> } }
          : {
              input: {
                endAdornment: (
                  <InputAdornment position="end">
                    <IconButton size="small" tabIndex={-1} href={to} target="_blank" rel="noopener noreferrer" aria-label={`Open ${field.name}`}>
                      <ArrowSquareOutIcon size={16} />
                    </IconButton>
                  </InputAdornment>
                ),
              },
            }),
      }}
    />
  );
}
