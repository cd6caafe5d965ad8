import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { contract, type ReferenceValue } from '@bibliona/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { call } from '../state/api.js';
import { useApp } from '../state/app.js';
import { keys } from '../state/keys.js';
import { pickerIcons } from '../ui/picker-icons.js';

export interface RecordPickerProps {
  readonly table: string;
  /** The number of the record that is picked at first. */
  readonly value?: number | undefined;
  /** What that record is called, where it is at hand. */
  readonly caption?: string | undefined;
  readonly onPick: (id: number | null) => void;
  /** What is picked here: shown as a label, or else only read aloud. */
  readonly name: string;
  readonly isLabelled?: boolean;
  readonly hint?: string;
  readonly placeholder?: string;
  readonly className?: string;
}

/** Picks a record of a table by typing part of what it is called. */
export function RecordPicker({ table, value, caption, onPick, name, isLabelled = false, hint, placeholder, className = 'walk-picker' }: RecordPickerProps) {
  const app = useApp();
  const [picked, setPicked] = useState<ReferenceValue | null>(value === undefined || caption === undefined ? null : { id: value, caption });
  const [text, setText] = useState('');
  const asked = useDeferredValue(text);
  const found = useQuery({
    queryKey: keys.lookup(app.id, table, asked),
    queryFn: ({ signal }) => call(contract.lookUp, { params: { app: app.id, table }, query: { text: asked }, signal }),
    placeholderData: keepPreviousData,
  });
  const isUnnamed = value !== undefined && picked === null;
  const first = useQuery({
    queryKey: keys.record(app.id, table, value ?? 0),
    queryFn: () => call(contract.readRecord, { params: { app: app.id, table, id: value ?? 0 } }),
    enabled: isUnnamed && caption === undefined,
    retry: false,
  });
  const named = isUnnamed ? { id: value, caption: caption ?? first.data?.caption ?? `No. ${value}` } : picked;
  return (
    <Autocomplete<ReferenceValue>
      {...pickerIcons}
      className={className}
      options={found.data?.records ?? []}
      filterOptions={(options) => options}
      getOptionLabel={(referenceValue) => referenceValue.caption}
      getOptionKey={(referenceValue) => referenceValue.id}
      isOptionEqualToValue={(referenceValue, other) => referenceValue.id === other.id}
      value={named}
      onInputChange={(_, typed, reason) => setText(reason === 'input' ? typed : '')}
      onChange={(_, referenceValue) => {
        setPicked(referenceValue);
        onPick(referenceValue?.id ?? null);
      }}
      renderInput={(params) => (
        <TextField
          {...params}
          {...(isLabelled ? { label: name, helperText: hint } : { hiddenLabel: true })}
          {...(placeholder === undefined ? {} : { placeholder })}
          slotProps={{ ...params.slotProps, htmlInput: { ...params.slotProps.htmlInput, ...(isLabelled ? {} : { 'aria-label': name }) } }}
        />
      )}
    />
  );
}
