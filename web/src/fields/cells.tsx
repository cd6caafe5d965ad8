import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { CaretDownIcon } from '@phosphor-icons/react';
import type { Typed } from '@bibliona/core';
import { useState } from 'react';
import { textOf, type CellEditorProps } from './kind.js';

/** A cell in which one types. */
export function TextCell({ field, value, text, onChange }: CellEditorProps) {
  return (
    <input
      // Typing on a cell writes over it; opening it selects what is there.
      autoFocus
      className="cell-input"
      aria-label={field.name}
      autoComplete="off"
      value={textOf(value)}
      onFocus={(event) => text === null && event.target.select()}
      onChange={(event) => onChange(event.target.value)}
    />
  );
}

interface Option {
  readonly value: Exclude<Typed, object | null>;
  readonly label: string;
}

/** A cell in which one picks from a few values. */
export function PickCell(props: CellEditorProps & { readonly options: readonly Option[] }) {
  const { field, value, text, onPick, onCancel, options } = props;
  const picked = options.find((option) => option.value === value) ?? null;
  const [typed, setTyped] = useState(text ?? picked?.label ?? '');
  return (
    <Autocomplete<Option>
      open
      value={picked}
      options={options}
      inputValue={typed}
      onInputChange={(_, input, reason) => reason !== 'reset' && setTyped(input)}
      // Until something is typed all values are offered, beside the one that is there.
      filterOptions={(all) => (typed === picked?.label ? [...all] : all.filter((option) => option.label.toLowerCase().includes(typed.toLowerCase())))}
      onChange={(_, option) => onPick(option?.value ?? null)}
      onClose={(_, reason) => reason === 'escape' && onCancel()}
      autoHighlight
      fullWidth
      disableClearable={field.required as false}
      noOptionsText="No such value."
      popupIcon={<CaretDownIcon size={14} />}
      renderInput={(params) => (
        <TextField
          {...params}
          hiddenLabel
          autoFocus
          slotProps={{ ...params.slotProps, htmlInput: { ...params.slotProps.htmlInput, 'aria-label': field.name } }}
        />
      )}
    />
  );
}
