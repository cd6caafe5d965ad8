import { written, type Type, type Value } from '@bibliona/core';
import type { RecordReader } from './read.js';

type Chosen = Exclude<Value, object>;

interface Counted {
  readonly value: Value;
  readonly count: number;
}

/** The chosen values that were not counted. */
export const notAmong = (counted: readonly Counted[], chosen: readonly Chosen[]): Chosen[] =>
  chosen.filter((value) => !counted.some((each) => written(each.value) === value));

/**
 * Values by which rows can be narrowed: first those that are chosen but that no row has now, then those that were counted. Records
 * come with what they are called. Records that were removed, or that this person may not see, are left out.
 * @param type of the values
 */
export async function withChosen(reader: RecordReader, type: Type, chosen: readonly Chosen[], counted: readonly Counted[]): Promise<Counted[]> {
  const lost = notAmong(counted, chosen);
  const ids = type.kind === 'record' ? (lost.filter((value) => Number.isSafeInteger(value)) as number[]) : [];
  const records = type.kind === 'record' && ids.length > 0 ? await reader.captions(type.table, ids) : [];
  const told: readonly Value[] = type.kind === 'record' ? [...lost.filter((value) => value === null), ...records] : lost;
  return [...told.map((value) => ({ value, count: 0 })), ...counted];
}
