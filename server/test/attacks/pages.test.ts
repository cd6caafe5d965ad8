import { contract, grantOf, type DesignChange, type OpenApp, type Page } from '@bibliona/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { field, honey, makeApp, saveKey, table, testServer, type Caller, type TestServer } from '../support.js';

/** What a member is told of an app, and pages that they open by address instead of by their menu. */
let it: TestServer;
let builder: Caller;
let keeper: Caller & { readonly id: number };
let app: OpenApp;
const column = (id: string, name: string, expression: string) => ({ id, name, expression, summary: null, digits: null });
const source = { table: 'hives', condition: 'Rent > 7', columns: [column('c_code', 'Code', 'Code'), column('c_secret', 'Secret rent', 'Rent')] };
const part = (id: string) => ({ id, name: id, description: '', section: '' });
const menu: readonly Page[] = [
  { kind: 'list', list: 'l_hives' },
  { kind: 'query', query: 'q_open' },
];
const design: readonly DesignChange[] = [
  ...honey,
  table('ledger', 'Secret ledger', [field('text', 'le_secret', 'Secret entry'), field('whole', 'le_sum', 'Secret sum')]),
  { kind: 'add_field', table: 'hives', field: field('formula', 'h_twice', 'Twice', { expression: 'Rent * 2', digits: null }) },
  { kind: 'change_table', table: 'hives', checks: [{ id: 'ck', condition: 'Rent < 4711', message: 'Too dear.' }] },
  { kind: 'put', part: 'query', value: { ...part('q_open'), ...source, order: [], limit: null } },
  { kind: 'put', part: 'query', value: { ...part('q_closed'), ...source, order: [], limit: null } },
  {
    kind: 'put',
    part: 'report',
    value: {
      ...part('rep_closed'),
      source: { kind: 'table', ...source },
      fields: [{ column: 'c_code', share: 4, wraps: true, total: null }],
      groups: [],
      order: [],
      arrangement: 'columns',
      paper: { size: 'a4', turned: false },
    },
  },
  {
    kind: 'put',
    part: 'dashboard',
    value: {
      ...part('da_closed'),
      tiles: [
        {
          kind: 'figure',
          id: 'ti_closed',
          name: 'Closed',
          place: { x: 0, y: 0, w: 4, h: 4 },
          source: { kind: 'table', ...source },
          column: null,
          summary: 'count',
          target: null,
          judgement: null,
        },
      ],
    },
  },
  {
    kind: 'put',
    part: 'automation',
    value: {
      ...part('au_secret'),
      isOn: true,
      table: 'hives',
      on: 'added',
      fields: [],
      moves: [],
      condition: '',
      steps: [{ kind: 'mail', id: 'st_mail', to: { kind: 'address', expression: '"boss@quillmoor.example"' }, subject: 'Secret subject', body: '{Rent}' }],
    },
  },
  {
    kind: 'put',
    part: 'role',
    value: {
      id: 'boss',
      name: 'Boss',
      description: '',
      everything: false,
      menu: [],
      grants: [grantOf('g_boss', 'ledger', { condition: 'Secret sum > 12345' })],
    },
  },
  {
    kind: 'put',
    part: 'role',
    value: {
      id: 'keeper',
      name: 'Keeper',
      description: '',
      everything: false,
      menu,
      grants: [grantOf('g_keeper', 'hives', { export: true, change: true, condition: 'Code != "H-2"', hidden: ['h_rent'] })],
    },
  },
];
beforeAll(async () => {
  it = await testServer();
  [builder, keeper] = [await it.person('Ada Roke'), await it.person('Bede Lunn')];
  app = await makeApp(builder, 'Pages', design);
  await it.server.people.join(app.id, keeper.id, 'member', ['keeper']);
  const hive = (code: string) => ({ kind: 'add', table: 'hives', as: code, values: { h_code: code, h_rent: '10' } });
  await builder.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes: [hive('H-1'), hive('H-2')] } });
});
afterAll(() => it.close());

test('a member is sent what their rights reach, and a builder who looks as them no more', async () => {
  const theirs = await keeper.send('GET', `/api/apps/${app.id}`);
  const looked = await builder.send('GET', `/api/apps/${app.id}`, undefined, { 'x-look-as': 'role:keeper' });
  for (const answer of [theirs, looked]) {
    const text = JSON.stringify(answer.body);
    for (const secret of ['Secret', 'le_', 'h_rent', 'Rent', '4711', 'boss', 'H-2', 'Too dear', 'closed', 'apiaries"}'])
      expect([secret, text.includes(secret)]).toEqual([secret, false]);
    expect(text).toContain('"h_code"');
  }
  const open = theirs.body as OpenApp;
  expect(open.design.tables.find((each) => each.id === 'hives')?.fields.find((each) => each.id === 'h_twice')).toMatchObject({ expression: '?' });
  // What is computed from what they do not see is empty, as everywhere.
  const { records } = await keeper.call(contract.readPage, { params: { app: app.id, table: 'hives' } });
  expect(records.map((record) => [record.values['h_code'], record.values['h_twice']])).toEqual([['H-1', null]]);
});

test('a member is not told how many tables there are', async () => {
  const tables = async (person: Caller) => (await person.call(contract.listApps)).apps.find((each) => each.id === app.id)?.tables;
  expect([await tables(builder), await tables(keeper)]).toEqual([expect.any(Number), null]);
});

test('queries, reports and dashboards open to whom they are in the menu of, by address too', async () => {
  const at = { app: app.id };
  const answer = await keeper.call(contract.readQuery, { params: { ...at, query: 'q_open' } });
  expect(answer).not.toHaveProperty('ledger');
  const closed = [
    [contract.readQuery, { query: 'q_closed' }],
    [contract.readQueryValues, { query: 'q_closed' }],
    [contract.readQueryGroups, { query: 'q_closed' }],
    [contract.exportQuery, { query: 'q_closed' }],
    [contract.printQuery, { query: 'q_closed' }],
    [contract.readReport, { report: 'rep_closed' }],
    [contract.printReport, { report: 'rep_closed' }],
    [contract.readTile, { dashboard: 'da_closed', tile: 'ti_closed' }],
    [contract.readBehind, { dashboard: 'da_closed', tile: 'ti_closed' }],
  ] as const;
  for (const [route, params] of closed) {
    const none = Object.fromEntries(Object.keys(params).map((name) => [name, 'none_such']));
    const [refused, absent] = [await keeper.refused(route, { params: { ...at, ...params } }), await keeper.refused(route, { params: { ...at, ...none } })];
    expect([route.path, refused.status, refused.body]).toEqual([route.path, 404, absent.body]);
    expect((await builder.send('GET', builder.path(route, { ...at, ...params }))).status).toBe(200);
  }
});
