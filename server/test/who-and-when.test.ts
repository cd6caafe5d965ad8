import { contract, type DesignChange, type FieldPlan, type Value } from '@bibliona/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { field, makeApp, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

/** Who wrote a record and when, as formulas: shown, sorted by and asked of by conditions as any other value. */
let it: TestServer;
let [ada, bede]: Caller[] = [];
let at: { readonly app: string; readonly table: string };
const formula = (id: string, name: string, expression: string): FieldPlan => field('formula', id, name, { expression });
const onlyMine: DesignChange = {
  kind: 'put',
  part: 'query',
  value: {
    id: 'q_bede',
    name: 'Changed by Bede',
    description: '',
    section: '',
    table: 'lots',
    condition: 'changed by() = "Bede Lunn" and changed at() >= created at()',
    columns: [{ id: 'c_code', name: 'Code', expression: 'Code', summary: null, digits: null }],
    order: [],
    limit: null,
  },
};

beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
  const other = await it.person('Bede Lunn');
  bede = other;
  const fields = [
    field('text', 'l_code', 'Code'),
    formula('l_by', 'Created by', 'created by()'),
    formula('l_at', 'Created at', 'created at()'),
    formula('l_last', 'Changed by', 'changed by()'),
    formula('l_when', 'Changed at', 'changed at()'),
  ];
  const app = await makeApp(ada, 'Who', [table('lots', 'Lots', fields), onlyMine]);
  await it.server.people.join(app.id, other.id, 'builder');
  at = { app: app.id, table: 'lots' };
});
afterAll(() => it.close());

const write = (caller: Caller, writes: readonly object[]) => caller.call(contract.saveRecords, { params: { app: at.app }, body: { key: saveKey(), writes } });
const rows = async (query: Record<string, string> = {}): Promise<readonly Record<string, Value>[]> =>
  (await ada!.call(contract.readPage, { params: at, query: { limit: '50', ...query } })).records.map((record) => record.values);

test('a record says who added it, who changed it last, and when', async () => {
  await write(bede!, [{ kind: 'add', table: 'lots', as: 'b', values: { l_code: 'B' } }]);
  await write(ada!, [{ kind: 'add', table: 'lots', as: 'a', values: { l_code: 'A' } }]);
  const [b] = await rows();
  expect(b).toMatchObject({ l_by: 'Bede Lunn', l_last: 'Bede Lunn', l_when: b?.['l_at'] });
  expect(Math.abs(Date.parse(`${String(b?.['l_at'])}Z`) - Date.now())).toBeLessThan(60_000);
  await write(ada!, [{ kind: 'change', table: 'lots', id: 1, rev: 1, values: { l_code: 'B2' } }]);
  const [changed] = await rows();
  expect(changed).toMatchObject({ l_by: 'Bede Lunn', l_last: 'Ada Roke', l_at: b?.['l_at'] });
  expect(String(changed?.['l_when']) > String(changed?.['l_at'])).toBe(true);
});

test('a list is sorted by them, and conditions ask for them', async () => {
  expect((await rows({ sort: 'l_by', direction: 'up' })).map((row) => row['l_code'])).toEqual(['A', 'B2']);
  expect((await rows({ sort: 'l_when', direction: 'down' })).map((row) => row['l_code'])).toEqual(['B2', 'A']);
  const ask = () => ada!.call(contract.readQuery, { params: { app: at.app, query: 'q_bede' }, query: {} });
  expect((await ask()).rows).toEqual([]);
  await write(bede!, [{ kind: 'change', table: 'lots', id: 2, rev: 1, values: { l_code: 'A2' } }]);
  expect((await ask()).rows.map((row) => row.cells)).toEqual([['A2']]);
});
