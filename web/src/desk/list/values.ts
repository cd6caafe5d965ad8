import { isReference, kindOf, printTyped, type Field, type List, type Narrowing, type Selection, type Table, type Value } from '@bibliona/core';
import type { AppInHand } from '../../state/app.js';
import { locale } from '../../state/locale.js';

/** The type of the values by which a list is grouped and narrowed by a field, as expressions see them. */
export const typeIn = (app: AppInHand, field: Field): string =>
  field.kind === 'formula' ? (app.formulas[field.id] ?? 'string') : (kindOf(field).feel.type(field, '')?.kind ?? 'string');

/** Whether that is by its months. */
export function isByMonth(app: AppInHand, field: Field): boolean {
  const type = typeIn(app, field);
  return type === 'date' || type === 'date and time';
}

/** Of a record that the server doesn't name. */
export const unnamedRecord = 'a removed record';

/** A value that records share, in words; an empty one is none. */
export function valueWords(app: AppInHand, field: Field, value: Value): string {
  if (value === null) return 'empty';
  if (isReference(value)) return value.caption;
  if (field.kind === 'reference') return unnamedRecord;
  if (isByMonth(app, field)) return locale().month(String(value));
  return printTyped({ type: typeIn(app, field), digits: null, unit: null }, value, locale());
}

export type Chosen = Extract<Narrowing, { values: unknown }>['values'][number];
export const chosenIn = (selection: Selection, field: string): readonly Chosen[] =>
  selection.narrowed?.flatMap((each) => (each.field === field && 'values' in each ? each.values : [])) ?? [];

/** The selection with other values of a field chosen; with none it is not narrowed by it. */
export function narrowedTo(selection: Selection, field: string, values: readonly Chosen[]): NonNullable<Selection['narrowed']> {
  const others = (selection.narrowed ?? []).filter((each) => each.field !== field);
  return values.length === 0 ? others : [...others, { field, values: [...values] }];
}

/** The fields of the list that are there for this person, in its order. */
export const listedFields = (table: Table, list: List): readonly Field[] => list.columns.flatMap((id) => table.fields.filter((field) => field.id === id));

/** The fields by which records are called. */
export const namingFields = (app: AppInHand, table: Table): readonly Field[] => table.fields.filter((field) => app.captions[table.id]?.includes(field.id));
