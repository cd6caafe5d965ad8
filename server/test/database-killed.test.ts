/** PostgreSQL itself is killed, in the middle of long work: what was under way is there as a whole or not at all, and the server goes on. */
import { join } from 'node:path';
import { contract } from '@bibliona/core';
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { openCluster, type Cluster } from '../../scripts/cluster.js';
import { begin } from './importing.js';
import { gone, serverProcesses, type ServerProcesses } from './processes.js';
import { regionsOfMany } from './rearranging.js';
import { Caller, field, makeApp, table } from './support.js';

const root = join(import.meta.dirname, '../..');
const name = 'killed';
let cluster: Cluster;
let processes: ServerProcesses;
beforeAll(async () => {
  // One of its own: all others go on.
  cluster = await openCluster(root, name);
  processes = await serverProcesses();
}, 120_000);
afterAll(async () => {
  await processes.close();
  await cluster.stop();
});

async function query<Row extends object>(text: string): Promise<readonly Row[]> {
  const client = new pg.Client({ connectionString: cluster.url('postgres') });
  // The end that this test makes of it is no fault.
  client.on('error', () => undefined);
  await client.connect();
  try {
    return (await client.query<Row>(text)).rows;
  } finally {
    await client.end().catch(() => undefined);
  }
}

function isThere(pid: number): boolean {
  try {
    return process.kill(pid, 0);
  } catch {
    return false;
  }
}

/** Kills the main process, whose helpers then end too, and starts it again where it was. */
async function killAndStart(): Promise<void> {
  const { port } = new URL(cluster.url('postgres'));
  const [row] = await query<{ pid: number }>(`SELECT (regexp_split_to_array(pg_read_file('postmaster.pid'), E'\\n'))[1]::int AS pid`);
  const pid = row?.pid ?? 0;
  process.kill(pid, 'SIGKILL');
  await expect.poll(() => isThere(pid), { timeout: 10_000 }).toBe(false);
  cluster = await openCluster(root, name, { port });
}

test('kill -9 of PostgreSQL in the middle of an import and of a long change', async () => {
  const { address, child, setUpKey } = await processes.start({ DATABASE_URL: cluster.url('postgres') });
  const ada = new Caller(address);
  const password = 'a long enough password';
  if (setUpKey === null) await ada.call(contract.signIn, { body: { email: 'ada@quillmoor.example', password } });
  else await ada.call(contract.setUp, { body: { key: setUpKey, name: 'Ada Roke', email: 'ada@quillmoor.example', password } });
  const app = await makeApp(ada, 'Killed', [table('many', 'Many', [field('text', 'm_name', 'Name'), field('text', 'm_region', 'Region')])]);
  const at = `"app_${app.id}"`;
  const isBack = (): Promise<unknown> => expect.poll(async () => (await ada.send('GET', '/api/apps')).status, { timeout: 30_000 }).toBe(200);
  const pause = (wait: number): Promise<unknown> => new Promise((resolve) => setTimeout(resolve, wait));
  const count = async (): Promise<number> => (await query<{ n: number }>(`SELECT count(*)::int AS n FROM ${at}.many`))[0]?.n ?? 0;
  const rows = `Name,Region\n${Array.from({ length: 60_000 }, (_, i) => `row ${i},Region ${i % 100}`).join('\n')}\n`;
  const start = (): Promise<string> => begin(ada, app, rows, () => ({ target: { kind: 'table', table: 'many' } }));

  const id = await start();
  await pause(700);
  await killAndStart();
  await isBack();
  const [told] = await query<{ state: string }>(`SELECT state FROM bibliona.import WHERE id = '${id}'`);
  expect([0, 60_000]).toContain(await count());
  if (told?.state === 'done') expect(await count()).toBe(60_000);
  // Nobody has to begin it again.
  await expect.poll(async () => (await ada.call(contract.readImport, { params: { app: app.id, import: id } })).state, { timeout: 60_000 }).toBe('done');
  expect(await count()).toBe(60_000);

  const path = ada.path(contract.restoreDesign, { app: app.id });
  const rearrange = async (): Promise<number> => {
    const { version } = await ada.call(contract.openApp, { params: { app: app.id } });
    return (await ada.send('POST', path, { version, to: { kind: 'rearranged', plan: regionsOfMany }, acceptLoss: true })).status;
  };
  const columns = async (): Promise<readonly string[]> =>
    (
      await query<{ name: string }>(
        `SELECT column_name AS name FROM information_schema.columns WHERE table_schema = 'app_${app.id}' AND table_name = 'many' AND column_name LIKE 'region%'`,
      )
    ).map((row) => row.name);
  const rearranging = rearrange();
  await pause(500);
  await killAndStart();
  await isBack();
  const status = await rearranging;
  const tables = (await ada.call(contract.openApp, { params: { app: app.id } })).design.tables.map((each) => each.name);
  const isMade = tables.includes('Regions');
  if (status === 200) expect(isMade).toBe(true);
  expect(await columns()).toEqual(isMade ? ['region_reference'] : ['region']);
  // Then it goes on.
  if (!isMade) expect(await rearrange()).toBe(200);
  expect(await columns()).toEqual(['region_reference']);
  expect(await query(`SELECT count(*)::int AS n FROM ${at}.many AS m JOIN ${at}.regions AS r ON r.id = m.region_reference`)).toEqual([{ n: 60_000 }]);
  const end = gone(child);
  child.kill('SIGTERM');
  expect(await end).toBe(0);
}, 180_000);
