import { isReference, type Value } from '@bibliona/core';
import type { RecordReader } from './read.js';

interface Counted {
  readonly value: Value;
  readonly count: number;
}
type Chosen = Exclude<Value, object>;

/** The value as rows are narrowed by it. */
export const chosenOf = (value: Value): Chosen => (isReference(value) ? value.id : value);

/**
 * Values by which rows are narrowed, before those that were counted: one that no row has any more is still told by what it is
 * called. Left out are records that are gone, or not this person's to see.
 * @param table of the records, where the values are such
 */
export async function withChosen(reader: RecordReader, table: string | null, chosen: readonly Chosen[], counted: readonly Counted[]): Promise<Counted[]> {
  const lost = chosen.filter((value) => !counted.some((each) => chosenOf(each.value) === value));
  if (table === null) return [...lost.map((value) => ({ value, count: 0 })), ...counted];
  const ids = lost.filter((value) => Number.isSafeInteger(value)) as number[];
  const called = ids.length === 0 ? [] : await reader.captions(table, ids);
  const told: readonly Value[] = [...lost.filter((value) => value === null), ...called];
  return [...told.map((value) => ({ value, count: 0 })), ...counted];
}
