import { readdir } from 'node:fs/promises';
import { contract, fileRoutes, mostMadeFiles, type DesignChange, type FileRouteName, type MadeFile, type OpenApp } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { gone, serverProcesses, type ServerProcess } from './processes.js';
import { Caller, honey, makeApp, saveKey, testServer, type TestServer } from './support.js';
import { textsOf } from './pdf.js';

const role = (id: string, more: object): DesignChange => ({
  kind: 'put',
  part: 'role',
  value: {
    id,
    name: id,
    description: '',
    everything: false,
    menu: [],
    grants: [
      { id: `g_${id}`, table: 'hives', see: true, add: false, change: false, remove: false, export: true, condition: '', hidden: [], locked: [], ...more },
    ],
  },
});
const columns = [{ id: 'c_code', name: 'Code', expression: 'Code', summary: null, digits: null }];
const query: DesignChange = {
  kind: 'put',
  part: 'query',
  value: { id: 'q_codes', name: 'Codes', description: '', section: '', table: 'hives', condition: '', columns, order: [], limit: null },
};
const report: DesignChange = {
  kind: 'put',
  part: 'report',
  value: {
    id: 'rep_codes',
    name: 'Codes',
    description: '',
    section: '',
    source: { kind: 'table', table: 'hives', condition: '', columns },
    fields: [{ column: 'c_code', share: 4, wraps: true, total: 'count' }],
    groups: [],
    order: [],
    arrangement: 'columns',
    paper: { size: 'a4', turned: false },
  },
};

interface Asked {
  readonly route: FileRouteName;
  readonly params?: Readonly<Record<string, string>>;
  readonly query?: Readonly<Record<string, string>>;
}
const list = (format = 'csv', more: object = {}): Asked => ({ route: 'exportRecords', params: { table: 'hives' }, query: { format, ...more } });

const begin = (who: Caller, app: OpenApp, { route, params = {}, query: more = {} }: Asked, name = 'Hives.csv'): Promise<MadeFile> =>
  who.call(contract.makeFile, { params: { app: app.id }, body: { route, params, query: more, name } });
const files = async (who: Caller, app: OpenApp): Promise<readonly MadeFile[]> => (await who.call(contract.readMadeFiles, { params: { app: app.id } })).files;
const stateOf = async (who: Caller, app: OpenApp, { id }: MadeFile) => (await files(who, app)).find((file) => file.id === id)?.state;
async function made(who: Caller, app: OpenApp, asked: Asked): Promise<MadeFile> {
  const { id } = await begin(who, app, asked);
  await expect.poll(async () => (await files(who, app)).find((file) => file.id === id)?.state, { timeout: 30_000, interval: 50 }).not.toBe('making');
  const file = (await files(who, app)).find((each) => each.id === id);
  if (file === undefined) throw new Error('the file is gone');
  return file;
}
const fetched = (who: Caller, app: OpenApp, { id }: MadeFile) => who.download(contract.readMadeFile, { app: app.id, file: id });

/** The texts on paper without the minute at which it was printed. */
const timelessTexts = async (pdf: Uint8Array) => (await textsOf(pdf)).map((text) => text.replaceAll(/\d{1,2}:\d{2}/gu, ''));

/** So many hives that a file of them takes a while. */
const addMany = (sql: TestServer['sql'], app: OpenApp, count: number) =>
  sql(`INSERT INTO "app_${app.id}".hives (code, created_by, updated_by) SELECT 'X-' || n, 1, 1 FROM generate_series(1, ${count}) AS n`);

describe('files that are made in the background', () => {
  let it: TestServer;
  let app: OpenApp;
  let ada: Caller;
  let bede: Caller & { readonly id: number };
  beforeAll(async () => {
    it = await testServer();
    ada = await it.person('Ada Roke');
    bede = await it.person('Bede Lunn');
    app = await makeApp(ada, 'Made', [
      ...honey,
      query,
      report,
      role('low', { condition: 'Stores = "Low"', hidden: ['h_notes'] }),
      role('looks', { export: false }),
    ]);
    await it.sql(`INSERT INTO bibliona.app_person (app_id, person_id, role, roles) VALUES ($1, $2, 'member', '{low}')`, [app.id, bede.id]);
    const writes = Array.from({ length: 1100 }, (_, i) => ({
      kind: 'add',
      table: 'hives',
      as: `h${i}`,
      values: { h_code: `H-${i}`, h_stores: i % 3 === 0 ? 'low' : 'full', h_notes: 'quiet' },
    }));
    await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
  });
  afterAll(() => it.close());

  test.each<[string, Asked]>([
    ['a list as CSV', list('csv', { search: 'H-1', sort: 'h_code', direction: 'down' })],
    ['a list as JSON', list('json')],
    ['a list on paper', { route: 'printRecords', params: { table: 'hives' }, query: { columns: '["h_code"]' } }],
    ['a query', { route: 'exportQuery', params: { query: 'q_codes' }, query: { format: 'csv' } }],
    ['a query on paper', { route: 'printQuery', params: { query: 'q_codes' }, query: { search: 'H-1' } }],
    ['a report', { route: 'printReport', params: { report: 'rep_codes' } }],
  ])('%s has in it what it has when one waits for it', async (_, asked) => {
    const file = await made(ada, app, asked);
    const [now, direct] = [await fetched(ada, app, file), await ada.download(fileRoutes[asked.route], { app: app.id, ...asked.params }, asked.query)];
    expect(file).toMatchObject({ state: 'done', progress: 1, size: now.bytes.length, message: null });
    expect(now.type).toBe(direct.type);
    if (direct.type === 'application/pdf') expect(await timelessTexts(now.bytes)).toEqual(await timelessTexts(direct.bytes));
    else expect(Buffer.from(now.bytes).toString()).toBe(Buffer.from(direct.bytes).toString());
    expect(now.bytes.length).toBeGreaterThan(1000);
  });

  test('a workbook arrives whole', async () => {
    const { bytes } = await fetched(ada, app, await made(ada, app, list('xlsx')));
    expect(Buffer.from(bytes.slice(0, 2)).toString()).toBe('PK');
    const direct = await ada.download(contract.exportRecords, { app: app.id, table: 'hives' }, { format: 'xlsx' });
    expect(Math.abs(bytes.length - direct.bytes.length)).toBeLessThan(20);
  });

  test('a file has what its person has access to', async () => {
    const file = await made(bede, app, list());
    const lines = Buffer.from((await fetched(bede, app, file)).bytes)
      .toString()
      .trim()
      .split('\r\n');
    expect(lines).toHaveLength(1 + Math.ceil(1100 / 3));
    expect(lines[0]).not.toContain('Notes');
  });

  test("someone else's file is not there for others, and cannot be deleted by them", async () => {
    const file = await made(ada, app, list());
    expect((await files(bede, app)).map((each) => each.id)).not.toContain(file.id);
    for (const route of [contract.readMadeFile, contract.removeMadeFile])
      expect(await bede.refused(route, { params: { app: app.id, file: file.id } })).toMatchObject({ status: 404 });
    expect((await fetched(ada, app, file)).bytes.length).toBe(file.size);
  });

  test('what its person has lost access to since is not given to them', async () => {
    const file = await made(bede, app, list());
    const give = (...roles: string[]) =>
      ada.call(contract.changePerson, { params: { app: app.id, person: bede.id }, body: { role: 'member', roles, ties: {} } });
    await give('looks');
    const refused = await bede.refused(contract.readMadeFile, { params: { app: app.id, file: file.id } });
    expect(refused).toMatchObject({ status: 403, body: { message: expect.stringContaining('has changed since') as string } });
    // And a file of records that they can't export is not made.
    const none = await made(bede, app, list());
    expect(none).toMatchObject({ state: 'failed', message: expect.stringContaining("don't have permission to export") as string });
    await give('low');
  });

  test('what no route takes is refused when it is asked for', async () => {
    for (const asked of [list('docx'), list('csv', { narrowed: '{' }), { route: 'exportRecords', params: {} }] as readonly Asked[]) {
      const body = { ...asked, params: asked.params ?? {}, query: asked.query ?? {}, name: 'x.csv' };
      expect(await ada.refused(contract.makeFile, { params: { app: app.id }, body })).toMatchObject({ status: 400 });
    }
    const none = await made(ada, app, { route: 'exportRecords', params: { table: 'nothing' }, query: {} });
    expect(none).toMatchObject({ state: 'failed', message: expect.stringContaining('no longer exists') as string });
  });

  test('an app in the parameters is not taken: a file is of the app in the address', async () => {
    const other = await makeApp(ada, 'Other', honey);
    const file = await made(ada, other, { route: 'exportRecords', params: { app: app.id, table: 'hives' }, query: {} });
    expect(
      Buffer.from((await fetched(ada, other, file)).bytes)
        .toString()
        .trim()
        .split('\r\n'),
    ).toHaveLength(1);
  });

  test('the latest files are kept', async () => {
    for (let i = 0; i < mostMadeFiles.kept + 1; i += 1) await made(ada, app, list());
    expect(await files(ada, app)).toHaveLength(mostMadeFiles.kept);
  });

  test('a file that is cancelled is not made to its end, and nothing of it is left; no person has many made at once', async () => {
    const big = await makeApp(ada, 'Big', honey);
    await addMany(it.sql, big, 120_000);
    const [first, second] = [await begin(ada, big, list()), await begin(ada, big, list('xlsx'))];
    await expect.poll(async () => (await files(ada, big)).some((file) => (file.progress ?? 0) > 0), { timeout: 20_000, interval: 20 }).toBe(true);
    expect(await ada.refused(contract.makeFile, { params: { app: big.id }, body: { ...list(), name: 'x.csv' } })).toMatchObject({ status: 429 });
    for (const file of [first, second]) {
      expect(await stateOf(ada, big, file)).toBe('making');
      await ada.call(contract.removeMadeFile, { params: { app: big.id, file: file.id } });
    }
    expect(await files(ada, big)).toEqual([]);
    const left = async () => (await readdir(it.files)).filter((name) => name.includes(first.id) || name.includes(second.id));
    await expect.poll(left, { timeout: 10_000 }).toEqual([]);
  });
});

test('a file whose server is killed while making it is made by the next one', async () => {
  const processes = await serverProcesses();
  const signIn = { email: 'ada@quillmoor.example', password: 'a long enough password' };
  const first = await processes.start();
  const asAda = async ({ address }: ServerProcess): Promise<Caller> => {
    const caller = new Caller(address);
    if (first.address === address) await caller.call(contract.setUp, { body: { key: first.setUpKey, name: 'Ada Roke', ...signIn } });
    else await caller.call(contract.signIn, { body: signIn });
    return caller;
  };
  try {
    const ada = await asAda(first);
    const app = await makeApp(ada, 'Killed', honey);
    const rows = Array.from({ length: 60_000 }, (_, i) => `X-${i}`);
    const { default: pg } = await import('pg');
    const client = new pg.Client({ connectionString: processes.url });
    await client.connect();
    await client.query(`INSERT INTO "app_${app.id}".hives (code, created_by, updated_by) SELECT code, 1, 1 FROM unnest($1::text[]) AS code`, [rows]);
    await client.end();
    const file = await begin(ada, app, list('csv', { sort: 'h_code' }));
    await expect.poll(async () => (await files(ada, app))[0]?.progress ?? 0, { timeout: 20_000, interval: 5 }).toBeGreaterThan(0);
    expect(await stateOf(ada, app, file)).toBe('making');
    first.child.kill('SIGKILL');
    await gone(first.child);
    const again = await asAda(await processes.start());
    await expect.poll(() => stateOf(again, app, file), { timeout: 60_000, interval: 200 }).toBe('done');
    const lines = Buffer.from((await fetched(again, app, file)).bytes)
      .toString()
      .trim()
      .split('\r\n');
    expect(new Set(lines.slice(1).map((line) => line.split(',')[1]))).toEqual(new Set(rows));
    expect(lines).toHaveLength(1 + rows.length);
  } finally {
    await processes.close();
  }
}, 90_000);
