/** Makes indexes that tables lack while people work: each by itself, and outside of any transaction. */
import { ident } from '@bibliona/core';
import type pg from 'pg';
import { ownClient } from './connections.js';

/** Number of PostgreSQL's advisory lock: one server process makes them, the others need not. */
const lock = 7_204_113;
/** Ends the names of indexes that earlier versions made and nothing uses any more. */
const outdated = '\\_called';

export interface WantedIndexes {
  readonly schema: string;
  /** `on`: the table and what is indexed, as they stand behind ON. */
  readonly indexes: readonly { readonly name: string; readonly on: string }[];
}

async function withClient<T>(url: string, work: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = ownClient(url);
  await client.connect();
  try {
    return await work(client);
  } finally {
    await client.end();
  }
}

/**
 * @param closing ends it, whatever it is at: what is half made then is dropped by the next one that does this
 * @returns whether it was done here: while another one does it, it is not
 */
export async function makeMissing(url: string, wanted: AsyncIterable<WantedIndexes>, closing: AbortSignal): Promise<boolean> {
  return withClient(url, async (client) => {
    const { rows } = await client.query<{ got: boolean; pid: number }>('SELECT pg_try_advisory_lock($1) AS got, pg_backend_pid() AS pid', [lock]);
    const [row] = rows;
    if (row?.got !== true) return false;
    // An index of a large table takes minutes, and waits for transactions that are older than itself.
    const stop = (): void => void withClient(url, (other) => other.query('SELECT pg_cancel_backend($1)', [row.pid])).catch(() => undefined);
    closing.addEventListener('abort', stop);
    try {
      for await (const wantedIndexes of wanted) await makeIn(client, wantedIndexes, closing);
      return true;
    } catch (error) {
      if (!closing.aborted) throw error;
      return false;
    } finally {
      closing.removeEventListener('abort', stop);
    }
  });
}

async function makeIn(client: pg.Client, { schema, indexes }: WantedIndexes, closing: AbortSignal): Promise<void> {
  // What a server that was killed has left half made is of no use.
  const found = await client.query<{ name: string; is_whole: boolean; is_outdated: boolean }>(
    `SELECT c.relname AS name, i.indisvalid AS is_whole, c.relname LIKE $2 AS is_outdated FROM pg_index i JOIN pg_class c ON c.oid = i.indexrelid JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = $1`,
    [schema, `%${outdated}`],
  );
  for (const row of found.rows)
    if (row.is_outdated || !row.is_whole) await client.query(`DROP INDEX CONCURRENTLY IF EXISTS ${ident(schema)}.${ident(row.name)}`);
  const there = new Set(found.rows.flatMap((row) => (row.is_whole ? [row.name] : [])));
  for (const { name, on } of indexes) {
    if (closing.aborted) return;
    if (!there.has(name)) await client.query(`CREATE INDEX CONCURRENTLY IF NOT EXISTS ${ident(name)} ON ${on}`);
  }
}
