/** How a field is stored in the database: its column's type, its constraints and its indexes, each with a stable name. */
import type { StoredField as Field, Table } from '../design/design.js';
import { isStored } from '../design/design.js';
import type { Column } from '../fields/kind.js';
import { kindOf } from '../fields/kinds.js';
import { constantDefault } from '../expression/bring.js';
import { feelName } from '../feel/names.js';
import { ident, literal } from '../sql/sql.js';
import type { StoredDesign, StoredTable } from './stored.js';

/** How values of a field are stored, with functions that take the field itself. */
export function columnKind(field: Field): Column<Field> {
  const { column } = kindOf<Field>(field);
  if (column === null) throw new TypeError(`${field.name} has no column`);
  return column;
}

/** PostgreSQL's type of the column. Names are readable to any SQL client; amounts are numeric, never floating. */
export const columnType = (field: Field): string => columnKind(field).type(field);

/** The DEFAULT of the column, or null: so that a record entered by any SQL client starts as one entered in a form. */
export function columnDefault(field: Field): string | null {
  const { computedDefault, constant } = columnKind(field);
  const value = constantDefault(field);
  if (value === undefined) return computedDefault?.(field.default ?? '') ?? null;
  return value === null ? null : constant(value, field);
}

/** A constraint or index that hangs on one table. Equal definitions are left alone by a migration. */
export interface Attachment {
  readonly name: string;
  readonly kind: 'constraint' | 'index' | 'unique index' | 'trigger';
  /** What follows the name in ADD CONSTRAINT, the whole of CREATE INDEX after the table, or the function that a trigger calls for a column. */
  readonly definition: string;
  /** The fields without whose columns it cannot be. */
  readonly fields: readonly string[];
  /** Set when records must differ in its fields: how. */
  readonly unique?: Differing;
  /** Why existing records could refuse it: said when it is added to a table with records. */
  readonly reason: string | null;
}

/** How records must differ in a value: `anyCase`, so that "Oak" and "OAK" are the same. */
export interface Differing {
  readonly anyCase?: true | undefined;
}

/** Ends the name of the constraint that no record is its own parent. */
const itself = 'itself';
export const isOfItself = (constraint: string): boolean => constraint.endsWith(`_${itself}`);

/** The field whose constraint this is, of those that `attachmentsOf` names. */
export function fieldOfConstraint(tables: readonly Pick<Table, 'fields'>[], constraint: string): Table['fields'][number] | undefined {
  const id = /^(.+)_[a-z]+$/u.exec(constraint)?.[1];
  return tables.flatMap((table) => table.fields).find((field) => field.id === id);
}

/** The fields that are unique together, of those whose constraint this is. */
export function togetherOfConstraint(tables: readonly Pick<Table, 'fields' | 'uniqueTogether'>[], constraint: string): readonly Table['fields'][number][] {
  const id = /^(.+)_together$/u.exec(constraint)?.[1];
  return tables.flatMap((table) =>
    table.uniqueTogether.flatMap((item) => (item.id === id ? item.fields.flatMap((field) => table.fields.find((each) => each.id === field) ?? []) : [])),
  );
}

const onDelete = { refuse: 'NO ACTION', clear: 'SET NULL', remove: 'CASCADE' } as const;

/** The fields whose words a search in the list looks through. */
const searchedFields = (table: Pick<Table, 'fields'>): readonly Field[] => table.fields.filter(isStored).filter((field) => kindOf(field).traits.searched);

/**
 * The text a search looks through, over the table named by `alias` (or bare columns, for the index on it). The same
 * text in index and query is what lets PostgreSQL use the index.
 */
export function searchText(table: Pick<Table, 'fields'>, alias: string | null): string | null {
  const fields = searchedFields(table);
  if (fields.length === 0) return null;
  const column = (field: Field): string =>
    `COALESCE(${columnKind(field).asText(`${alias === null ? '' : `${alias}.`}${ident(field.column)}`, field)}, ''::text)`;
  return `(${fields.map(column).join(` || ' '::text || `)})`;
}

/** Kinds whose values are shown in captions as the text that an index can put in order. */
const startKinds: readonly string[] = ['text', 'running_number', 'whole'] satisfies Field['kind'][];

/** The field whose value a caption begins with, where an index can tell which captions begin with a text. */
export const captionStart = (table: Pick<Table, 'fields' | 'caption'>): Field | undefined =>
  table.fields.filter(isStored).find((field) => {
    const name = feelName(field.name);
    if (!startKinds.includes(field.kind) || name === '') return false;
    const rest = [name, `string(${name})`].find((start) => table.caption.startsWith(start));
    return rest !== undefined && /^\s*(?:\+|$)/u.test(table.caption.slice(rest.length));
  });
/** More than this of a text in an index could be more than an index takes. */
export const longestStart = 200;
/** A value as the index on what records are called puts it in order: a pattern that it begins with walks the index. */
export const startsOrdered = (field: Field, column: string): string => `left(lower(${columnKind(field).asText(column, field)}), ${longestStart}) COLLATE "C"`;

/** What must differ of a field that is unique, alone or together with others. */
export const differingIn = (field: Field, column: string, how: Differing): string => columnKind(field).differs?.(column, how.anyCase === true) ?? column;

/** A constraint takes no more than columns; what is computed of them takes an index. */
function uniqueOver(fields: readonly Field[], how: Differing): Pick<Attachment, 'kind' | 'definition' | 'fields' | 'unique'> {
  const columns = fields.map((field) => ident(field.column));
  const differing = fields.map((field) => differingIn(field, ident(field.column), how));
  const isPlain = String(differing) === String(columns);
  return {
    kind: isPlain ? 'constraint' : 'unique index',
    definition: isPlain ? `UNIQUE (${columns.join(', ')})` : `(${differing.join(', ')})`,
    fields: fields.map((field) => field.id),
    unique: { anyCase: how.anyCase },
  };
}

/** Constraints and indexes that follow from the design of a table. `schema` is where the tables of the app stand. */
export function attachmentsOf(table: StoredTable, design: StoredDesign, schema: string): readonly Attachment[] {
  const all: Attachment[] = [];
  for (const field of table.fields) {
    const column = ident(field.column);
    for (const { name, check, reason } of columnKind(field).rules(field, column))
      all.push({ name: `${field.id}_${name}`, kind: 'constraint', definition: `CHECK (${check})`, fields: [field.id], reason });
    if (field.unique)
      all.push({
        name: `${field.id}_unique`,
        ...uniqueOver([field], field.kind === 'text' ? field : {}),
        reason: `records must differ in ${field.name}`,
      });
    if (field.indexed && kindOf(field).traits.canBeIndexed)
      all.push({ name: `${field.id}_filter`, kind: 'index', definition: `(${column}, id)`, fields: [field.id], reason: null });
    const numbered = columnKind(field).numbered?.(field);
    if (numbered !== undefined) {
      const given = [field.id, field.column, ...numbered, design.timeZone].map(literal).join(', ');
      all.push({ name: `${field.id}_number`, kind: 'trigger', definition: `feel.give_number(${given})`, fields: [field.id], reason: null });
    }
    if (field.kind === 'reference') {
      const relationship = design.relationships.find((each) => each.id === field.relationship);
      const parent = design.tables.find((each) => each.id === relationship?.parent);
      if (relationship !== undefined && parent !== undefined) {
        all.push({
          name: `${field.id}_to`,
          kind: 'constraint',
          definition: `FOREIGN KEY (${column}) REFERENCES ${ident(schema)}.${ident(parent.slug)} (id) ON DELETE ${onDelete[relationship.whenParentRemoved]}`,
          fields: [field.id],
          reason: null,
        });
      }
      if (relationship?.neverOwn === true && relationship.parent === relationship.child)
        all.push({
          name: `${field.id}_${itself}`,
          kind: 'constraint',
          definition: `CHECK (${column} <> id)`,
          fields: [field.id],
          reason: `no record can be its own ${field.name}`,
        });
      all.push({ name: `${field.id}_index`, kind: 'index', definition: `(${column}, id)`, fields: [field.id], reason: null });
    }
  }
  for (const together of table.uniqueTogether) {
    const columns = together.fields.flatMap((field) => table.fields.find((each) => each.id === field) ?? []);
    all.push({
      name: `${together.id}_together`,
      ...uniqueOver(columns, together),
      reason: `records must differ in ${columns.map((field) => field.name).join(' or ')}`,
    });
  }
  // What one person added last is found at once.
  if (table.fields.some((field) => field.startsWithLast))
    all.push({ name: `${table.id}_added`, kind: 'index', definition: '(created_by, id)', fields: [], reason: null });
  const list = design.lists.find((each) => each.table === table.id && each.isDefault);
  const sorted = table.fields.find((field) => field.id === list?.order[0]?.field);
  if (sorted !== undefined && isStored(sorted) && sorted.kind !== 'reference')
    all.push({ name: `${table.id}_order`, kind: 'index', definition: `(${ident(sorted.column)}, id)`, fields: [sorted.id], reason: null });
  const start = captionStart(table);
  // Only records of a parent are picked.
  if (start !== undefined && design.relationships.some((each) => each.parent === table.id))
    all.push({ name: `${table.id}_begins`, kind: 'index', definition: `(${startsOrdered(start, ident(start.column))}, id)`, fields: [start.id], reason: null });
  const words = searchText(table, null);
  if (words !== null)
    all.push({
      name: `${table.id}_search`,
      kind: 'index',
      definition: `USING gin (${words} gin_trgm_ops)`,
      fields: searchedFields(table).map((field) => field.id),
      reason: null,
    });
  return all;
}

/** The indexes of an app that only make it faster: each can be made while people work, and is missed by nobody until then. */
export const indexesOf = (design: StoredDesign, schema: string): readonly { readonly table: string; readonly name: string; readonly on: string }[] =>
  design.tables.flatMap((table) =>
    attachmentsOf(table, design, schema).flatMap(({ name, kind, definition }) =>
      kind === 'index' ? [{ table: table.id, name, on: `${ident(schema)}.${ident(table.slug)} ${definition}` }] : [],
    ),
  );
