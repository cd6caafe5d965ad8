import { fork } from 'node:child_process';
import { once } from 'node:events';
import { fileURLToPath } from 'node:url';
import autocannon from 'autocannon';
import { makeTable, median, type Bench, type Line } from './bench.js';

const [runs, seconds, connections] = [5, 5, 16];

/** Saving a record over HTTP against a hand-written route that does the same INSERT with the same history row. */
export async function benchSave(bench: Bench): Promise<Line[]> {
  const { app, schema } = await makeTable(bench, 'Saved');
  const bare = fork(fileURLToPath(new URL('./bare-server.ts', import.meta.url)), {
    execArgv: ['--import', 'tsx'],
    env: { ...process.env, DATABASE_URL: bench.url, SCHEMA: schema },
  });
  const [{ port }] = (await once(bare, 'message')) as [{ port: number }];
  const values = {
    b_code: 'C-1',
    b_keeper: 'Tamsin Oake',
    b_place: 'Brackmoor',
    b_number: 12,
    b_mites: 3,
    b_bees: 300,
    b_warmth: '18.5',
    b_amount: '12.5',
    b_date: '2026-09-14',
    b_next: '2026-09-28',
    b_queen: true,
    b_stores: 'fair',
  };
  const fire = async (url: string, headers: Record<string, string>): Promise<number> => {
    const result = await autocannon({
      url,
      connections,
      duration: seconds,
      method: 'POST',
      headers: { 'content-type': 'application/json', ...headers },
      requests: [
        {
          setupRequest: (request) => ({
            ...request,
            body: JSON.stringify({ key: crypto.randomUUID(), writes: [{ kind: 'add', table: 'visits', as: 'a', values }] }),
          }),
        },
      ],
    });
    if (result.non2xx > 0 || result.errors > 0) throw new Error(`${result.non2xx + result.errors} of the saves were refused`);
    return result.requests.average;
  };
  const [ours, theirs]: [number[], number[]] = [[], []];
  const own = `${bench.address}/api/apps/${app.id}/save`;
  await fire(own, { cookie: bench.cookie });
  await fire(`http://127.0.0.1:${port}/save`, {});
  for (let i = 0; i < runs; i += 1) {
    ours.push(await fire(own, { cookie: bench.cookie }));
    theirs.push(await fire(`http://127.0.0.1:${port}/save`, {}));
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
