/** What a server sees to in all apps: when it starts, and now and then. */
import { ident, viewChange } from '@bibliona/core';
import type { DataSource, EntityManager } from 'typeorm';
import { inTransaction } from '../db/database.js';
import { Apps, KeptParts, type AppRow } from '../db/entities.js';
import { runOwn } from '../db/own.js';
import { runDefinition } from '../db/run.js';
import type { Designs } from './designs.js';
import { keptSchemaOf, viewSchemaOf } from './way.js';

const keptDays = 30;

/** Makes the views of apps from before there were any. */
export async function makeMissingViews(database: DataSource, designs: Designs): Promise<void> {
  await inTransaction(database, async (manager, runner) => {
    const rows = await manager
      .createQueryBuilder(Apps, 'app')
      .where(`NOT EXISTS (SELECT FROM pg_namespace WHERE nspname = app.schema || '_views')`)
      .setLock('pessimistic_write')
      .getMany();
    for (const { id, schema, version } of rows) {
      // Another server that starts at the same time might have held the app, and made them, before this one got it.
      const there = await runOwn(runner, 'views there', 'SELECT FROM pg_namespace WHERE nspname = $1', [viewSchemaOf(schema)]);
      if (there.length > 0) continue;
      const { make } = viewChange(null, await designs.at(id, version, manager), schema, viewSchemaOf(schema));
      await runDefinition(runner, [`CREATE SCHEMA ${ident(viewSchemaOf(schema))}`, ...make]);
    }
  });
}

/** Holds an app until the transaction ends; null: a change of it is under way. */
export const heldUnlessChanged = (manager: EntityManager, id: string): Promise<AppRow | null> =>
  manager.getRepository(Apps).createQueryBuilder('app').where({ id }).setLock('for_no_key_update').setOnLocked('skip_locked').getOne();

/** Drops what was set aside longer than 30 days ago. */
export async function forgetKept(database: DataSource, now: Date): Promise<void> {
  await inTransaction(database, async (manager, runner) => {
    const old = await manager
      .createQueryBuilder(KeptParts, 'kept')
      .where('kept.at < :limit', { limit: new Date(now.getTime() - keptDays * 86_400_000) })
      .setLock('pessimistic_write')
      .getMany();
    for (const part of old) {
      const app = await heldUnlessChanged(manager, part.appId);
      // What is under way may be taking it back.
      if (app === null) continue;
      await runDefinition(runner, [`DROP TABLE IF EXISTS ${ident(keptSchemaOf(app.schema))}.${ident(part.name)}`]);
      await manager.delete(KeptParts, { appId: part.appId, name: part.name });
    }
  });
}
