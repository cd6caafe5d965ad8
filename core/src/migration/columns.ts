/** How a field stands in the database: its column's type, its constraints and its indexes, each with a stable name. */
import type { StoredField as Field, Table } from '../design/design.js';
import { isStored, largestWhole } from '../design/design.js';
import { constantDefault } from '../expression/bring.js';
import { ident, literal } from '../sql/sql.js';
import type { StoredDesign, StoredTable } from './stored.js';

/** PostgreSQL's type of the column. Names are readable to any SQL client; amounts are numeric, never floating. */
export function columnType(field: Field): string {
  switch (field.kind) {
    case 'text':
    case 'long_text':
    case 'choice':
      return 'text';
    case 'whole':
    case 'reference':
      return 'bigint';
    case 'decimal':
      return `numeric(${26 + field.digits},${field.digits})`;
    case 'date':
      return 'date';
    case 'yes_no':
      return 'boolean';
    default:
      return field satisfies never;
  }
}

/** The DEFAULT of the column, or null: so that a record entered by any SQL client starts as one entered in a form. */
export function columnDefault(field: Field): string | null {
  if (field.kind === 'date' && field.default === 'today()') return 'CURRENT_DATE';
  const value = constantDefault(field);
  if (value === undefined || value === null) return null;
  switch (field.kind) {
    case 'text':
    case 'long_text':
    case 'choice':
      return literal(String(value));
    case 'decimal':
      return `${literal(String(value))}::numeric`;
    case 'date':
      return `${literal(String(value))}::date`;
    case 'whole':
    case 'yes_no':
      return String(value);
    case 'reference':
      return null;
    default:
      return field satisfies never;
  }
}

/** A constraint or index that hangs on one table. Equal definitions are left alone by a migration. */
export interface Attachment {
  readonly name: string;
  readonly kind: 'constraint' | 'index';
  /** What follows the name in ADD CONSTRAINT, or the whole of CREATE INDEX after it. */
  readonly definition: string;
  /** The fields without whose columns it cannot stand. */
  readonly fields: readonly string[];
  /** Why existing records could refuse it: said when it is added to a table with records. */
  readonly says: string | null;
}

/** The field whose constraint this is, of those that `attachmentsOf` names. */
export function fieldOfConstraint(tables: readonly Pick<Table, 'fields'>[], constraint: string): Table['fields'][number] | undefined {
  const id = /^(.+)_(?:range|choices|unique|to)$/u.exec(constraint)?.[1];
  return tables.flatMap((table) => table.fields).find((field) => field.id === id);
}

const onDelete = { refuse: 'NO ACTION', clear: 'SET NULL', remove: 'CASCADE' } as const;

/** The fields whose words a search in the list looks through. */
const searchedFields = (table: Pick<Table, 'fields'>): readonly Field[] =>
  table.fields.filter(isStored).filter((field) => field.kind === 'text' || field.kind === 'long_text');

/**
 * The text a search looks through, over the table named by `alias` (or bare columns, for the index on it). The same
 * text in index and query is what lets PostgreSQL use the index.
 */
export function searchText(table: Pick<Table, 'fields'>, alias: string | null): string | null {
  const fields = searchedFields(table);
  if (fields.length === 0) return null;
  const column = (field: Field): string => `COALESCE(${alias === null ? '' : `${alias}.`}${ident(field.column)}, ''::text)`;
  return `(${fields.map(column).join(` || ' '::text || `)})`;
}

/** Constraints and indexes that follow from the design of a table. `schema` is where the tables of the app stand. */
export function attachmentsOf(table: StoredTable, design: StoredDesign, schema: string): readonly Attachment[] {
  const all: Attachment[] = [];
  for (const field of table.fields) {
    const column = ident(field.column);
    if (field.kind === 'whole') {
      all.push({
        name: `${field.id}_range`,
        kind: 'constraint',
        definition: `CHECK (${column} BETWEEN -${largestWhole} AND ${largestWhole})`,
        fields: [field.id],
        says: null,
      });
    }
    if (field.kind === 'choice') {
      const ids = field.choices.map((choice) => literal(choice.id)).join(', ');
      all.push({
        name: `${field.id}_choices`,
        kind: 'constraint',
        definition: `CHECK (${column} IN (${ids}))`,
        fields: [field.id],
        says: `every ${field.name} is one of the choices`,
      });
    }
    if (field.unique)
      all.push({
        name: `${field.id}_unique`,
        kind: 'constraint',
        definition: `UNIQUE (${column})`,
        fields: [field.id],
        says: `no two records share the same ${field.name}`,
      });
    if (field.kind === 'reference') {
      const one = design.relationships.find((each) => each.id === field.relationship);
      const parent = design.tables.find((each) => each.id === one?.parent);
      if (one !== undefined && parent !== undefined) {
        all.push({
          name: `${field.id}_to`,
          kind: 'constraint',
          definition: `FOREIGN KEY (${column}) REFERENCES ${ident(schema)}.${ident(parent.slug)} (id) ON DELETE ${onDelete[one.whenParentRemoved]}`,
          fields: [field.id],
          says: null,
        });
      }
      all.push({ name: `${field.id}_index`, kind: 'index', definition: `(${column}, id)`, fields: [field.id], says: null });
    }
  }
  const list = design.lists.find((one) => one.table === table.id);
  const sorted = table.fields.find((field) => field.id === list?.sort?.field);
  if (sorted !== undefined && sorted.kind !== 'reference')
    all.push({ name: `${table.id}_order`, kind: 'index', definition: `(${ident(sorted.column)}, id)`, fields: [sorted.id], says: null });
  const words = searchText(table, null);
  if (words !== null)
    all.push({
      name: `${table.id}_search`,
      kind: 'index',
      definition: `USING gin (${words} gin_trgm_ops)`,
      fields: searchedFields(table).map((field) => field.id),
      says: null,
    });
  return all;
}
