import { contract, type OpenApp } from '@bibliona/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import pg from 'pg';
import { startServer, type RunningServer } from '../src/index.js';
import { Caller, emptyDatabase, honey, makeApp, password, saveKey, testConfig } from './support.js';

/** A database that an older server has left is brought up to date with all that is in it. */
let database: Awaited<ReturnType<typeof emptyDatabase>>;
let client: pg.Client;
beforeAll(async () => {
  database = await emptyDatabase();
  client = new pg.Client({ connectionString: database.url });
  await client.connect();
});
afterAll(async () => {
  await client.end();
  await database.drop();
});

const start = (): Promise<RunningServer> => startServer(testConfig(database.url, '/nowhere'));
async function atServer<T>(work: (ada: Caller, server: RunningServer) => Promise<T>): Promise<T> {
  const server = await start();
  try {
    const ada = new Caller(server.address);
    if (!(await server.people.exists('ada@quillmoor.example'))) await server.people.add('Ada Roke', 'ada@quillmoor.example', password);
    await ada.call(contract.signIn, { body: { email: 'ada@quillmoor.example', password } });
    return await work(ada, server);
  } finally {
    await server.close();
  }
}

test('the history of an older app takes new lines, answers what was removed, and brings it back', async () => {
  const key = saveKey();
  const app = await atServer(async (ada): Promise<OpenApp> => {
    const made = await makeApp(ada, 'Older', honey);
    const save = (writes: readonly object[], of = saveKey()) => ada.call(contract.saveRecords, { params: { app: made.id }, body: { key: of, writes } });
    await save([{ kind: 'add', table: 'hives', as: 'h', values: { h_code: 'H-1', h_rent: '12.5' } }]);
    await save([{ kind: 'remove', table: 'hives', id: 1, rev: 1 }], key);
    return made;
  });
  // As it was before lines told their transaction, and before removals told who had made the record.
  const history = `"app_${app.id}"._history`;
  await client.query(`DROP INDEX "app_${app.id}"._history_removed`);
  await client.query(`ALTER TABLE ${history} DROP COLUMN xact`);
  await client.query(`UPDATE ${history} SET before = before - '_made' WHERE kind = 'remove'`);
  await client.query(`DELETE FROM bibliona.migrations WHERE name LIKE 'History%'`);
  await atServer(async (ada) => {
    const at = { app: app.id, table: 'hives' };
    expect((await ada.call(contract.readRemoved, { params: at })).removed).toMatchObject([{ id: 1, save: key, values: { h_code: 'H-1' } }]);
    await ada.call(contract.takeBackSave, { params: { app: app.id, save: key }, body: { key: saveKey(), dry: false } });
    expect((await ada.call(contract.readRecord, { params: { ...at, id: 1 } })).record).toMatchObject({ rev: 3, values: { h_rent: '12.5' } });
    expect((await ada.call(contract.readHistory, { params: { ...at, id: 1 } })).entries.map((entry) => entry.kind)).toEqual(['restore', 'remove', 'add']);
  });
  const { rows } = await client.query<{ indexname: string }>(`SELECT indexname FROM pg_indexes WHERE schemaname = $1 AND tablename = '_history' ORDER BY 1`, [
    `app_${app.id}`,
  ]);
  expect(rows.map((row) => row.indexname)).toEqual(['_history_of_record', '_history_once', '_history_pkey', '_history_removed', '_history_xact']);
});

test('a server that starts again finds nothing to do', async () => {
  const version = async (): Promise<unknown> => (await client.query('SELECT * FROM bibliona.migrations ORDER BY id')).rows;
  const before = await version();
  await atServer(() => Promise.resolve());
  expect(await version()).toEqual(before);
});

test('several servers that start at once bring it up to date once', async () => {
  await client.query('DROP SCHEMA bibliona CASCADE');
  const servers = await Promise.all([start(), start(), start()]);
  await Promise.all(servers.map((one) => one.close()));
  const { rows } = await client.query<{ name: string }>('SELECT name FROM bibliona.migrations');
  expect(rows.length).toBeGreaterThan(4);
  expect(new Set(rows.map((row) => row.name)).size).toBe(rows.length);
});
