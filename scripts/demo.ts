/** Loads the demo app once: through the same paths that people use, so that it cannot drift from them. */
import { createWriteStream } from 'node:fs';
import { rm, stat } from 'node:fs/promises';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { once } from 'node:events';
import { demoDesign, demoFiles, type DemoSize } from '@bibliona/demo';
import { asBuilder } from '@bibliona/core';
import { loadFile, startServer, type RunningServer } from '@bibliona/server';

export const demoPassword = 'quillmoor-honey';
export const demoPeople = [
  { name: 'Tamsin Oake', email: 'tamsin.oake@quillmoor.example', role: 'builder' },
  { name: 'Jorun Vasse', email: 'jorun.vasse@quillmoor.example', role: 'member' },
] as const;

/** Makes demo people, app and records in a server's database. */
export async function loadDemo(server: RunningServer, files: string, size: DemoSize): Promise<string> {
  const people = [];
  for (const person of demoPeople) people.push({ ...(await server.people.add(person.name, person.email, demoPassword)), role: person.role });
  const builder = people[0];
  if (builder === undefined) throw new Error('The demo has no builder');
  const app = await server.apps.make('Quillmoor Honey', builder, 'Europe/London');
  for (const person of people) await server.people.join(app, person.id, person.role);
  const as = asBuilder({ ...builder, mail: builder.email });
  for (const change of demoDesign) {
    const { version } = await server.apps.open(app, as);
    await server.apps.change(app, as, version, [change], false);
  }
  for (const file of demoFiles(size)) {
    const path = join(files, randomUUID());
    const out = createWriteStream(path);
    for (const line of file.lines()) if (!out.write(line)) await once(out, 'drain');
    out.end();
    await once(out, 'finish');
    await loadFile(server.database, { app, person: as, table: file.table, path, size: (await stat(path)).size });
    await rm(path);
  }
  return app;
}

/** Loads the demo unless there are people already; true when the demo people are there. */
export async function ensureDemo(url: string, files: string): Promise<boolean> {
  const server = await startServer({ databaseUrl: url, host: '127.0.0.1', port: 0, files, web: '', address: null, log: 'error' });
  try {
    if (await server.people.needsSetUp()) {
      console.log('Loading the demo: the Quillmoor Honey Co-operative ...');
      await loadDemo(server, files, 'demo');
    }
    return await server.people.exists(demoPeople[0].email);
  } finally {
    await server.close();
  }
}
