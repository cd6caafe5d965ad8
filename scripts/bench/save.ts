import { aWrite, connections, fire } from './fire.js';
import { makeTable, median, openBare, personIn, time, type Bench, type Line } from './bench.js';

const runs = 5;
// A new process reaches its speed only after some thousands of saves.
const warmUps = 4;

/** Saving a record over HTTP against a hand-written route that does the same INSERT with the same history row. */
export async function benchSave(bench: Bench): Promise<Line[]> {
  const { app, schema } = await makeTable(bench, 'Saved');
  const bare = await openBare(bench, schema);
  const [ours, theirs]: [number[], number[]] = [[], []];
  const own = `${bench.address}/api/apps/${app.id}/save`;
  for (let i = 0; i < warmUps; i += 1) {
    await fire(own, bench.cookie);
    await fire(`${bare.address}/save`);
  }
  for (let i = 0; i < runs; i += 1) {
    ours.push(await fire(own, bench.cookie));
    theirs.push(await fire(`${bare.address}/save`));
  }
  bare.close();
  const [a, b] = [median(ours), median(theirs)];
  return [
    {
      what: 'save one record over HTTP',
      ours: `${a.toFixed(0)}/s`,
      theirs: `bare Koa + pg ${b.toFixed(0)}/s`,
      ratio: a / b,
      budget: '≥ 0.6',
      also: `${connections} connections; with session, access, checks, version and history`,
    },
    await savedByMember(bench),
  ];
}

const rowsSaved = 100;

/** A form with many rows, by someone who can add some records only, and by someone who can do everything. */
async function savedByMember(bench: Bench): Promise<Line> {
  const { app } = await makeTable(bench, 'Granted');
  const grant = { id: 'g_some', table: 'visits', see: true, add: true, change: true, condition: 'Place != "Elsewhere"', hidden: [], locked: ['b_bees'] };
  const role = { id: 'some', name: 'Some', description: '', everything: false, menu: [], grants: [{ ...grant, remove: false, export: false }] };
  await bench.call('POST', `/api/apps/${app.id}/changes`, { version: app.version, changes: [{ kind: 'put', part: 'role', value: role }] });
  const member = await personIn(bench, app.id, 'one-of-some', 'member', ['some']);
  const save = async (cookie: string): Promise<void> => {
    const writes = Array.from({ length: rowsSaved }, (_, i) => ({ ...aWrite(['b_bees']), as: `r${i}` }));
    await bench.call('POST', `/api/apps/${app.id}/save`, { key: crypto.randomUUID(), writes }, cookie);
  };
  const [ours, theirs]: [number[], number[]] = [[], []];
  for (let i = 0; i < 4 * runs; i += 1) {
    ours.push(await time(() => save(member)));
    theirs.push(await time(() => save(bench.cookie)));
  }
  const [a, b] = [median(ours), median(theirs)];
  return {
    what: `save ${rowsSaved} records at once as a member`,
    ours: `${a.toFixed(0)} ms`,
    theirs: `as the builder ${b.toFixed(0)} ms`,
    ratio: a / b,
    budget: 'recorded',
    also: 'a grant with a condition and a locked field',
  };
}
