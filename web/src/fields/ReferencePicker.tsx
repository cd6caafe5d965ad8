import Button from '@mui/material/Button';
import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { contract, parentOf, type Field, type ReferenceValue } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { CaretDownIcon, XIcon } from '@phosphor-icons/react';
import { useDeferredValue, useState, type Ref } from 'react';
import { call, messageOf } from '../state/api.js';
import { useApp, useRights } from '../state/app.js';
import { keys } from '../state/keys.js';

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
  const { add } = useRights(parent.id);
  const [isOpen, setOpen] = useState(autoOpen !== undefined);
  const [typed, setTyped] = useState(autoOpen?.text ?? value?.caption ?? '');
  // What is in the box because it was picked is no search.
  const text = useDeferredValue(typed === value?.caption ? '' : typed);
  const found = useQuery({
    queryKey: keys.lookup(app.id, parent.id, text),
    queryFn: ({ signal }) => call(contract.lookUp, { params: { app: app.id, table: parent.id }, query: { text }, signal }),
    enabled: isOpen,
    // A record that was added in another tab is found when the person comes back.
    staleTime: 0,
    placeholderData: (before) => before,
  });
  const options = found.data?.records ?? [];
  const twice = new Set(options.map((option) => option.caption).filter((caption, i, all) => all.indexOf(caption) !== i));
  return (
    <Autocomplete<ReferenceValue>
      value={value}
      open={isOpen}
      onOpen={() => setOpen(true)}
      onClose={(_, reason) => {
        setOpen(false);
        if (reason === 'escape') autoOpen?.onCancel();
      }}
      options={options}
      filterOptions={(all) => all}
      getOptionLabel={(option) => option.caption}
      getOptionKey={(option) => option.id}
      renderOption={({ key, ...item }, option) => (
        <li key={key} {...item}>
          <span className="el">{option.caption}</span>
          {twice.has(option.caption) && <span className="q told-apart">No. {option.id}</span>}
        </li>
      )}
      isOptionEqualToValue={(option, picked) => option.id === picked.id}
      onChange={(_, picked) => onChange(picked)}
      inputValue={typed}
      onInputChange={(_, input, reason) => {
        // What was typed on the cell is not overwritten by the name of its value as the picker opens.
        if (reason !== 'reset' || autoOpen === undefined) setTyped(input);
      }}
      autoHighlight
      fullWidth
      loading={found.isFetching}
      loadingText="Looking …"
      noOptionsText={
        found.isError ? (
          messageOf(found.error)
        ) : (
          <span className="none-found">
            {text === '' ? `${parent.name} has no records yet.` : `No match in ${parent.name}.`}
            {add && (
              <Button size="small" href={`/desk/${app.id}/${parent.id}/new`} target="_blank" rel="noreferrer" onMouseDown={(event) => event.preventDefault()}>
                Add one in a new tab
              </Button>
            )}
          </span>
        )
      }
      popupIcon={<CaretDownIcon size={14} />}
      clearIcon={<XIcon size={12} />}
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
