/** Tells every server process that people, roles or designs have changed, so that what they remember of them is dropped. */
import type { DataSource } from 'typeorm';
import { Listener } from './listen.js';
import { runOwn } from './own.js';

const channel = 'bibliona_changed';

export const announce = async (database: DataSource): Promise<void> => void (await runOwn(database, 'announce', `SELECT pg_notify('${channel}', '')`, []));

/** Calls `onHeard` for every announcement of any process, and when some might have been missed. Ends with the returned function. */
export function listen(url: string, onHeard: () => void): () => Promise<void> {
  const listener = new Listener({ url, channel, onHeard });
  return () => listener.close();
}
