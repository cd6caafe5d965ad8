/** What people get while a server stops, and while its database is away. */
import { createServer, connect, type Server, type Socket } from 'node:net';
import { contract } from '@bibliona/core';
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { gone, serverProcesses, type ServerProcesses } from './processes.js';
import { Caller, field, makeApp, saveKey, table } from './support.js';

let processes: ServerProcesses;
beforeAll(async () => {
  processes = await serverProcesses();
});
afterAll(() => processes.close());

const ada = { name: 'Ada Roke', email: 'ada@quillmoor.example', password: 'a long enough password' };

test('a server that is told to stop answers what it has begun and refuses the rest with a hint to try again', async () => {
  const { address, child, setUpKey } = await processes.start();
  const caller = new Caller(address);
  await caller.call(contract.setUp, { body: { key: setUpKey, ...ada } });
  const app = await makeApp(caller, 'Stopping', [table('many', 'Many', [field('text', 'm_name', 'Name')])]);
  const lanes = 8;
  const answers: { readonly name: string; readonly status: number; readonly retry: string | null }[] = [];
  const broken: string[] = [];
  const saving = Promise.all(
    Array.from({ length: lanes }, async (_, lane) => {
      for (let i = 0; ; i += 1) {
        const name = `lane ${lane} ${i}`;
        try {
          const { status, headers } = await caller.send('POST', `/api/apps/${app.id}/save`, {
            key: saveKey(),
            writes: [{ kind: 'add', table: 'many', as: 'm', values: { m_name: name } }],
          });
          answers.push({ name, status, retry: headers.get('retry-after') });
          if (status !== 200) return;
        } catch (error) {
          broken.push(String((error as { cause?: { code?: string } }).cause?.code ?? error));
          return;
        }
      }
    }),
  );
  while (answers.length < 50) await new Promise((resolve) => setTimeout(resolve, 5));
  const end = gone(child);
  child.kill('SIGTERM');
  await saving;
  expect(await end).toBe(0);
  expect(answers.filter((answer) => answer.status !== 200 && (answer.status !== 503 || answer.retry === null))).toEqual([]);
  // A connection that is not taken any more was never begun; one that broke off would leave its sender in doubt.
  expect(broken.filter((each) => !each.includes('ECONNREFUSED'))).toEqual([]);

  const second = await processes.start();
  const again = new Caller(second.address);
  await again.call(contract.signIn, { body: { email: ada.email, password: ada.password } });
  const { body } = await again.send('GET', `/api/apps/${app.id}/tables/many/count`);
  expect(body).toMatchObject({ count: answers.filter((answer) => answer.status === 200).length });
  const stopped = gone(second.child);
  second.child.kill('SIGTERM');
  await stopped;
}, 60_000);

test('a database that is away at the start is waited for, and one that goes away is said in words until it is back', async () => {
  const door = await doorTo(new URL(processes.url));
  const through = new URL(processes.url);
  through.host = `127.0.0.1:${door.port}`;
  await door.close();
  const starting = processes.start({ DATABASE_URL: through.href });
  await new Promise((resolve) => setTimeout(resolve, 2500));
  await door.open();
  const { address, child } = await starting;
  const caller = new Caller(address);
  await caller.call(contract.signIn, { body: { email: ada.email, password: ada.password } });
  await door.close();
  const without = await caller.send('GET', '/api/apps');
  expect(without.status).toBe(503);
  expect(without.headers.get('retry-after')).toMatch(/^\d+$/u);
  expect((without.body as { message: string }).message).toContain('database');
  await door.open();
  await expect.poll(async () => (await caller.send('GET', '/api/apps')).status, { timeout: 15_000 }).toBe(200);
  const end = gone(child);
  child.kill('SIGTERM');
  expect(await end).toBe(0);
  await door.close();
}, 60_000);

test('a full disk is said in words, nothing is saved, and the server goes on', async () => {
  const { address, child, setUpKey } = await processes.start();
  const caller = new Caller(address);
  if (setUpKey === null) await caller.call(contract.signIn, { body: { email: ada.email, password: ada.password } });
  else await caller.call(contract.setUp, { body: { key: setUpKey, ...ada } });
  const app = await makeApp(caller, 'Full', [table('many', 'Many', [field('text', 'm_name', 'Name')])]);
  const save = () =>
    caller.send('POST', `/api/apps/${app.id}/save`, { key: saveKey(), writes: [{ kind: 'add', table: 'many', as: 'm', values: { m_name: 'one' } }] });
  // What PostgreSQL raises when it cannot write (disk_full, 53100).
  const client = new pg.Client({ connectionString: processes.url });
  await client.connect();
  await client.query(
    `CREATE FUNCTION "app_${app.id}".disk_full() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN RAISE EXCEPTION 'could not extend file: No space left on device' USING ERRCODE = '53100'; END $$;
     CREATE TRIGGER disk_full BEFORE INSERT ON "app_${app.id}".many FOR EACH ROW EXECUTE FUNCTION "app_${app.id}".disk_full()`,
  );
  const full = await save();
  expect(full.status).toBe(503);
  expect(full.headers.get('retry-after')).toMatch(/^\d+$/u);
  expect((full.body as { message: string }).message).toBe('The disk of the database is full. Nothing was saved. Tell the administrator of this server.');
  await client.query(`DROP TRIGGER disk_full ON "app_${app.id}".many`);
  await client.end();
  expect((await save()).status).toBe(200);
  expect((await caller.send('GET', `/api/apps/${app.id}/tables/many/count`)).body).toMatchObject({ count: 1 });
  const end = gone(child);
  child.kill('SIGTERM');
  expect(await end).toBe(0);
}, 60_000);

/** A way to the database that can be shut: what goes through it is cut off, and nothing more gets through. */
async function doorTo(database: URL): Promise<{ readonly port: number; readonly open: () => Promise<void>; readonly close: () => Promise<void> }> {
  const passing = new Set<Socket>();
  const [host, port] = [decodeURIComponent(database.hostname), Number(database.port === '' ? 5432 : database.port)];
  const server: Server = createServer((from) => {
    const to = host.startsWith('/') ? connect(`${host}/.s.PGSQL.${port}`) : connect(port, host);
    for (const [one, other] of [
      [from, to],
      [to, from],
    ] as const) {
      passing.add(one);
      one.pipe(other);
      one.on('error', () => other.destroy()).on('close', () => (passing.delete(one), other.destroy()));
    }
  });
  const listen = (at: number): Promise<void> => new Promise((resolve) => server.listen(at, '127.0.0.1', resolve));
  await listen(0);
  const own = (server.address() as { port: number }).port;
  return {
    port: own,
    open: () => listen(own),
    close: () =>
      new Promise((resolve) => {
        server.close(() => resolve());
        for (const socket of passing) socket.destroy();
      }),
  };
}
