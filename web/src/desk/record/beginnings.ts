/** What the forms of new records begin with. */
import { contract, isGiven, parentOf, type Field, type Narrowing, type RecordAnswer, type Table, type Typed, type Value } from '@bibliona/core';
import { useSuspenseQuery, type QueryClient } from '@tanstack/react-query';
import { use } from 'react';
import { call } from '../../state/api.js';
import { useApp, useCircumstances, type AppInHand } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { loadLanguage } from '../../state/language.js';
import { later } from '../list/month.js';
import { emptyValues, typedOf, type TypedValues } from './draft.js';

/** What the person entered last, of the fields of a table that begin with it; most tables have none, and nothing is asked. */
function lastQuery(app: string, table: Table) {
  const fields = table.fields.filter((field) => field.startsWithLast).map((field) => field.id);
  return {
    queryKey: keys.last(app, table.id, fields),
    queryFn: () => call(contract.readLast, { params: { app, table: table.id } }),
    // A form begins with it at once, so it is not kept: what was entered since would be missing.
    gcTime: 0,
    ...(fields.length === 0 ? { initialData: { values: {} }, staleTime: Infinity } : {}),
  };
}
export const lastEntered = async (client: QueryClient, app: string, table: Table): Promise<RecordAnswer['values']> =>
  (await client.fetchQuery(lastQuery(app, table))).values;

/**
 * The values that a new record of the table begins with: those of the list from which it is added, where they are one each;
 * else what the person entered last, or the default. Waits for what it needs to know.
 */
export function useBeginning(table: Table, given: readonly Narrowing[] = []): TypedValues {
  const app = useApp();
  const around = useCircumstances();
  const { data } = useSuspenseQuery(lastQuery(app.id, table));
  const { data: fromList } = useSuspenseQuery({
    queryKey: [...keys.table(app.id, table.id), 'given', given],
    queryFn: () => valuesGiven(app, table, given),
    ...(given.length === 0 ? { initialData: {}, staleTime: Infinity } : {}),
  });
  use(loadLanguage());
  return { ...emptyValues(app.design, table, around, data.values), ...fromList };
}

/** What a list is narrowed to, as values of its fields, where that is one value that somebody enters. */
async function valuesGiven(app: AppInHand, table: Table, given: readonly Narrowing[]): Promise<TypedValues> {
  const values: Record<string, Typed> = {};
  for (const item of given) {
    const field = table.fields.find((each) => each.id === item.field);
    if (field === undefined || field.kind === 'formula' || isGiven(field) || app.rights[table.id]?.locked.includes(field.id) === true) continue;
    const value = await givenValue(app, field, item);
    if (value !== null) values[field.id] = typedOf(field, value);
  }
  return values;
}

async function givenValue(app: AppInHand, field: Field, narrowing: Narrowing): Promise<Value> {
  const isDate = field.kind === 'date' || field.kind === 'date_and_time';
  if (!('values' in narrowing)) return field.kind === 'date' && later(narrowing.from, 1) === narrowing.before ? narrowing.from : null;
  const [value = null, ...others] = narrowing.values;
  if (others.length > 0 || value === null || isDate) return null;
  if (field.kind === 'choice') return field.choices.find((choice) => choice.label === value)?.id ?? null;
  if (field.kind !== 'reference') return field.kind === 'person' ? null : value;
  if (typeof value !== 'number') return null;
  const { id } = parentOf(app.design, field);
  // What it is called is asked for; where it can't be seen, the record begins without it.
  return call(contract.readRecord, { params: { app: app.id, table: id, id: value } }).then(
    ({ caption }) => ({ id: value, caption }),
    () => null,
  );
}
