/** Tells every server process that people, roles or designs have changed, so that what they remember of them is let go. */
import pg from 'pg';
import type { DataSource } from 'typeorm';
import { runOwn } from './own.js';

const channel = 'bibliona_changed';
const listenAgainAfter = 1000;

export const announce = async (database: DataSource): Promise<void> => void (await runOwn(database, 'announce', `SELECT pg_notify('${channel}', '')`, []));

/** Calls `onHeard` for every announcement of any process, and when some may have been missed. Ends with the returned function. */
export function listen(url: string, onHeard: () => void): () => Promise<void> {
  let client: pg.Client | null = null;
  let isClosed = false;
  const again = (): void => {
    client = null;
    onHeard();
    if (!isClosed) setTimeout(() => void open(), listenAgainAfter).unref();
  };
  const open = async (): Promise<void> => {
    const next = new pg.Client({ connectionString: url, application_name: 'bibliona' });
    next.on('error', again);
    next.on('notification', onHeard);
    try {
      await next.connect();
      await next.query(`LISTEN ${channel}`);
      client = next;
      onHeard();
    } catch {
      again();
    }
  };
  void open();
  return async () => {
    isClosed = true;
    client?.off('error', again);
    await client?.end().catch(() => undefined);
  };
}
