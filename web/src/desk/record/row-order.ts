/** Rows that people put in order themselves: a whole number in each row says at which place it is. */
import type { Field } from '@bibliona/core';
import { typedOf, valueOf, type ChildDraft } from './draft.js';

function numberIn(row: Pick<ChildDraft, 'values'>, field: Field): number | null {
  const parsed = valueOf(field, row.values[field.id] ?? null);
  return parsed.ok && typeof parsed.value === 'number' ? parsed.value : null;
}

/** The number of a row that comes after all others. */
export const nextPlace = (rows: readonly Pick<ChildDraft, 'values'>[], field: Field): number =>
  rows.reduce((most, row) => Math.max(most, numberIn(row, field) ?? 0), 0) + 1;

/** The numbers that rows have when they are in this order: those that they have now, or from 1 on where some have none or the same. */
export function placesOf(rows: readonly Pick<ChildDraft, 'values'>[], field: Field): readonly number[] {
  const numbers = rows.flatMap((row) => numberIn(row, field) ?? []);
  return new Set(numbers).size === rows.length ? numbers.sort((one, other) => one - other) : rows.map((_, i) => i + 1);
}

/** The row at another place. One that is not begun yet counts as not begun there too. */
export function placedAt<R extends Pick<ChildDraft, 'values' | 'begun'>>(row: R, field: Field, place: number): R {
  const value = { [field.id]: typedOf(field, place) };
  return { ...row, values: { ...row.values, ...value }, ...(row.begun === undefined ? {} : { begun: { ...row.begun, ...value } }) };
}
