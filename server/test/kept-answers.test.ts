import { contract, grantOf, type OpenApp, type Tile } from '@bibliona/core';
import fc from 'fast-check';
import pg from 'pg';
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest';
import { startServer, type RunningServer } from '../src/index.js';
import { Caller, honey, makeApp, saveKey, testConfig, testServer, type TestServer } from './support.js';

/** What is kept of answers is given as long as nothing was written, by whatever server, and not a moment longer. */
let it: TestServer;
let second: RunningServer;
let ada: Caller & { readonly id: number };
let wren: Caller & { readonly id: number };
/** The same person at another server on the same database. */
let adaThere: Caller;
let app: OpenApp;

const figure = (id: string, condition: string): Tile => ({
  kind: 'figure',
  id,
  name: id,
  place: { x: 0, y: 0, w: 4, h: 4 },
  source: { kind: 'table', table: 'hives', condition, columns: [] },
  column: null,
  summary: 'count',
  target: null,
  judgement: null,
});

beforeAll(async () => {
  it = await testServer();
  second = await startServer(testConfig(it.url, it.files));
  ada = await it.person('Ada Roke');
  wren = await it.person('Wren Holt');
  adaThere = new Caller(second.address);
  adaThere.cookie = ada.cookie;
});
afterAll(async () => {
  await second.close();
  await it.close();
});
beforeEach(async () => {
  app = await makeApp(ada, 'Kept', [
    ...honey,
    {
      kind: 'put',
      part: 'dashboard',
      value: {
        id: 'da_all',
        name: 'All',
        description: '',
        section: '',
        tiles: [figure('ti_all', ''), figure('ti_new', 'Since <= today()'), figure('ti_ada', 'created by() = "Ada Roke"')],
      },
    },
    {
      kind: 'put',
      part: 'role',
      value: { id: 'keeper', name: 'Keeper', description: '', everything: false, menu: [], grants: [grantOf('g_hives', 'hives', { condition: 'Gentle' })] },
    },
  ]);
  await it.server.people.join(app.id, wren.id, 'member', ['keeper']);
});

const count = async (who: Caller, tile = 'ti_all'): Promise<number> => {
  const answer = await who.call(contract.readTile, { params: { app: app.id, dashboard: 'da_all', tile } });
  if (answer.kind !== 'figure') throw new Error('not a figure');
  return answer.rows;
};
const add = (who: Caller, code: string, more: object = {}) =>
  who.call(contract.saveRecords, {
    params: { app: app.id },
    body: { key: saveKey(), writes: [{ kind: 'add', table: 'hives', as: 'h', values: { h_code: code, h_since: '2024-05-01', ...more } }] },
  });
/** Writes as nothing of Bibliona does, without a line in the history: only what is kept does not know of it. */
const slipIn = (code: string) => it.sql(`INSERT INTO "app_${app.id}".hives (code, since, created_by, updated_by) VALUES ($1, '2024-05-01', 1, 1)`, [code]);

test('an answer is kept until something is written, and for a day where it asks for today', async () => {
  await add(ada, 'H-1');
  for (const tile of ['ti_all', 'ti_new']) expect(await count(ada, tile)).toBe(1);
  await slipIn('H-2');
  for (const tile of ['ti_all', 'ti_new']) expect(await count(ada, tile)).toBe(1);
  await add(ada, 'H-3');
  for (const tile of ['ti_all', 'ti_new']) expect(await count(ada, tile)).toBe(3);
});

test('an answer about who people are follows their names', async () => {
  await add(ada, 'H-1');
  expect(await count(ada, 'ti_ada')).toBe(1);
  await ada.call(contract.changeProfile, { body: { name: 'Ada Lunn', region: null } });
  expect(await count(ada, 'ti_ada')).toBe(0);
  await ada.call(contract.changeProfile, { body: { name: 'Ada Roke', region: null } });
  expect(await count(ada, 'ti_ada')).toBe(1);
});

test('each is given what their grants let them see', async () => {
  await add(ada, 'H-1', { h_gentle: true });
  await add(ada, 'H-2');
  for (let i = 0; i < 2; i += 1) expect([await count(ada), await count(wren)]).toEqual([2, 1]);
  await it.server.people.join(app.id, wren.id, 'member', []);
  await expect(count(wren)).rejects.toThrow('answered 404');
  await it.server.people.join(app.id, wren.id, 'builder');
  expect(await count(wren)).toBe(2);
});

test('two apps of the same long name are not taken for each other', async () => {
  const name = 'Quillmoor Honey Co-operative, its hives and their keepers';
  const dashboard = { id: 'da_all', name: 'All', description: '', section: '', tiles: [figure('ti_all', '')] };
  const apps: OpenApp[] = [];
  for (let i = 0; i < 2; i += 1) apps.push(await makeApp(ada, name, [...honey, { kind: 'put', part: 'dashboard', value: dashboard }]));
  for (const [i, each] of apps.entries()) {
    app = each;
    for (let n = 0; n <= i; n += 1) await add(ada, `H-${n}`);
  }
  for (let round = 0; round < 2; round += 1)
    for (const [i, each] of apps.entries()) {
      app = each;
      expect(await count(ada)).toBe(i + 1);
    }
  expect(apps[0]?.id.length).toBeGreaterThan(45);
});

test('what was begun before an answer and is committed after it makes it stale', async () => {
  await add(ada, 'H-1');
  const other = new pg.Client({ connectionString: it.url });
  await other.connect();
  await other.query('BEGIN');
  await other.query(`INSERT INTO "app_${app.id}".hives (code, created_by, updated_by) VALUES ('H-2', 1, 1)`);
  await other.query(
    `INSERT INTO "app_${app.id}"._history (table_id, record_id, rev, person_id, kind, batch, place) VALUES ('hives', 2, 1, 1, 'add', gen_random_uuid(), 1)`,
  );
  // Later lines are committed earlier: neither their numbers nor their times tell that one is still to come.
  await add(ada, 'H-3');
  expect(await count(ada)).toBe(2);
  expect(await count(ada)).toBe(2);
  await other.query('COMMIT');
  await other.end();
  expect(await count(ada)).toBe(3);
});

test('a line that came from another server with a backup does not make answers stale for ever', async () => {
  await add(ada, 'H-1');
  await it.sql(`UPDATE "app_${app.id}"._history SET xact = '99999999999'`);
  expect(await count(ada)).toBe(1);
  await slipIn('H-2');
  expect(await count(ada)).toBe(1);
});

test('a change of the design and what is undone are seen at once', async () => {
  await add(ada, 'H-1');
  expect(await count(ada)).toBe(1);
  const key = saveKey();
  await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key, writes: [{ kind: 'remove', table: 'hives', id: 1, rev: 1 }] } });
  expect(await count(ada)).toBe(0);
  await ada.call(contract.takeBackSave, { params: { app: app.id, save: key }, body: { key: saveKey(), dry: false } });
  expect(await count(ada)).toBe(1);
  const dashboard = { id: 'da_all', name: 'All', description: '', section: '', tiles: [figure('ti_all', 'Code = "H-2"')] };
  await ada.call(contract.changeDesign, {
    params: { app: app.id },
    body: { version: app.version, changes: [{ kind: 'put', part: 'dashboard', value: dashboard }] },
  });
  expect(await count(ada)).toBe(0);
});

test('two servers that write and read in any order never give what was', async () => {
  const step = fc.record({ isThere: fc.boolean(), isWrite: fc.boolean() });
  let made = 0;
  let standing = 0;
  await fc.assert(
    fc.asyncProperty(fc.array(step, { minLength: 1, maxLength: 12 }), async (steps) => {
      for (const { isThere, isWrite } of steps) {
        const who = isThere ? adaThere : ada;
        if (isWrite) {
          await add(who, `W-${(made += 1)}`);
          standing += 1;
        } else expect(await count(who)).toBe(standing);
      }
      // Read while others write: never less than what was confirmed before the question.
      const [rows] = await Promise.all([count(ada), add(adaThere, `W-${(made += 1)}`)]);
      expect([standing, standing + 1]).toContain(rows);
      standing += 1;
    }),
    { numRuns: 12 },
  );
});
