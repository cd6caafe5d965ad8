import { asBuilder, compileCount, contract, designFor, mayOpen, queryOf, restrict, type SignedIn } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { run } from '../db/run.js';
import { forMember, forPerson, type Served } from '../http/serve.js';
import type { Config } from '../config.js';
import { Refusal } from '../http/refusal.js';
import { tabHeader } from '../live/live.js';
import type { AppsService } from './apps.js';
import { keepColumns } from './list-views.js';
import { keepOwnList, removeOwnList } from './own-lists.js';
import { placementOf, placeTables } from './placement.js';
import { compareVersions, versionLog } from './versions.js';

// Beyond this a count costs more than it tells; the shelf then says "100,000+".
const countedTo = 100_000;

export function appRoutes(apps: AppsService, database: DataSource, limits: Pick<Config, 'everyoneMakesApps' | 'appsPerPerson'>): readonly Served[] {
  const mayMake = (person: SignedIn): boolean => person.mayMakeApps || limits.everyoneMakesApps;
  return [
    forPerson(contract.listApps, async (_, person) => ({ apps: [...(await apps.listFor(person.id))], mayMake: mayMake(person) })),
    forPerson(contract.makeApp, async ({ body }, person) => {
      if (!mayMake(person)) throw new Refusal('forbidden', "You don't have permission to make apps. Ask an administrator of this server.");
      const id = await apps.make(body.name, person, body, limits.appsPerPerson);
      return apps.open(id, asBuilder({ ...person, mail: person.email }));
    }),
    forMember(contract.openApp, (_, { app, person }) => apps.openAs(app, person)),
    forMember(contract.countRecords, async (_, { app, person }) => {
      const counts: Record<string, number> = {};
      for (const table of app.design.tables) {
        const [row] = await run<{ count: number }>(
          database,
          compileCount([restrict(queryOf(table.id), app.design, person, Date.now()), app.design, app.schema], countedTo),
        );
        counts[table.id] = row?.count ?? 0;
      }
      return { counts, countedTo };
    }),
    forMember(contract.keepColumns, async ({ params, body }, { app, person }) => {
      if (!app.design.lists.some((list) => list.id === params.list)) throw new Refusal('not_found', "This list doesn't exist.");
      await keepColumns(database, app.id, person, params.list, body.columns);
      return {};
    }),
    forMember(contract.keepOwnList, async ({ params, body }, { app, person }) => {
      const { of } = body;
      const isTheirs =
        of.kind === 'table'
          ? designFor(app.design, person).tables.some((table) => table.id === of.table)
          : app.design.queries.some((query) => query.id === of.query) && mayOpen(app.design, person, { kind: 'query', query: of.query });
      if (!isTheirs) throw new Refusal('not_found', "What this list is of doesn't exist.");
      await keepOwnList(database, app.id, person, { id: params.own, ...body });
      return {};
    }),
    forMember(contract.removeOwnList, async ({ params }, { app, person }) => {
      await removeOwnList(database, app.id, person, params.own);
      return {};
    }),
    forMember(contract.readPlacement, async (_, { app }) => ({ places: await placementOf(database, app.id) })),
    forMember(contract.placeTables, async ({ body }, { app }) => {
      // A place can be taken from a table that was removed, and kept its place for when it is brought back.
      const known = new Set([...app.design.tables, ...app.design.notes].map(({ id }) => id));
      if (Object.entries(body.places).some(([id, at]) => at !== null && !known.has(id))) throw new Refusal('not_found', "This table or note doesn't exist.");
      await placeTables(database, app.id, body.places);
      return {};
    }),
    forMember(contract.previewChanges, async ({ body }, { app, person }) => ({
      steps: [...(await apps.preview(app.id, person, body.version, body.changes))],
    })),
    forMember(contract.changeDesign, ({ body, context }, { app, person }) =>
      apps.change(app.id, person, body.version, body.changes, body.acceptLoss, context.get(tabHeader)),
    ),
    forMember(contract.readChangeUnderWay, async ({ query }, { app, person }) => ({
      underWay: await apps.underWay({ app: app.id, person: person.id, ...query }),
    })),
    forMember(contract.stopChange, async ({ body }, { app, person }) => {
      await apps.stop({ app: app.id, person: person.id, ...body });
      return {};
    }),
    forMember(contract.undoDesign, ({ body, context }, { app, person }) =>
      apps.undo(app.id, person, body.version, body.direction, body.acceptLoss, context.get(tabHeader)),
    ),
    forMember(contract.previewRestore, ({ body }, { app, person }) => apps.previewRestore(app.id, person, body.version, body.to)),
    forMember(contract.restoreDesign, ({ body, context }, { app, person }) =>
      apps.restore(app.id, person, body.version, body.to, body.acceptLoss, context.get(tabHeader)),
    ),
    forMember(contract.compareVersions, ({ query }, { app }) => compareVersions(database, app.id, query.from, query.to)),
    forMember(contract.designLog, ({ query }, { app }) => versionLog(database, app.id, query.before)),
  ];
}
