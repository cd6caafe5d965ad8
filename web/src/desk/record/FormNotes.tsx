import { printValue, type Field, type Table } from '@bibliona/core';
import { useEffect, useState } from 'react';
import { useFormContext, useFormState } from 'react-hook-form';
import { locale } from '../../state/locale.js';
import { Note } from '../../ui/Note.js';
import type { KeptDraft } from './kept-draft.js';
import { goToFirst } from './mark.js';
import type { FormValues } from './form-values.js';
import type { SaveState } from './use-record-form.js';

/** Over a form: what was typed here before, and what is wrong with what is typed now. */
export function FormNotes(props: {
  readonly table: Table;
  readonly kept: KeptDraft | null;
  readonly bringBack: () => void;
  readonly forget: () => void;
  readonly state: SaveState;
}) {
  const { table, kept, bringBack, forget, state } = props;
  const form = useFormContext<FormValues>();
  const problems = problemCount(useFormState<FormValues>().errors);
  const lost = useTypedInGone(table);
  return (
    <>
      {kept !== null && (
        <Note
          kind="look"
          action={
            <>
              <button type="button" className="btn bare" onClick={bringBack}>
                Restore them
              </button>
              <button type="button" className="btn bare" onClick={forget}>
                Discard them
              </button>
            </>
          }
        >
          You made changes here that were not saved ({locale().moment(kept.at)}).
        </Note>
      )}
      {lost.map(({ field, text }) => (
        <Note kind="look" key={field.id}>
          {field.name} is no longer part of this record. “{text}”, which you typed there, can’t be saved.
        </Note>
      ))}
      {state.kind === 'incorrect' && problems > 0 && (
        <Note
          kind="bad"
          action={
            <button type="button" className="btn bare" onClick={() => goToFirst(form)}>
              Go to the first
            </button>
          }
        >
          {problems === 1 ? 'One value needs correction.' : `${problems} values need correction.`} Nothing was saved.
        </Note>
      )}
      {state.kind === 'incorrect' && state.others.length > 0 && (
        <Note kind="bad">
          {problems === 0 && 'Nothing was saved. '}
          {state.others.join(' ')}
        </Note>
      )}
      {state.kind === 'refused' && <Note kind="bad">{state.message}</Note>}
    </>
  );
}

/** What was typed in fields that the builder has taken away since. It comes back with them. */
function useTypedInGone(table: Table): readonly { readonly field: Field; readonly text: string }[] {
  const { getValues } = useFormContext<FormValues>();
  const { dirtyFields } = useFormState<FormValues>();
  const [known] = useState(() => new Map<string, Field>());
  useEffect(() => {
    for (const field of table.fields) known.set(field.id, field);
  }, [table, known]);
  return Object.keys(dirtyFields.own ?? {}).flatMap((id) => {
    const field = table.fields.some((each) => each.id === id) ? undefined : known.get(id);
    const typed = getValues(`own.${id}`) ?? null;
    const text = field === undefined ? '' : typeof typed === 'string' ? typed : printValue(field, typed, locale());
    return field === undefined || text === '' ? [] : [{ field, text }];
  });
}

function problemCount(errors: object): number {
  if ('message' in errors && typeof errors.message === 'string') return 1;
  return Object.entries(errors).reduce(
    (sum, [key, inner]) => sum + (key !== 'ref' && key !== 'root' && typeof inner === 'object' && inner !== null ? problemCount(inner as object) : 0),
    0,
  );
}
