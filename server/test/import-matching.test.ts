/** Rows that are about records which the table has already. */
import { contract, plainMatching, type ColumnPlan, type ImportAnswer, type ImportPreview, type Matching, type OpenApp } from '@bibliona/core';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { importParams, records, run, upload } from './importing.js';
import { field, honey, makeApp, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller & { id: number };
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
});
afterAll(() => it.close());

const matched = (by: readonly string[], mode: Matching['mode'] = 'both', isLoose = true): { matching: Matching } => ({
  matching: { mode, by: [...by], isLoose },
});

async function hives(name: string): Promise<OpenApp> {
  const app = await makeApp(ada, name, honey);
  const hive = (as: string, code: string, values: object) => ({ kind: 'add' as const, table: 'hives', as, values: { h_code: code, ...values } });
  const writes = [
    ...['Brackmoor', 'Heron Mere'].map((called, i) => ({ kind: 'add' as const, table: 'apiaries', as: `a${i}`, values: { a_name: called } })),
    hive('h1', 'H-1', { h_year: 2024, h_rent: '12.50', h_apiary: { added: 'a0' } }),
    hive('h2', 'H-2', { h_year: 2025, h_notes: 'calm', h_apiary: { added: 'a1' } }),
    hive('h3', 'H-3', { h_year: 2025 }),
  ];
  await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
  return app;
}
const codes = async (app: OpenApp): Promise<unknown[]> => (await records(ada, app, 'hives')).map((record) => record['Code']);

test('a preview tells what would be added, changed, left as it is and removed, and changes nothing; then it happens just so', async () => {
  const app = await hives('Preview');
  const before = await records(ada, app, 'hives');
  const csv = 'Code,Queen year,Notes\n h-1 ,2026,\nH-2,2025,calm\nH-9,2020,new\n';
  const answer = await upload(ada, app, 'Hives.csv', csv);
  const more = { ...matched(['h_code'], 'replace'), isTrial: true };
  const tried = await run(ada, app, answer, 'hives', more);
  const preview: ImportPreview = {
    added: 1,
    changed: 1,
    unchanged: 1,
    leftOut: 0,
    removed: 1,
    removedNames: ['H-3'],
    fields: [{ field: 'h_year', count: 1, examples: [{ line: 2, before: '2024', after: '2026' }] }],
    made: [],
    emptied: [],
    emptiedCount: 0,
    settled: [],
    settledCount: 0,
  };
  expect(tried).toMatchObject({ state: 'read', isTrial: true });
  expect(tried.preview).toEqual(preview);
  expect(await records(ada, app, 'hives')).toEqual(before);
  expect(await it.sql(`SELECT count(*)::int AS n FROM "app_${app.id}"._history WHERE kind = 'import'`)).toEqual([{ n: 0 }]);
  const done = await run(ada, app, tried, 'hives', matched(['h_code'], 'replace'));
  expect(done).toMatchObject({ state: 'done', added: 1, changed: 1, unchanged: 1, removed: 1, preview: null });
  // A code that counts as the same stays as it was written.
  expect(await codes(app)).toEqual(['H-1', 'H-2', 'H-9']);
  await ada.call(contract.takeBackImport, { params: importParams(app, done.id) });
  expect(await records(ada, app, 'hives')).toEqual(before);
});

test('records whose numbers are not in a file are replaced too', async () => {
  const app = await hives('Numbers');
  const answer = await upload(ada, app, 'Hives.csv', 'Record number,Code\n2,H-2b\n,H-9\n');
  const done = await run(ada, app, answer, 'hives', matched([], 'replace'));
  expect(done).toMatchObject({ state: 'done', added: 1, changed: 1, removed: 2 });
  expect(await codes(app)).toEqual(['H-2b', 'H-9']);
  await ada.call(contract.takeBackImport, { params: importParams(app, done.id) });
  expect(await codes(app)).toEqual(['H-1', 'H-2', 'H-3']);
});

test('rows without a record are left out where only records are changed, and empty cells keep what is there', async () => {
  const app = await hives('Only');
  const answer = await upload(ada, app, 'Hives.csv', 'Code,Queen year,Rent\nH-1,2026,\nH-7,2020,1\n');
  const done = await run(ada, app, answer, 'hives', { ...matched(['h_code'], 'update'), emptyCells: 'keep' });
  expect(done).toMatchObject({ state: 'done', added: 0, changed: 1, leftOut: 1 });
  expect((await records(ada, app, 'hives'))[0]).toMatchObject({ Code: 'H-1', 'Queen year': 2026, Rent: '12.5' });
});

test('a row is matched by several fields together, also by what it refers to', async () => {
  const app = await hives('Several');
  const answer = await upload(ada, app, 'Hives.csv', 'Apiary,Queen year,Notes\nHeron Mere,2025,checked\nBrackmoor,2025,nobody\n');
  const done = await run(ada, app, answer, 'hives', matched(['h_apiary', 'h_year'], 'update'));
  expect(done).toMatchObject({ state: 'done', changed: 1, leftOut: 1 });
  expect((await records(ada, app, 'hives')).map((record) => record['Notes'])).toEqual([null, 'checked', null]);
});

test('a row that matches several records, or a record that several rows match, is a complaint with its line', async () => {
  const app = await hives('Twice');
  const complaints = async (csv: string, by: string[]): Promise<string[]> => {
    const done: ImportAnswer = await run(ada, app, await upload(ada, app, 'Hives.csv', csv), 'hives', matched(by));
    expect(done.state).toBe('refused');
    return done.complaints.map(({ line, column, value, reason }) => `${line} ${column}: ${value} ${reason}`);
  };
  expect(await complaints('Queen year,Notes\n2025,x\n', ['h_year'])).toEqual(['2 Queen year: 2025 matches more than one record']);
  expect(await complaints('Code,Notes\nH-1,x\nh-1,y\nH-8,z\nH-8,z\n', ['h_code'])).toEqual([
    '3 Code: h-1 is in line 2 already, and rows are matched by it',
    '5 Code: H-8 is in line 4 already, and rows are matched by it',
  ]);
  // A key that cannot be read is never left empty: the row would be about another record, or none.
  const done = await run(ada, app, await upload(ada, app, 'Hives.csv', 'Queen year,Code\nsoon,H-1\n'), 'hives', { ...matched(['h_year']), badCells: 'empty' });
  expect(done).toMatchObject({ state: 'refused', complaints: [{ line: 2, column: 'Queen year', value: 'soon' }] });
});

test('a plan that cannot match is refused before a row is read', async () => {
  const app = await hives('Plans');
  const message = async (csv: string, matching: Matching): Promise<string | null> =>
    (await run(ada, app, await upload(ada, app, 'Hives.csv', csv), 'hives', { matching })).message;
  expect(await message('Code\nH-1\n', { ...plainMatching, mode: 'update' })).toBe('Choose at least one field to match rows by.');
  expect(await message('Code\nH-1\n', { ...plainMatching, by: ['h_year'] })).toBe('Rows are matched by Queen year, but no column goes into it.');
  expect(await message('Record number,Code\n1,H-1\n', { ...plainMatching, by: ['h_code'] })).toContain('not by both');
});

test('records that rows refer to and that are not there are made from their names, once each, and go with an undo', async () => {
  const app = await hives('Missing');
  const csv = 'Code,Apiary\nH-5,Moor\nH-6, moor\nH-7,Brackmoor\nH-8,Quay\n';
  const answer = await upload(ada, app, 'Hives.csv', csv);
  const make = { columns: (columns: ColumnPlan[]) => columns.map((column) => (column.kind === 'field' ? { ...column, missing: 'make' as const } : column)) };
  // A code refers to nothing.
  expect((await run(ada, app, answer, 'hives', make)).message).toBe("Records that Code refers to can't be made from a name alone. Add them first.");
  const only = {
    columns: (columns: ColumnPlan[]) =>
      columns.map((column) => (column.kind === 'field' && column.field === 'h_apiary' ? { ...column, missing: 'make' as const } : column)),
  };
  const tried = await run(ada, app, answer, 'hives', { ...only, isTrial: true });
  expect(tried.preview).toMatchObject({ added: 4, made: [{ table: 'apiaries', count: 2, names: ['Moor', 'Quay'] }] });
  expect(await records(ada, app, 'apiaries')).toHaveLength(2);
  const done = await run(ada, app, tried, 'hives', only);
  expect(done).toMatchObject({ state: 'done', added: 4, made: [{ table: 'apiaries', count: 2 }] });
  expect((await records(ada, app, 'apiaries')).map((record) => record['Name'])).toEqual(['Brackmoor', 'Heron Mere', 'Moor', 'Quay']);
  const made = (await records(ada, app, 'hives')).slice(3).map((record) => (record['Apiary'] as { caption: string }).caption);
  expect(made).toEqual(['Moor', 'Moor', 'Brackmoor', 'Quay']);
  expect(await ada.call(contract.takeBackImport, { params: importParams(app, done.id) })).toMatchObject({ state: 'taken_back', stayed: 0 });
  expect([(await records(ada, app, 'hives')).length, (await records(ada, app, 'apiaries')).length]).toEqual([3, 2]);
});

test('a reference is matched by a unique field too, where no record is called so', async () => {
  const app = await makeApp(ada, 'Codes', [
    ...honey,
    { kind: 'add_field', table: 'apiaries', field: field('text', 'a_code', 'Short', { unique: true }) },
    { kind: 'add_field', table: 'apiaries', field: field('whole', 'a_plot', 'Plot', { unique: true }) },
  ]);
  const apiary = (as: string, a_name: string, a_code: string, a_plot: number) => ({
    kind: 'add' as const,
    table: 'apiaries',
    as,
    values: { a_name, a_code, a_plot },
  });
  const writes = [apiary('a', 'Brackmoor', 'BM', 7), apiary('b', 'Heron Mere', 'Brackmoor', 12), apiary('c', 'Quay', '7', 5)];
  await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
  const done = await run(ada, app, await upload(ada, app, 'Hives.csv', 'Code,Apiary\nH-1,bm\nH-2,12\nH-3,Brackmoor\n'), 'hives');
  expect(done).toMatchObject({ state: 'done', added: 3 });
  const captions = (await records(ada, app, 'hives')).map((record) => (record['Apiary'] as { caption: string }).caption);
  expect(captions).toEqual(['Brackmoor', 'Heron Mere', 'Brackmoor']);
  // The plot of one apiary is the code of another.
  const twice = await run(ada, app, await upload(ada, app, 'Hives.csv', 'Code,Apiary\nH-4,7\n'), 'hives');
  expect(twice.complaints).toMatchObject([{ value: '7', reason: 'is the name of more than one record' }]);
});

test('a record that more than a name is needed for, or whose name breaks a check, is not made, and the file stays out', async () => {
  const app = await makeApp(ada, 'Needs', [
    ...honey,
    { kind: 'change_field', table: 'apiaries', field: field('whole', 'a_height', 'Altitude', { required: true }) },
  ]);
  const make = {
    columns: (columns: ColumnPlan[]) =>
      columns.map((column) => (column.kind === 'field' && column.field === 'h_apiary' ? { ...column, missing: 'make' as const } : column)),
  };
  const done = await run(ada, app, await upload(ada, app, 'Hives.csv', 'Code,Apiary\nH-5,Moor\n'), 'hives', make);
  expect(done).toMatchObject({ state: 'failed', message: "Records that Apiary refers to can't be made from a name alone. Add them first." });
  const strict = await makeApp(ada, 'Strict', [
    ...honey,
    { kind: 'change_table', table: 'apiaries', checks: [{ id: 'k_short', condition: 'string length(Name) < 5', message: 'Names are short.' }] },
  ]);
  const unmet = await run(ada, strict, await upload(ada, strict, 'Hives.csv', 'Code,Apiary\nH-5,Moor\nH-6,Brackmoor\n'), 'hives', make);
  expect(unmet).toMatchObject({ state: 'failed', message: "Brackmoor can't be added to Apiaries: Names are short. Add it first, or correct the file." });
  expect([await records(ada, app, 'hives'), await records(ada, strict, 'hives'), await records(ada, strict, 'apiaries')]).toEqual([[], [], []]);
});

test('records that others belong to are not replaced, and nothing is half done', async () => {
  const app = await hives('Parents');
  const answer = await upload(ada, app, 'Apiaries.csv', 'Name,Altitude\nHeron Mere,12\nMoor,3\n');
  const done = await run(ada, app, answer, 'apiaries', matched(['a_name'], 'replace'));
  expect(done.state).toBe('failed');
  expect(done.message).toContain('Hives');
  expect((await records(ada, app, 'apiaries')).map((record) => record['Altitude'])).toEqual([null, null]);
});

test('the columns of an earlier file are remembered for the next one like it', async () => {
  const app = await makeApp(ada, 'Again', []);
  const first = await upload(ada, app, 'Weights.csv', 'Hive,Weight\nH-1,1.5\n');
  expect(first.plan).toBeNull();
  const rename = {
    columns: (columns: object[]) =>
      columns.map((column, i) => (i === 1 && 'field' in column ? { ...column, field: { ...(column.field as object), name: 'Kilograms' } } : column)) as never,
  };
  const done = await run(ada, app, first, null, rename);
  const second = await upload(ada, app, 'Weights of May.csv', 'Hive,Weight\nH-2,2.5\n');
  expect(second.plan).toMatchObject({ target: { kind: 'table', table: done.table }, columns: [{ kind: 'field' }, { kind: 'field' }] });
  const fields = second.plan?.columns.map((column) => (column.kind === 'field' ? column.field : ''));
  const made = first.survey?.columns.length;
  expect(fields).toHaveLength(made ?? 0);
  expect((await upload(ada, app, 'Other.csv', 'Hive,Weights\nH-2,2.5\n')).plan).toBeNull();
});

interface Row {
  readonly key: number | null;
  readonly value: number | null;
}

test('any file does to any table what the modes say, and an undo brings everything back', async () => {
  const app = await makeApp(ada, 'Any', [table('pairs', 'Pairs', [field('whole', 'p_key', 'Key'), field('whole', 'p_value', 'Value')])]);
  const name = `"app_${app.id}".pairs`;
  const content = async (): Promise<Row[]> => [
    ...(await it.sql<{ key: number | null; value: number | null }>(`SELECT key::int, value::int FROM ${name} ORDER BY key NULLS LAST, value NULLS LAST`)),
  ];
  const row = fc.record({ key: fc.option(fc.integer({ min: 1, max: 8 })), value: fc.option(fc.integer({ min: 1, max: 3 })) });
  const rows = fc.uniqueArray(row, { selector: (each) => each.key ?? Symbol('none'), maxLength: 8 });
  const scenes = fc.sample(fc.record({ there: rows, file: rows, mode: fc.constantFrom('both', 'update', 'replace'), keeps: fc.boolean() }), {
    numRuns: 25,
    seed: 20_261_129,
  });
  for (const { there, file, mode, keeps } of scenes) {
    const lines = file.filter((each) => each.key !== null || each.value !== null);
    if (lines.length === 0) continue;
    await it.sql(`DELETE FROM ${name}`);
    for (const each of there) await it.sql(`INSERT INTO ${name} (key, value) VALUES ($1, $2)`, [each.key, each.value]);
    const before = await content();
    const known = (key: number | null): boolean => key !== null && there.some((each) => each.key === key);
    const named = (key: number | null): boolean => key !== null && lines.some((line) => line.key === key);
    const expected = [
      ...there.flatMap((item) => {
        const line = lines.find((each) => each.key !== null && each.key === item.key);
        if (line === undefined) return mode === 'replace' && !named(item.key) ? [] : [item];
        return [{ key: item.key, value: keeps ? (line.value ?? item.value) : line.value }];
      }),
      ...(mode === 'update' ? [] : lines.filter((line) => !known(line.key))),
    ].toSorted((a, b) => (a.key ?? 99) - (b.key ?? 99) || (a.value ?? 99) - (b.value ?? 99));
    const csv = `Key,Value\n${lines.map((line) => `${line.key ?? ''},${line.value ?? ''}`).join('\n')}\n`;
    const more = { ...matched(['p_key'], mode), emptyCells: keeps ? ('keep' as const) : ('empty' as const) };
    const done = await run(ada, app, await upload(ada, app, 'Pairs.csv', csv), 'pairs', more);
    expect([done.state, done.complaints, await content()]).toEqual(['done', [], expected]);
    await ada.call(contract.takeBackImport, { params: importParams(app, done.id) });
    expect(await content()).toEqual(before);
  }
});
