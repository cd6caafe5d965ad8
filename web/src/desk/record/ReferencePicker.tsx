import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { contract, parentOf, type Field, type ReferenceValue } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { CaretDownIcon, XIcon } from '@phosphor-icons/react';
import { useDeferredValue, useState, type Ref } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';

export interface ReferencePickerProps {
  readonly field: Field;
  readonly value: ReferenceValue | null;
  readonly onChange: (value: ReferenceValue | null) => void;
  readonly onBlur?: () => void;
  /** Without a label the name is only for those who cannot see where the input stands. */
  readonly label?: string;
  readonly required?: boolean;
  readonly problem?: string | undefined;
  readonly says?: string | undefined;
  readonly autoOpen?: boolean;
  readonly inputRef?: Ref<HTMLInputElement>;
}

/** Picks a record of another table by typing part of what it is called. */
export function ReferencePicker({ field, value, onChange, onBlur, label, required = false, problem, says, autoOpen = false, inputRef }: ReferencePickerProps) {
  const app = useApp();
  const parent = parentOf(app.design, field);
  const [isOpen, setOpen] = useState(autoOpen);
  const [typed, setTyped] = useState(value?.caption ?? '');
  // What stands in the box because it was picked is no search.
  const text = useDeferredValue(typed === value?.caption ? '' : typed);
  const found = useQuery({
    queryKey: keys.lookup(app.id, parent.id, text),
    queryFn: ({ signal }) => call(contract.lookUp, { params: { app: app.id, table: parent.id }, query: { text }, signal }),
    enabled: isOpen,
    placeholderData: (before) => before,
  });
  return (
    <Autocomplete<ReferenceValue>
      value={value}
      open={isOpen}
      onOpen={() => setOpen(true)}
      onClose={() => setOpen(false)}
      options={found.data?.records ?? []}
      filterOptions={(all) => all}
      getOptionLabel={(option) => option.caption}
      getOptionKey={(option) => option.id}
      isOptionEqualToValue={(option, picked) => option.id === picked.id}
      onChange={(_, picked) => onChange(picked)}
      onInputChange={(_, input) => setTyped(input)}
      autoHighlight
      fullWidth
      loading={found.isFetching}
      loadingText="Looking …"
      noOptionsText={found.isError ? messageOf(found.error) : `No record of ${parent.name} is called so`}
      popupIcon={<CaretDownIcon size={14} />}
      clearIcon={<XIcon size={12} />}
      {...(onBlur === undefined ? {} : { onBlur })}
      renderInput={(params) => (
        <TextField
          {...params}
          autoFocus={autoOpen}
          {...(label === undefined ? { hiddenLabel: true } : { label })}
          required={required}
          error={problem !== undefined}
          helperText={problem ?? says}
          {...(inputRef === undefined ? {} : { inputRef })}
          slotProps={{ ...params.slotProps, htmlInput: { ...params.slotProps.htmlInput, ...(label === undefined ? { 'aria-label': field.name } : {}) } }}
        />
      )}
    />
  );
}
