import { contract, isReference, mostPickedValues, type DesignChange, type OpenApp, type SavedQuery, type Value } from '@bibliona/core';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { column, putQuery } from './saved-queries.js';
import { honey, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

/** Rows of a saved query as someone goes through them: searched, picked by values, sorted, page by page. */
let it: TestServer;
let ada: Caller;
let guest: Caller;
let app: OpenApp;

const query = (id: string, more: Partial<SavedQuery>): DesignChange => putQuery(id, 'hives', more);
const all = [
  column('code', 'Code'),
  column('apiary', 'Apiary'),
  column('stores', 'Stores'),
  column('gentle', 'Gentle'),
  column('rent', 'Rent * 2'),
  column('notes', 'Notes'),
];
const order = [{ column: 'code', direction: 'up' }] as const;

beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Wren');
  app = await makeApp(ada, 'Picked', [
    ...honey,
    query('q_all', { columns: all, order }),
    query('q_first', { columns: all, order, limit: 10 }),
    query('q_chosen', { columns: all, order, quickFilters: ['stores', 'code'] }),
    query('q_sums', {
      columns: [column('apiary', 'Apiary'), column('stores', 'Stores'), column('count', '', 'count'), column('most', 'Rent', 'largest')],
      order: [{ column: 'count', direction: 'down' }],
    }),
  ]);
  const pick = <T>(values: readonly T[], i: number): T | undefined => values[i % values.length];
  await ada.call(contract.saveRecords, {
    params: { app: app.id },
    body: {
      key: saveKey(),
      writes: [
        ...['Brackmoor', 'Heron Mere', '100% Heath'].map((a_name, i) => ({ kind: 'add', table: 'apiaries', as: `a${i}`, values: { a_name } })),
        ...Array.from({ length: 47 }, (_, i) => ({
          kind: 'add',
          table: 'hives',
          as: `h${i}`,
          values: {
            h_code: `H-${100 + i}`,
            h_rent: pick(['1.50', null, '12'], i),
            h_stores: pick(['low', 'full', null, 'fair', 'low'], i),
            h_gentle: pick([true, false, null], i),
            h_notes: pick(['Quiet', 'quiet at_dusk', null, 'a long note', 'Quiet', 'split "x"', '5% loss'], i),
            ...(i % 4 === 3 ? {} : { h_apiary: { added: `a${i % 3}` } }),
          },
        })),
      ],
    },
  });
  guest = await it.person('Bede Larkin');
});
afterAll(() => it.close());

type Asked = Readonly<Record<string, string | number>>;
const read = (id: string, asked: Asked = {}) => ada.call(contract.readQuery, { params: { app: app.id, query: id }, query: { limit: 1000, ...asked } });
const picks = (...narrowed: readonly { readonly column: string; readonly values: readonly (string | number | boolean | null)[] }[]): string =>
  JSON.stringify(narrowed);
const own = (value: Value): string | number | boolean | null => (isReference(value) ? value.id : value);

test('every value that is offered leaves as many rows as it says, and together they leave what all of them show', async () => {
  for (const id of ['q_all', 'q_first', 'q_sums']) {
    const { rows, columns, found } = await read(id);
    expect(found).toBe(rows.length);
    const offered = await ada.call(contract.readQueryValues, { params: { app: app.id, query: id }, query: {} });
    expect(offered.columns.length).toBeGreaterThan(1);
    for (const { column: name, values, more } of offered.columns) {
      const at = columns.findIndex((each) => each.id === name);
      if (!more) expect(values.reduce((sum, each) => sum + each.count, 0)).toBe(rows.length);
      for (const { value, count } of values) {
        const picked = await read(id, { only: picks({ column: name, values: [own(value)] }) });
        expect([id, name, value, picked.found, picked.rows]).toEqual([id, name, value, count, rows.filter((row) => own(row.cells[at] ?? null) === own(value))]);
      }
    }
  }
});

test('groups are what the rows are that share values, level by level, with the sums of what was counted', async () => {
  const groupings = {
    q_all: [['apiary'], ['rent'], ['stores', 'gentle'], ['notes', 'apiary', 'stores']],
    q_first: [['gentle', 'rent']],
    q_sums: [[], ['stores'], ['count', 'most']],
  };
  for (const [id, all] of Object.entries(groupings))
    for (const by of all)
      for (const asked of [{}, { search: 'h' }, { only: picks({ column: 'stores', values: ['Fair', null] }) }]) {
        const { rows, columns } = await read(id, asked);
        const answer = await ada.call(contract.readQueryGroups, {
          params: { app: app.id, query: id },
          query: { ...asked, by: JSON.stringify(['gone', ...by].slice(-3)) },
        });
        expect([answer.by, answer.sums]).toEqual([by, id === 'q_sums' ? ['count'] : []]);
        const at = (name: string): number => columns.findIndex((each) => each.id === name);
        for (const [depth, { groups, more }] of answer.levels.entries()) {
          expect(more).toBe(false);
          expect(new Set(groups.map(({ values }) => JSON.stringify(values))).size).toBe(groups.length);
          expect(groups.reduce((sum, group) => sum + group.count, 0)).toBe(rows.length);
          for (const { values, count, sums } of groups) {
            expect(values).toHaveLength(depth);
            const within = rows.filter((row) => values.every((value, i) => JSON.stringify(row.cells[at(by[i] ?? '')] ?? null) === JSON.stringify(value)));
            expect([id, by, values, count]).toEqual([id, by, values, within.length]);
            if (depth > 0 && Object.keys(asked).length === 0) {
              // As a group is opened.
              const opened = await read(id, { only: picks(...values.map((value, i) => ({ column: by[i] ?? '', values: [own(value)] }))) });
              expect([id, by, values, opened.rows]).toEqual([id, by, values, within]);
            }
            if (id === 'q_sums' && rows.length > 0) expect(Number(sums[0])).toBe(within.reduce((sum, row) => sum + Number(row.cells[at('count')]), 0));
          }
        }
        expect(answer.levels).toHaveLength(by.length + 1);
      }
  // In the order of their choices.
  const { levels } = await ada.call(contract.readQueryGroups, { params: { app: app.id, query: 'q_all' }, query: { by: '["stores"]' } });
  expect(levels[1]?.groups.map(({ values }) => values[0])).toEqual(['Low', 'Fair', 'Full', null]);
});

test('a query that says by which columns offers these, whatever is in them', async () => {
  const offered = async (asked: Asked = {}) => (await ada.call(contract.readQueryValues, { params: { app: app.id, query: 'q_chosen' }, query: asked })).columns;
  const [code, stores, ...others] = await offered();
  expect([code?.column, stores?.column, others]).toEqual(['code', 'stores', []]);
  // All are different: so many of them are offered, and any can be picked.
  expect([code?.values.length, code?.more]).toEqual([mostPickedValues, true]);
  const last = (await read('q_chosen')).rows.at(-1)?.cells[0] as string;
  expect(code?.values.some((each) => each.value === last)).toBe(false);
  expect((await offered({ only: picks({ column: 'code', values: [last] }) }))[0]?.values).toContainEqual({ value: last, count: 1 });
  // What is picked by another column, in an address of before, can be taken back.
  const before = await offered({ only: picks({ column: 'gentle', values: [true] }) });
  expect(before.map((each) => each.column)).toEqual(['code', 'stores', 'gentle']);
});

test('the same columns are offered whatever is picked, with the counts that the others leave', async () => {
  const offered = (asked: Asked) => ada.call(contract.readQueryValues, { params: { app: app.id, query: 'q_all' }, query: asked });
  const names = ({ columns }: Awaited<ReturnType<typeof offered>>) => columns.map((each) => each.column);
  const all = await offered({});
  // Codes are all different, and numbers are no values to pick by.
  expect(names(all)).toEqual(['apiary', 'stores', 'gentle', 'notes']);
  for (const asked of [{ only: picks({ column: 'stores', values: ['Fair'] }, { column: 'gentle', values: [true] }) }, { search: 'none such' }]) {
    const answer = await offered(asked);
    expect(names(answer)).toEqual(names(all));
    for (const { column: name, values } of answer.columns) {
      const others = JSON.stringify((JSON.parse(asked.only ?? '[]') as { column: string }[]).filter((each) => each.column !== name));
      const { found } = await read('q_all', { ...asked, only: others });
      expect([name, values.reduce((sum, each) => sum + each.count, 0)]).toEqual([name, found]);
    }
  }
});

test('what is picked and searched is what is left of all rows, in any combination', async () => {
  const { rows, columns } = await read('q_all');
  const at = (name: string): number => columns.findIndex((each) => each.id === name);
  const words = (cells: readonly Value[]): string =>
    cells
      .flatMap((cell) => (cell === null || typeof cell === 'boolean' ? [] : [isReference(cell) ? cell.caption : String(cell)]))
      .join('\n')
      .toLowerCase();
  const anyPick = fc.constantFrom(
    { column: 'stores', values: ['Low', null] },
    { column: 'stores', values: ['Full'] },
    { column: 'gentle', values: [true] },
    { column: 'gentle', values: [false, null] },
    { column: 'apiary', values: [1, 3] },
    { column: 'apiary', values: [null] },
    { column: 'notes', values: ['Quiet', 'split "x"'] },
  );
  const search = fc.constantFrom('', 'quiet', '%', '_', 'H-11', 'heath low', '"x"', 'none such', ' mere  QUIET ');
  await fc.assert(
    fc.asyncProperty(fc.uniqueArray(anyPick, { maxLength: 2, selector: (each) => each.column }), search, async (only, text) => {
      const answer = await read('q_all', { search: text, only: JSON.stringify(only) });
      const wanted = rows.filter(
        ({ cells }) =>
          only.every((pick) => (pick.values as readonly unknown[]).includes(own(cells[at(pick.column)] ?? null))) &&
          text
            .toLowerCase()
            .split(' ')
            .every((word) => words(cells).includes(word)),
      );
      expect(answer.rows).toEqual(wanted);
      expect(answer.found).toBe(wanted.length);
    }),
    { numRuns: 60 },
  );
});

test('rows come page by page in the order asked for, each of them once', async () => {
  const sorted = await read('q_all', { sort: 'rent', direction: 'down' });
  const pages = await Promise.all(
    [0, 20, 40].map((skip) => read('q_all', { sort: 'rent', direction: 'down', limit: 20, skip, count: skip === 0 ? 'yes' : 'no' })),
  );
  expect(pages.map((page) => page.found)).toEqual([47, null, null]);
  expect(pages.flatMap((page) => page.rows)).toEqual(sorted.rows);
  const rents = sorted.rows.map((row) => row.cells[4]);
  expect(rents).toEqual([...Array<string>(15).fill('24'), ...Array<string>(16).fill('3'), ...Array<null>(16).fill(null)]);
  expect(new Set(sorted.rows.map((row) => row.id)).size).toBe(47);
});

test('what is counted or summed up in each row is summed up over the rows that are picked', async () => {
  const sum = (rows: readonly { readonly cells: readonly Value[] }[], at: number): string =>
    String(rows.reduce((all, row) => all + Number(row.cells[at] ?? 0), 0));
  for (const asked of [{}, { only: picks({ column: 'stores', values: ['Low', null] }) }]) {
    const { rows, sums } = await read('q_sums', asked);
    expect(sums).toEqual({ count: sum(rows, 2) });
  }
  expect((await read('q_all')).sums).toEqual({});
  expect((await read('q_sums', { search: 'none such' })).sums).toEqual({ count: null });
});

test('a query that keeps its first rows keeps the same ones however they are sorted and picked', async () => {
  const codes = (rows: readonly { readonly cells: readonly Value[] }[]) => rows.map((row) => row.cells[0]).sort();
  const first = codes((await read('q_first')).rows);
  expect(first).toHaveLength(10);
  expect(codes((await read('q_first', { sort: 'code', direction: 'down' })).rows)).toEqual(first);
  const low = await read('q_first', { only: picks({ column: 'stores', values: ['Low'] }), sort: 'code', direction: 'down' });
  expect(low.rows.map((row) => row.cells[0])).toEqual(['H-109', 'H-105', 'H-104', 'H-100']);
});

test('a file holds the rows that were picked, and what names no column picks nothing', async () => {
  const at = { app: app.id, query: 'q_all' };
  const { bytes } = await ada.download(contract.exportQuery, at, {
    only: picks({ column: 'stores', values: ['Fair'] }),
    search: 'heath',
    sort: 'code',
    direction: 'down',
  });
  const lines = new TextDecoder().decode(bytes).trim().split('\r\n');
  const rows = (await read('q_all', { only: picks({ column: 'stores', values: ['Fair'] }), search: 'heath', sort: 'code', direction: 'down' })).rows;
  expect(rows.length).toBeGreaterThan(0);
  expect(lines.slice(1).map((line) => line.split(',')[0])).toEqual(rows.map((row) => row.cells[0]));
  expect((await read('q_all', { only: picks({ column: 'gone', values: [1] }), sort: 'gone' })).found).toBe(47);
  for (const only of ['nonsense', '[{"column":"code","values":[]}]', '[{"column":"code","values":[{}]}]'])
    expect((await ada.refused(contract.readQuery, { params: at, query: { only } })).status).toBe(400);
  for (const route of [contract.readQueryValues, contract.readQueryGroups]) expect((await guest.refused(route, { params: at, query: {} })).status).toBe(404);
});
