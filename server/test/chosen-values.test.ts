/** Values by which rows are narrowed are told whatever the rows are by now: what they are called, and how many rows have them. */
import { contract, grantOf, plainList, type DesignChange, type OpenApp, type Value } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { honey, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller;
let ben: Caller & { id: number };
let app: OpenApp;

const column = (id: string, expression: string) => ({ id, name: id, expression, summary: null, digits: null });
const changes: readonly DesignChange[] = [
  ...honey,
  {
    kind: 'put',
    part: 'list',
    value: {
      ...plainList,
      id: 'li_hives',
      table: 'hives',
      name: 'All',
      roles: [],
      isDefault: false,
      columns: ['h_code'],
      quickFilters: ['h_apiary', 'h_year'],
    },
  },
  {
    kind: 'put',
    part: 'query',
    value: {
      id: 'q_hives',
      name: 'Hives',
      description: '',
      section: '',
      table: 'hives',
      condition: 'Queen year > 0',
      columns: [column('code', 'Code'), column('apiary', 'Apiary')],
      order: [],
      limit: null,
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
      menu: [{ kind: 'query', query: 'q_hives' }],
      grants: [grantOf('g_a', 'apiaries', { condition: 'Name != "Apiary 99"' }), grantOf('g_h', 'hives')],
    },
  },
];
/** More apiaries than either filter offers: two hives in each of them, one in the last but one, none in the last. */
const apiaries = [...Array.from({ length: 60 }, (_, i) => i + 1), 98, 99];
const [rare, empty, gone] = [61, 62, 500];

beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada');
  ben = await it.person('Ben');
  app = await makeApp(ada, 'Chosen', changes);
  await it.server.people.join(app.id, ben.id, 'member', ['keeper'], {});
  const hives = apiaries.flatMap((number) => Array.from({ length: number === 99 ? 0 : number === 98 ? 1 : 2 }, (_, i) => ({ number, i })));
  await ada.call(contract.saveRecords, {
    params: { app: app.id },
    body: {
      key: saveKey(),
      writes: [
        ...apiaries.map((number) => ({ kind: 'add' as const, table: 'apiaries', as: `a${number}`, values: { a_name: `Apiary ${number}` } })),
        ...hives.map(({ number, i }) => ({
          kind: 'add' as const,
          table: 'hives',
          as: `h${number}_${i}`,
          values: { h_code: `H-${number}-${i}`, h_year: 2024, h_apiary: { added: `a${number}` } },
        })),
      ],
    },
  });
});
afterAll(() => it.close());

interface Told {
  readonly values: readonly { readonly value: Value; readonly count: number }[];
  readonly more: boolean;
}
const sides: readonly (readonly [name: string, ask: (who: Caller, chosen: readonly (number | null)[], search?: string) => Promise<Told | undefined>])[] = [
  [
    'a list',
    async (who, chosen, search = '') => {
      const narrowed = JSON.stringify(chosen.length === 0 ? [] : [{ field: 'h_apiary', values: chosen }]);
      const { filters } = await who.call(contract.readQuickFilters, { params: { app: app.id, table: 'hives' }, query: { list: 'li_hives', narrowed, search } });
      return filters.find((each) => each.field === 'h_apiary');
    },
  ],
  [
    'a query',
    async (who, chosen, search = '') => {
      const only = JSON.stringify(chosen.length === 0 ? [] : [{ column: 'apiary', values: chosen }]);
      const { columns } = await who.call(contract.readQueryValues, { params: { app: app.id, query: 'q_hives' }, query: { only, search } });
      return columns.find((each) => each.column === 'apiary');
    },
  ],
];

describe.each(sides)('what %s is narrowed by', (_, ask) => {
  test('is told by what it is called, first of all, when no row has it', async () => {
    const before = await ask(ada, []);
    const told = await ask(ada, [empty, null]);
    expect(told?.values.slice(0, 2)).toEqual([
      { value: null, count: 0 },
      { value: { id: empty, caption: 'Apiary 99' }, count: 0 },
    ]);
    expect(told?.values.slice(2)).toEqual(before?.values);
    expect(told?.more).toBe(true);
  });

  test('is counted when it is not among the most frequent values', async () => {
    const told = await ask(ada, [rare]);
    expect(told?.values.find(({ value }) => (value as { id: number }).id === rare)).toEqual({ value: { id: rare, caption: 'Apiary 98' }, count: 1 });
    expect((await ask(ada, []))?.values.some(({ value }) => (value as { id: number }).id === rare)).toBe(false);
  });

  test('is told when nothing is left to choose from', async () => {
    expect(await ask(ada, [rare], 'no such hive')).toMatchObject({ values: [{ value: { id: rare, caption: 'Apiary 98' }, count: 0 }], more: false });
  });

  test('is nothing where no record can have such a number', async () => {
    for (const numbers of [[1.5], [1e300, -1, Number.MAX_SAFE_INTEGER]]) expect((await ask(ada, numbers))?.values).toEqual((await ask(ada, []))?.values);
  });

  test('is no name of a record that is gone, or that the person may not see', async () => {
    expect((await ask(ada, [gone]))?.values.some(({ count }) => count === 0)).toBe(false);
    expect((await ask(ben, [empty]))?.values.some(({ count }) => count === 0)).toBe(false);
    expect((await ask(ben, [rare]))?.values.find(({ value }) => (value as { id: number }).id === rare)?.count).toBe(1);
  });
});
