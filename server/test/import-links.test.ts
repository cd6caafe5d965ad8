/** Several records in one cell: in files that come in, and in those that go out. */
import { contract, type ColumnPlan, type ImportAnswer, type OpenApp, type Write } from '@bibliona/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { forageLink } from './forage.js';
import { importParams, run, upload } from './importing.js';
import { field, makeApp, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller & { id: number };
let app: OpenApp;
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
  app = await makeApp(ada, 'Forage', [
    table('sites', 'Apiaries', [field('text', 's_name', 'Name')]),
    table('plants', 'Plants', [field('text', 'p_name', 'Plant')]),
    forageLink,
  ]);
  await save(
    ...['Heather', 'Clover, white', 'Lime', 'Willow', 'Willow'].map((name): Write => ({ kind: 'add', table: 'plants', as: name, values: { p_name: name } })),
  );
});
afterAll(() => it.close());

const save = (...writes: readonly Write[]) =>
  ada.call(contract.saveRecords, {
    params: { app: app.id },
    body: { key: saveKey(), writes: writes.map((write, i) => ('as' in write ? { ...write, as: `w${i}` } : write)) },
  });
const exported = async (): Promise<string> => Buffer.from((await ada.download(contract.exportRecords, { app: app.id, table: 'sites' })).bytes).toString();
const lines = async (): Promise<readonly string[]> => (await exported()).replace('\uFEFF', '').trim().split('\r\n');
const imported = async (csv: string, more: { badCells?: 'empty'; columns?: (columns: ColumnPlan[]) => ColumnPlan[] } = {}): Promise<ImportAnswer> =>
  run(ada, app, await upload(ada, app, 'Apiaries.csv', csv), 'sites', more);

test('rows are added with the records that a cell names, and the list goes out as it came', async () => {
  const done = await imported('Name,Forage\nMill lane,"heather; Clover, white"\nMoor,\nQuay,Lime\n');
  expect(done).toMatchObject({ state: 'done', added: 3 });
  expect(await lines()).toEqual(['Record number,Name,Forage', '1,Mill lane,"Heather, Clover, white"', '2,Moor,', '3,Quay,Lime']);
  // An undo takes the records and what belonged to them.
  await ada.call(contract.takeBackImport, { params: importParams(app, done.id) });
  expect(await lines()).toEqual(['Record number,Name,Forage']);
  expect(await it.sql(`SELECT count(*)::int AS n FROM "app_${app.id}".apiaries_and_plants`)).toEqual([{ n: 0 }]);
});

test('a name that is nobody’s or that two records have is told with its line, and nothing is added', async () => {
  const refused = await imported('Name,Forage\nMill lane,Heather\nMoor,"Ivy, Heather"\nQuay,Willow\n');
  expect(refused.state).toBe('refused');
  expect(refused.complaints?.map(({ line, column, value, reason }) => [line, column, value, reason])).toEqual([
    [3, 'Forage', 'Ivy', 'is not the name of a record'],
    [4, 'Forage', 'Willow', 'names more than one record'],
  ]);
  expect(await lines()).toHaveLength(1);
  const done = await imported('Name,Forage\nMill lane,Heather\nMoor,"Ivy, Heather"\nQuay,Willow\n', { badCells: 'empty' });
  expect(done).toMatchObject({ state: 'done', added: 3 });
  expect((await lines()).slice(1).map((line) => line.replace(/^\d+,/u, ''))).toEqual(['Mill lane,Heather', 'Moor,Heather', 'Quay,']);
});

test('an exported list changes what was edited in it and nothing else, and undo brings it back', async () => {
  const before = await exported();
  const same = await imported(before);
  expect(same).toMatchObject({ state: 'done', added: 0, changed: 0, unchanged: 3 });
  const edited = before.replace('Mill lane,Heather', 'Mill lane,"Lime, Heather"').replace('Moor,Heather', 'Moor,');
  const done = await imported(edited);
  expect(done).toMatchObject({ state: 'done', added: 0, changed: 2, unchanged: 1 });
  expect((await lines()).slice(1).map((line) => line.replace(/^\d+,/u, ''))).toEqual(['Mill lane,"Heather, Lime"', 'Moor,', 'Quay,']);
  await ada.call(contract.takeBackImport, { params: importParams(app, done.id) });
  expect(await exported()).toBe(before);
});

test('a plan that sends two columns into one relationship, or one into another table’s, is refused', async () => {
  const into = (relationship: string): ColumnPlan => ({ kind: 'link', relationship });
  const [name, both] = ['Name,Forage,More\nX,Heather,Lime\n', (columns: ColumnPlan[]) => [columns[0]!, into('r_forage'), into('r_forage')]];
  expect((await imported(name, { columns: both })).message).toBe('Two columns go into Forage. Choose another field for one of them.');
  expect((await imported(name, { columns: (columns) => [columns[0]!, into('r_found'), { kind: 'skip' }] })).message).toContain('that this table does not have');
});

test('who does not see the other table gets no column for it', async () => {
  const bede = await it.person('Bede Lunn');
  const role = {
    id: 'ro_sites',
    name: 'Sites',
    description: '',
    everything: false,
    menu: [],
    grants: [{ id: 'g_1', table: 'sites', see: true, add: false, change: false, remove: false, export: true, condition: '', hidden: [], locked: [] }],
  };
  app = await ada.call(contract.changeDesign, {
    params: { app: app.id },
    body: { version: app.version, changes: [{ kind: 'put', part: 'role', value: role }] },
  });
  await it.server.people.join(app.id, bede.id, 'member', ['ro_sites']);
  const { bytes } = await bede.download(contract.exportRecords, { app: app.id, table: 'sites' });
  expect(Buffer.from(bytes).toString()).toContain('Record number,Name\r\n');
});
