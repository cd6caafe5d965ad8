import Autocomplete from '@mui/material/Autocomplete';
import Chip from '@mui/material/Chip';
import TextField from '@mui/material/TextField';
import { isReference, type LinkSide, type ReferenceValue, type Relationship } from '@bibliona/core';
import { useDeferredValue, useState } from 'react';
import { useController, useFormContext } from 'react-hook-form';
import { useNavigate } from 'react-router';
import { useFoundRecords } from '../../fields/found-records.js';
import { pickerIcons } from '../../ui/picker-icons.js';
import { locale } from '../../state/locale.js';
import { useApp, useRights } from '../../state/app.js';
import type { FormValues } from './form-values.js';

/** So many are shown while nobody works on them: a row of thousands would take seconds to draw. */
const mostShown = 40;

/** The first of the problems that the rows of a form have. */
function firstProblem(error: unknown): string | undefined {
  if (typeof error !== 'object' || error === null) return undefined;
  if ('message' in error && typeof error.message === 'string') return error.message;
  for (const [key, inner] of Object.entries(error)) {
    const problem = key === 'ref' ? undefined : firstProblem(inner);
    if (problem !== undefined) return problem;
  }
  return undefined;
}

/** The records of another table that this one is linked to: picked, and taken away, as a whole with the form. */
export default function LinkedRecords({
  relationship,
  other,
  hasMore,
}: {
  readonly relationship: Relationship;
  readonly other: LinkSide;
  readonly hasMore: boolean;
}) {
  const app = useApp();
  const navigate = useNavigate();
  const pairs = useRights(relationship.child);
  const { see } = useRights(other.table.id);
  const { control } = useFormContext<FormValues>();
  const { field, fieldState } = useController({ control, name: `children.${relationship.id}` });
  const rows = field.value ?? [];
  const [isOpen, setOpen] = useState(false);
  const [typed, setTyped] = useState('');
  const recordIn = (row: FormValues['children'][string][number]): ReferenceValue | null => {
    const value = row.values[other.field.id];
    return isReference(value) ? value : null;
  };
  const put = (chosen: readonly ReferenceValue[]): void =>
    field.onChange(
      chosen.map((record) => {
        const row = rows.find((each) => recordIn(each)?.id === record.id);
        return row ?? { key: crypto.randomUUID(), id: null, rev: 0, values: { [other.field.id]: record } };
      }),
    );
  const chosen = rows.flatMap((row) => recordIn(row) ?? []);
  const found = useFoundRecords(other.table, useDeferredValue(typed), isOpen, (added) => {
    setTyped('');
    put([...chosen, added]);
  });
  const problem = firstProblem(fieldState.error);
  return (
    <Autocomplete<ReferenceValue, true>
      {...found}
      multiple
      filterSelectedOptions
      value={chosen}
      readOnly={!pairs.add && !pairs.remove}
      open={isOpen}
      onOpen={() => setOpen(true)}
      onClose={() => setOpen(false)}
      inputValue={typed}
      // Reset where only the value is another: what is being typed stays.
      onInputChange={(_, text, reason) => reason !== 'reset' && setTyped(text)}
      onChange={(_, picked) => put(picked)}
      onBlur={field.onBlur}
      disableCloseOnSelect
      limitTags={mostShown}
      className="several"
      renderValue={(shown, itemProps) =>
        shown.map((record, index) => {
          const { key, ...item } = itemProps({ index });
          return (
            <Chip
              key={key}
              {...item}
              {...pickerIcons.slotProps.chip}
              label={record.caption}
              {...(see ? { onClick: () => void navigate(`/desk/${app.id}/${other.table.id}/${record.id}`) } : {})}
            />
          );
        })
      }
      renderInput={(params) => (
        <TextField
          {...params}
          label={relationship.childrenName}
          error={problem !== undefined}
          helperText={problem ?? (hasMore ? `The first ${locale().count(rows.length)} of them.` : undefined)}
          inputRef={field.ref}
        />
      )}
    />
  );
}
