import { asBuilder, compileCount, contract, queryOf, restrict } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { run } from '../db/run.js';
import { forMember, forPerson, type Served } from '../http/serve.js';
import type { AppsService } from './apps.js';

// Beyond this a count costs more than it tells; the shelf then says "100,000+".
const countedTo = 100_000;

export function appRoutes(apps: AppsService, database: DataSource): readonly Served[] {
  return [
    forPerson(contract.listApps, async (_, person) => ({ apps: [...(await apps.listFor(person.id))] })),
    forPerson(contract.makeApp, async ({ body }, person) =>
      apps.open(await apps.make(body.name, person, body.timeZone), asBuilder({ ...person, mail: person.email })),
    ),
    forMember(contract.openApp, async (_, { app, person }) => apps.open(app.id, person)),
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
    forMember(contract.previewChanges, async ({ body }, { app }) => ({ steps: [...(await apps.preview(app.id, body.version, body.changes))] })),
    forMember(contract.changeDesign, ({ body }, { app, person }) => apps.change(app.id, person, body.version, body.changes, body.acceptLoss)),
    forMember(contract.undoDesign, ({ body }, { app, person }) => apps.undo(app.id, person, body.version, body.direction, body.acceptLoss)),
    forMember(contract.designLog, async (_, { app }) => ({ entries: [...(await apps.log(app.id))] })),
  ];
}
