/** What is done in a form while a save of it is under way: it goes on into the form of the saved record. */
import { sameTyped, type ChildDraft, type RecordDraft, type TypedValues } from './draft.js';

interface LateRow {
  readonly relationship: string;
  /** Null: the row was begun meanwhile. */
  readonly id: number | null;
  readonly row: ChildDraft;
  /** What was typed in it. */
  readonly values: TypedValues;
}
export interface Late {
  readonly own: TypedValues;
  readonly rows: readonly LateRow[];
  /** By relationship: rows that were removed, by their numbers. */
  readonly removed: Readonly<Record<string, readonly number[]>>;
  /** Of records that are referred to. */
  readonly referred: NonNullable<RecordDraft['referred']>;
}

const changedIn = (now: TypedValues, before: TypedValues): TypedValues =>
  Object.fromEntries(Object.entries(now).filter(([field, value]) => !sameTyped(value, before[field])));

/** @param idOf the number that a row of `saved` got, by its relationship and its place */
export function lateIn(now: RecordDraft, saved: RecordDraft, idOf: (relationship: string, index: number) => number | undefined): Late {
  const rows: LateRow[] = [];
  const removed: Record<string, readonly number[]> = {};
  for (const [relationship, all] of Object.entries(now.children)) {
    const before = saved.children[relationship] ?? [];
    const numberOf = (row: ChildDraft): number | undefined => row.id ?? idOf(relationship, before.indexOf(row));
    for (const row of all) {
      const old = before.find((each) => each.key === row.key);
      const values = old === undefined ? row.values : changedIn(row.values, old.values);
      const id = old === undefined ? row.id : numberOf(old);
      if (id !== undefined && Object.keys(values).length > 0) rows.push({ relationship, id, row, values });
    }
    const stays = new Set(all.map((row) => row.key));
    const gone = before.filter((row) => !stays.has(row.key)).flatMap((row) => numberOf(row) ?? []);
    if (gone.length > 0) removed[relationship] = gone;
  }
  return { own: changedIn(now.own, saved.own), rows, removed, referred: now.referred ?? {} };
}

/** The child rows of a form that begins with a saved record, with what was done meanwhile; only the relationships that differ. */
export function rowsWith(late: Late, begun: RecordDraft['children']): RecordDraft['children'] {
  const relationships = new Set([...late.rows.map((row) => row.relationship), ...Object.keys(late.removed)]);
  return Object.fromEntries(
    [...relationships].map((relationship) => {
      const gone = late.removed[relationship] ?? [];
      const ours = late.rows.filter((row) => row.relationship === relationship);
      const rows = (begun[relationship] ?? [])
        .filter((row) => row.id === null || !gone.includes(row.id))
        .map((row) => ({ ...row, values: { ...row.values, ...(row.id === null ? {} : ours.find((each) => each.id === row.id)?.values) } }));
      return [relationship, [...rows, ...ours.flatMap(({ id, row }) => (id === null ? [row] : []))]];
    }),
  );
}
