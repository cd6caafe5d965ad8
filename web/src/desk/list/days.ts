/** Records on days: on which one a record is, and what puts it on another. Days are texts of the form 2026-09-14. */
import { isGiven, isStored, parseValue, type Field, type Locale, type RecordAnswer, type Value } from '@bibliona/core';
import { locale } from '../../state/locale.js';

/** Between them are all days before another, and all from one on. */
export const [earliest, latest] = ['1000-01-01', '9999-12-31'] as const;

/** The day of a value, on the clocks of the app; null where it has none. A formula gives what its kind of value looks like. */
export function dayIn(value: Value, at: Locale = locale()): string | null {
  if (typeof value !== 'string' || !/^\d{4}-\d\d-\d\d/u.test(value)) return null;
  return value.endsWith('Z') ? at.wall(value).slice(0, 10) : value.slice(0, 10);
}
export const dayOf = (field: Field, record: RecordAnswer): string | null => dayIn(record.values[field.id] ?? null);

/** The time of day that a record has, as people read it; empty where it has a day alone. */
export function timeOf(field: Field, record: RecordAnswer): string {
  const value = record.values[field.id];
  if (typeof value !== 'string' || !value.includes('T')) return '';
  return locale().clock((value.endsWith('Z') ? locale().wall(value) : value).slice(11, 19));
}

/** The same value on another day, at the same time of it. */
export function onDay(field: Field, value: Value, day: string, at: Locale = locale()): Value {
  if (field.kind !== 'date_and_time' || typeof value !== 'string') return day;
  const parsed = parseValue(field, `${day} ${at.wall(value).slice(11, 19)}`, at);
  return parsed.ok ? parsed.value : value;
}

/** Whether a field can be set by putting a record elsewhere. */
export const canPut = (field: Field, rights: { readonly change: boolean; readonly locked: readonly string[] }): boolean =>
  rights.change && !rights.locked.includes(field.id) && field.fixed !== true && isStored(field) && !isGiven(field);

/** The day that an address names; null where that is none, or so far away that what is around it has no days. */
export function dayAsked(text: string | null): string | null {
  if (text === null || !/^\d{4}-\d\d-\d\d$/u.test(text) || Number.isNaN(Date.parse(text))) return null;
  return text >= '1000-01-01' && text < '9990-01-01' ? text : null;
}
