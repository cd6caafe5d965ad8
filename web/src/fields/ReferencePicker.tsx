import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { parentOf, type Field, type ReferenceValue } from '@bibliona/core';
import { useDeferredValue, useState, type Ref } from 'react';
import { useApp } from '../state/app.js';
import { useFoundRecords } from './found-records.js';

export interface ReferencePickerProps {
  readonly field: Field;
  readonly value: ReferenceValue | null;
  readonly onChange: (value: ReferenceValue | null) => void;
  readonly onBlur?: () => void;
  /** Without a label the name is only for those who cannot see where the input stands. */
  readonly label?: string;
  readonly required?: boolean;
  readonly problem?: string | undefined;
  readonly hint?: string | undefined;
  /** It is opened at once, as in a cell of a grid, with what has been typed there. */
  readonly autoOpen?: { readonly text: string | null; readonly onCancel: () => void };
  readonly inputRef?: Ref<HTMLInputElement>;
}

/** Picks a record of another table by typing part of what it is called. */
export function ReferencePicker({ field, value, onChange, onBlur, label, required = false, problem, hint, autoOpen, inputRef }: ReferencePickerProps) {
  const app = useApp();
  const parent = parentOf(app.design, field);
  const [isOpen, setOpen] = useState(autoOpen !== undefined);
  const [typed, setTyped] = useState(autoOpen?.text ?? value?.caption ?? '');
  // What is in the box because it was picked is no search.
  const text = useDeferredValue(typed === value?.caption ? '' : typed);
  const found = useFoundRecords(parent, text, isOpen, autoOpen === undefined ? onChange : null);
  return (
    <Autocomplete<ReferenceValue>
      {...found}
      value={value}
      open={isOpen}
      onOpen={() => setOpen(true)}
      onClose={(_, reason) => {
        setOpen(false);
        if (reason === 'escape') autoOpen?.onCancel();
      }}
      onChange={(_, picked) => onChange(picked)}
      inputValue={typed}
      onInputChange={(_, input, reason) => {
        // What was typed on the cell is not overwritten by the name of its value as the picker opens.
        if (reason !== 'reset' || autoOpen === undefined) setTyped(input);
      }}
      {...(onBlur === undefined ? {} : { onBlur })}
      renderInput={(params) => (
        <TextField
          {...params}
          autoFocus={autoOpen !== undefined}
          {...(label === undefined ? { hiddenLabel: true } : { label })}
          required={required}
          error={problem !== undefined}
          helperText={problem ?? hint}
          {...(inputRef === undefined ? {} : { inputRef })}
          slotProps={{ ...params.slotProps, htmlInput: { ...params.slotProps.htmlInput, ...(label === undefined ? { 'aria-label': field.name } : {}) } }}
        />
      )}
    />
  );
}
