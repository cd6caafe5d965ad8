import Button from '@mui/material/Button';
import { contract, printValue, type RecordAnswer, type ReferenceValue, type Table } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import type { HTMLAttributes, Key } from 'react';
import { useAdding } from '../state/adding.js';
import { call, messageOf } from '../state/api.js';
import { kindsQuery, useApp, useRights } from '../state/app.js';
import { keys } from '../state/keys.js';
import { locale } from '../state/locale.js';
import { pickerIcons } from '../ui/picker-icons.js';

/** A record as it is offered: with what is shown beside its name. */
interface FoundRecord extends ReferenceValue {
  readonly values?: RecordAnswer['values'] | undefined;
}

/**
 * The records of a table that match what was typed, as the options of a picker.
 * @param onAdded picks a record that was added on the way; null: it is added in a tab of its own
 */
export function useFoundRecords(table: Table, text: string, isOpen: boolean, onAdded: ((record: ReferenceValue) => void) | null) {
  const app = useApp();
  const { add, see } = useRights(table.id);
  const { isHere, begin } = useAdding();
  const found = useQuery({
    queryKey: keys.lookup(app.id, table.id, text),
    queryFn: ({ signal }) => call(contract.lookUp, { params: { app: app.id, table: table.id }, query: { text }, signal }),
    enabled: isOpen,
    // A record that was added in another tab is found when the person comes back.
    staleTime: 0,
    placeholderData: (before) => before,
  });
  const options: FoundRecord[] = found.data?.records ?? [];
  const beside = table.fields.filter((field) => table.shownWith?.includes(field.id));
  const canPrint = useQuery(kindsQuery([{ ...table, fields: beside }])).data === true;
  const besideIn = ({ values = {} }: FoundRecord): string => beside.flatMap((field) => printValue(field, values[field.id] ?? null, locale()) || []).join(' · ');
  const twice = new Set(options.map((option) => option.caption).filter((caption, i, all) => all.indexOf(caption) !== i));
  return {
    options,
    // What was found for another text stays until the answer comes, as far as it fits: who types fast must not pick something else.
    filterOptions: (all: FoundRecord[], { inputValue }: { readonly inputValue: string }): FoundRecord[] => {
      if (inputValue === text && !found.isPlaceholderData) return all;
      const words = inputValue.toLowerCase().split(/\s+/u);
      return all.filter((option) => words.every((word) => `${option.caption} ${besideIn(option)}`.toLowerCase().includes(word)));
    },
    getOptionLabel: (option: ReferenceValue) => option.caption,
    getOptionKey: (option: ReferenceValue) => option.id,
    isOptionEqualToValue: (option: ReferenceValue, picked: ReferenceValue) => option.id === picked.id,
    renderOption: ({ key, ...item }: HTMLAttributes<HTMLLIElement> & { readonly key: Key }, option: FoundRecord) => (
      <li key={key} {...item}>
        <span className="el">
          {option.caption}
          {canPrint && besideIn(option) !== '' && <span className="beside-name">{besideIn(option)}</span>}
        </span>
        {twice.has(option.caption) && <span className="q told-apart">No. {option.id}</span>}
      </li>
    ),
    autoHighlight: true,
    fullWidth: true,
    loading: found.isFetching,
    loadingText: 'Looking …',
    noOptionsText: found.isError ? (
      messageOf(found.error)
    ) : (
      <span className="none-found">
        {text === '' ? `${table.name} has no records yet.` : `No match in ${table.name}.`}
        {add && see && isHere && onAdded !== null ? (
          <Button size="small" onMouseDown={(event) => event.preventDefault()} onClick={() => begin({ table: table.id, text, onAdded })}>
            {text.trim() === '' ? 'Add one' : `Add “${text.trim()}”`}
          </Button>
        ) : (
          add && (
            <Button size="small" href={`/desk/${app.id}/${table.id}/new`} target="_blank" rel="noreferrer" onMouseDown={(event) => event.preventDefault()}>
              Add one in a new tab
            </Button>
          )
        )}
      </span>
    ),
    ...pickerIcons,
  };
}
