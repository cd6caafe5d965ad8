import {
  contract,
  grantOf,
  listFor,
  plainList,
  type AppDesign,
  type DesignChange,
  type List,
  type Narrowing,
  type OpenApp,
  type RecordAnswer,
} from '@bibliona/core';
import { narrowedCondition } from '@bibliona/core/language';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { honey, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

/** Lists: which records they show to whom, in which order, grouped, narrowed and coloured. */
let it: TestServer;
let ada: Caller & { id: number };
let ben: Caller & { id: number };
let app: OpenApp;
let rows: readonly RecordAnswer[];

const list = (id: string, name: string, more: Partial<List>): DesignChange => ({
  kind: 'put',
  part: 'list',
  value: { ...plainList, id, table: 'hives', name, roles: [], isDefault: false, columns: ['h_code', 'h_year'], ...more },
});
const at = (query: Readonly<Record<string, string | number>> = {}) => ({ params: { app: app.id, table: 'hives' }, query });
const only = (...narrowed: readonly object[]): string => JSON.stringify(narrowed);

beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada');
  ben = await it.person('Ben');
  app = await makeApp(ada, 'Moor honey', [
    ...honey,
    {
      kind: 'put',
      part: 'role',
      value: {
        id: 'keeper',
        name: 'Keeper',
        description: '',
        everything: false,
        menu: [],
        grants: [grantOf('g_a', 'apiaries'), grantOf('g_h', 'hives', { condition: 'Gentle = true', hidden: ['h_rent'] })],
      },
    },
    list('li_order', 'By stores and year', {
      order: [
        { field: 'h_stores', direction: 'down' },
        { field: 'h_year', direction: 'up' },
        { field: 'h_rent', direction: 'down' },
      ],
      condition: 'Queen year != 2021',
    }),
    list('li_groups', 'Grouped', {
      groupBy: ['h_apiary', 'h_since', 'h_stores'],
      sums: ['h_rent', 'h_year'],
      quickFilters: ['h_stores', 'h_apiary', 'h_since', 'h_gentle', 'h_rent'],
    }),
    list('li_chart', 'As a chart', { arrangement: { kind: 'chart', by: 'h_stores', sum: 'h_rent' }, sums: ['h_year'] }),
    list('li_odd', 'Odd', { groupBy: ['h_stores'], sums: ['h_code', 'h_rent'] }),
    list('li_tones', 'Coloured', {
      tones: [
        { id: 't_old', name: 'Old queen', condition: 'Queen year < 2021', tone: 'gold' },
        { id: 't_low', name: 'Low stores', condition: 'Stores = "Low"', tone: 'red' },
      ],
    }),
    list('li_keepers', 'Of keepers', { roles: ['keeper'], isDefault: true, condition: 'Queen year > 2021' }),
  ]);
  await ada.call(contract.saveRecords, {
    params: { app: app.id },
    body: {
      key: saveKey(),
      writes: ['Heron Mere', 'Brackmoor', 'Äpfel'].map((name, i) => ({ kind: 'add', table: 'apiaries', as: `a${i}`, values: { a_name: name } })),
    },
  });
  const value = <T>(i: number, of: readonly T[]): T | null => of[i % (of.length + 1)] ?? null;
  await ada.call(contract.saveRecords, {
    params: { app: app.id },
    body: {
      key: saveKey(),
      writes: Array.from({ length: 90 }, (_, i) => ({
        kind: 'add',
        table: 'hives',
        as: `h${i}`,
        values: {
          h_code: `H-${i}`,
          h_year: value(i, [2020, 2021, 2022, 2023]),
          h_rent: value(Math.floor(i / 2), ['10', '2.5', '0.25']),
          h_since: value(Math.floor(i / 3), ['2026-01-31', '2026-02-01', '2026-02-28', '2025-12-31']),
          h_gentle: value(Math.floor(i / 5), [true, false]),
          h_stores: value(Math.floor(i / 7), ['low', 'fair', 'full']),
          h_apiary: value(Math.floor(i / 4), [1, 2, 3]),
        },
      })),
    },
  });
  await it.server.people.join(app.id, ben.id, 'member', ['keeper'], {});
  rows = (await ada.call(contract.readPage, at({ limit: 500 }))).records;
  app = await ada.call(contract.openApp, { params: { app: app.id } });
});
afterAll(() => it.close());

const design = (): AppDesign => app.design as AppDesign;
const ids = (records: readonly RecordAnswer[]): readonly number[] => records.map((record) => record.id);

describe('a list', () => {
  /** As PostgreSQL is asked by hand. */
  const byHand = async (where: string, order: string): Promise<readonly number[]> =>
    (
      await it.sql<{ id: string }>(
        `SELECT h.id FROM "app_${app.id}".hives AS h LEFT JOIN "app_${app.id}".apiaries AS a ON a.id = h.apiary WHERE ${where} ORDER BY ${order}`,
      )
    ).map((row) => Number(row.id));
  const stores = `array_position(ARRAY['low','fair','full'], h.stores)`;

  test('shows what meets its condition in the order of several fields, empty values last', async () => {
    const wanted = await byHand('h.queen_year IS DISTINCT FROM 2021', `${stores} DESC NULLS LAST, h.queen_year ASC NULLS LAST, h.rent DESC NULLS LAST, h.id`);
    expect(ids((await ada.call(contract.readPage, at({ list: 'li_order', limit: 500 }))).records)).toEqual(wanted);
    expect((await ada.call(contract.countPage, at({ list: 'li_order', exact: 'yes' }))).count).toBe(wanted.length);
    expect(wanted.length).toBeGreaterThan(30);
  });

  test('is read page by page, and skipped through, without a record twice or none', async () => {
    const whole = ids((await ada.call(contract.readPage, at({ list: 'li_order', limit: 500 }))).records);
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 1, max: 20 }), fc.integer({ min: 1, max: 60 }), async (limit, skip) => {
        const found: number[] = [];
        let after: string | undefined;
        do {
          const page = await ada.call(contract.readPage, at({ list: 'li_order', limit, ...(after === undefined ? {} : { after }) }));
          found.push(...ids(page.records));
          after = page.next === null ? undefined : JSON.stringify(page.next);
        } while (after !== undefined);
        expect(found).toEqual(whole);
        const { skipped, next } = await ada.call(contract.readPlace, at({ list: 'li_order', skip }));
        expect(skipped).toBe(Math.min(skip, whole.length));
        const rest = await ada.call(contract.readPage, at({ list: 'li_order', limit: 500, after: JSON.stringify(next) }));
        expect(ids(rest.records)).toEqual(whole.slice(skip));
      }),
      { numRuns: 12 },
    );
  });

  test('is walked by previous and next in the same order', async () => {
    const whole = ids((await ada.call(contract.readPage, at({ list: 'li_order', limit: 500 }))).records);
    for (const [i, id] of whole.entries())
      expect(await ada.call(contract.readNeighbours, { params: { app: app.id, table: 'hives', id }, query: { list: 'li_order' } })).toEqual({
        previous: whole[i - 1] ?? null,
        next: whole[i + 1] ?? null,
      });
  });

  test('is sorted otherwise for who asks for it', async () => {
    const wanted = await byHand('h.queen_year IS DISTINCT FROM 2021', 'h.queen_year DESC NULLS LAST, h.id DESC');
    const { records } = await ada.call(contract.readPage, at({ list: 'li_order', sort: 'h_year', direction: 'down', limit: 500 }));
    expect(ids(records)).toEqual(wanted);
  });

  test('groups and sums as SQL by hand does, level by level', async () => {
    const { levels, by, sums } = await ada.call(contract.readGroups, at({ list: 'li_groups' }));
    expect([by, sums]).toEqual([
      ['h_apiary', 'h_since', 'h_stores'],
      ['h_rent', 'h_year'],
    ]);
    const parts = ['a.name', `to_char(h.since, 'YYYY-MM-01')`, `initcap(h.stores)`];
    for (const [depth, level] of levels.entries()) {
      const groups = parts.slice(0, depth);
      const wanted = await it.sql<{ names: (string | null)[]; n: number; rent: string | null; year: string | null }>(
        `SELECT ARRAY[${groups.join(', ')}]::text[] AS names, count(*)::int AS n, trim_scale(sum(h.rent))::text AS rent, sum(h.queen_year)::text AS year
         FROM "app_${app.id}".hives AS h LEFT JOIN "app_${app.id}".apiaries AS a ON a.id = h.apiary ${groups.length === 0 ? '' : `GROUP BY ${groups.join(', ')}`}`,
      );
      const said = (names: readonly unknown[], n: number, rest: readonly unknown[]): string => JSON.stringify([names, n, ...rest]);
      expect(
        level.groups
          .map((group) =>
            said(
              group.values.map((value) => (value !== null && typeof value === 'object' ? value.caption : value)),
              group.count,
              group.sums,
            ),
          )
          .sort(),
      ).toEqual(wanted.map((row) => said(row.names, row.n, [row.rent, row.year])).sort());
    }
    // By name, by month, and by the order of the choices; what is empty comes last.
    expect(levels[1]?.groups.map((group) => (group.values[0] as { caption: string } | null)?.caption ?? null)).toEqual([
      'Äpfel',
      'Brackmoor',
      'Heron Mere',
      null,
    ]);
    const stored = await ada.call(contract.readGroups, at({ list: 'li_groups', by: '["h_stores"]' }));
    expect(stored.levels[1]?.groups.map((group) => group.values[0])).toEqual(['Low', 'Fair', 'Full', null]);
  });

  test('counts the values of its quick filters, each without its own choice', async () => {
    const all = await ada.call(contract.readQuickFilters, at({ list: 'li_groups' }));
    const count = (field: string, of: readonly RecordAnswer[] = rows): Record<string, number> =>
      of.reduce<Record<string, number>>((sums, row) => {
        const value = row.values[field] ?? null;
        const key =
          value === null ? 'empty' : typeof value === 'object' ? value.caption : field === 'h_since' ? `${String(value).slice(0, 7)}-01` : String(value);
        return { ...sums, [key]: (sums[key] ?? 0) + 1 };
      }, {});
    const told = (answer: typeof all, field: string): Record<string, number> =>
      Object.fromEntries(
        answer.filters
          .find((filter) => filter.field === field)
          ?.values.map(({ value, count: n }) => [value === null ? 'empty' : typeof value === 'object' ? value.caption : String(value), n]) ?? [],
      );
    expect(told(all, 'h_apiary')).toEqual(count('h_apiary'));
    expect(told(all, 'h_since')).toEqual(count('h_since'));
    expect(told(all, 'h_gentle')).toEqual(count('h_gentle'));
    const narrowed = only({ field: 'h_apiary', values: [1, null] }, { field: 'h_stores', values: ['Low'] });
    const fewer = await ada.call(contract.readQuickFilters, at({ list: 'li_groups', narrowed }));
    const isHere = (row: RecordAnswer): boolean => row.values['h_apiary'] === null || (row.values['h_apiary'] as { id: number }).id === 1;
    expect(told(fewer, 'h_apiary')).toEqual(
      count(
        'h_apiary',
        rows.filter((row) => row.values['h_stores'] === 'low'),
      ),
    );
    expect(told(fewer, 'h_since')).toEqual(
      count(
        'h_since',
        rows.filter((row) => isHere(row) && row.values['h_stores'] === 'low'),
      ),
    );
  });

  test('is narrowed by any value that a quick filter or a group tells', async () => {
    const { filters } = await ada.call(contract.readQuickFilters, at({ list: 'li_groups' }));
    for (const { field, values } of filters)
      for (const { value, count } of values) {
        const chosen = value !== null && typeof value === 'object' ? value.id : value;
        const query = { list: 'li_groups', narrowed: only({ field, values: [chosen] }) };
        expect([field, value, (await ada.call(contract.countPage, at({ ...query, exact: 'yes' }))).count]).toEqual([field, value, count]);
        expect((await ada.call(contract.readPage, at({ ...query, limit: 500 }))).records).toHaveLength(count);
      }
  });

  test('is kept for others with a condition that says what it is narrowed to', async () => {
    const { filters } = await ada.call(contract.readQuickFilters, at({ list: 'li_groups' }));
    const chosen = (field: string): readonly (string | number | boolean | null)[] =>
      (filters.find((filter) => filter.field === field)?.values ?? []).map(({ value }) => (value !== null && typeof value === 'object' ? value.id : value));
    const all: readonly (readonly Narrowing[])[] = [
      ...filters.flatMap(({ field }) => chosen(field).map((value) => [{ field, values: [value] }])),
      ...filters.map(({ field }) => [{ field, values: chosen(field).slice(1) }]),
      [{ field: 'h_since', from: '2026-01-31', before: '2026-02-28' }],
      [
        { field: 'h_stores', values: ['Low', null] },
        { field: 'h_apiary', values: [1, 2] },
      ],
    ];
    expect(all.length).toBeGreaterThan(20);
    for (const narrowed of all) {
      const expression = narrowedCondition(design(), 'hives', 'Queen year != 2021', narrowed);
      const { met } = await ada.call(contract.tryExpression, { params: { app: app.id, table: 'hives' }, body: { expression: expression ?? '' } });
      const { count } = await ada.call(contract.countPage, at({ list: 'li_order', narrowed: only(...narrowed), exact: 'yes' }));
      expect([expression, met]).toEqual([expression, count]);
    }
    expect(narrowedCondition(design(), 'hives', '', [])).toBe('');
    expect(narrowedCondition(design(), 'hives', '', [{ field: 'h_code', values: ['H-"1"'] }])).toBe('Code = "H-\\"1\\""');
    expect(narrowedCondition(design(), 'hives', '', [{ field: 'h_none', values: ['x'] }])).toBeNull();
  });

  test('is narrowed by days, from one on up to before another', async () => {
    const { records } = await ada.call(contract.readPage, at({ narrowed: only({ field: 'h_since', from: '2026-01-31', before: '2026-02-28' }), limit: 500 }));
    expect(ids(records)).toEqual(await byHand(`h.since >= '2026-01-31' AND h.since < '2026-02-28'`, 'h.id'));
    expect(records.length).toBeGreaterThan(10);
  });

  test('colours a record by the first condition that it meets', async () => {
    const { records } = await ada.call(contract.readPage, at({ list: 'li_tones', limit: 500 }));
    for (const { values, tone } of records) {
      const year = values['h_year'];
      const wanted =
        typeof year === 'number' && year < 2021
          ? { name: 'Old queen', tone: 'gold' }
          : values['h_stores'] === 'low'
            ? { name: 'Low stores', tone: 'red' }
            : undefined;
      expect(tone).toEqual(wanted);
    }
  });

  test.each([
    ['a field to narrow by that is none', { narrowed: only({ field: 'h_none', values: ['x'] }) }],
    ['a field without short values', { narrowed: only({ field: 'h_notes', values: ['x'] }) }],
    ['days of a field that is no date', { narrowed: only({ field: 'h_code', from: '2026-01-01', before: '2026-02-01' }) }],
    ['days that are none', { narrowed: only({ field: 'h_since', from: '2026-99-99', before: 'x' }) }],
    ['no list of what narrows it', { narrowed: '{"field":"h_code"}' }],
    ['no JSON', { narrowed: '[' }],
    ['a place of another order', { list: 'li_order', after: '{"value":"x","then":["y",1],"id":1}' }],
  ])('refuses %s', async (_, query) => {
    expect((await ada.refused(contract.readPage, at(query))).status).toBe(400);
  });

  test('sums only what adds up', async () => {
    const { sums, levels } = await ada.call(contract.readGroups, at({ list: 'li_odd' }));
    expect([sums, levels[0]?.groups[0]?.sums.length]).toEqual([['h_rent'], 1]);
  });

  test('of a chart sums what the chart shows too', async () => {
    const { sums, levels } = await ada.call(contract.readGroups, at({ list: 'li_chart', by: '["h_stores"]' }));
    expect(sums).toEqual(['h_year', 'h_rent']);
    const wanted = await it.sql<{ rent: string | null }>(`SELECT trim_scale(sum(rent))::text AS rent FROM "app_${app.id}".hives WHERE stores = 'low'`);
    expect(levels[1]?.groups[0]).toMatchObject({ values: ['Low'], sums: [expect.anything(), wanted[0]?.rent] });
  });

  test('an unknown list is the one that the table opens with', async () => {
    expect(ids((await ada.call(contract.readPage, at({ list: 'li_none', limit: 500 }))).records)).toEqual(ids(rows));
  });
});

describe('a member', () => {
  const theirs = () => rows.filter((row) => row.values['h_gentle'] === true);

  test('opens with the list of their role', async () => {
    const { records } = await ben.call(contract.readPage, at({ limit: 500 }));
    expect(ids(records)).toEqual(ids(theirs().filter((row) => typeof row.values['h_year'] === 'number' && row.values['h_year'] > 2021)));
    const told = (await ben.call(contract.openApp, { params: { app: app.id } })).design.lists.find((each) => each.id === 'li_keepers');
    expect(told).toMatchObject({ condition: '', roles: ['keeper'] });
  });

  test('finds in groups, sums and quick filters only what they can see', async () => {
    const { levels, sums } = await ben.call(contract.readGroups, at({ list: 'li_groups' }));
    expect(sums).toEqual(['h_year']);
    expect(levels[0]?.groups).toEqual([
      {
        values: [],
        count: theirs().length,
        sums: [String(theirs().reduce((sum, row) => sum + (typeof row.values['h_year'] === 'number' ? row.values['h_year'] : 0), 0))],
      },
    ]);
    const { filters } = await ben.call(contract.readQuickFilters, at({ list: 'li_groups' }));
    expect(filters.map((filter) => filter.field)).toEqual(['h_stores', 'h_apiary', 'h_since', 'h_gentle']);
    expect(filters.at(-1)?.values).toEqual([{ value: true, count: theirs().length }]);
  });

  test('is shown no sum of a hidden field in a chart, and a list in place of a chart by one', async () => {
    const { sums } = await ben.call(contract.readGroups, at({ list: 'li_chart', by: '["h_stores"]' }));
    expect(sums).toEqual(['h_year']);
    const told = (await ben.call(contract.openApp, { params: { app: app.id } })).design.lists.find((each) => each.id === 'li_chart');
    expect(told?.arrangement).toEqual({ kind: 'chart', by: 'h_stores' });
  });

  test('learns nothing of a hidden field by grouping or narrowing by it', async () => {
    expect((await ben.refused(contract.readGroups, at({ by: '["h_rent"]' }))).status).toBe(400);
    const counts = await Promise.all(
      ['10', '2.5', '77'].map(
        async (value) =>
          (await ben.call(contract.countPage, at({ list: 'li_groups', narrowed: only({ field: 'h_rent', values: [value] }), exact: 'yes' }))).count,
      ),
    );
    expect(counts).toEqual([0, 0, 0]);
  });
});

describe('the design', () => {
  const put = (value: List) =>
    ada.refused(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes: [{ kind: 'put', part: 'list', value }] } });

  test('refuses a second default of a role', async () => {
    const { value } = list('li_second', 'Second', { roles: ['keeper'], isDefault: true }) as { value: List };
    const answer = await put(value);
    expect([answer.status, answer.body.message]).toEqual([422, 'Two lists of Hives are the default of Keeper. Only one can be.']);
  });

  test('refuses to group by long texts, and a calendar without a date', async () => {
    const own = listFor(design(), 'hives');
    expect((await put({ ...own, groupBy: ['h_notes'] })).status).toBe(422);
    expect((await put({ ...own, arrangement: { kind: 'calendar', day: 'h_code' } })).status).toBe(422);
  });

  test('goes back to a grid when the field of a board goes', async () => {
    const builder = await it.person('Cleo');
    let made = await makeApp(builder, 'Board', [
      ...honey,
      list('li_board', 'Board', { arrangement: { kind: 'board', by: 'h_stores' }, quickFilters: ['h_stores', 'h_year'] }),
    ]);
    made = await builder.call(contract.changeDesign, {
      params: { app: made.id },
      body: { version: made.version, changes: [{ kind: 'remove_field', table: 'hives', field: 'h_stores' }] },
    });
    expect(made.design.lists.find((each) => each.id === 'li_board')).toMatchObject({ arrangement: { kind: 'grid' }, quickFilters: ['h_year'] });
  });
});
