/**
 * Columns that are filled before a change of the design takes them, while people go on working: to fill one of a million records
 * takes so long that nobody should wait for it. A trigger keeps them true for what is saved meanwhile. They are no more than a
 * head start: the change itself fills what they lack.
 */
import type { AppDesign, StoredField } from '../design/design.js';
import { ident, literal, SqlBuilder, statement, type Statement } from '../sql/sql.js';
import { columnType } from './columns.js';
import { conversionOf } from './convert.js';
import type { MigrationContext, SetAside } from './migration.js';
import { storedPart, type StoredTable } from './stored.js';

export interface PreparedColumn {
  /** The field that it will be the column of. */
  readonly field: string;
  /** The name of its table in the database, before the change. */
  readonly slug: string;
  readonly type: string;
  /** SQL over a row `t` of the table, before the change: what the column holds. */
  readonly value: string;
  /** The column whose values it follows, if any. */
  readonly follows: string | null;
  /** SQL that makes what values are looked up in, under `preparedName` in the schema for kept data. */
  readonly sources: readonly string[];
}

type Place = Pick<MigrationContext, 'schema' | 'keptSchema'>;

const prefix = '__next_';
/** What all that is made to prepare a field is called: its column, its trigger, and what its values are looked up in. */
export const preparedName = (field: string): string => `${prefix}${field}`;
/** The names of all of these, as a pattern of LIKE. */
export const preparedNames = `${prefix.replaceAll('_', String.raw`\_`)}%`;

/** The values that were set aside when a field was removed, if the field that comes back can hold them unchanged. */
export const removedValues = (setAside: readonly SetAside[], field: StoredField): SetAside | undefined =>
  setAside.find(
    (each) =>
      each.kind === 'field' &&
      each.became === null &&
      each.field.id === field.id &&
      columnType(each.field) === columnType(field) &&
      each.field.kind === field.kind,
  );

/** What can be prepared of a change: fields of another kind, and fields that come back with their values. */
export function preparedColumns(
  before: AppDesign,
  after: AppDesign,
  { keptSchema, setAside }: Pick<MigrationContext, 'keptSchema' | 'setAside'>,
): readonly PreparedColumn[] {
  const tables = new Map(storedPart(after).tables.map((table) => [table.id, table]));
  return storedPart(before).tables.flatMap((old): readonly PreparedColumn[] => {
    const now = tables.get(old.id);
    if (now === undefined || now === old) return [];
    return now.fields.flatMap((field) => preparedColumn(old, field, after.timeZone, keptSchema, setAside) ?? []);
  });
}

function preparedColumn(old: StoredTable, field: StoredField, zone: string, keptSchema: string, setAside: readonly SetAside[]): PreparedColumn | null {
  const common = { field: field.id, slug: old.slug, type: columnType(field) };
  const was = old.fields.find((each) => each.id === field.id);
  if (was !== undefined) {
    const conversion = conversionOf(was, field, zone);
    return conversion === null ? null : { ...common, value: preparedValue(conversion.expression, field), follows: was.column, sources: [] };
  }
  const aside = removedValues(setAside, field);
  if (aside === undefined) return null;
  const kept = `${ident(keptSchema)}.${ident(aside.name)}`;
  return {
    ...common,
    value: `(SELECT k.value FROM ${kept} AS k WHERE k.id = t.id)`,
    follows: null,
    sources: [`CREATE INDEX ${ident(preparedName(field.id))} ON ${kept} (id)`],
  };
}

/** SQL for a value as the column holds it: an expression alone can be of no type. */
export const preparedValue = (expression: string, field: StoredField): string => `(${expression})::${columnType(field)}`;

/** Adds the column, empty, and what fills it in records that are saved from now on. */
export function beginPrepared({ field, slug, type, value, follows }: PreparedColumn, { schema, keptSchema }: Place): readonly string[] {
  const [name, at] = [ident(preparedName(field)), `${ident(schema)}.${ident(slug)}`];
  // A column can have the name of one of the variables that a trigger has.
  const body = `#variable_conflict use_column\nBEGIN SELECT ${value} INTO NEW.${name} FROM (SELECT (NEW).*) AS t; RETURN NEW; END`;
  const when = follows === null ? 'INSERT' : `INSERT OR UPDATE OF ${ident(follows)}`;
  return [
    `ALTER TABLE ${at} ADD COLUMN ${name} ${type}`,
    `CREATE FUNCTION ${ident(keptSchema)}.${name}() RETURNS trigger LANGUAGE plpgsql AS ${literal(body)}`,
    `CREATE TRIGGER ${name} BEFORE ${when} ON ${at} FOR EACH ROW EXECUTE FUNCTION ${ident(keptSchema)}.${name}()`,
  ];
}

/** How many records a table has: `{ count }`. */
export const compilePreparedCount = (slug: string, { schema }: Place): Statement =>
  statement(`SELECT count(*)::int AS count FROM ${ident(schema)}.${ident(slug)}`);

/** The number of the last of the next records, so many of them after a number: `{ last }`, null when there is none. */
export function compileStretch(slug: string, { schema }: Place, after: string, most: number): Statement {
  const sql = new SqlBuilder();
  return sql.done(
    `SELECT max(id)::text AS last FROM (SELECT id FROM ${ident(schema)}.${ident(slug)} WHERE id > ${sql.param(after, 'bigint')} ORDER BY id LIMIT ${sql.param(most, 'integer')}) AS stretch`,
  );
}

/**
 * Fills columns of a table, where they lack a value, in records after a number and up to one. Those that somebody saves just now are
 * left out, so that nobody is waited for.
 */
export function compileFill(slug: string, columns: readonly PreparedColumn[], { schema }: Place, after: string, last: string): Statement {
  const sql = new SqlBuilder();
  const at = `${ident(schema)}.${ident(slug)}`;
  const stretch = `t.id > ${sql.param(after, 'bigint')} AND t.id <= ${sql.param(last, 'bigint')}`;
  const named = columns.map(({ field, value }, i) => ({ name: ident(preparedName(field)), value, found: `v${i}` }));
  const lacks = named.map(({ name, value }) => `t.${name} IS NULL AND ${value} IS NOT NULL`).join(' OR ');
  const values = named.map(({ value, found }) => `${value} AS ${found}`).join(', ');
  const sets = named.map(({ name, found }) => `${name} = COALESCE(t.${name}, f.${found})`).join(', ');
  return sql.done(
    `UPDATE ${at} AS t SET ${sets} FROM (SELECT t.id, ${values} FROM ${at} AS t WHERE ${stretch} AND (${lacks}) FOR NO KEY UPDATE SKIP LOCKED) AS f ` +
      `WHERE ${stretch} AND f.id = t.id`,
  );
}

/** Closes the table for everyone else; then fills what the column still lacks. `at` and `value` as they are by then. */
export const endPrepared = (field: string, at: string, value: string, keptSchema: string): readonly string[] => [
  dropFilling(field, keptSchema),
  `UPDATE ${at} AS t SET ${ident(preparedName(field))} = ${value} WHERE t.${ident(preparedName(field))} IS NULL AND ${value} IS NOT NULL`,
];

/** The column gets the name that its field has. */
export const takePrepared = (at: string, field: StoredField): string =>
  `ALTER TABLE ${at} RENAME COLUMN ${ident(preparedName(field.id))} TO ${ident(field.column)}`;

/** Takes its trigger off with it, and so has the table for itself. */
export const dropFilling = (field: string, keptSchema: string): string => `DROP FUNCTION ${ident(keptSchema)}.${ident(preparedName(field))}() CASCADE`;

/** Something that was made to prepare a change, as the database names it. `slug`: of the table that has a column of it. */
export interface LeftOver {
  readonly name: string;
  readonly slug: string | null;
  readonly kind: 'function' | 'table' | 'index';
}

export function forgetPrepared({ name, slug, kind }: LeftOver, { schema, keptSchema }: Place): readonly string[] {
  const made = `${ident(keptSchema)}.${ident(name)}`;
  if (kind !== 'function') return [`DROP ${kind === 'table' ? 'TABLE' : 'INDEX'} ${made}`];
  const column = slug === null ? [] : [`ALTER TABLE ${ident(schema)}.${ident(slug)} DROP COLUMN ${ident(name)}`];
  return [`DROP FUNCTION ${made}() CASCADE`, ...column];
}
