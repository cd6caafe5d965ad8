import { contract, type Choice, type DesignChange, type OpenApp, type RefusalAnswer, type Value } from '@bibliona/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { field, makeApp, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

/** Choices that are merged or taken away, with the records that have them. */
let it: TestServer;
let ada: Caller & { id: number };
let app: OpenApp;
const all: readonly Choice[] = ['Moor', 'Heath', 'Valley', 'Coast'].map((label) => ({ id: label.toLowerCase(), label }));
const fields = (choices: readonly Choice[]) =>
  [field('choice', 'f_region', 'Region', { choices }), field('several_choices', 'f_near', 'Near', { choices })] as const;
const rows: readonly (readonly [string | null, string | null])[] = [
  ['moor', 'moor\nheath'],
  ['heath', 'heath\ncoast'],
  ['valley', 'valley'],
  [null, null],
  ['coast', 'moor\nheath\nvalley\ncoast'],
];

beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
  app = await makeApp(ada, 'Regions', [
    table('sites', 'Sites', [...fields(all), field('formula', 'f_high', 'High', { expression: 'if Region = "Heath" then "high" else "low"' })]),
  ]);
  const writes = rows.map(([f_region, f_near], i) => ({ kind: 'add', table: 'sites', as: `r${i}`, values: { f_region, f_near } }));
  await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
});
afterAll(() => it.close());

const values = async (): Promise<readonly (readonly Value[])[]> =>
  (await ada.call(contract.readPage, { params: { app: app.id, table: 'sites' } })).records.map(({ values: of }) => [
    of['f_region'] ?? null,
    of['f_near'] ?? null,
  ]);
const asked = (choices: readonly Choice[], acceptLoss: boolean) => ({
  params: { app: app.id },
  body: {
    version: app.version,
    changes: fields(choices).map((each): DesignChange => ({ kind: 'change_field', table: 'sites', field: each })),
    acceptLoss,
  },
});
const undo = async (): Promise<void> => {
  app = await ada.call(contract.undoDesign, { params: { app: app.id }, body: { version: app.version, direction: 'undo', acceptLoss: true } });
};

test('what was merged is the other choice everywhere: in records, among several, in formulas; and undo brings it back', async () => {
  const before = await values();
  const merged: readonly Choice[] = [{ id: 'moor', label: 'Moorland', tone: 'green', merged: ['heath'] }, ...all.slice(2)];
  // It is told what will change before it does.
  const { body } = await ada.refused(contract.changeDesign, asked(merged, false));
  expect(JSON.stringify(body satisfies RefusalAnswer | object)).toMatch(/Region|Near/u);
  app = await ada.call(contract.changeDesign, asked(merged, true));
  expect(await values()).toEqual([
    ['moor', 'moor'],
    ['moor', 'moor\ncoast'],
    ['valley', 'valley'],
    [null, null],
    ['coast', 'moor\nvalley\ncoast'],
  ]);
  const [, , high] = app.design.tables[0]?.fields ?? [];
  expect(high?.kind === 'formula' && high.expression).toBe('if Region = "Moorland" then "high" else "low"');
  await undo();
  expect(await values()).toEqual(before);
});

test('a choice that is taken away leaves the others of several', async () => {
  const without = all.filter((each) => each.id !== 'coast');
  app = await ada.call(contract.changeDesign, asked(without, true));
  expect(await values()).toEqual([
    ['moor', 'moor\nheath'],
    ['heath', 'heath'],
    ['valley', 'valley'],
    [null, null],
    [null, 'moor\nheath\nvalley'],
  ]);
  await undo();
  expect(await values()).toEqual(rows);
});

test('choices in another order put the values of several into it', async () => {
  app = await ada.call(contract.changeDesign, asked([...all].reverse(), true));
  expect((await values()).map(([, near]) => near)).toEqual(['heath\nmoor', 'coast\nheath', 'valley', null, 'coast\nvalley\nheath\nmoor']);
  await undo();
});

test.each([
  [
    'merged twice',
    [
      { id: 'moor', label: 'Moor', merged: ['heath'] },
      { id: 'valley', label: 'Valley', merged: ['heath'] },
    ],
  ],
  ['there as well', [...all.slice(1), { id: 'moor', label: 'Moor', merged: ['heath'] }]],
])('no choice is %s', async (_, choices) => {
  expect((await ada.refused(contract.changeDesign, asked(choices, true))).body.message).toContain("can't be merged twice, or be there as well");
});
