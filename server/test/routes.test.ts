import { contract, plainList, type DesignChange, type OpenApp, type HttpRoute } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { z } from 'zod';
import { honey, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

const codes = { id: 'c_code', name: 'Code', expression: 'Code', summary: null, digits: null } as const;
const count = { id: 'c_count', name: 'Count', expression: '', summary: 'count', digits: null } as const;
const named = { name: 'Codes', description: '', section: '' } as const;
const published = { role: 'team', sites: [] } as const;
const rows = { table: 'hives', condition: '', columns: [codes] };
const screens: readonly DesignChange[] = [
  { kind: 'put', part: 'query', value: { ...named, ...rows, id: 'q_codes', order: [], limit: null } },
  {
    kind: 'put',
    part: 'report',
    value: {
      ...named,
      id: 'rep_codes',
      source: { kind: 'table', ...rows },
      fields: [{ column: 'c_code', share: 4, wraps: true, total: 'count' }],
      groups: [],
      order: [],
      arrangement: 'columns',
      paper: { size: 'a4', turned: false },
      public: published,
    },
  },
  {
    kind: 'put',
    part: 'list',
    value: { ...plainList, id: 'l_hives', table: 'hives', name: 'Hives there', roles: [], isDefault: true, columns: ['h_code'], public: published },
  },
  {
    kind: 'put',
    part: 'route',
    value: {
      ...named,
      id: 'way_codes',
      table: 'hives',
      field: 'h_stores',
      statuses: [{ choice: 'low', kind: 'start' }],
      moves: [{ id: 'mo_codes', name: 'Fill', from: 'low', to: 'full', roles: [], guard: '', duty: 'should' }],
    },
  },
  {
    kind: 'put',
    part: 'automation',
    value: {
      ...named,
      id: 'au_codes',
      isOn: true,
      table: 'hives',
      on: 'added',
      fields: [],
      moves: [],
      condition: '',
      steps: [{ kind: 'change', id: 'st_codes', values: [{ field: 'h_code', itself: false, expression: '"H-2"' }] }],
    },
  },
  {
    kind: 'put',
    part: 'dashboard',
    value: {
      ...named,
      id: 'da_codes',
      tiles: [
        {
          kind: 'bars',
          id: 'ti_codes',
          name: 'Codes',
          place: { x: 0, y: 0, w: 4, h: 4 },
          source: { kind: 'table', ...rows, columns: [codes, count] },
          label: 'c_code',
          value: 'c_count',
          order: 'label',
          most: 10,
          public: published,
        },
      ],
    },
  },
  {
    kind: 'put',
    part: 'form',
    value: {
      id: 'fm_open',
      table: 'hives',
      name: 'Open',
      roles: [],
      isDefault: false,
      items: [{ kind: 'field', field: 'h_code', width: 6 }],
      public: { role: 'team', sites: [] },
    },
  },
];

/** Every route as every kind of person with missing, wrong, huge and hostile bodies: 4xx in words, and nothing changes. */
let it: TestServer;
let people: Record<'nobody' | 'stranger' | 'member' | 'builder', Caller>;
let app: OpenApp;
beforeAll(async () => {
  it = await testServer();
  const builder = await it.person('Ada Roke');
  const member = await it.person('Bede Lunn');
  people = { nobody: it.caller(), stranger: await it.person('Cold Spring'), member, builder };
  app = await makeApp(builder, 'Routes', [...honey, ...screens]);
  await it.server.people.join(app.id, member.id, 'member');
  await builder.call(contract.saveRecords, {
    params: { app: app.id },
    body: { key: firstSave, writes: [{ kind: 'add', table: 'hives', as: 'h', values: { h_code: 'H-1' } }] },
  });
});
afterAll(() => it.close());

const firstSave = saveKey();
const routes = Object.entries(contract) as [string, HttpRoute][];
const valid = (): Record<string, string | number> => ({
  app: app.id,
  table: 'hives',
  id: 1,
  query: 'q_codes',
  report: 'rep_codes',
  dashboard: 'da_codes',
  tile: 'ti_codes',
  route: 'way_codes',
  automation: 'au_codes',
  mail: '00000000-0000-4000-8000-000000000000',
  person: 999,
  token: 'x'.repeat(40),
  file: '00000000-0000-4000-8000-000000000000',
  import: '00000000-0000-4000-8000-000000000000',
  save: firstSave,
  list: 'l_hives',
  form: 'fm_open',
  comment: '00000000-0000-4000-8000-000000000000',
  own: '00000000-0000-4000-8000-000000000000',
  field: 'h_code',
  hash: 'ab'.repeat(32),
  invitation: '00000000-0000-4000-8000-000000000000',
});

/** All that a request could change. */
async function everything(): Promise<unknown> {
  const tables = [
    'bibliona.app',
    'bibliona.person',
    'bibliona.app_person',
    'bibliona.invitation',
    'bibliona.list_view',
    'bibliona.own_list',
    'bibliona.own_menu',
    'bibliona.opened_record',
    'bibliona.comment',
    'bibliona.public_form',
    'bibliona.public_entry',
    'bibliona.app_person_removed',
    'bibliona.reset',
    'bibliona.design_version',
    'bibliona.kept',
    'bibliona.import',
    'bibliona.made_file',
    'bibliona.run',
    'bibliona.mail',
    'bibliona.mailbox',
    'bibliona.file',
    'bibliona.file_use',
    `"app_${app.id}".hives`,
    `"app_${app.id}".apiaries`,
    `"app_${app.id}"._history`,
  ];
  return Promise.all(tables.map((name) => it.sql(`SELECT * FROM ${name} ORDER BY 1, 2`)));
}

test('the list of routes is not empty, and each is a route once', () => {
  expect(routes.length).toBeGreaterThan(20);
  expect(new Set(routes.map(([, route]) => `${route.method} ${route.path}`)).size).toBe(routes.length);
});

describe('who has access', () => {
  const expected = {
    anyone: { nobody: true, stranger: true, member: true, builder: true },
    person: { nobody: 401, stranger: true, member: true, builder: true },
    member: { nobody: 401, stranger: 404, member: true, builder: true },
    builder: { nobody: 401, stranger: 404, member: 403, builder: true },
    // The builder is the first person, who administers the server.
    admin: { nobody: 401, stranger: 403, member: 403, builder: true },
  } as const;
  test.each(routes)('%s', async (_, route) => {
    for (const [name, caller] of Object.entries(people).filter(([each]) => each !== 'builder')) {
      const allowed = expected[route.access][name as 'nobody'];
      if (allowed === true) continue;
      const before = await everything();
      const answer = await caller.send(route.method, caller.path(route, valid()), route.method === 'POST' ? {} : undefined);
      expect([name, answer.status]).toEqual([name, allowed]);
      expect((answer.body as { message: string }).message.length).toBeGreaterThan(10);
      expect(await everything()).toEqual(before);
    }
  });

  test('an app that is not there looks like one that is not theirs', async () => {
    const ask = (id: string) => people.stranger.send('GET', `/api/apps/${id}`);
    const [theirs, none] = [await ask(app.id), await ask('no_such_app')];
    expect(none).toMatchObject({ status: theirs.status, body: theirs.body as object });
  });
});

const deep = (levels: number): string => `${'['.repeat(levels)}${']'.repeat(levels)}`;
const hostile: readonly (readonly [string, unknown])[] = [
  ['nothing', ''],
  ['not JSON', '{"a":'],
  ['a word', '"text"'],
  ['null', 'null'],
  ['a list', []],
  ['no keys', {}],
  ['wrong types', { name: 1, email: [], password: {}, version: 'x', changes: 'all', writes: {}, key: 5, plan: null, direction: 7 }],
  ['huge numbers', { version: 1e300, key: saveKey(), writes: [{ kind: 'change', table: 'hives', id: 1e300, rev: -1, values: {} }] }],
  ['a NUL', { name: 'a\0b', email: 'a\0@b.example', password: 'x\0'.repeat(9), key: 'k\0' }],
  ['a prototype', '{"__proto__":{"admin":true},"constructor":{"prototype":{"x":1}}}'],
  [
    'SQL',
    {
      name: `'; DROP SCHEMA bibliona CASCADE; --`.repeat(3),
      email: `' OR 1=1 --`,
      password: `' OR 1=1 --`,
      key: `'`,
      writes: [{ kind: 'add', table: `hives"; DROP TABLE x; --`, as: 'a', values: {} }],
    },
  ],
  ['deep nesting', deep(20_000)],
  ['a long text', { name: 'x'.repeat(300_000) }],
  ['more than is taken', { name: 'x'.repeat(9_000_000) }],
];

describe('bad bodies', () => {
  test.each(routes.filter(([, route]) => route.method === 'POST' && route.upload !== true && route.path !== '/api/sign-out'))('%s', async (_, route) => {
    const before = await everything();
    for (const [name, body] of hostile) {
      const answer = await people.builder.send('POST', people.builder.path(route, valid()), body, { 'content-type': 'application/json' });
      expect([name, answer.status >= 400 && answer.status < 500, answer.status]).toEqual([name, true, answer.status]);
      expect([name, typeof (answer.body as { message: unknown }).message]).toEqual([name, 'string']);
    }
    expect(await everything()).toEqual(before);
  });

  test('a body of another sort than JSON is refused', async () => {
    for (const type of ['text/plain', 'application/x-www-form-urlencoded', 'multipart/form-data; boundary=x']) {
      const answer = await people.builder.send('POST', '/api/apps', 'name=x', { 'content-type': type });
      expect(answer.status).toBe(400);
    }
  });
});

describe('bad addresses', () => {
  const values = ['', '0', '-1', '1e9', '99999999999999999999', '%00', '%27%3B--', '..%2F..', 'x'.repeat(3000), '%F0%9F%90%9D', 'true', '{}', '%ff'];
  test.each(routes.filter(([, route]) => /:\w/u.test(route.path) && route.stream !== true))('%s', async (_, route) => {
    const before = await everything();
    for (const name of route.path.match(/:(\w+)/gu) ?? []) {
      for (const value of values) {
        const params = valid();
        const path = route.path.replace(/:(\w+)/gu, (each: string, key: string) => (each === name ? value : String(params[key])));
        const answer = await people.builder.send(route.method, path, route.method === 'POST' ? {} : undefined);
        expect([path.slice(0, 80), answer.status < 500]).toEqual([path.slice(0, 80), true]);
      }
    }
    expect(await everything()).toEqual(before);
  });

  test.each(routes.filter(([, route]) => route.method === 'GET' && route.stream !== true))('the query of %s', async (_, route) => {
    const texts = [
      '',
      '\0',
      "';--",
      '%',
      '\\',
      '{"value":"x","id":1}',
      '{"value":1,"id":1}',
      '{"value":{},"id":-5}',
      '[1]',
      'null',
      '1e400',
      'x'.repeat(5000),
      '\ud800',
    ];
    // What the route asks for, and one name that it does not know.
    for (const name of [...Object.keys((route.query as z.ZodObject).shape), 'x']) {
      for (const text of texts) {
        const query = new URLSearchParams({ ...(name === 'after' ? { sort: 'h_since' } : {}), [name]: text });
        const answer = await people.builder.send('GET', `${people.builder.path(route, valid())}?${query.toString()}`);
        expect([name, text.slice(0, 30), answer.status < 500]).toEqual([name, text.slice(0, 30), true]);
      }
    }
  });

  test('a place in a list of the wrong kind is refused for every field', async () => {
    for (const field of ['h_code', 'h_year', 'h_rent', 'h_since', 'h_gentle', 'h_stores', 'h_notes', 'h_apiary']) {
      for (const value of ['x', 1, 1.5, 1e200, true, null, '2026-02-30', '1e9', '9'.repeat(60)]) {
        const query = new URLSearchParams({ sort: field, after: JSON.stringify({ value, id: 1 }) });
        expect((await people.builder.send('GET', `/api/apps/${app.id}/tables/hives/page?${query.toString()}`)).status).toBeLessThan(500);
      }
    }
  });

  test('what is not there is not found', async () => {
    expect((await people.builder.send('GET', '/api/nothing')).status).toBe(404);
    expect((await people.builder.send('DELETE', `/api/apps/${app.id}`)).status).toBeLessThan(500);
    expect((await people.builder.send('GET', `/api/apps/${app.id}/tables/hives/records/99`)).status).toBe(404);
  });
});
