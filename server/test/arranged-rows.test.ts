/** What a board, a calendar, a timeline and a chart of the rows of a query are made of: rows of some days, and groups by months. */
import { contract, grantOf, type DesignChange, type OpenApp, type Value } from '@bibliona/core';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { column, putQuery } from './saved-queries.js';
import { field, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller & { id: number };
let app: OpenApp;
const zone = 'Australia/Sydney';

const columns = [column('day', 'Day'), column('at', 'Begins'), column('next', 'Day + duration("P30D")'), column('kind', 'Kind'), column('hours', 'Hours')];
const role: DesignChange = {
  kind: 'put',
  part: 'role',
  value: {
    id: 'yard',
    name: 'Yard',
    description: '',
    everything: false,
    menu: [{ kind: 'query', query: 'q_all' }],
    grants: [{ ...grantOf('g_visits', 'visits'), condition: 'Kind = "Feeding"' }],
  },
};

beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Wren');
  // Eleven hours ahead of Greenwich, or ten.
  const made = await ada.call(contract.makeApp, { body: { name: 'Arranged', timeZone: zone } });
  const changes: readonly DesignChange[] = [
    table('visits', 'Visits', [
      field('date', 'v_day', 'Day'),
      field('date_and_time', 'v_at', 'Begins'),
      field('choice', 'v_kind', 'Kind', {
        choices: [
          { id: 'feeding', label: 'Feeding' },
          { id: 'swarm', label: 'Swarm' },
        ],
      }),
      field('decimal', 'v_hours', 'Hours'),
    ]),
    putQuery('q_all', 'visits', { columns, arrangement: { kind: 'chart', by: 'day', sum: 'hours' } }),
    putQuery('q_sums', 'visits', { columns: [column('day', 'Day'), column('count', '', 'count')], arrangement: { kind: 'calendar', day: 'day' } }),
    role,
  ];
  app = await ada.call(contract.changeDesign, { params: { app: made.id }, body: { version: 1, changes } });
});
afterAll(() => it.close());

const read = (who: Caller, id: string, asked: object = {}) =>
  who.call(contract.readQuery, { params: { app: app.id, query: id }, query: { limit: 1000, ...asked } });
const groups = (who: Caller, id: string, by: readonly string[], asked: object = {}) =>
  who.call(contract.readQueryGroups, { params: { app: app.id, query: id }, query: { by: JSON.stringify(by), ...asked } });

const calendar = new Intl.DateTimeFormat('en-CA', { timeZone: zone });
/** The day of a cell on the clocks of the app. */
const dayOf = (value: Value): string | null => (typeof value !== 'string' ? null : value.endsWith('Z') ? calendar.format(new Date(value)) : value.slice(0, 10));
const monthOf = (value: Value): string | null => dayOf(value)?.replace(/\d\d$/u, '01') ?? null;

const visit = fc.record({
  v_day: fc.option(fc.date({ min: new Date('2026-01-01'), max: new Date('2026-04-30'), noInvalidDate: true }).map((day) => day.toISOString().slice(0, 10))),
  // Around midnight the day of the app is often another one than that of the clock in Greenwich.
  v_at: fc.option(
    fc
      .tuple(fc.constantFrom('2026-01-31', '2026-02-01', '2026-03-29', '2026-03-31', '2026-04-01'), fc.integer({ min: 0, max: 23 }))
      .map(([day, hour]) => `${day}T${String(hour).padStart(2, '0')}:30:00Z`),
  ),
  v_kind: fc.constantFrom('feeding', 'swarm', null),
  v_hours: fc.constantFrom('1.50', '2', null),
});

test('rows of some days, and the groups of months with their sums, are what the rows themselves say', async () => {
  const saved = fc.sample(visit, { numRuns: 80, seed: 7 });
  const writes = saved.map((values, i) => ({ kind: 'add', table: 'visits', as: `v${i}`, values }));
  await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes: writes as never } });
  const { rows, columns: told } = await read(ada, 'q_all');
  expect(rows).toHaveLength(80);
  expect(told.map((each) => each.type)).toEqual(['date', 'date and time', 'date', 'choice', 'number']);
  const cell = (row: (typeof rows)[number], id: string): Value => row.cells[told.findIndex((each) => each.id === id)] ?? null;

  for (const id of ['day', 'at', 'next']) {
    for (const [from, before] of [
      ['2026-02-01', '2026-03-01'],
      ['2026-03-29', '2026-04-01'],
      ['2026-03-31', '2026-04-01'],
      ['1000-01-01', '9999-12-31'],
      ['2026-05-01', '2026-05-01'],
    ] as const) {
      const within = rows.filter((row) => (dayOf(cell(row, id)) ?? '') >= from && (dayOf(cell(row, id)) ?? '9') < before).map((row) => row.id);
      const found = await read(ada, 'q_all', { only: JSON.stringify([{ column: id, from, before }]) });
      expect([id, from, found.rows.map((row) => row.id)]).toEqual([id, from, within]);
      expect(found.found).toBe(within.length);
    }
    const { levels, sums } = await groups(ada, 'q_all', [id, 'kind']);
    expect(sums).toEqual(['hours']);
    const months = [...new Set(rows.map((row) => monthOf(cell(row, id))))].sort((a, b) => ((a ?? '9') < (b ?? '9') ? -1 : 1));
    expect(levels[1]?.groups.map((group) => group.values[0])).toEqual(months);
    for (const { values, count, sums: added } of levels.flatMap((level) => level.groups)) {
      const within = rows.filter(
        (row) => (values.length < 1 || monthOf(cell(row, id)) === values[0]) && (values.length < 2 || cell(row, 'kind') === values[1]),
      );
      expect([id, values, count]).toEqual([id, values, within.length]);
      expect(Number(added[0] ?? 0)).toBe(within.reduce((sum, row) => sum + Number(cell(row, 'hours') ?? 0), 0));
      // What a group is opened with.
      const only = values.map((value, i) => ({ column: [id, 'kind'][i], values: [value] }));
      if (only.length > 0) expect((await read(ada, 'q_all', { only: JSON.stringify(only) })).rows.map((row) => row.id)).toEqual(within.map((row) => row.id));
    }
  }
  // Rows that sum up records are of days too.
  const march = await read(ada, 'q_sums', { only: '[{"column":"day","from":"2026-03-01","before":"2026-04-01"}]' });
  const inMarch = saved.filter(({ v_day }) => v_day !== null && v_day >= '2026-03-01' && v_day < '2026-04-01');
  expect(Number(march.sums['count'])).toBe(inMarch.length);
  expect(march.rows.every((row) => row.id === null && String(row.cells[0]).startsWith('2026-03'))).toBe(true);
});

test('a member’s days and months are of the records that they see', async () => {
  const bea = await it.person('Bea Lune');
  await it.server.people.join(app.id, bea.id, 'member', ['yard'], {});
  const { rows } = await read(bea, 'q_all');
  expect(rows.length).toBeGreaterThan(0);
  expect(rows.length).toBeLessThan(80);
  expect(new Set(rows.map((row) => row.cells[3]))).toEqual(new Set(['Feeding']));
  const { levels } = await groups(bea, 'q_all', ['day']);
  expect(levels[1]?.groups.reduce((sum, group) => sum + group.count, 0)).toBe(rows.length);
  // They know how the query is arranged, and nothing else of what it is made of.
  const own = await bea.call(contract.openApp, { params: { app: app.id } });
  expect(own.design.queries).toMatchObject([{ id: 'q_all', columns: [], arrangement: { kind: 'chart', by: 'day', sum: 'hours' } }]);
});

test('days that are none are refused, and those of a column without days pick nothing', async () => {
  const at = { app: app.id, query: 'q_all' };
  const days = (from: string, before = '2026-04-01') => JSON.stringify([{ column: 'day', from, before }]);
  for (const only of [
    days('2026-3-1'),
    days('2026-02-31'),
    days('0000-01-01'),
    days('2026-03-01', ''),
    '[{"column":"day","from":"2026-03-01"}]',
    '[{"column":"day"}]',
  ])
    expect((await ada.refused(contract.readQuery, { params: at, query: { only } })).status).toBe(400);
  expect((await read(ada, 'q_all', { only: '[{"column":"kind","from":"2026-03-01","before":"2026-04-01"}]' })).found).toBe(80);
});

test('a query is not arranged by a column that it does not have', async () => {
  const { version } = await ada.call(contract.openApp, { params: { app: app.id } });
  const { body } = await ada.refused(contract.changeDesign, {
    params: { app: app.id },
    body: { version, changes: [putQuery('q_bad', 'visits', { columns, arrangement: { kind: 'timeline', from: 'day', to: 'gone' } })] as never },
  });
  expect(body.message).toBe('q_bad is arranged by a column that it does not have');
});
