import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { contract, type OpenApp } from '@bibliona/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import pg from 'pg';
import { startServer, type RunningServer } from '../src/index.js';
import { Caller, emptyDatabase, honey, makeApp, password, saveKey, testConfig } from './support.js';

/** A database that an older server has left is brought up to date with all that is in it. */
let database: Awaited<ReturnType<typeof emptyDatabase>>;
let client: pg.Client;
let files: string;
beforeAll(async () => {
  files = await mkdtemp(join(tmpdir(), 'bibliona-test-'));
  database = await emptyDatabase();
  client = new pg.Client({ connectionString: database.url });
  await client.connect();
});
afterAll(async () => {
  await client.end();
  await database.drop();
  await rm(files, { recursive: true });
});

const start = (): Promise<RunningServer> => startServer(testConfig(database.url, files));
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

test('an app whose design is of the second format keeps its menu, and gets its views once', async () => {
  const made = await atServer((ada) =>
    makeApp(ada, 'Second', [
      ...honey,
      {
        kind: 'put',
        part: 'role',
        value: {
          id: 'keeper',
          name: 'Keeper',
          description: '',
          everything: true,
          grants: [],
          menu: [
            { kind: 'list', list: 'l_hives' },
            { kind: 'form', form: 'fm_hives' },
          ],
        },
      },
    ]),
  );
  type Stored = Record<string, Record<string, unknown>[]>;
  const { rows } = await client.query<{ design: Stored }>('SELECT design FROM bibliona.design_version WHERE app_id = $1 AND version = $2', [
    made.id,
    made.version,
  ]);
  const design = rows[0]?.design as Stored;
  const bare = (parts: Record<string, unknown>[] = []): object[] => parts.map(({ roles: _, isDefault: __, ...rest }) => rest);
  const roles = (design['roles'] ?? []).map((role) =>
    role['id'] === 'keeper'
      ? {
          ...role,
          menu: [
            { kind: 'list', table: 'hives' },
            { kind: 'form', table: 'hives' },
          ],
        }
      : role,
  );
  const second = { ...design, format: 2, forms: bare(design['forms']), lists: bare(design['lists']), roles };
  await client.query('UPDATE bibliona.design_version SET design = $3 WHERE app_id = $1 AND version = $2', [made.id, made.version, JSON.stringify(second)]);
  // As an older server has left it: the newest design beside the app, and no views.
  await client.query('ALTER TABLE bibliona.app ADD COLUMN design jsonb');
  await client.query('UPDATE bibliona.app AS a SET design = v.design FROM bibliona.design_version AS v WHERE v.app_id = a.id AND v.version = a.version');
  await client.query('ALTER TABLE bibliona.app DROP COLUMN name, DROP COLUMN tables');
  await client.query(`DROP SCHEMA "app_${made.id}_views" CASCADE`);
  await client.query('DROP FUNCTION bibliona.refuse_write() CASCADE');
  await client.query(`DELETE FROM bibliona.migrations WHERE name LIKE 'Views%' OR name LIKE 'AppNames%'`);
  const servers = await Promise.all([start(), start(), start()]);
  await Promise.all(servers.map((server) => server.close()));
  // lz4 is there unless PostgreSQL was built without it.
  const compressed = await client.query(
    `SELECT attcompression AS "is" FROM pg_attribute WHERE attrelid = 'bibliona.design_version'::regclass AND attname = 'design'
      AND EXISTS (SELECT FROM pg_settings WHERE name = 'default_toast_compression' AND 'lz4' = ANY(enumvals))`,
  );
  expect(compressed.rows.every(({ is }) => is === 'l')).toBe(true);
  const views = await client.query(`SELECT table_name FROM information_schema.views WHERE table_schema = $1 ORDER BY 1`, [`app_${made.id}_views`]);
  expect(views.rows).toEqual([{ table_name: 'apiaries' }, { table_name: 'hives' }]);
  await atServer(async (ada) => {
    const open = await ada.call(contract.openApp, { params: { app: made.id } });
    expect(open.design.roles.find((role) => role.id === 'keeper')?.menu).toEqual([
      { kind: 'list', list: 'l_hives' },
      { kind: 'form', form: 'fm_hives' },
    ]);
    expect(open.design.lists.map((list) => list.isDefault)).toEqual([true, true]);
    expect((await ada.call(contract.listApps)).apps.find((app) => app.id === made.id)).toMatchObject({ name: 'Second', tables: 2 });
  });
});

test('a mail that waited before mails were jobs is sent', async () => {
  await atServer(() => Promise.resolve());
  await client.query('ALTER TABLE bibliona.mail ADD COLUMN next_at timestamptz NOT NULL DEFAULT now()');
  await client.query(`CREATE INDEX mail_waiting ON bibliona.mail (next_at, created_at) WHERE state = 'waiting'`);
  await client.query(`DELETE FROM bibliona.migrations WHERE name LIKE 'Jobs%'`);
  await client.query(
    `INSERT INTO bibliona.mail (id, kind, recipient, subject, body) VALUES ('6dfb0f3c-7c8e-4f5a-9a3d-0c1a6d6c2f11', 'account', 'bede@quillmoor.example', 'Left over', 'From before.')`,
  );
  await atServer(async () => {
    const state = async (): Promise<unknown> =>
      (await client.query<{ state: string }>(`SELECT state FROM bibliona.mail WHERE subject = 'Left over'`)).rows[0]?.state;
    await expect.poll(state, { timeout: 20_000 }).toBe('kept');
  });
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
  await Promise.all(servers.map((server) => server.close()));
  const { rows } = await client.query<{ name: string }>('SELECT name FROM bibliona.migrations');
  expect(rows.length).toBeGreaterThan(4);
  expect(new Set(rows.map((row) => row.name)).size).toBe(rows.length);
});
