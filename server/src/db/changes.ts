/** Whether anything was written to an app since a moment, in any process: every write has its line in the history. */
import { ident } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { runOwn } from './own.js';

/**
 * A moment is a snapshot of PostgreSQL as text ("System Information Functions", pg_snapshot): it knows which transactions
 * were under way, so that one that began before it and is committed after it counts as a change.
 */
export async function changesSince(
  database: DataSource,
  schema: string,
  moment: string | null,
): Promise<{ readonly moment: string; readonly isChanged: boolean }> {
  const text = `
    SELECT pg_current_snapshot()::text AS moment, $1::pg_snapshot IS NULL OR EXISTS (
      SELECT FROM ${ident(schema)}._history
      -- A line from the future came with a backup of another server.
      WHERE xact >= pg_snapshot_xmin($1::pg_snapshot) AND xact < pg_snapshot_xmax(pg_current_snapshot()) AND NOT pg_visible_in_snapshot(xact, $1::pg_snapshot)
    ) AS "isChanged"`;
  // PostgreSQL cuts the names of statements after 63 signs; that of a schema has at most 53.
  const [row] = await runOwn<{ moment: string; isChanged: boolean }>(database, `since ${schema}`, text, [moment]);
  if (row === undefined) throw new Error('A SELECT without a row');
  return row;
}
