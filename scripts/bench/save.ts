import { fork } from 'node:child_process';
import { once } from 'node:events';
import { fileURLToPath } from 'node:url';
import { connections, fire } from './fire.js';
import { makeTable, median, type Bench, type Line } from './bench.js';

const runs = 5;

/** Saving a record over HTTP against a hand-written route that does the same INSERT with the same history row. */
export async function benchSave(bench: Bench): Promise<Line[]> {
  const { app, schema } = await makeTable(bench, 'Saved');
  const bare = fork(fileURLToPath(new URL('./bare-server.ts', import.meta.url)), {
    execArgv: ['--import', 'tsx'],
    env: { ...process.env, DATABASE_URL: bench.url, SCHEMA: schema },
  });
  const [{ port }] = (await once(bare, 'message')) as [{ port: number }];
  const [ours, theirs]: [number[], number[]] = [[], []];
  const own = `${bench.address}/api/apps/${app.id}/save`;
  await fire(own, bench.cookie);
  await fire(`http://127.0.0.1:${port}/save`);
  for (let i = 0; i < runs; i += 1) {
    ours.push(await fire(own, bench.cookie));
    theirs.push(await fire(`http://127.0.0.1:${port}/save`));
  }
  bare.kill();
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
  ];
}
