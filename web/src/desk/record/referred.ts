/** Fields of records that the one in a form refers to, changed in that form and saved with it. */
import { contract, tableOf, type Field, type OpenRecord, type RecordAnswer, type Table, type Typed, type Value } from '@bibliona/core';
import type { QueryClient } from '@tanstack/react-query';
import { createContext, useContext, useEffect, type RefObject } from 'react';
import { get, useFormContext, useFormState, useWatch } from 'react-hook-form';
import { call } from '../../state/api.js';
import type { AppInHand } from '../../state/app.js';
import type { AskedAs } from '../../state/asked-as.js';
import { keys } from '../../state/keys.js';
import { referredName, sameTyped, typedOf, typedRecord, valueOf, type RecordDraft, type ReferredDraft } from './draft.js';
import type { FormValues } from './form-values.js';
import { useInputsAt } from './mark.js';

/** The fields of such records that are on the form at hand, each by the item that shows it: only what is seen is saved. */
export const ReferredHere = createContext<RefObject<Map<string, string>>>({ current: new Map() });
const placeOf = (name: string, field: string): string => `${name} ${field}`;

const isChanged = ({ values, start }: ReferredDraft, field: string): boolean => field in values && !sameTyped(values[field], start[field]);

/** A draft without what is changed of records that its form no longer shows, as after another one was picked. */
export function onlyShown(draft: RecordDraft, shown: ReadonlySet<string>): RecordDraft {
  const referred = Object.entries(draft.referred ?? {}).map(([name, each]): [string, ReferredDraft] => [
    name,
    { ...each, values: Object.fromEntries(Object.entries(each.values).filter(([field]) => shown.has(placeOf(name, field)))) },
  ]);
  return { ...draft, referred: Object.fromEntries(referred) };
}

/** Those of which something is changed. */
export const changedOf = (referred: Readonly<Record<string, ReferredDraft>> = {}): Readonly<Record<string, ReferredDraft>> =>
  Object.fromEntries(Object.entries(referred).filter(([, each]) => Object.keys(each.values).some((field) => isChanged(each, field))));

/** What has been typed since a save was sent, on top of what that has made of the records. */
export const typedSince = (
  now: Readonly<Record<string, ReferredDraft>> = {},
  sent: Readonly<Record<string, ReferredDraft>> = {},
  revOf: (name: string) => number | undefined,
): Readonly<Record<string, ReferredDraft>> =>
  changedOf(
    Object.fromEntries(
      Object.entries(now).map(([name, referred]) => [
        name,
        { ...referred, rev: revOf(name) ?? referred.rev, start: { ...referred.start, ...sent[name]?.values } },
      ]),
    ),
  );

/** Under which a record that is referred to is kept. */
const referredKey = (app: string, table: string, id: number) => [...keys.record(app, table, id), 'without children'] as const;
/** Reads a record without its rows. @param as as whom a builder asks; else as the person at hand */
export const readAlone = (app: string, table: string, id: number, as: AskedAs = {}) => ({
  queryKey: referredKey(app, table, id),
  queryFn: () => call(contract.readRecord, { params: { app, table, id }, query: { children: 'no' }, ...as }),
  retry: false,
});

/** Shows what was saved of such records before they are read again. */
export function showSaved(client: QueryClient, app: AppInHand, sent: RecordDraft['referred'] = {}, revOf: (name: string) => number | undefined): void {
  for (const [name, referred] of Object.entries(sent)) {
    const rev = revOf(name);
    if (rev === undefined) continue;
    const values = tableOf(app.design, referred.table).fields.flatMap((field): [string, Value][] => {
      const parsed = field.id in referred.values ? valueOf(field, referred.values[field.id] ?? null) : null;
      return parsed?.ok === true ? [[field.id, parsed.value]] : [];
    });
    client.setQueryData<OpenRecord>(
      referredKey(app.id, referred.table, referred.id),
      (open) => open && { ...open, record: { ...open.record, rev, values: { ...open.record.values, ...Object.fromEntries(values) } } },
    );
  }
}

/** A field of such a record as it is typed, which can be nothing, else as it was read. */
export const typedNow = (begun: ReferredDraft | undefined, field: Field, record: RecordAnswer): Typed =>
  begun !== undefined && field.id in begun.values ? (begun.values[field.id] ?? null) : typedOf(field, record.values[field.id] ?? null);

/** One field of such a record, for its input. */
export function useReferred(table: Table, record: RecordAnswer, field: Field, item: string) {
  const { control, getValues, setValue, clearErrors } = useFormContext<FormValues>();
  const here = useContext(ReferredHere);
  const name = referredName(table.id, record.id);
  useEffect(() => {
    const now = here.current;
    now.set(item, placeOf(name, field.id));
    return () => void now.delete(item);
  }, [here, item, name, field.id]);
  const all = useWatch({ control, name: 'referred' });
  const begun = all?.[name];
  const path = `referred.${name}.values.${field.id}`;
  useInputsAt(path);
  const { errors } = useFormState({ control });
  const fault: { readonly message?: string } | undefined = get(errors, path);
  return {
    path,
    problem: fault?.message,
    value: typedNow(begun, field, record),
    change: (value: Typed): void => {
      const { referred = {} } = getValues();
      const from: ReferredDraft = referred[name] ?? { table: table.id, id: record.id, rev: record.rev, start: typedRecord(table, record), values: {} };
      const next: ReferredDraft = { ...from, values: { ...from.values, [field.id]: value } };
      clearErrors(path as 'referred');
      setValue('referred', changedOf({ ...referred, [name]: next }), { shouldDirty: true });
    },
  };
}
