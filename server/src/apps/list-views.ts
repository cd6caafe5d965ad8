/** How people look at lists: kept for each of them, whatever browser they use. */
import type { ListColumns, OpenApp, Person } from '@bibliona/core';
import type { Runner } from '../db/run.js';
import { runOwn } from '../db/own.js';

const put = `
  INSERT INTO bibliona.list_view (app_id, person_id, list_id, columns) VALUES ($1, $2, $3, $4)
  ON CONFLICT (app_id, person_id, list_id) DO UPDATE SET columns = excluded.columns`;
const drop = `DELETE FROM bibliona.list_view WHERE app_id = $1 AND person_id = $2 AND list_id = $3`;
const all = `SELECT list_id AS list, columns FROM bibliona.list_view WHERE app_id = $1 AND person_id = $2`;

export async function keepColumns(runner: Runner, app: string, person: Person, list: string, columns: ListColumns | null): Promise<void> {
  if (columns === null) await runOwn(runner, 'drop list view', drop, [app, person.id, list]);
  else await runOwn(runner, 'keep list view', put, [app, person.id, list, JSON.stringify(columns)]);
}

export async function viewsOf(runner: Runner, app: string, person: Person): Promise<OpenApp['views']> {
  const rows = await runOwn<{ list: string; columns: ListColumns }>(runner, 'list views', all, [app, person.id]);
  return Object.fromEntries(rows.map((row) => [row.list, row.columns]));
}
