/** Fields that a form fills by itself: which they are, and what in the form has to change for it. */
import { relationshipOf, tableOf, type AppDesign, type Circumstances, type Field, type Form, type TableRights, type Typed } from '@bibliona/core';
import type { Language } from '../../state/language.js';
import { typedOf, type RecordDraft, type TypedValues } from './draft.js';

export interface Fill {
  readonly table: string;
  /** Null: of the record of the form itself; else of its rows. */
  readonly relationship: string | null;
  readonly field: Field;
  readonly expression: string;
  /** The fields and relationships that the expression reads. */
  readonly reads: ReadonlySet<string>;
  /** What the field begins with where no form fills it. */
  readonly begins: Typed;
}

export const hasFills = ({ items }: Form): boolean =>
  items.some((item) => (item.kind === 'field' && item.fill !== undefined) || (item.kind === 'children' && item.fills !== undefined));

/** Where a form is, besides its design. */
interface Around {
  readonly rights: Readonly<Record<string, TableRights>>;
  readonly circumstances: Circumstances;
}
/** What a form fills of what this person can fill. An expression that the person's browser is not told fills nothing. */
export function fillsOf(design: AppDesign, { rights, circumstances }: Around, form: Form, language: Language): readonly Fill[] {
  const made = (table: string, relationship: string | null, id: string, expression: string | undefined): readonly Fill[] => {
    const field = tableOf(design, table).fields.find((each) => each.id === id);
    const { locked = [], hidden = [] } = rights[table] ?? {};
    if (field === undefined || expression === undefined || expression === '' || locked.includes(id) || hidden.includes(id)) return [];
    const checked = language.check(expression, { design, table }, language.wants.anything);
    if (!checked.ok) return [];
    const begins = typedOf(field, language.startValue(design, field, circumstances));
    return [{ table, relationship, field, expression, reads: language.readBy(checked.node), begins }];
  };
  return form.items.flatMap((item) => {
    if (item.kind === 'field') return made(form.table, null, item.field, item.fill);
    if (item.kind !== 'children') return [];
    const { child } = relationshipOf(design, item.relationship);
    return (item.fills ?? []).flatMap((fill) => made(child, item.relationship, fill.field, fill.value));
  });
}

/** A record of the form that is filled, with what the form knows of it. */
export interface Filled {
  /** What it is called among the records of the form; a row keeps it when others come or go. */
  readonly key: string;
  /** As `live` names it. */
  readonly of: string;
  /** The key of a row; null: the record of the form itself. */
  readonly row: string | null;
  readonly isNew: boolean;
  readonly values: TypedValues;
}

export function filledBy({ relationship }: Fill, draft: RecordDraft, isNew: boolean): readonly Filled[] {
  if (relationship === null) return [{ key: 'own', of: 'own', row: null, isNew, values: draft.own }];
  return (draft.children[relationship] ?? []).map((row, i) => ({
    key: `${relationship} ${row.key}`,
    of: `${relationship}.${i}`,
    row: row.key,
    isNew: row.id === null,
    values: row.values,
  }));
}

const picked = (values: TypedValues, ids: ReadonlySet<string>): unknown => [...ids].map((id) => values[id] ?? null);

/** What the expression of a fill reads in the form: of its record, and around it. When it changes, the field is filled anew. */
export interface Reading {
  readonly own: string;
  /** The same text for all records of a fill: of very many rows it is long. */
  readonly around: string;
}
export const isSameReading = (reading: Reading | undefined, other: Reading): boolean => reading?.own === other.own && reading.around === other.around;

export function readingIn({ relationship, reads }: Fill, draft: RecordDraft): (record: Filled) => Reading {
  const rows = Object.entries(draft.children).flatMap(([id, all]) => (reads.has(id) ? [all.map((row) => picked(row.values, reads))] : []));
  const around = JSON.stringify([relationship === null ? null : picked(draft.own, reads), rows]);
  return ({ values }) => ({ own: JSON.stringify(picked(values, reads)), around });
}

/** What each fill reads in a draft, by its record and field. */
export const readingsOf = (fills: readonly Fill[], draft: RecordDraft, isNew: boolean): Map<string, Reading> =>
  new Map(
    fills.flatMap((fill) => {
      const reading = readingIn(fill, draft);
      return filledBy(fill, draft, isNew).map((record) => [nameOf(fill, record), reading(record)] as const);
    }),
  );
export const nameOf = ({ field }: Fill, { key }: Filled): string => `${key} ${field.id}`;

/** Whether this person can change a field of a record, or sets it with a new one. */
export const canFill = (rights: Readonly<Record<string, TableRights>>, { table, field }: Fill, { isNew }: Filled): boolean =>
  isNew ? rights[table]?.add === true : rights[table]?.change === true && field.fixed !== true;

/** Whether a field of a new record has a value that somebody gave it; one that it begins with by itself is none. */
export function isEntered({ field, begins }: Fill, { values }: Filled): boolean {
  const value = values[field.id] ?? null;
  return value !== null && value !== '' && JSON.stringify(value) !== JSON.stringify(begins);
}

/** A field that is to be filled, and with what. */
export interface Found {
  readonly fill: Fill;
  /** The key of its row; null: it is of the record itself. */
  readonly row: string | null;
  readonly typed: Typed;
}

/** Rows with what some of them are filled with. */
export function withFilled<R extends { readonly key: string; readonly values: TypedValues }>(rows: readonly R[], found: readonly Found[]): R[] {
  const byRow = new Map<string | null, Record<string, Typed>>();
  for (const { fill, row, typed } of found) byRow.set(row, { ...byRow.get(row), [fill.field.id]: typed });
  return rows.map((row) => (byRow.has(row.key) ? { ...row, values: { ...row.values, ...byRow.get(row.key) } } : row));
}
