/** A record as it is in a form, where everything is as typed, and the way from there to what is written. */
import {
  fieldIssue,
  isStored,
  isReference,
  parseValue,
  tableOf,
  typedValue,
  written,
  type AppDesign,
  type Circumstances,
  type Field,
  type OpenRecord,
  type Parsed,
  type RecordAnswer,
  type Relationship,
  type Table,
  type Typed,
  type Value,
  type Write,
  type WrittenValue,
} from '@bibliona/core';
import { locale } from '../../state/locale.js';
import { language } from '../../state/language.js';

export type TypedValues = Readonly<Record<string, Typed>>;

/** One child row: `key` tells rows apart before they have an id. */
export interface ChildDraft {
  readonly key: string;
  readonly id: number | null;
  readonly rev: number;
  readonly values: TypedValues;
  /** Of a row that is not saved yet: what it began with. */
  readonly begun?: TypedValues;
  /** Fields whose texts are longer than what is here of them. */
  readonly cut?: readonly string[];
}

/** What is changed, in a form, of a record that the one in it refers to. */
export interface ReferredDraft {
  readonly table: string;
  readonly id: number;
  readonly rev: number;
  /** All of it, as it was when it was begun on. */
  readonly start: TypedValues;
  /** Only what was typed. */
  readonly values: TypedValues;
}

export interface RecordDraft {
  readonly own: TypedValues;
  /** By id of the relationship. */
  readonly children: Readonly<Record<string, readonly ChildDraft[]>>;
  /** By name of the record; absent: none is changed. */
  readonly referred?: Readonly<Record<string, ReferredDraft>>;
}
/** What a record is called among those that are referred to. */
export const referredName = (table: string, id: number): string => `${table} ${id}`;

export const typedOf = (field: Field, value: Value): Typed => typedValue(field, value, locale());

/** The value that was meant. A reference keeps its caption, for showing. */
export function valueOf(field: Field, typed: Typed): Parsed {
  const parsed: Parsed = typeof typed === 'string' ? parseValue(field, typed, locale()) : { ok: true, value: typed };
  if (!parsed.ok) return parsed;
  const issue = fieldIssue(field, written(parsed.value));
  return issue === null ? parsed : { ok: false, problem: issue };
}

export const typedRecord = (table: Table, record: RecordAnswer): TypedValues =>
  Object.fromEntries(table.fields.map((field) => [field.id, typedOf(field, record.values[field.id] ?? null)]));

export function draftOfRecord(design: AppDesign, tableId: string, open: OpenRecord): RecordDraft {
  const children = Object.fromEntries(
    open.children.map((block) => {
      const child = tableOf(design, relationship(design, block.relationship).child);
      return [
        block.relationship,
        block.records.map((record) => ({
          key: `id ${record.id}`,
          id: record.id,
          rev: record.rev,
          values: typedRecord(child, record),
          ...(record.cut === undefined ? {} : { cut: record.cut }),
        })),
      ];
    }),
  );
  return { own: typedRecord(tableOf(design, tableId), open.record), children };
}

/** @param last what the person entered last, by field */
export const emptyValues = (design: AppDesign, table: Table, around: Circumstances, last: RecordAnswer['values']): TypedValues =>
  Object.fromEntries(
    table.fields.map((field) => [field.id, typedOf(field, (field.startsWithLast ? last[field.id] : null) ?? language().startValue(design, field, around))]),
  );

export const emptyDraft = (own: TypedValues, shown: readonly string[]): RecordDraft => ({ own, children: Object.fromEntries(shown.map((id) => [id, []])) });

function relationship(design: AppDesign, id: string): Relationship {
  const found = design.relationships.find((each) => each.id === id);
  if (found === undefined) throw new Error(`No relationship ${id}`);
  return found;
}

/** Where in the form something is wrong, in the form library's dotted paths: a field, or only the record or row that it is in; empty: nowhere in it. */
export interface DraftIssue {
  readonly path: string;
  readonly message: string;
}
/** Which part of the form a write comes from. */
export type WritePath = 'own' | `children.${string}.${number}` | `referred.${string}` | null;

export interface DraftWrites {
  readonly writes: readonly Write[];
  /** For each write the part of the form it comes from; null for a removed row. */
  readonly paths: readonly WritePath[];
  readonly issues: readonly DraftIssue[];
}

export const sameTyped = (a: Typed | undefined, b: Typed | undefined): boolean =>
  isReference(a) && isReference(b) ? a.id === b.id : (a ?? '') === (b ?? '') || a === b;

/** Changed fields (all of them for a new record) as values, with what does not fit. `link` is the reference to the parent. */
function valuesOf(
  table: Table,
  now: TypedValues,
  start: TypedValues | null,
  path: string,
  link: string | null,
  closed: ReadonlySet<string>,
): { readonly values: Record<string, WrittenValue>; readonly issues: readonly DraftIssue[] } {
  const values: Record<string, WrittenValue> = {};
  const issues: DraftIssue[] = [];
  for (const field of table.fields) {
    if (field.id === link || !isStored(field) || closed.has(field.id)) continue;
    const typed = now[field.id] ?? null;
    const isSame = start !== null && sameTyped(typed, start[field.id]);
    if (isSame) continue;
    const parsed = valueOf(field, typed);
    if (!parsed.ok) issues.push({ path: `${path}.${field.id}`, message: parsed.problem });
    else if (start !== null || parsed.value !== null) values[field.id] = written(parsed.value);
  }
  return { values, issues };
}

const isBlank = ({ values, begun }: ChildDraft, link: string): boolean => Object.keys(values).every((id) => id === link || sameTyped(values[id], begun?.[id]));

/**
 * What one save has to write for a form to become true: what it changes of records that are referred to, the record, its new,
 * changed and removed children.
 * @param existing the record as it was opened, or null for a new one
 */
export function writesOf(
  design: AppDesign,
  tableId: string,
  existing: { readonly id: number; readonly rev: number; readonly start: RecordDraft } | null,
  now: RecordDraft,
  /** Fields that are not this person's to write: they keep what they have, or what they begin with. */
  closed: ReadonlySet<string> = new Set(),
): DraftWrites {
  const writes: Write[] = [];
  const paths: WritePath[] = [];
  const issues: DraftIssue[] = [];
  const removals: Write[] = [];
  const table = tableOf(design, tableId);
  for (const [name, referred] of Object.entries(now.referred ?? {})) {
    const path = `referred.${name}` as const;
    const part = valuesOf(tableOf(design, referred.table), { ...referred.start, ...referred.values }, referred.start, `${path}.values`, null, closed);
    issues.push(...part.issues);
    if (Object.keys(part.values).length === 0) continue;
    writes.push({ kind: 'change', table: referred.table, id: referred.id, rev: referred.rev, values: part.values });
    paths.push(path);
  }
  const own = valuesOf(table, now.own, existing?.start.own ?? null, 'own', null, closed);
  issues.push(...own.issues);
  if (existing === null) {
    writes.push({ kind: 'add', table: tableId, as: 'record', values: own.values });
    paths.push('own');
  } else if (Object.keys(own.values).length > 0) {
    writes.push({ kind: 'change', table: tableId, id: existing.id, rev: existing.rev, values: own.values });
    paths.push('own');
  }
  for (const [id, rows] of Object.entries(now.children)) {
    const { child: childId, field: link } = relationship(design, id);
    const child = tableOf(design, childId);
    const before = existing?.start.children[id] ?? [];
    for (const [i, row] of rows.entries()) {
      const start = before.find((each) => each.key === row.key);
      // A row that was begun and left as it came is not a record yet.
      if (row.id === null && isBlank(row, link)) continue;
      const path = `children.${id}.${i}` as const;
      const part = valuesOf(child, row.values, start?.values ?? null, `${path}.values`, link, closed);
      issues.push(...part.issues);
      if (row.id === null) {
        writes.push({
          kind: 'add',
          table: childId,
          as: `${id} ${i}`,
          values: { ...part.values, [link]: existing === null ? { added: 'record' } : existing.id },
        });
        paths.push(path);
      } else if (Object.keys(part.values).length > 0) {
        writes.push({ kind: 'change', table: childId, id: row.id, rev: row.rev, values: part.values });
        paths.push(path);
      }
    }
    for (const gone of before)
      if (gone.id !== null && !rows.some((row) => row.key === gone.key)) removals.push({ kind: 'remove', table: childId, id: gone.id, rev: gone.rev });
  }
  // Removals first: a row put in place of a removed one can take over its unique value.
  return { writes: [...removals, ...writes], paths: [...removals.map(() => null), ...paths], issues };
}
