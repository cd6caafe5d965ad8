import Autocomplete from '@mui/material/Autocomplete';
import TextField from '@mui/material/TextField';
import { contract } from '@bibliona/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { call } from '../state/api.js';
import { useApp } from '../state/app.js';
import { keys } from '../state/keys.js';
import { pickerIcons } from '../ui/picker-icons.js';

/** Picks the real record on which something is proved; cleared, the one that is proved on by itself. */
export function RecordPicker({ table, onPick }: { readonly table: string; readonly onPick: (id: number | null) => void }) {
  const app = useApp();
  const [text, setText] = useState('');
  const asked = useDeferredValue(text);
  const found = useQuery({
    queryKey: keys.lookup(app.id, table, asked),
    queryFn: ({ signal }) => call(contract.lookUp, { params: { app: app.id, table }, query: { text: asked }, signal }),
    placeholderData: keepPreviousData,
  });
  return (
    <Autocomplete
      {...pickerIcons}
      className="walk-picker"
      options={found.data?.records ?? []}
      filterOptions={(options) => options}
      getOptionLabel={(one) => one.caption}
      getOptionKey={(one) => one.id}
      isOptionEqualToValue={(one, other) => one.id === other.id}
      onInputChange={(_, typed, reason) => reason === 'input' && setText(typed)}
      onChange={(_, one) => onPick(one?.id ?? null)}
      renderInput={(params) => (
        <TextField
          {...params}
          placeholder="Another record"
          slotProps={{ ...params.slotProps, htmlInput: { ...params.slotProps.htmlInput, 'aria-label': 'Another record' } }}
        />
      )}
    />
  );
}
