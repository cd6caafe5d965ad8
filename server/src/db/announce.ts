/** Tells every server process that people, roles or designs have changed, so that what they remember of them is dropped. */
import type { DataSource } from 'typeorm';
import { runOwn } from './own.js';

export const changedChannel = 'bibliona_changed';

export const announce = async (database: DataSource): Promise<void> =>
  void (await runOwn(database, 'announce', `SELECT pg_notify('${changedChannel}', '')`, []));
