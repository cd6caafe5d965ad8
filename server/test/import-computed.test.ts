/** Columns of an import that are computed from each row of the file. */
import type { ColumnPlan } from '@bibliona/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { opened, records, run, upload } from './importing.js';
import { field, honey, makeApp, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller;
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
});
afterAll(() => it.close());

const csv = 'Keeper;Jars;Price\nAda Roke;12;6,50\nJorun Vasse;3;7,00\n';
const reading = { numbers: 'point', dates: 'ymd' } as const;
const into = (kind: string, id: string, name: string): ColumnPlan => ({ kind: 'new', field: field(kind, id, name), reading });

test('come in as fields of their own, of the kind that was chosen', async () => {
  const app = await makeApp(ada, 'Computed', []);
  const answer = await run(ada, app, await upload(ada, app, 'Sales.csv', csv), null, {
    computed: [
      { name: 'First name', expression: 'split(Keeper, " ")[1]' },
      { name: 'Sum', expression: 'Jars * Price' },
    ],
    // The name itself is left out: only its part is wanted.
    columns: (columns) => [{ kind: 'skip' }, ...columns.slice(1), into('text', 'f_first', 'First name'), into('decimal', 'f_sum', 'Sum')],
  });
  expect([answer.message, answer.state, answer.added]).toEqual([null, 'done', 2]);
  expect(await records(ada, app, answer.table)).toEqual([
    { Jars: 12, Price: '6.5', 'First name': 'Ada', Sum: '78' },
    { Jars: 3, Price: '7', 'First name': 'Jorun', Sum: '21' },
  ]);
});

test('match records, and a cell of one that does not fit is a complaint with its name', async () => {
  const app = await makeApp(ada, 'Matched', honey);
  const code = { name: 'Code of the hive', expression: '"H-" + string(Number)' };
  const uploaded = await upload(ada, app, 'Hives.csv', 'Number,Notes\n7,calm\n8,fierce\n');
  const coded: ColumnPlan = { kind: 'field', field: 'h_code', reading, missing: 'complain' };
  const refused = await run(ada, app, uploaded, 'hives', {
    computed: [code, { name: 'Year of the queen', expression: '"x" + string(Number)' }],
    columns: ([, notes]) => [{ kind: 'skip' }, notes!, coded, { ...coded, field: 'h_year' }],
  });
  expect(refused.complaints[0]).toMatchObject({ line: 2, column: 'Year of the queen', value: 'x7' });
  const done = await run(ada, app, uploaded, 'hives', { computed: [code], columns: ([, notes]) => [{ kind: 'skip' }, notes!, coded] });
  expect([done.message, done.state]).toEqual([null, 'done']);
  expect((await records(ada, app, 'hives')).map((hive) => [hive['Code'], hive['Notes']])).toEqual([
    ['H-7', 'calm'],
    ['H-8', 'fierce'],
  ]);
  const again = await run(ada, app, await upload(ada, app, 'Hives.csv', 'Number,Notes\n7,gentle\n'), 'hives', {
    computed: [code],
    columns: ([, notes]) => [{ kind: 'skip' }, notes!, coded],
    matching: { mode: 'update', by: ['h_code'], isLoose: false },
  });
  expect([again.changed, again.added]).toEqual([1, 0]);
  expect((await records(ada, app, 'hives')).map((hive) => hive['Notes'])).toEqual(['gentle', 'fierce']);
});

test('that cannot be read are refused before any row, and so are columns without a plan', async () => {
  const app = await makeApp(ada, 'Refused', []);
  const answer = await upload(ada, app, 'Sales.csv', csv);
  const computed = [{ name: 'Sum', expression: 'Jars * Prize' }];
  const refused = await run(ada, app, answer, null, { computed, columns: (columns) => [...columns, into('decimal', 'f_sum', 'Sum')] });
  expect([refused.state, refused.message]).toEqual(['failed', expect.stringContaining("The computed column Sum can't be read")]);
  await expect(run(ada, app, answer, null, { computed })).rejects.toThrow('Read the file again');
  expect((await opened(ada, app)).design.tables).toEqual([]);
});
