/**
 * The statements that write records. Each is one statement that checks the version, writes the record and writes its
 * history row, so that none of the three can happen without the others (measured: 0.72 of a bare INSERT; with a second
 * statement for the history 0.58). They can only be compiled with a `Permit`.
 */
import type { Permit } from '../access/access.js';
import { isGiven, isStored, type StoredField, type Table } from '../design/design.js';
import { columnKind, columnType } from '../migration/columns.js';
import { fieldOf } from '../design/read.js';
import type { Route } from '../design/route.js';
import { startOf } from '../routes/route.js';
import { tableName } from '../query/compiler.js';
import { ident, literal, SqlBuilder, type Statement } from '../sql/sql.js';
import type { Value } from '../fields/value.js';

export type Values = Readonly<Record<string, Value>>;

/** Places that one write of a save has for its statements, the write itself last: 2,000 writes still fit the integer column. */
export const placesPerWrite = 1_000_000;

/** Where a statement is among others of one save: a retried save is recognised by it. */
export interface WritePlace {
  readonly schema: string;
  /** The save's key, made by the person who asked for it, and the place of this write within it: below zero when an automation wrote. */
  readonly batch: string;
  readonly place: number;
  /** What was asked for under this key, as a digest in the form of a UUID: the same key with another request is refused. */
  readonly asked: string | null;
}

/** Beside the fields of a removed record its history keeps when and by whom it was made; no field has such an id. */
export const madeKey = '_made';

const historyColumns = 'table_id, record_id, rev, person_id, kind, before, after, batch, place, asked';

const placeOf = (sql: SqlBuilder, at: WritePlace): string =>
  `${sql.param(at.batch, 'uuid')}, ${sql.param(at.place, 'integer')}, ${sql.param(at.asked, 'uuid')}`;

/** Adds a record; its one row is `{ id, rev }`. */
export function compileAdd(permit: Permit, values: Values, at: WritePlace): Statement {
  const sql = new SqlBuilder();
  const person = sql.param(permit.person.id, 'bigint');
  const entries = Object.entries(values);
  const columns = entries.map(([id]) => `${ident(fieldOf(permit.table, id).column)}, `).join('');
  const params = entries.map(([, value]) => `${sql.param(value)}, `).join('');
  // What the database gives is known once it is there.
  const given = permit.table.fields.filter((field) => isGiven(field) && isStored(field) && values[field.id] == null);
  const told = given
    .map((field) => `, ${literal(field.id)}, w.${ident(field.column)}`)
    .join('')
    .slice(2);
  const after = `${sql.param(JSON.stringify(values), 'jsonb')}${told === '' ? '' : ` || jsonb_build_object(${told})`}`;
  const returned = given.map((field) => `, ${ident(field.column)}`).join('');
  return sql.done(
    `WITH w AS (INSERT INTO ${tableName(at.schema, permit.table)} (${columns}created_by, updated_by) VALUES (${params}${person}, ${person}) RETURNING id, rev${returned}), ` +
      `h AS (INSERT INTO ${ident(at.schema)}._history (${historyColumns}) SELECT ${literal(permit.table.id)}, id, rev, ${person}, 'add', NULL, ${after}, ${placeOf(sql, at)} FROM w) ` +
      `SELECT id, rev FROM w`,
  );
}

/** Values of the record before a write, as the history keeps them: by field id. */
function beforeSql(permit: Permit, ids: readonly string[]): string {
  const parts = ids.map((id) => {
    const field = fieldOf(permit.table, id);
    // As it travels to screens: JSON would round exact numbers.
    return `${literal(id)}, ${columnKind(field as StoredField).sent(`o.${ident(field.column)}`)}`;
  });
  // jsonb_build_object takes at most 100 arguments.
  const chunks: string[] = [];
  for (let i = 0; i < parts.length; i += 45) chunks.push(`jsonb_build_object(${parts.slice(i, i + 45).join(', ')})`);
  return chunks.length === 0 ? `'{}'::jsonb` : chunks.join(' || ');
}

/** Changes a record if it still is at `rev`: `{ id, rev, before }`. No row means that it is not, or is not there for this person. */
export function compileChange(permit: Permit, id: number, rev: number, values: Values, at: WritePlace): Statement {
  const sql = new SqlBuilder();
  const person = sql.param(permit.person.id, 'bigint');
  const entries = Object.entries(values);
  const sets = entries.map(([field, value]) => `${ident(fieldOf(permit.table, field).column)} = ${sql.param(value)}, `).join('');
  const [record, version] = [sql.param(id, 'bigint'), sql.param(rev, 'integer')];
  const name = tableName(at.schema, permit.table);
  return sql.done(
    `WITH o AS (SELECT * FROM ${name} WHERE id = ${record} AND rev = ${version} FOR UPDATE), ` +
      `w AS (UPDATE ${name} AS t SET ${sets}rev = t.rev + 1, updated_at = now(), updated_by = ${person} FROM o WHERE t.id = o.id RETURNING t.id, t.rev), ` +
      `h AS (INSERT INTO ${ident(at.schema)}._history (${historyColumns}) SELECT ${literal(permit.table.id)}, w.id, w.rev, ${person}, 'change', ${beforeSql(permit, Object.keys(values))}, ${sql.param(JSON.stringify(values), 'jsonb')}, ${placeOf(sql, at)} FROM w, o RETURNING before) ` +
      `SELECT w.id, w.rev, h.before FROM w, h`,
  );
}

/** A change of one record among others that change the same fields. */
export interface ChangeOfMany {
  readonly id: number;
  readonly rev: number;
  readonly values: Values;
  /** See `WritePlace`. */
  readonly place: number;
}

/**
 * Changes many records in one statement, each as `compileChange` does, with its own line in the history: rows of
 * `{ id, rev, before }`, none for a record that is at another version. All change the same fields, and no record is twice among them.
 */
export function compileChanges(permit: Permit, changes: readonly ChangeOfMany[], at: Omit<WritePlace, 'place'>): Statement {
  const sql = new SqlBuilder();
  const person = sql.param(permit.person.id, 'bigint');
  const ids = Object.keys(changes[0]?.values ?? {});
  const columns = ids.map((id) => fieldOf(permit.table, id) as StoredField);
  const name = tableName(at.schema, permit.table);
  // Values travel as texts: an array of arrays would lose where each ends.
  const texts = ids.map((id) =>
    sql.param(
      changes.map(({ values }) => (values[id] == null ? null : String(values[id]))),
      'text[]',
    ),
  );
  const given = [
    sql.param(
      changes.map((change) => change.id),
      'bigint[]',
    ),
    sql.param(
      changes.map((change) => change.rev),
      'integer[]',
    ),
    sql.param(
      changes.map((change) => change.place),
      'integer[]',
    ),
    sql.param(
      changes.map((change) => JSON.stringify(change.values)),
      'text[]',
    ),
    ...texts,
  ];
  const sets = columns.map((field, i) => `${ident(field.column)} = s.v${i}::${columnType(field)}, `).join('');
  return sql.done(
    `WITH s AS (SELECT * FROM unnest(${given.join(', ')}) AS s(id, rev, place, after${ids.map((_, i) => `, v${i}`).join('')})), ` +
      `o AS (SELECT * FROM ${name} WHERE (id, rev) IN (SELECT s.id, s.rev FROM s) ORDER BY id FOR UPDATE), ` +
      `w AS (UPDATE ${name} AS t SET ${sets}rev = t.rev + 1, updated_at = now(), updated_by = ${person} FROM o JOIN s ON s.id = o.id WHERE t.id = o.id RETURNING t.id, t.rev, s.place, s.after), ` +
      `h AS (INSERT INTO ${ident(at.schema)}._history (${historyColumns}) SELECT ${literal(permit.table.id)}, w.id, w.rev, ${person}, 'change', ${beforeSql(permit, ids)}, w.after::jsonb, ${sql.param(at.batch, 'uuid')}, w.place, ${sql.param(at.asked, 'uuid')} FROM w JOIN o ON o.id = w.id RETURNING record_id, rev, before) ` +
      `SELECT record_id AS id, rev, before FROM h`,
  );
}

/** Removes a record if it still is at `rev`; the history keeps all of it. */
export function compileRemove(permit: Permit, id: number, rev: number, at: WritePlace): Statement {
  const sql = new SqlBuilder();
  const person = sql.param(permit.person.id, 'bigint');
  const [record, version] = [sql.param(id, 'bigint'), sql.param(rev, 'integer')];
  const name = tableName(at.schema, permit.table);
  const all = permit.table.fields.filter(isStored).map((field) => field.id);
  const before = `${beforeSql(permit, all)} || jsonb_build_object('${madeKey}', jsonb_build_object('at', o.created_at, 'by', o.created_by))`;
  return sql.done(
    `WITH o AS (SELECT * FROM ${name} WHERE id = ${record} AND rev = ${version} FOR UPDATE), ` +
      `w AS (DELETE FROM ${name} AS t USING o WHERE t.id = o.id RETURNING t.id, t.rev), ` +
      `h AS (INSERT INTO ${ident(at.schema)}._history (${historyColumns}) SELECT ${literal(permit.table.id)}, w.id, w.rev + 1, ${person}, 'remove', ${before}, NULL, ${placeOf(sql, at)} FROM w, o) ` +
      `SELECT id, rev FROM w`,
  );
}

/** Brings a record back under its old id, after the version at which it was removed: `{ id, rev }`. `by` is a person's id. */
export function compileRestore(
  permit: Permit,
  id: number,
  rev: number,
  values: Values,
  made: { readonly at: string; readonly by: number | null } | null,
  at: WritePlace,
): Statement {
  const sql = new SqlBuilder();
  const person = sql.param(permit.person.id, 'bigint');
  const entries = Object.entries(values);
  const columns = entries.map(([field]) => `, ${ident(fieldOf(permit.table, field).column)}`).join('');
  const params = entries.map(([, value]) => `, ${sql.param(value)}`).join('');
  const [createdAt, createdBy] = made === null ? ['now()', person] : [sql.param(made.at, 'timestamptz'), sql.param(made.by, 'bigint')];
  return sql.done(
    `WITH w AS (INSERT INTO ${tableName(at.schema, permit.table)} (id, rev, created_at, created_by, updated_by${columns}) OVERRIDING SYSTEM VALUE ` +
      `VALUES (${sql.param(id, 'bigint')}, ${sql.param(rev + 1, 'integer')}, ${createdAt}, ${createdBy}, ${person}${params}) RETURNING id, rev), ` +
      `h AS (INSERT INTO ${ident(at.schema)}._history (${historyColumns}) SELECT ${literal(permit.table.id)}, id, rev, ${person}, 'restore', NULL, ${sql.param(JSON.stringify(values), 'jsonb')}, ${placeOf(sql, at)} FROM w) ` +
      `SELECT id, rev FROM w`,
  );
}

/**
 * Holds records until the transaction ends, always in the order of their numbers, because two transactions that hold the
 * same records in different orders wait for each other forever. `change`: nobody else changes them. `remove`: nobody adds
 * records that belong to them either.
 */
export function compileHold(permit: Permit, ids: readonly number[], schema: string, against: 'change' | 'remove'): Statement {
  const sql = new SqlBuilder();
  const lock = against === 'remove' ? 'UPDATE' : 'NO KEY UPDATE';
  return sql.done(`SELECT id FROM ${tableName(schema, permit.table)} WHERE id = ANY(${sql.param(ids, 'bigint[]')}) ORDER BY id FOR ${lock}`);
}

/** The children of a record, locked until the transaction ends: what goes or stays when their parent is removed. */
export function compileChildren(permit: Permit, field: string, parent: number, schema: string): Statement {
  const sql = new SqlBuilder();
  return sql.done(
    `SELECT id, rev FROM ${tableName(schema, permit.table)} WHERE ${ident(fieldOf(permit.table, field).column)} = ${sql.param(parent, 'bigint')} ORDER BY id FOR UPDATE`,
  );
}

/** How COPY is told the columns of an import. Rows come as COPY text, whose cells core converts. */
export function compileCopy(permit: Permit, fields: readonly string[], schema: string): Statement {
  const columns = fields.map((id) => ident(fieldOf(permit.table, id).column));
  return new SqlBuilder().done(`COPY ${tableName(schema, permit.table)} (${[...columns, 'created_by', 'updated_by'].join(', ')}) FROM STDIN`);
}

/**
 * The one line of an import in the history of a table; its row tells when the import began, to the microsecond.
 * @param nth of the tables that the import fills, from 0
 */
export function compileImported(permit: Permit, importId: string, nth: number, rows: number, schema: string): Statement {
  const sql = new SqlBuilder();
  return sql.done(
    `INSERT INTO ${ident(schema)}._history (${historyColumns}) VALUES (${literal(permit.table.id)}, 0, 1, ${sql.param(permit.person.id, 'bigint')}, 'import', NULL, ${sql.param(JSON.stringify({ rows }), 'jsonb')}, ${sql.param(importId, 'uuid')}, ${sql.param(2 * nth + 1)}, NULL) RETURNING at::text AS began`,
  );
}

/** How many records of an import, which began at `began`, are there. */
export function compileStayed(permit: Permit, began: string, schema: string): Statement {
  const sql = new SqlBuilder();
  return sql.done(
    `SELECT count(*)::float8 AS count FROM ${tableName(schema, permit.table)} WHERE created_at = ${sql.param(began, 'timestamptz')} AND created_by = ${sql.param(permit.person.id, 'bigint')}`,
  );
}

/**
 * Removes the records of an import that began at `began`, but for those that have been changed since. Its one line in the history says so.
 * @param nth of the tables that the import has filled, from 0
 * @param keptBy references, each of a table by a field: a record that one of them names stays
 */
export function compileTakeBack(
  permit: Permit,
  began: string,
  importId: string,
  nth: number,
  schema: string,
  keptBy: readonly (readonly [table: Table, field: string])[],
): Statement {
  const sql = new SqlBuilder();
  const person = sql.param(permit.person.id, 'bigint');
  const unnamed = keptBy.map(
    ([table, field]) => ` AND NOT EXISTS (SELECT FROM ${tableName(schema, table)} AS c WHERE c.${ident(fieldOf(table, field).column)} = t.id)`,
  );
  return sql.done(
    `WITH w AS (DELETE FROM ${tableName(schema, permit.table)} AS t WHERE created_at = ${sql.param(began, 'timestamptz')} AND created_by = ${person} AND rev = 1${unnamed.join('')} RETURNING id), ` +
      `h AS (INSERT INTO ${ident(schema)}._history (${historyColumns}) SELECT ${literal(permit.table.id)}, 0, 2, ${person}, 'import', jsonb_build_object('rows', count(*)), NULL, ${sql.param(importId, 'uuid')}, ${sql.param(2 * nth + 2, 'integer')}, NULL FROM w) SELECT count(*)::float8 AS count FROM w`,
  );
}

/** Records that this transaction has added without a status begin at the start of their route, as those of a form do. */
export function compileStart(permit: Permit, route: Route, schema: string): Statement {
  const sql = new SqlBuilder();
  const column = ident(fieldOf(permit.table, route.field).column);
  return sql.done(
    `UPDATE ${tableName(schema, permit.table)} SET ${column} = ${sql.param(startOf(route))} WHERE ${column} IS NULL AND created_at = now() AND created_by = ${sql.param(permit.person.id, 'bigint')}`,
  );
}

/** The records that the running transaction has added to a table, in the order in which it did. */
export const compileAdded = (permit: Permit, schema: string): Statement =>
  new SqlBuilder().done(`SELECT id::float8 AS id FROM ${tableName(schema, permit.table)} WHERE created_at = now() ORDER BY id`);

/** At which places, from 1, records are among those that this transaction has added, in the order in which they were. */
export function compilePlaces(permit: Permit, ids: readonly number[], schema: string): Statement {
  const sql = new SqlBuilder();
  return sql.done(
    `SELECT a.place::integer AS place FROM (SELECT id, row_number() OVER (ORDER BY id) AS place FROM ${tableName(schema, permit.table)} WHERE created_at = now()) AS a WHERE a.id = ANY(${sql.param(ids, 'bigint[]')}) ORDER BY a.place`,
  );
}
