import { contract, grantOf, type DesignChange, type OpenApp, type Value } from '@bibliona/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { run, upload } from './importing.js';
import { field, makeApp, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

/** Fields that no two records can have alike, all together. */
let it: TestServer;
let [ada, bede]: (Caller & { id: number })[] = [];
let app: OpenApp;
const together = (...fields: readonly string[]): DesignChange => ({
  kind: 'change_table',
  table: 'visits',
  uniqueTogether: [{ id: 'u_once', fields: [...fields] }],
});

beforeAll(async () => {
  it = await testServer();
  [ada, bede] = [await it.person('Ada Roke'), await it.person('Bede Lunn')];
  app = await makeApp(ada, 'Visits', [
    table('visits', 'Visits', [field('text', 'v_hive', 'Hive'), field('date', 'v_on', 'Visited on'), field('text', 'v_note', 'Note')]),
    {
      kind: 'put',
      part: 'role',
      value: {
        id: 'r_some',
        name: 'Some',
        description: '',
        everything: false,
        menu: [],
        grants: [grantOf('g_some', 'visits', { see: true, add: true, change: true, hidden: ['v_on'] })],
      },
    },
  ]);
  await it.server.people.join(app.id, bede.id, 'member', ['r_some']);
});
afterAll(() => it.close());

const change = (changes: readonly DesignChange[]) => ({ params: { app: app.id }, body: { version: app.version, changes, acceptLoss: false } });
const add = (values: Record<string, Value>) => ({
  params: { app: app.id },
  body: { key: saveKey(), writes: [{ kind: 'add', table: 'visits', as: 'new', values }] },
});

test('it is refused while records are alike, and says which; then each pair can be there once', async () => {
  for (const v_note of ['a', 'b']) await ada!.call(contract.saveRecords, add({ v_hive: 'H-1', v_on: '2026-05-14', v_note }));
  await ada!.call(contract.saveRecords, add({ v_hive: 'H-1', v_on: '2026-05-15' }));
  const refused = await ada!.refused(contract.changeDesign, change([together('v_hive', 'v_on')]));
  expect(refused.body.message).toContain('1 value of Hive and Visited on appears in more than one record (“["H-1", "2026-05-14"]”)');
  const [first] = (await ada!.call(contract.readPage, { params: { app: app.id, table: 'visits' } })).records;
  const removal = [{ kind: 'remove', table: 'visits', id: first?.id, rev: first?.rev }];
  await ada!.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes: removal } });
  app = await ada!.call(contract.changeDesign, change([together('v_hive', 'v_on')]));
  const again = await ada!.refused(contract.saveRecords, add({ v_hive: 'H-1', v_on: '2026-05-14' }));
  expect(again.body.issues.map((issue) => issue.message)).toEqual(['Another record has the same Hive and Visited on already']);
  await ada!.call(contract.saveRecords, add({ v_hive: 'H-2', v_on: '2026-05-14' }));
});

test('records in which one of the fields is empty are alike to none', async () => {
  for (let n = 0; n < 2; n += 1) await ada!.call(contract.saveRecords, add({ v_hive: 'H-1' }));
});

test('who does not see a field is not told its name', async () => {
  await ada!
    .call(
      contract.changeDesign,
      change([{ kind: 'change_field', table: 'visits', field: field('date', 'v_on', 'Visited on', { default: 'date("2026-05-14")' }) }]),
    )
    .then((open) => {
      app = open;
    });
  const { body } = await bede!.refused(contract.saveRecords, add({ v_hive: 'H-1' }));
  expect(JSON.stringify(body)).not.toContain('Visited');
  expect(body.issues.map((issue) => issue.message)).toEqual(['Another record has the same Hive and other values already']);
  const open = await bede!.call(contract.openApp, { params: { app: app.id } });
  expect(JSON.stringify(open.design)).not.toContain('u_once');
});

test('a file with such rows changes nothing', async () => {
  const count = async () => (await ada!.call(contract.readPage, { params: { app: app.id, table: 'visits' } })).records.length;
  const before = await count();
  const answer = await run(ada!, app, await upload(ada!, app, 'Visits.csv', 'Hive,Visited on\nH-9,2026-05-14\nH-9,2026-05-14\n'), 'visits');
  expect(answer.state).toBe('failed');
  expect(answer.message).toContain('Two records share the same Hive and Visited on');
  expect(await count()).toBe(before);
});

test('a field that is removed takes the rule with it, and an undo brings both back', async () => {
  app = await ada!.call(contract.changeDesign, {
    ...change([{ kind: 'remove_field', table: 'visits', field: 'v_on' }]),
    body: { ...change([{ kind: 'remove_field', table: 'visits', field: 'v_on' }]).body, acceptLoss: true },
  });
  const unique = async () => (await it.sql(`SELECT 1 FROM pg_constraint WHERE conname = 'u_once_together'`)).length;
  expect(await unique()).toBe(0);
  app = await ada!.call(contract.undoDesign, { params: { app: app.id }, body: { version: app.version, direction: 'undo', acceptLoss: true } });
  expect(await unique()).toBe(1);
});

test('only fields that can be told apart can be unique together', async () => {
  const { body } = await ada!.refused(contract.changeDesign, change([together('v_hive', 'v_nowhere')]));
  expect(body.message).toMatch(/v_nowhere/u);
  expect((await ada!.refused(contract.changeDesign, change([together('v_hive')]))).status).toBe(400);
});
