import { contract, formFor, routeOf, tableOf } from '@bibliona/core';
import { useEffect, useMemo } from 'react';
import { FormProvider } from 'react-hook-form';
import { call } from '../../state/api.js';
import { useAdding, type Adding } from '../../state/adding.js';
import { rolesInHand, useApp, useKindsOf, useRights } from '../../state/app.js';
import { RecordAt } from '../../ui/files/held.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { useBeginning } from './beginnings.js';
import { FormField } from './FormField.js';
import { LiveForm } from './live.js';
import { useRecordForm, type SaveState } from './use-record-form.js';

const noSelection = { search: '', direction: 'up' } as const;

/** The form of a record that is added from a picker: its fields, without what belongs to it. */
export default function AddRecordDialog({ adding }: { readonly adding: Adding }) {
  const app = useApp();
  const table = tableOf(app.design, adding.table);
  const rights = useRights(table.id);
  useKindsOf([table]);
  const beginning = useBeginning(table);
  const start = useMemo(() => {
    // What was looked for is mostly what it is called.
    const named = table.fields.find((field) => field.kind === 'text' && beginning[field.id] === '' && !rights.hidden.includes(field.id));
    return { own: named === undefined ? beginning : { ...beginning, [named.id]: adding.text }, children: {} };
    // Only what it begins with: what is typed since is the form's.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  const end = (): void => useAdding.getState().end(adding.key);
  const onAdded = async (id: number): Promise<void> => {
    // It is saved, whether its name can be read now or not.
    const caption = await call(contract.readRecord, { params: { app: app.id, table: table.id, id } }).then(
      (open) => open.caption,
      () => `No. ${id}`,
    );
    adding.onAdded({ id, caption });
    end();
  };
  const { form, state, save } = useRecordForm({ table, open: null, start, selection: noSelection, onAdded: (id) => void onAdded(id) });
  useEffect(() => {
    // The form behind it would be saved as well.
    const onKey = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 's') return;
      event.preventDefault();
      event.stopImmediatePropagation();
      void save();
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  });
  const route = routeOf(app.design, table.id);
  const fields = formFor(app.design, table.id, rolesInHand(app)).items.flatMap((item) => {
    if (item.kind !== 'field' || item.field === route?.field || rights.hidden.includes(item.field)) return [];
    const field = table.fields.find((each) => each.id === item.field);
    return field === undefined || field.kind === 'formula' ? [] : [field];
  });
  const at = useMemo(() => ({ table: table.id, record: null }), [table]);
  return (
    <FormProvider {...form}>
      <RecordAt value={at}>
        <LiveForm table={table} open={null}>
          <FormDialog
            title={`Add to ${table.name}`}
            verb="Add"
            isSending={state.kind === 'saving'}
            problem={problemOf(state)}
            onClose={end}
            onSubmit={() => void save()}
          >
            {fields.map((field) => (
              <FormField key={field.id} field={field} name={`own.${field.id}`} table={table.id} of="own" isInRow={false} />
            ))}
          </FormDialog>
        </LiveForm>
      </RecordAt>
    </FormProvider>
  );
}

function problemOf(state: SaveState): string | undefined {
  if (state.kind === 'incorrect' && state.others.length > 0) return state.others.join(' ');
  return state.kind === 'refused' ? state.message : undefined;
}
