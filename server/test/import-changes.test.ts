/** Files that come back: a list that was exported and changed, and imports that are undone. */
import { contract, documentIn, richTextAs, type ColumnPlan, type OpenApp } from '@bibliona/core';
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

const without =
  (at: number) =>
  (columns: ColumnPlan[]): ColumnPlan[] =>
    columns.map((column, i) => (i === at ? { kind: 'skip' } : column));

test('it can be undone as long as nothing was done with it', async () => {
  const app = await makeApp(ada, 'Back', honey);
  const done = await run(ada, app, await upload(ada, app, 'Apiaries.csv', 'Name\nA\nB\n'), 'apiaries');
  await ada.call(contract.saveRecords, {
    params: { app: app.id },
    body: {
      key: saveKey(),
      writes: [
        { kind: 'add', table: 'apiaries', as: 'a', values: { a_name: 'Own' } },
        { kind: 'change', table: 'apiaries', id: 1, rev: 1, values: { a_height: 5 } },
      ],
    },
  });
  const changed = await ada.refused(contract.takeBackImport, { params: importParams(app, done.id) });
  expect(changed.body.message).toContain('1 of these records was changed since the import.');
  // One edited record does not keep the others.
  const others = await ada.call(contract.takeBackImport, { params: importParams(app, done.id), body: { others: true } });
  expect(others).toMatchObject({ state: 'taken_back', stayed: 1 });
  const second = await run(ada, app, await upload(ada, app, 'Apiaries.csv', 'Name\nC\nD\n'), 'apiaries');
  expect(await ada.call(contract.takeBackImport, { params: importParams(app, second.id) })).toMatchObject({ state: 'taken_back' });
  expect((await records(ada, app, 'apiaries')).map((record) => record['Name'])).toEqual(['A', 'Own']);
});

test('an export adds its rows again without their numbers: formulas are left out, and no text keeps the mark that guards it', async () => {
  const app = await makeApp(ada, 'Round', [
    ...honey,
    { kind: 'add_field', table: 'hives', field: field('formula', 'h_double', 'Double', { expression: 'Queen year * 2', digits: null }) },
  ]);
  await ada.call(contract.saveRecords, {
    params: { app: app.id },
    body: { key: saveKey(), writes: [{ kind: 'add', table: 'hives', as: 'h', values: { h_code: '=1+1', h_notes: "'tis", h_year: 2024 } }] },
  });
  const { bytes } = await ada.download(contract.exportRecords, { app: app.id, table: 'hives' });
  await it.sql(`DELETE FROM "app_${app.id}".hives`);
  const done = await run(ada, app, await upload(ada, app, 'Hives.csv', bytes), 'hives', { columns: without(0) });
  expect(done).toMatchObject({ state: 'done', added: 1 });
  expect((await records(ada, app, 'hives'))[0]).toMatchObject({ Code: '=1+1', Notes: "'tis", 'Queen year': 2024 });
});

test('a formatted text that comes back unedited keeps its formats, and an edited one is taken as it is written', async () => {
  const app = await makeApp(ada, 'Formats', [table('lots', 'Lots', [field('text', 'l_code', 'Code'), field('rich_text', 'l_how', 'How')])]);
  const how = richTextAs({
    type: 'doc',
    content: [
      { type: 'heading', attrs: { level: 1 }, content: [{ type: 'text', text: 'Steps' }] },
      { type: 'paragraph', content: [{ type: 'text', text: 'Warm it', marks: [{ type: 'bold' }] }] },
    ],
  });
  const writes = ['A', 'B'].map((code) => ({ kind: 'add', table: 'lots', as: code, values: { l_code: code, l_how: how } }));
  await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
  const { bytes } = await ada.download(contract.exportRecords, { app: app.id, table: 'lots' });
  const csv = Buffer.from(bytes).toString();
  expect(csv).toContain('"Steps\nWarm it"');
  const edited = csv.replace('A,', 'A2,').replace(/(B,"?)Steps\nWarm it/u, '$1Steps\nCool it');
  expect(await run(ada, app, await upload(ada, app, 'Lots.csv', edited), 'lots')).toMatchObject({ state: 'done', added: 0 });
  const after = await records(ada, app, 'lots');
  expect(after[0]).toMatchObject({ Code: 'A2', How: how });
  expect(documentIn(after[1]?.['How'])?.content).toEqual(['Steps', 'Cool it'].map((text) => ({ type: 'paragraph', content: [{ type: 'text', text }] })));
});

/** An app with two apiaries of one name and three hives, and its list of hives as a file of lines. */
async function exported(name: string): Promise<{ app: OpenApp; lines: string[] }> {
  const app = await makeApp(ada, name, [
    ...honey,
    { kind: 'change_field', table: 'apiaries', field: field('text', 'a_name', 'Name', { required: true }) },
    { kind: 'add_field', table: 'hives', field: field('decimal', 'h_weight', 'Weight', { digits: 3 }) },
    { kind: 'change_table', table: 'hives', checks: [{ id: 'k_year', condition: 'Queen year >= 2000', message: 'No queen is that old.' }] },
  ]);
  const apiary = (as: string) => ({ kind: 'add' as const, table: 'apiaries', as, values: { a_name: 'Brackmoor' } });
  const hive = (as: string, code: string, of: string, more: object) => ({
    kind: 'add' as const,
    table: 'hives',
    as,
    values: { h_code: code, h_apiary: { added: of }, h_year: 2024, ...more },
  });
  await ada.call(contract.saveRecords, {
    params: { app: app.id },
    body: {
      key: saveKey(),
      writes: [
        apiary('a'),
        apiary('b'),
        hive('h1', '00501', 'a', { h_weight: '1.500', h_notes: "'=not a sum" }),
        hive('h2', '=1+1', 'b', { h_notes: 'two\nlines, "quoted"' }),
        hive('h3', 'H-3', 'b', {}),
      ],
    },
  });
  const { bytes } = await ada.download(contract.exportRecords, { app: app.id, table: 'hives' });
  return { app, lines: Buffer.from(bytes).toString('utf8').split('\r\n') };
}
const file = (lines: readonly string[]): string => lines.join('\r\n');
const revs = async (app: OpenApp): Promise<readonly unknown[]> => await it.sql(`SELECT id::integer, rev FROM "app_${app.id}".hives ORDER BY id`);

test('a list that comes back as it was exported changes nothing, though two records have one name', async () => {
  const { app, lines } = await exported('Same');
  expect(lines[0]).toMatch(/^\uFEFFRecord number,Code,/u);
  const done = await run(ada, app, await upload(ada, app, 'Hives.csv', file(lines)), 'hives');
  expect(done).toMatchObject({ state: 'done', added: 0, changed: 0, unchanged: 3 });
  expect(await revs(app)).toEqual([1, 2, 3].map((id) => ({ id, rev: 1 })));
});

test('exactly what was edited changes, a row without a number is added, and both are undone', async () => {
  const { app, lines } = await exported('Edited');
  const before = await records(ada, app, 'hives');
  const edited = lines.map((line) => line.replace('H-3', 'H-4'));
  // Sorted anew in the spreadsheet, with one row more.
  const fresh = (lines[3] ?? '').replace(/^3,H-3/u, ',H-9').replace('Brackmoor', '');
  const sorted = [edited[0] ?? '', edited[3] ?? '', fresh, ...edited.slice(1, 3)];
  const done = await run(ada, app, await upload(ada, app, 'Hives.csv', file([...sorted, ''])), 'hives');
  expect(done).toMatchObject({ state: 'done', added: 1, changed: 1, unchanged: 2 });
  const after = await records(ada, app, 'hives');
  expect(after).toEqual([...before.slice(0, 2), { ...before[2], Code: 'H-4' }, { ...before[2], Code: 'H-9', Apiary: null }]);
  expect((await ada.call(contract.readHistory, { params: { app: app.id, table: 'hives', id: 3 } })).entries).toMatchObject([
    { kind: 'change', changes: [{ field: 'h_code' }] },
    { kind: 'add' },
  ]);
  expect(await ada.call(contract.takeBackImport, { params: importParams(app, done.id) })).toMatchObject({ state: 'taken_back', stayed: 0 });
  expect(await records(ada, app, 'hives')).toEqual(before);
});

test('a record that was changed since the import stays as it is when the import is undone', async () => {
  const { app, lines } = await exported('Since');
  const edited = lines.map((line) => line.replace('H-3', 'H-4').replace('00501', '502'));
  const done = await run(ada, app, await upload(ada, app, 'Hives.csv', file(edited)), 'hives');
  expect(done).toMatchObject({ changed: 2 });
  await ada.call(contract.saveRecords, {
    params: { app: app.id },
    body: { key: saveKey(), writes: [{ kind: 'change', table: 'hives', id: 3, rev: 2, values: { h_code: 'H-5' } }] },
  });
  const refused = await ada.refused(contract.takeBackImport, { params: importParams(app, done.id) });
  expect(refused.body.message).toBe('1 of these records was changed since the import.');
  const others = await ada.call(contract.takeBackImport, { params: importParams(app, done.id), body: { others: true } });
  expect(others).toMatchObject({ state: 'taken_back', stayed: 1 });
  expect((await records(ada, app, 'hives')).map((record) => record['Code'])).toEqual(['00501', '=1+1', 'H-5']);
});

test('what does not fit keeps the whole file out, with its line', async () => {
  const { app, lines } = await exported('Unfit');
  const attempt = async (change: (line: string) => string): Promise<string[]> => {
    const done = await run(ada, app, await upload(ada, app, 'Hives.csv', file(lines.map(change))), 'hives');
    expect(done.state).toBe('refused');
    return done.complaints.map((complaint) => `${complaint.line} ${complaint.column}: ${complaint.value} ${complaint.reason}`);
  };
  expect(await attempt((line) => line.replace(/^3,/u, '77,'))).toEqual([
    '5 Record number: 77 is the number of no record in Hives. To add the row, leave this cell empty',
  ]);
  expect(await attempt((line) => line.replace(/^2,/u, '1,'))).toEqual(['3 Record number: 1 is in line 2 already']);
  expect(await attempt((line) => line.replace('Brackmoor', 'Brackmoon'))).toHaveLength(3);
  expect((await attempt((line) => line.replace('2024', '1999')))[0]).toContain('No queen is that old.');
  expect(await revs(app)).toEqual([1, 2, 3].map((id) => ({ id, rev: 1 })));
});
