/** A flat sheet that becomes several tables in one import. */
import { contract, type AppDesign, type ColumnPlan, type ImportAnswer, type OpenApp, type ThingPlan } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { importParams, opened, records, run, upload } from './importing.js';
import { makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller & { id: number };
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
});
afterAll(() => it.close());

const regions = ['Moor', 'Coast', 'Valley'] as const;
/** Visits of 24 hives at 4 apiaries, each row with all of it. */
const rows = Array.from({ length: 240 }, (_, i) => {
  const hive = i % 24;
  const apiary = hive % 4;
  return [String(i + 1), `H-${hive}`, String(2020 + (hive % 5)), `Site ${apiary}`, regions[apiary % 3] ?? '', String(10 + (i % 7))];
});
const heads = ['Visit', 'Hive', 'Queen year', 'Apiary', 'Region', 'Kilograms'];
const csv = (changes: Readonly<Record<number, Readonly<Record<string, string>>>> = {}): string =>
  [heads, ...rows.map((row, i) => row.map((cell, at) => changes[i]?.[heads[at] ?? ''] ?? cell))].map((row) => row.join(',')).join('\n');

let made = 0;
function thingOf(columns: readonly string[], within: string, name: string, key: string, own: readonly string[], chosen: ThingPlan['chosen'] = []): ThingPlan {
  const id = (made += 1);
  const at = (column: string) => columns.indexOf(column);
  return {
    table: `t_thing${id}`,
    name,
    form: `fm_thing${id}`,
    list: `l_thing${id}`,
    key: at(key),
    columns: own.map(at),
    within,
    relationship: `r_thing${id}`,
    field: `f_thing${id}`,
    fieldName: key,
    childrenName: `Those of ${name}`,
    chosen,
  };
}
const hivesAndApiaries =
  (chosen: ThingPlan['chosen'] = []) =>
  (columns: readonly string[], table: string): ThingPlan[] => {
    const hives = thingOf(columns, table, 'Hives', 'Hive', ['Queen year']);
    return [hives, thingOf(columns, hives.table, 'Apiaries', 'Apiary', ['Region'], chosen)];
  };

async function tablesOf(app: OpenApp): Promise<Record<string, Record<string, unknown>[]>> {
  const { design } = await opened(ada, app);
  return Object.fromEntries(await Promise.all(design.tables.map(async (table) => [table.name, await records(ada, app, table.id)] as const)));
}
/** A name is text, also where there are few. */
const asText = (columns: ColumnPlan[]): ColumnPlan[] =>
  columns.map((column, at) =>
    at === 3 && column.kind === 'new' && column.field.kind === 'choice'
      ? { ...column, field: { kind: 'text', id: column.field.id, name: column.field.name, description: '', required: false, unique: false, default: null } }
      : column,
  );
const divided = (chosen: ThingPlan['chosen'] = []) => ({ things: hivesAndApiaries(chosen), columns: asText });
const of = (answer: ImportAnswer, name: string): ImportAnswer['settled'] => answer.settled.filter((each) => each.column === name);

describe('a flat sheet', () => {
  test('says in its survey what it repeats', async () => {
    const app = await makeApp(ada, 'Survey', []);
    const { survey } = await upload(ada, app, 'Visits.csv', csv({ 20: { Region: 'Inland' } }));
    expect(survey?.repeats).toMatchObject({
      rows: 240,
      keys: [0],
      things: [
        { key: 1, count: 24, rows: 240, within: null, follows: null, columns: [{ column: 2, differing: 0 }] },
        {
          key: 3,
          count: 4,
          within: 1,
          follows: { differing: 0 },
          columns: [
            {
              column: 4,
              differing: 1,
              names: [
                {
                  name: 'Site 0',
                  values: [
                    { text: 'Moor', rows: 59 },
                    { text: 'Inland', rows: 1, line: 22 },
                  ],
                },
              ],
            },
          ],
        },
      ],
    });
  });

  test('becomes tables that refer to each other, and nothing is lost', async () => {
    const app = await makeApp(ada, 'Divided', []);
    const answer = await run(ada, app, await upload(ada, app, 'Visits.csv', csv()), null, divided());
    expect([answer.message, answer.state, answer.added, answer.settledCount]).toEqual([null, 'done', 240, 0]);
    expect(answer.made.map(({ count, names }) => [count, names[0]])).toEqual([
      [24, 'H-0'],
      [4, 'Site 0'],
    ]);
    const tables = await tablesOf(app);
    expect(Object.keys(tables)).toEqual(['Apiaries', 'Hives', 'Visits']);
    const { design } = await opened(ada, app);
    expect(design.tables.map((table) => table.fields.map((field) => field.name))).toEqual([
      ['Apiary', 'Region'],
      ['Hive', 'Queen year', 'Apiary'],
      ['Visit', 'Hive', 'Kilograms'],
    ]);
    expect((design as AppDesign).tables.map((table) => table.caption)).toEqual(['Apiary', 'Hive', '']);
    const apiaries = new Map(tables['Apiaries']?.map((table) => [table['Apiary'], table]));
    const hives = new Map(tables['Hives']?.map((table) => [table['Hive'], table]));
    const again = tables['Visits']?.map((visit) => {
      const hive = hives.get((visit['Hive'] as { caption: string }).caption);
      const apiary = apiaries.get((hive?.['Apiary'] as { caption: string } | undefined)?.caption);
      return [visit['Visit'], hive?.['Hive'], hive?.['Queen year'], apiary?.['Apiary'], apiary?.['Region'], visit['Kilograms']].map(String);
    });
    expect(again?.sort((a, b) => Number(a[0]) - Number(b[0]))).toEqual(rows.map((row) => row.map((cell, at) => (at === 4 ? cell.toLowerCase() : cell))));
  });

  test('is first shown without a trace, and undone as a whole', async () => {
    const app = await makeApp(ada, 'Undone', []);
    const answer = await upload(ada, app, 'Visits.csv', csv());
    const tried = await run(ada, app, answer, null, { ...divided(), isTrial: true });
    expect(tried.preview).toMatchObject({ added: 240, made: [{ count: 24 }, { count: 4 }] });
    expect((await opened(ada, app)).design.tables).toEqual([]);
    const done = await run(ada, app, answer, null, divided());
    const undone = await ada.call(contract.takeBackImport, { params: importParams(app, done.id), body: {} });
    expect([undone.state, undone.stayed]).toEqual(['taken_back', 0]);
    expect(Object.values(await tablesOf(app)).map((all) => all.length)).toEqual([0, 0, 0]);
  });

  test('leaves what has been changed since, and what that refers to', async () => {
    const app = await makeApp(ada, 'Changed since', []);
    const done = await run(ada, app, await upload(ada, app, 'Visits.csv', csv()), null, divided());
    const { design } = await opened(ada, app);
    const [, , visits] = design.tables;
    const kilograms = visits?.fields.find((field) => field.name === 'Kilograms')?.id ?? '';
    const { records: all } = await ada.call(contract.readPage, { params: { app: app.id, table: visits?.id ?? '' }, query: { limit: 1 } });
    const first = all[0];
    await ada.call(contract.saveRecords, {
      params: { app: app.id },
      body: { key: saveKey(), writes: [{ kind: 'change', table: visits?.id ?? '', id: first?.id ?? 0, rev: first?.rev ?? 0, values: { [kilograms]: 99 } }] },
    });
    const undo = (others: boolean) => ada.send('POST', ada.path(contract.takeBackImport, importParams(app, done.id)), { others });
    expect((await undo(false)).body).toMatchObject({ code: 'needs_consent' });
    expect(Object.values(await tablesOf(app)).map((each) => each.length)).toEqual([4, 24, 240]);
    expect((await undo(true)).body).toMatchObject({ state: 'taken_back', stayed: 3 });
    expect(Object.values(await tablesOf(app)).map((each) => each.length)).toEqual([1, 1, 1]);
  });
});

describe('where rows differ', () => {
  test('most of them are right, or the value that was chosen, and each other one is told', async () => {
    const dirty = csv({ 20: { Region: 'Inland' }, 33: { Region: 'Inland' }, 40: { Hive: '  h-16' }, 50: { Apiary: 'Sitte 2' } });
    const app = await makeApp(ada, 'Most', []);
    const answer = await run(ada, app, await upload(ada, app, 'Visits.csv', dirty), null, divided());
    const tables = await tablesOf(app);
    // The slip in the name of an apiary makes none of its own.
    expect(tables['Apiaries']?.map((table) => `${String(table['Apiary'])} ${String(table['Region'])}`).sort()).toEqual([
      'Site 0 moor',
      'Site 1 coast',
      'Site 2 valley',
      'Site 3 moor',
    ]);
    expect(tables['Hives']).toHaveLength(24);
    expect(answer.settledCount).toBe(3);
    expect(of(answer, 'Region')).toMatchObject([
      { line: 22, value: 'Inland', reason: 'is taken as “Moor”, as in most rows.' },
      { line: 35, value: 'Inland', reason: 'is taken as “Coast”, as in most rows.' },
    ]);
    expect(of(answer, 'Apiary')).toMatchObject([{ line: 52, value: 'Sitte 2' }]);

    const other = await makeApp(ada, 'Chosen', []);
    const chosen = [{ column: 4, name: 'SITE 0', value: 'Inland' }];
    const done = await run(ada, other, await upload(ada, other, 'Visits.csv', dirty), null, divided(chosen));
    expect((await tablesOf(other))['Apiaries']?.map((table) => table['Region']).sort()).toEqual(['coast', 'inland', 'moor', 'valley']);
    expect(of(done, 'Region')).toMatchObject([
      { line: 2, value: 'Moor', reason: 'is taken as “Inland”, as chosen. 59 rows have this value.' },
      { line: 35, value: 'Inland' },
    ]);
  });

  test('a row that names nothing refers to nothing, and what it says is told', async () => {
    const app = await makeApp(ada, 'Nameless', []);
    const answer = await run(ada, app, await upload(ada, app, 'Visits.csv', csv({ 7: { Hive: '', 'Queen year': '2031' } })), null, divided());
    expect(answer.state).toBe('done');
    const tables = await tablesOf(app);
    expect(tables['Visits']?.filter((visit) => visit['Hive'] === null)).toHaveLength(1);
    expect(of(answer, 'Queen year')).toMatchObject([{ line: 9, value: '2031', reason: 'is left out, because Hive is empty.' }]);
  });

  test('a value that does not fit refuses the whole import, with its line', async () => {
    const app = await makeApp(ada, 'Refused', []);
    const answer = await upload(ada, app, 'Visits.csv', csv());
    const columns = (all: ColumnPlan[]): ColumnPlan[] =>
      asText(all).map((column, at) =>
        at === 4 && column.kind === 'new' ? { ...column, field: { ...(all[2] as typeof column).field, id: column.field.id, name: 'Region' } } : column,
      );
    const refused = await run(ada, app, answer, null, { things: hivesAndApiaries(), columns });
    expect(refused.state).toBe('refused');
    expect(refused.complaints[0]).toMatchObject({ line: 2, column: 'Region', value: 'Moor' });
    expect((await opened(ada, app)).design.tables).toEqual([]);
  });
});

describe('a plan is refused', () => {
  test.each<[string, (things: ThingPlan[]) => ThingPlan[], string]>([
    ['when a column belongs to two tables', ([a, b]) => [a!, { ...b!, columns: [2] }], 'A column can belong to one table only'],
    ['when a table hangs on nothing', ([a, b]) => [a!, { ...b!, within: 't_none' }], 'is not joined to the others'],
    ['when tables refer to each other in a circle', ([a, b]) => [{ ...a!, within: b!.table }, b!], 'is not joined to the others'],
  ])('%s', async (_, change, message) => {
    const app = await makeApp(ada, 'Refused plan', []);
    const answer = await run(ada, app, await upload(ada, app, 'Visits.csv', csv()), null, {
      ...divided(),
      things: (columns, table) => change(hivesAndApiaries()(columns, table)),
    });
    expect([answer.state, answer.message]).toEqual(['failed', expect.stringContaining(message)]);
    expect((await opened(ada, app)).design.tables).toEqual([]);
  });

  test('when a name is of a kind that cannot be unique', async () => {
    const app = await makeApp(ada, 'Choice', []);
    const answer = await run(ada, app, await upload(ada, app, 'Visits.csv', csv()), null, { things: hivesAndApiaries() });
    expect(answer.message).toContain('Choose text or another kind');
  });

  test('when the rows go into a table that is there', async () => {
    const app = await makeApp(ada, 'Into one', []);
    await run(ada, app, await upload(ada, app, 'Visits.csv', csv()), null);
    const table = (await opened(ada, app)).design.tables[0]?.id ?? '';
    const answer = await run(ada, app, await upload(ada, app, 'Visits.csv', csv()), table, divided());
    expect(answer.message).toContain('Only the rows of a new table');
  });
});
