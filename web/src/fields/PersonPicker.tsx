import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { contract, personAs, type Field, type NamedPerson } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState, type Ref } from 'react';
import { call, messageOf } from '../state/api.js';
import { useAppId } from '../state/app.js';
import { keys } from '../state/keys.js';
import { pickerIcons } from '../ui/picker-icons.js';

interface Props {
  readonly field: Field;
  readonly value: NamedPerson | null;
  readonly onChange: (value: string) => void;
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

const shownAs = (person: NamedPerson): string => (person.name === '' ? person.mail : person.name);

/** Picks one of the people of the app by typing part of a name or a mail address. */
export function PersonPicker({ field, value, onChange, onBlur, label, required = false, problem, hint, autoOpen, inputRef }: Props) {
  const app = useAppId();
  const [isOpen, setOpen] = useState(autoOpen !== undefined);
  const [typed, setTyped] = useState(autoOpen?.text ?? (value === null ? '' : shownAs(value)));
  const text = useDeferredValue(value !== null && typed === shownAs(value) ? '' : typed);
  const found = useQuery({
    queryKey: keys.namedPeople(app, text),
    queryFn: ({ signal }) => call(contract.lookUpPeople, { params: { app }, query: { text }, signal }),
    enabled: isOpen,
    placeholderData: (before) => before,
  });
  return (
    <Autocomplete<NamedPerson>
      value={value}
      open={isOpen}
      onOpen={() => setOpen(true)}
      onClose={(_, reason) => {
        setOpen(false);
        if (reason === 'escape') autoOpen?.onCancel();
      }}
      options={found.data?.people ?? []}
      filterOptions={(all) => all}
      getOptionLabel={shownAs}
      getOptionKey={(person) => person.mail}
      isOptionEqualToValue={(namedPerson, other) => namedPerson.mail === other.mail}
      renderOption={({ key, ...item }, person) => (
        <li key={key} {...item}>
          <span className="el">{shownAs(person)}</span>
          <span className="q told-apart">{person.mail}</span>
        </li>
      )}
      onChange={(_, picked) => onChange(picked === null ? '' : personAs(picked))}
      inputValue={typed}
      onInputChange={(_, input, reason) => {
        // What was typed on the cell is not overwritten by the name of its value as the picker opens.
        if (reason !== 'reset' || autoOpen === undefined) setTyped(input);
      }}
      autoHighlight
      fullWidth
      loading={found.isFetching}
      loadingText="Looking …"
      noOptionsText={found.isError ? messageOf(found.error) : 'Nobody of this app has such a name.'}
      {...pickerIcons}
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
