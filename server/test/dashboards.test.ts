import { contract, type Dashboard, type DesignChange, type OpenApp, type Tile } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { honey, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

const column = (id: string, name: string, expression: string, summary: 'count' | 'sum' | null = null) => ({ id, name, expression, summary, digits: null });
const place = { x: 0, y: 0, w: 4, h: 4 };
const hives = (columns: readonly ReturnType<typeof column>[], condition = '') => ({ kind: 'table', table: 'hives', condition, columns: [...columns] }) as const;
const chart = (id: string, label: ReturnType<typeof column>, more: Partial<Extract<Tile, { kind: 'bars' }>> = {}): Tile => ({
  kind: 'bars',
  id,
  name: id,
  place,
  source: hives([label, column('c_rent', 'Rent', 'Rent', 'sum')]),
  label: label.id,
  value: 'c_rent',
  order: 'label',
  most: 24,
  ...more,
});
const tiles: readonly Tile[] = [
  {
    kind: 'figure',
    id: 'ti_rent',
    name: 'Rent',
    place,
    source: hives([column('c_rent', 'Rent', 'Rent')], 'Gentle = true'),
    column: 'c_rent',
    summary: 'sum',
    target: null,
    judgement: null,
  },
  { kind: 'figure', id: 'ti_count', name: 'Hives', place, source: hives([]), column: null, summary: 'count', target: 3, judgement: null },
  chart('ti_site', column('c_site', 'Apiary', 'Apiary')),
  chart('ti_stores', column('c_stores', 'Stores', 'Stores')),
  chart('ti_gentle', column('c_gentle', 'Gentle', 'Gentle')),
  chart('ti_since', column('c_since', 'Since', 'Since')),
  chart('ti_year', column('c_year', 'Queen', 'Queen year'), { order: 'value', most: 2 }),
  chart('ti_month', column('c_month', 'Month', 'date(Since.year, Since.month, 1)')),
  chart('ti_years', column('c_years', 'Year', 'date(Since.year, 1, 1)')),
  chart('ti_code', column('c_code', 'Initial', 'substring(Code, 1, 1)')),
];
const dashboard: Dashboard = { id: 'da_season', name: 'Season', description: '', section: '', tiles };

describe('a dashboard', () => {
  let it: TestServer;
  let ada: Caller;
  let wren: Caller & { readonly id: number };
  let app: OpenApp;
  const at = (tile: string): Record<string, string> => ({ app: app.id, dashboard: 'da_season', tile });
  beforeAll(async () => {
    it = await testServer();
    ada = await it.person('Ada Wren');
    wren = await it.person('Wren Holt');
    app = await makeApp(ada, 'Shown', honey);
    const hive = (as: string, apiary: string | null, values: object) => ({
      kind: 'add',
      table: 'hives',
      as,
      values: { h_code: as, ...values, ...(apiary === null ? {} : { h_apiary: { added: apiary } }) },
    });
    const writes = [
      { kind: 'add', table: 'apiaries', as: 'otter', values: { a_name: 'Ottermere' } },
      { kind: 'add', table: 'apiaries', as: 'pike', values: { a_name: 'Pike Hollow' } },
      hive('a1', 'otter', { h_rent: '10.5', h_gentle: true, h_stores: 'low', h_since: '2024-05-17', h_year: 2023 }),
      hive('a2', 'otter', { h_rent: '0.25', h_gentle: false, h_stores: 'full', h_since: '2024-05-01', h_year: 2024 }),
      hive('b1', 'pike', { h_rent: '4', h_gentle: true, h_stores: 'low', h_since: '2025-05-01', h_year: 2024 }),
      hive('b2', null, { h_rent: null, h_gentle: null, h_stores: null, h_since: null, h_year: null }),
    ];
    await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
    const grant = (table: string, condition: string, hidden: string[]) => ({
      id: `g_${table}`,
      table,
      see: true,
      add: false,
      change: false,
      remove: false,
      export: false,
      condition,
      hidden,
      locked: [],
    });
    const keeper = { id: 'keeper', name: 'Keeper', description: '', everything: false, menu: [] };
    const changes: DesignChange[] = [
      { kind: 'put', part: 'dashboard', value: dashboard },
      { kind: 'put', part: 'role', value: { ...keeper, grants: [grant('hives', 'Apiary.Name = "Ottermere"', ['h_stores'])] } },
    ];
    app = await ada.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes } });
    await it.sql(`INSERT INTO bibliona.app_person (app_id, person_id, role, roles) VALUES ($1, $2, 'member', '{keeper}')`, [app.id, wren.id]);
  });
  afterAll(() => it.close());

  const tile = (who: Caller, id: string) => who.call(contract.readTile, { params: at(id) });
  const points = async (who: Caller, id: string): Promise<unknown[]> => {
    const answer = await tile(who, id);
    return answer.kind === 'series' ? answer.points.map((point) => [point.label, point.value]) : [];
  };

  test('summarises in figures, exactly, over the rows that meet the condition', async () => {
    expect(await tile(ada, 'ti_rent')).toEqual({
      kind: 'figure',
      value: '14.5',
      type: 'number',
      digits: null,
      unit: null,
      isAmount: true,
      rows: 2,
      seen: 'all',
    });
    expect(await tile(ada, 'ti_count')).toMatchObject({ value: '4', rows: 4 });
    expect(await tile(wren, 'ti_rent')).toMatchObject({ value: '10.5', rows: 1 });
    // It is said that this counts only a part, and nothing is counted for who sees no record.
    expect(await tile(wren, 'ti_count')).toMatchObject({ value: '2', seen: 'part' });
    const stranger = await it.person('Sees Nothing');
    await it.server.people.join(app.id, stranger.id, 'member', []);
    const asked = { params: at('ti_count') };
    expect((await stranger.refused(contract.readTile, asked)).status).toBe(404);
    expect(await ada.send('GET', ada.path(contract.readTile, at('ti_count')), undefined, { 'x-look-as': 'role:team' })).toMatchObject({
      body: { seen: 'all' },
    });
  });

  test('draws one point per value of the label, the most first where that is asked, and says how many more there are', async () => {
    expect(await points(ada, 'ti_stores')).toEqual([
      ['Low', '14.5'],
      ['Full', '0.25'],
      [null, null],
    ]);
    expect(await tile(ada, 'ti_year')).toMatchObject({ points: [{ label: '2023', value: '10.5' }, { label: '2024' }], more: 1 });
  });

  test('takes dates together by month and by year', async () => {
    expect(await points(ada, 'ti_month')).toEqual([
      ['2024-05-01', '10.75'],
      ['2025-05-01', '4'],
      [null, null],
    ]);
    expect(await points(ada, 'ti_years')).toEqual([
      ['2024-01-01', '10.75'],
      ['2025-01-01', '4'],
      [null, null],
    ]);
  });

  test('shows the records behind each point: together they are all, and they sum up to it', async () => {
    for (const { id } of tiles.filter((each) => each.kind === 'bars' && each.id !== 'ti_year')) {
      const answer = await tile(ada, id);
      if (answer.kind !== 'series') throw new Error('A chart without points');
      let found = 0;
      for (const point of answer.points) {
        const behind = await ada.call(contract.readBehind, { params: at(id), query: { label: JSON.stringify(point.label) } });
        const rent = behind.columns.findIndex((each) => each.id === 'h_rent');
        const sum = behind.rows.reduce((total, row) => total + Number(row.cells[rent] ?? 0), 0);
        expect([id, point.label, sum]).toEqual([id, point.label, Number(point.value ?? 0)]);
        found += behind.rows.length;
      }
      expect([id, found]).toEqual([id, 4]);
    }
    expect((await ada.call(contract.readBehind, { params: at('ti_rent') })).rows).toHaveLength(2);
  });

  test('does not guess which records are behind a label that is summarised itself', async () => {
    const summed: Dashboard = { ...dashboard, id: 'da_summed', name: 'Summed', tiles: [chart('ti_summed', column('c_summed', 'All rent', 'Rent', 'sum'))] };
    app = await ada.call(contract.changeDesign, {
      params: { app: app.id },
      body: { version: app.version, changes: [{ kind: 'put', part: 'dashboard', value: summed }] },
    });
    const params = { app: app.id, dashboard: 'da_summed', tile: 'ti_summed' };
    const refused = await ada.refused(contract.readBehind, { params, query: { label: '"10.5"' } });
    expect(refused.body.message).toBe("All rent is a summary itself, so the records behind its values can't be shown.");
    expect((await ada.call(contract.readBehind, { params })).rows).toHaveLength(4);
    const gone: DesignChange = { kind: 'remove', part: 'dashboard', id: 'da_summed' };
    app = await ada.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes: [gone] } });
  });

  test('shows each person what is theirs alone, behind the points too', async () => {
    expect(await points(wren, 'ti_stores')).toEqual([[null, '10.75']]);
    const low = await wren.call(contract.readBehind, { params: at('ti_stores'), query: { label: '"Low"' } });
    expect(low.rows).toEqual([]);
    expect((await wren.call(contract.readBehind, { params: at('ti_count') })).rows).toHaveLength(2);
  });

  test('tells what a tile gives while it is being made, and what is wrong with it', async () => {
    const [first] = tiles;
    expect(await ada.call(contract.tryTile, { params: { app: app.id }, body: { tile: first } })).toMatchObject({ value: '14.5' });
    const wrong = { ...first, source: hives([column('c_rent', 'Rent', 'Rnt')]) };
    expect((await ada.refused(contract.tryTile, { params: { app: app.id }, body: { tile: wrong } })).body.message).toContain('Rnt');
    expect((await ada.refused(contract.readTile, { params: at('ti_none') })).status).toBe(404);
  });

  test('loses its tiles with their table, and its expressions follow a field that is renamed', async () => {
    const rename: DesignChange = {
      kind: 'change_field',
      table: 'hives',
      field: { kind: 'decimal', id: 'h_rent', name: 'Fee', description: '', required: false, unique: false, digits: 2, default: null },
    };
    app = await ada.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes: [rename] } });
    expect(await tile(ada, 'ti_rent')).toMatchObject({ value: '14.5' });
    const removed = { version: app.version, changes: [{ kind: 'remove', part: 'table', id: 'hives' }], acceptLoss: true };
    app = await ada.call(contract.changeDesign, { params: { app: app.id }, body: removed });
    expect(app.design.dashboards).toMatchObject([{ tiles: [] }]);
  });
});
