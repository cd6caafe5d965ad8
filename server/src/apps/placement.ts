/** Where builders have put tables and notes in the diagram of an app. */
import type { Placed } from '@bibliona/core';
import { runOwn } from '../db/own.js';
import type { Runner } from '../db/run.js';

const put = `
  INSERT INTO bibliona.table_place (app_id, table_id, x, y)
  SELECT $1, id, x, y FROM unnest($2::text[], $3::int[], $4::int[]) AS placed(id, x, y)
  ON CONFLICT (app_id, table_id) DO UPDATE SET x = excluded.x, y = excluded.y`;
const drop = `DELETE FROM bibliona.table_place WHERE app_id = $1 AND table_id = ANY($2::text[])`;
const all = `SELECT table_id AS id, x, y FROM bibliona.table_place WHERE app_id = $1`;

export async function placementOf(runner: Runner, app: string): Promise<Record<string, Placed>> {
  const rows = await runOwn<Placed & { readonly id: string }>(runner, 'places of tables', all, [app]);
  return Object.fromEntries(rows.map(({ id, x, y }) => [id, { x, y }]));
}

/** @param places null takes the place of its own from a table */
export async function placeTables(runner: Runner, app: string, places: Readonly<Record<string, Placed | null>>): Promise<void> {
  const placed = Object.entries(places).flatMap(([id, at]) => (at === null ? [] : [{ id, ...at }]));
  const loose = Object.keys(places).filter((id) => places[id] === null);
  if (placed.length > 0) await runOwn(runner, 'place tables', put, [app, placed.map(({ id }) => id), placed.map(({ x }) => x), placed.map(({ y }) => y)]);
  if (loose.length > 0) await runOwn(runner, 'let tables go', drop, [app, loose]);
}
