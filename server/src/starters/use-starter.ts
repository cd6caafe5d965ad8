/** An empty app begins as one that somebody else could have built. */
import { randomUUID } from 'node:crypto';
import { localeFor, type AppDesign, type OpenApp, type Person } from '@bibliona/core';
import { starters } from '@bibliona/demo/starters';
import type { DataSource } from 'typeorm';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { save } from '../records/save.js';
import type { AppsService } from '../apps/apps.js';

/** @throws Refusal not_found, invalid when the app has tables, stale_design */
export async function useStarter(database: DataSource, apps: AppsService, app: OpenedApp, person: Person, version: number, name: string): Promise<OpenApp> {
  const starter = Object.hasOwn(starters, name) ? starters[name] : undefined;
  if (starter === undefined) throw new Refusal('not_found', 'There is no such design to start with.');
  if (app.design.tables.length > 0) throw new Refusal('invalid', 'This app has tables already. Make a new app to start with a design.');
  const open = await apps.change(app.id, person, version, starter.design, false);
  const opened = { id: app.id, schema: app.schema, version: open.version, design: open.design as AppDesign };
  await save(database, opened, person, randomUUID(), starter.records(localeFor(app.design, person).today()));
  return open;
}
