import {
  contract,
  grantOf,
  loadKinds,
  fieldKindNames,
  localeOf,
  plainList,
  printValue,
  tableOf,
  type AppDesign,
  type DesignChange,
  type List,
  type OpenApp,
} from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { field, honey, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

/** Lists, reports and tiles that anyone can see: what a visitor learns, and through whose eyes. */
let it: TestServer;
let ada: Caller & { id: number };
let member: Caller & { id: number };
let visitor: Caller;
let app: OpenApp;

const open = { role: 'guest', sites: ['https://moor.example'] } as const;
const columns = ['h_code', 'h_year', 'h_apiary', 'h_rent', 'h_gentle', 'h_photo', 'h_keeper', 'h_twice'];
const list = (id: string, more: Partial<List> = {}): DesignChange => ({
  kind: 'put',
  part: 'list',
  value: { ...plainList, id, table: 'hives', name: `List ${id}`, roles: [], isDefault: false, columns, ...more },
});
const rows = { kind: 'table', table: 'hives', condition: '' } as const;
const code = { id: 'c_code', name: 'Code', expression: 'Code', summary: null, digits: null } as const;
const count = { id: 'c_count', name: 'How many', expression: '', summary: 'count', digits: null } as const;
const named = { description: '', section: '' } as const;
const report = (id: string, more: object): DesignChange => ({
  kind: 'put',
  part: 'report',
  value: {
    ...named,
    id,
    name: `Report ${id}`,
    source: { ...rows, columns: [code] },
    fields: [{ column: 'c_code', share: 4, wraps: true, total: 'count' }],
    groups: [],
    order: [],
    arrangement: 'columns',
    paper: { size: 'a4', turned: false },
    ...more,
  },
});
const place = { x: 0, y: 0, w: 4, h: 4 };

beforeAll(async () => {
  await loadKinds(fieldKindNames);
  it = await testServer();
  ada = await it.person('Ada');
  member = await it.person('Bede');
  visitor = it.caller();
  app = await makeApp(ada, 'Moor honey', [
    ...honey,
    { kind: 'add_field', table: 'hives', field: field('image', 'h_photo', 'Photo') },
    { kind: 'add_field', table: 'hives', field: field('person', 'h_keeper', 'Looked after by') },
    { kind: 'add_field', table: 'hives', field: field('formula', 'h_twice', 'Next year', { expression: 'Queen year + 1' }) },
    {
      kind: 'put',
      part: 'role',
      value: {
        id: 'guest',
        name: 'Guest',
        description: 'secret words',
        everything: false,
        menu: [],
        grants: [grantOf('g_hives', 'hives', { hidden: ['h_rent'], condition: 'Stores != "Low"' }), grantOf('g_apiaries', 'apiaries', {})],
      },
    },
    {
      kind: 'put',
      part: 'role',
      value: { id: 'blind', name: 'Blind', description: '', everything: false, menu: [], grants: [] },
    },
    list('all', { public: open, tones: [{ id: 't_old', name: 'Old queen', condition: 'Queen year < 2022', tone: 'gold' }] }),
    list('some', {
      public: open,
      // Made for others, whose roles visitors don't have.
      roles: ['blind'],
      condition: 'Gentle = true',
      order: [
        { field: 'h_year', direction: 'down' },
        { field: 'h_code', direction: 'up' },
      ],
      arrangement: { kind: 'cards' },
    }),
    list('unseen', { public: { role: 'blind', sites: [] } }),
    list('inside'),
    report('rep_open', { public: open }),
    report('rep_inside', {}),
    {
      kind: 'put',
      part: 'dashboard',
      value: {
        ...named,
        id: 'da',
        name: 'Season',
        tiles: [
          {
            kind: 'figure',
            id: 'ti_open',
            name: 'Hives',
            place,
            source: { ...rows, columns: [] },
            column: null,
            summary: 'count',
            target: null,
            judgement: null,
            public: open,
          },
          {
            kind: 'bars',
            id: 'ti_inside',
            name: 'Codes',
            place: { ...place, x: 4 },
            source: { ...rows, columns: [code, count] },
            label: 'c_code',
            value: 'c_count',
            order: 'label',
            most: 10,
          },
        ],
      },
    },
  ]);
  await it.server.people.join(app.id, member.id, 'member');
  await ada.call(contract.changePerson, { params: { app: app.id, person: member.id }, body: { role: 'member', roles: ['guest'], ties: {} } });
  const stores = ['low', 'fair', 'full'];
  await ada.call(contract.saveRecords, {
    params: { app: app.id },
    body: {
      key: saveKey(),
      writes: [
        { kind: 'add', table: 'apiaries', as: 'a', values: { a_name: 'Moor' } },
        ...Array.from({ length: 180 }, (_, i) => ({
          kind: 'add',
          table: 'hives',
          as: `h${i}`,
          values: { h_code: `H-${i}`, h_year: 2018 + (i % 9), h_rent: '7.25', h_gentle: i % 2 === 0, h_stores: stores[i % 3], h_apiary: { added: 'a' } },
        })),
      ],
    },
  });
});
afterAll(() => it.close());

const read = (name: string, after = 0) => visitor.call(contract.readPublishedList, { params: { app: app.id, list: name }, query: { after } });

/** What somebody of the role reads of the same list, printed. */
async function asMember(name: string): Promise<readonly (readonly string[])[]> {
  const { design, formulas } = await ada.call(contract.openApp, { params: { app: app.id } });
  expect(formulas['h_twice']).toBe('number');
  const { records } = await member.call(contract.readPage, { params: { app: app.id, table: 'hives' }, query: { list: name, limit: 500 } });
  const table = tableOf(design as AppDesign, 'hives');
  const locale = localeOf((design as AppDesign).region, (design as AppDesign).timeZone);
  const shown = ['h_code', 'h_year', 'h_apiary', 'h_gentle', 'h_twice'].flatMap((id) => table.fields.filter((each) => each.id === id));
  return records.map(({ values }) => shown.map((each) => printValue(each, values[each.id] ?? null, locale)));
}

describe('a list that is published', () => {
  test('shows visitors what its role sees, in its order, page after page', async () => {
    const pages = [await read('all'), await read('all', 50), await read('all', 100)];
    expect(pages.map((page) => [page.rows.length, page.more])).toEqual([
      [50, true],
      [50, true],
      [20, false],
    ]);
    expect(pages[0]).toMatchObject({ name: 'List all', arrangement: 'rows' });
    expect(pages[0]?.columns).toEqual([
      { name: 'Code', isNumber: false },
      { name: 'Queen year', isNumber: true },
      { name: 'Apiary', isNumber: false },
      { name: 'Gentle', isNumber: false },
      { name: 'Next year', isNumber: true },
    ]);
    const cells = pages.flatMap((page) => page.rows.map((row) => row.cells));
    expect(cells).toHaveLength(120);
    expect(cells).toEqual(await asMember('all'));
    expect(new Set(cells.map(([, , apiary]) => apiary))).toEqual(new Set(['Moor']));
    for (const {
      cells: [, year],
      tone,
    } of pages.flatMap((page) => page.rows))
      expect(tone).toEqual(Number(year) < 2022 ? { tone: 'gold', name: 'Old queen' } : null);
  });

  test('is read once for all who come within seconds', async () => {
    const first = await read('some');
    const flip = (): Promise<unknown> => it.sql(`UPDATE "app_${app.id}".hives SET gentle = NOT gentle`);
    await flip();
    for (const page of await Promise.all(Array.from({ length: 40 }, () => read('some')))) expect(page).toEqual(first);
    await flip();
  });

  test('is read past its end without a row', async () => {
    expect(await read('all', 150)).toMatchObject({ rows: [], more: false });
  });

  test('keeps its condition and order where it is made for other roles', async () => {
    const { rows: shown, arrangement } = await read('some');
    expect(arrangement).toBe('slips');
    const years = shown.map(({ cells: [, year] }) => Number(year));
    expect(years).toEqual(years.toSorted((a, b) => b - a));
    const [{ n } = { n: '' }] = await it.sql<{ n: string }>(`SELECT count(*) AS n FROM "app_${app.id}".hives WHERE gentle AND stores <> 'low'`);
    expect(await read('some', 50)).toMatchObject({ more: false, rows: { length: Number(n) - 50 } });
  });

  test('shows nothing of what its role does not see', async () => {
    expect(await read('unseen')).toEqual({ name: 'List unseen', arrangement: 'rows', columns: [], rows: [], more: false });
  });

  test('tells nothing else of the app', async () => {
    const answer = await visitor.send('GET', visitor.path(contract.readPublishedList, { app: app.id, list: 'all' }));
    const text = JSON.stringify(answer.body);
    for (const word of ['secret', 'Rent', '7.25', 'Photo', 'Looked after', 'Low', '"id"', '"rev"', 'guest']) expect(text, word).not.toContain(word);
  });
});

describe('a report and a tile that are published', () => {
  test('show what their role sees', async () => {
    const pages = await visitor.call(contract.readPublishedReport, { params: { app: app.id, report: 'rep_open' } });
    expect(pages).toMatchObject({ name: 'Report rep_open', rows: 120, of: expect.any(Number) as number });
    const { tile, answer } = await visitor.call(contract.readPublishedTile, { params: { app: app.id, dashboard: 'da', tile: 'ti_open' } });
    expect(answer).toMatchObject({ kind: 'figure', value: '120', rows: 120, seen: 'all' });
    expect(tile.source).toEqual({ kind: 'table', table: 'rows', condition: '', columns: [] });
    expect(tile.public).toBeUndefined();
  });
});

describe('what is not published', () => {
  const nothing = 'There is nothing at this address, or it is no longer public.';
  test('is not there', async () => {
    const asked = [
      visitor.refused(contract.readPublishedList, { params: { app: app.id, list: 'inside' } }),
      visitor.refused(contract.readPublishedList, { params: { app: app.id, list: 'no_such' } }),
      visitor.refused(contract.readPublishedList, { params: { app: 'no_such', list: 'all' } }),
      visitor.refused(contract.readPublishedReport, { params: { app: app.id, report: 'rep_inside' } }),
      visitor.refused(contract.readPublishedTile, { params: { app: app.id, dashboard: 'da', tile: 'ti_inside' } }),
    ];
    for (const { status, body } of await Promise.all(asked)) expect([status, body.message]).toEqual([404, nothing]);
  });

  test('is no longer there at once, and is never told to members', async () => {
    const { version } = await ada.call(contract.openApp, { params: { app: app.id } });
    const theirs = JSON.stringify((await member.call(contract.openApp, { params: { app: app.id } })).design);
    for (const word of ['moor.example', '"public"']) expect(theirs, word).not.toContain(word);
    await ada.call(contract.changeDesign, { params: { app: app.id }, body: { version, changes: [list('all'), report('rep_open', {})] } });
    expect((await visitor.refused(contract.readPublishedList, { params: { app: app.id, list: 'all' } })).status).toBe(404);
    expect((await visitor.refused(contract.readPublishedReport, { params: { app: app.id, report: 'rep_open' } })).status).toBe(404);
    // Without the role through which visitors see them the others are for people of the app again.
    await ada.call(contract.changePerson, { params: { app: app.id, person: member.id }, body: { role: 'member', roles: [], ties: {} } });
    const gone = { kind: 'remove', part: 'role', id: 'guest' } as const;
    await ada.call(contract.changeDesign, { params: { app: app.id }, body: { version: version + 1, changes: [gone], acceptLoss: true } });
    const { design } = await ada.call(contract.openApp, { params: { app: app.id } });
    expect((design as AppDesign).lists.find((each) => each.id === 'some')?.public).toBeUndefined();
    expect((await visitor.refused(contract.readPublishedTile, { params: { app: app.id, dashboard: 'da', tile: 'ti_open' } })).status).toBe(404);
  });
});

test('pages of other sites can show only what was published for them', async () => {
  const policyOf = async (path: string): Promise<string> => (await visitor.send('GET', path)).headers.get('content-security-policy') ?? '';
  await ada.call(contract.changeDesign, {
    params: { app: app.id },
    body: {
      version: (await ada.call(contract.openApp, { params: { app: app.id } })).version,
      changes: [list('framed', { public: { role: 'blind', sites: ['https://moor.example'] } })],
    },
  });
  expect(await policyOf(`/public/${app.id}/list/framed`)).toContain('frame-ancestors https://moor.example');
  for (const path of [
    `/public/${app.id}/list/inside`,
    `/public/${app.id}/framed`,
    `/public/${app.id}/report/framed`,
    `/public/${app.id}/nothing/framed`,
    `/desk/${app.id}`,
  ])
    expect(await policyOf(path), path).toContain("frame-ancestors 'none'");
});
