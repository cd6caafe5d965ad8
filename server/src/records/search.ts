/** Finding records in all tables of an app by what they are called: bounded, and answered table by table. */
import { compileFound, compileLookup, designFor, queryOf, restrict, type Person } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { inTransaction, orTooLong } from '../db/database.js';
import { runOwn } from '../db/own.js';
import { run } from '../db/run.js';
import type { OpenedApp } from '../http/serve.js';

const perTable = 5;
const enough = 30;
/** In milliseconds: after so long what has been found is answered, and the others are asked for with `next`. */
const answerAfter = 200;
/** No table holds up the others for longer; in milliseconds. */
const mostPerTable = 250;
// In a longer table what records are called is not computed for each: their words are looked up in the index of its search.
const shortTable = 20_000;

const sizesOf = `SELECT relname AS slug, reltuples::float8 AS rows FROM pg_class WHERE relnamespace = (SELECT oid FROM pg_namespace WHERE nspname = $1) AND relkind = 'r'`;

export interface Found {
  readonly found: { readonly table: string; readonly id: number; readonly caption: string }[];
  /** Where to go on; null when all tables have been looked through. */
  readonly next: number | null;
  /** Tables that took too long and were left. */
  readonly left: string[];
}

export async function searchRecords(database: DataSource, app: OpenedApp, person: Person, text: string, from: number): Promise<Found> {
  const began = performance.now();
  const tables = designFor(app.design, person).tables.filter((table) => table.fields.length > 0 && !table.isLink);
  return inTransaction(database, async (_, runner) => {
    const sizes = new Map((await runOwn<{ slug: string; rows: number }>(runner, 'sizes of tables', sizesOf, [app.schema])).map((row) => [row.slug, row.rows]));
    const found: Found['found'] = [];
    const left: string[] = [];
    for (let at = from; at < tables.length; at += 1) {
      const table = tables[at];
      if (table === undefined) break;
      if (found.length >= enough || (at > from && performance.now() - began > answerAfter)) return { found, next: found.length >= enough ? null : at, left };
      const isLong = (sizes.get(table.slug) ?? 0) > shortTable;
      const rows = await orTooLong(runner, mostPerTable, () => {
        const where = isLong ? ({ kind: 'search', text } as const) : undefined;
        const query = queryOf(table.id, { limit: perTable, ...(where === undefined ? {} : { where }) });
        const source = [restrict(query, app.design, person, Date.now()), app.design, app.schema] as const;
        return run<{ id: number; caption: string }>(runner, isLong ? compileFound(source) : compileLookup(source, text));
      });
      if (rows === null) left.push(table.name);
      else found.push(...rows.map(({ id, caption }) => ({ table: table.id, id, caption: caption.slice(0, 200) })));
    }
    return { found, next: null, left };
  });
}
