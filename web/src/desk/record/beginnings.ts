/** What the forms of new records begin with. */
import { contract, type RecordAnswer, type Table } from '@bibliona/core';
import { useSuspenseQuery, type QueryClient } from '@tanstack/react-query';
import { use } from 'react';
import { call } from '../../state/api.js';
import { useApp, useCircumstances } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { loadLanguage } from '../../state/language.js';
import { emptyValues, type TypedValues } from './draft.js';

/** What the person entered last, of the fields of a table that begin with it; most tables have none, and nothing is asked. */
function lastQuery(app: string, table: Table) {
  const fields = table.fields.filter((field) => field.startsWithLast).map((field) => field.id);
  return {
    queryKey: keys.last(app, table.id, fields),
    queryFn: () => call(contract.readLast, { params: { app, table: table.id } }),
    ...(fields.length === 0 ? { initialData: { values: {} }, staleTime: Infinity } : {}),
  };
}
export const lastEntered = async (client: QueryClient, app: string, table: Table): Promise<RecordAnswer['values']> =>
  (await client.ensureQueryData(lastQuery(app, table))).values;

/** The values that a new record of the table begins with. Waits for what the person entered last and for what computes default values. */
export function useBeginning(table: Table): TypedValues {
  const app = useApp();
  const around = useCircumstances();
  const { data } = useSuspenseQuery(lastQuery(app.id, table));
  use(loadLanguage());
  return emptyValues(app.design, table, around, data.values);
}
