/** The history of an app: its table, and what is read from it. Every write adds its own line, see `write.ts`. */
import type { Field, Table } from '../design/design.js';
import { tableName } from '../query/compiler.js';
import { ident, SqlBuilder, type Statement } from '../sql/sql.js';
import { placesPerWrite } from './write.js';

/** The statement that makes the history of an app, when the app is made. */
export function historyTable(schema: string): readonly string[] {
  const name = `${ident(schema)}._history`;
  return [
    `CREATE TABLE ${name} (id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY, at timestamptz NOT NULL DEFAULT now(), table_id text NOT NULL, record_id bigint NOT NULL, rev integer NOT NULL, person_id bigint, kind text NOT NULL, before jsonb, after jsonb, batch uuid NOT NULL, place integer NOT NULL, asked uuid, xact xid8 NOT NULL DEFAULT pg_current_xact_id(), CONSTRAINT _history_once UNIQUE (batch, place))`,
    `CREATE INDEX _history_of_record ON ${name} (table_id, record_id, id)`,
    // Tells whether anything was written since a moment.
    `CREATE INDEX _history_xact ON ${name} (xact)`,
    `CREATE INDEX _history_removed ON ${name} (table_id, id) WHERE kind = 'remove'`,
  ];
}

/** What happened to one record, the newest first. The caller has made sure that the person can see the record. */
export function compileHistory(schema: string, table: Table, record: number, limit: number): Statement {
  const sql = new SqlBuilder();
  const id = sql.param(record, 'bigint');
  // An import has one line for all its records; it began in the same instant as they did.
  const imported = `h.record_id = 0 AND h.at = (SELECT created_at FROM ${tableName(schema, table)} WHERE id = ${id})`;
  return sql.done(
    `SELECT h.id, h.at, h.rev, h.kind, h.before, h.after, h.batch AS save, h.person_id, h.place < 0 AS automatic, p.name AS person FROM ${ident(schema)}._history AS h LEFT JOIN bibliona.person AS p ON p.id = h.person_id ` +
      `WHERE h.table_id = ${sql.param(table.id)} AND h.record_id IN (${id}, 0) AND (h.record_id <> 0 OR (${imported})) ORDER BY h.id DESC LIMIT ${sql.param(limit, 'integer')}`,
  );
}

/**
 * What happened to the children of a record, the newest first: to those it has, of those the latest changed, and that some
 * were removed. `before` and `after` are as they were written; the caller leaves out what the person can't know.
 */
export function compileChildHistory(schema: string, child: Table, field: Field, parent: number, limit: number): Statement {
  const sql = new SqlBuilder();
  const [name, table, id] = [`${ident(schema)}._history`, sql.param(child.id), sql.param(parent, 'bigint')];
  const present = `SELECT id FROM ${tableName(schema, child)} WHERE ${ident(field.column)} = ${id} ORDER BY updated_at DESC LIMIT ${latestChildren}`;
  const removals = `SELECT r.id, r.before FROM ${name} AS r WHERE r.table_id = ${table} AND r.kind = 'remove' ORDER BY r.id DESC LIMIT ${latestRemovals}`;
  const removed = `SELECT id FROM (${removals}) AS r WHERE r.before ->> ${sql.param(field.id)} = ${id}::text`;
  return sql.done(
    `SELECT h.record_id AS record, h.id, h.at, h.rev, h.kind, h.before, h.after, h.batch AS save, h.person_id, h.place < 0 AS automatic, p.name AS person FROM ${name} AS h LEFT JOIN bibliona.person AS p ON p.id = h.person_id ` +
      `WHERE (h.table_id = ${table} AND h.record_id = ANY(ARRAY(${present}))) OR h.id = ANY(ARRAY(${removed})) ORDER BY h.id DESC LIMIT ${sql.param(limit, 'integer')}`,
  );
}
const latestChildren = 200;
const latestRemovals = 1000;

/** The record of a table whose field changed last, among its latest changes; no row when none of them was of the field. */
export function compileLastChanged(schema: string, table: Table, field: string): Statement {
  const sql = new SqlBuilder();
  const latest = `SELECT id, record_id, after FROM ${ident(schema)}._history WHERE table_id = ${sql.param(table.id)} AND record_id <> 0 AND kind = 'change' ORDER BY id DESC LIMIT 2000`;
  return sql.done(
    `SELECT h.record_id AS id FROM (${latest}) AS h JOIN ${tableName(schema, table)} AS t ON t.id = h.record_id WHERE h.after ? ${sql.param(field)} ORDER BY h.id DESC LIMIT 1`,
  );
}

/** What an earlier save with the same key wrote: the answer to a save that is sent twice. */
export function compileBatch(schema: string, batch: string, person: number): Statement {
  const sql = new SqlBuilder();
  return sql.done(
    `SELECT table_id, record_id AS id, rev, place, kind, asked FROM ${ident(schema)}._history WHERE batch = ${sql.param(batch, 'uuid')} AND person_id = ${sql.param(person, 'bigint')} ORDER BY place`,
  );
}

/** Every line of a save, the last first: what undoes it goes through them in this order. */
export function compileSaved(schema: string, save: string): Statement {
  const sql = new SqlBuilder();
  return sql.done(
    `SELECT h.table_id, h.record_id AS id, h.rev, h.person_id AS person, h.kind, h.before, h.after, h.place FROM ${ident(schema)}._history AS h WHERE h.batch = ${sql.param(save, 'uuid')} ORDER BY h.id DESC`,
  );
}

/**
 * The records of a table that were removed and have not come back, the latest first; for a `person` only those that they
 * removed themselves.
 */
export function compileRemoved(schema: string, table: Table, person: number | null, limit: number): Statement {
  const sql = new SqlBuilder();
  const name = `${ident(schema)}._history`;
  // What went along with another record may be nothing that they could see.
  const last = `NOT EXISTS (SELECT FROM ${name} AS n WHERE n.batch = h.batch AND n.place > h.place AND n.place / ${placesPerWrite} = h.place / ${placesPerWrite})`;
  const own = person === null ? '' : ` AND h.person_id = ${sql.param(person, 'bigint')} AND ${last}`;
  return sql.done(
    `SELECT h.record_id AS id, h.at, h.before, h.batch AS save, p.name AS person FROM ${name} AS h LEFT JOIN bibliona.person AS p ON p.id = h.person_id ` +
      `WHERE h.kind = 'remove' AND h.table_id = ${sql.param(table.id)}${own} AND NOT EXISTS (SELECT FROM ${tableName(schema, table)} AS t WHERE t.id = h.record_id) ` +
      // A record might have been removed, brought back and removed again.
      `AND NOT EXISTS (SELECT FROM ${name} AS later WHERE later.table_id = h.table_id AND later.record_id = h.record_id AND later.id > h.id) ` +
      `ORDER BY h.id DESC LIMIT ${sql.param(limit, 'integer')}`,
  );
}
