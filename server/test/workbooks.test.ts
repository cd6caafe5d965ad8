/** Workbooks that come in, and those that go out and come back from another program. */
import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { contract, type OpenApp } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import Populate from 'xlsx-populate';
import { buffer } from 'node:stream/consumers';
import { writeWorkbook } from '../src/export/formats/xlsx.js';
import { rowsOf, withFile } from './file-rows.js';
import { importParams, records, run, settled, upload } from './importing.js';
import { field, honey, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';
import { lyingZip, sheetOf, workbookOf, zipOf } from './workbook-files.js';

let it: TestServer;
let ada: Caller & { id: number };
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
});
afterAll(() => it.close());

const library = join(dirname(createRequire(import.meta.url).resolve('xlsx-populate/package.json')), 'examples');

describe('cells say what a person sees', () => {
  const styles =
    '<numFmts><numFmt numFmtId="170" formatCode="00000"/><numFmt numFmtId="171" formatCode="[$-809]dd\\ mmmm\\ yyyy"/><numFmt numFmtId="172" formatCode="[h]:mm"/><numFmt numFmtId="173" formatCode="&quot;day&quot; 0"/></numFmts>' +
    `<cellStyleXfs><xf numFmtId="14"/></cellStyleXfs><cellXfs>${[0, 170, 171, 14, 22, 20, 172, 173, 9].map((id) => `<xf numFmtId="${id}"/>`).join('')}</cellXfs>`;
  const strings = '<si><t>plain</t></si><si><r><t>two </t></r><r><t>parts</t></r><rPh><t>spoken</t></rPh></si><si><t>a_x000D_b_x005F_x0041_</t></si>';
  const cell = (attributes: string, inside: string): string => `<c ${attributes}>${inside}</c>`;
  const one = async (xml: string, since1904 = false): Promise<string> =>
    (await rowsOf(await workbookOf({ sheets: { S: `<sheetData><row r="1">${xml}</row></sheetData>` }, styles, strings, since1904 })))[0]?.[0] ?? '';
  const number = (value: string, style = 0): string => cell(`r="A1" s="${style}"`, `<v>${value}</v>`);

  test.each([
    ['a whole number', number('1200'), '1200'],
    ['a fraction as it was typed', number('0.10000000000000001'), '0.1'],
    ['a number with an exponent', number('1.5E-3'), '0.0015'],
    ['a very large number', number('1E+21'), '1000000000000000000000'],
    ['a code with zeros in front', number('501', 1), '00501'],
    ['a day', number('45000', 2), '2023-03-15'],
    ['a day in the format of the region', number('45000', 3), '2023-03-15'],
    ['a day whose time is not shown', number('45000.75', 3), '2023-03-15'],
    ['a moment', number('45000.75', 4), '2023-03-15 18:00'],
    ['a time', number('0.520833333333333', 5), '12:30'],
    ['hours beyond a day', number('1.5', 6), '36:00'],
    ['words beside a number', number('7', 7), '7'],
    ['a share as it is shown', number('0.125', 8), '12.5%'],
    ['a share that no fraction holds exactly', number('0.07', 8), '7%'],
    ['a third', number('0.333333333333333', 8), '33.3333333333%'],
    ['a day before the calendar of workbooks', number('-3', 3), '-3'],
    ['the day that 1900 did not have', number('60', 3), '60'],
    ['the first day of March 1900', number('61', 3), '1900-03-01'],
    ['a shared text', cell('r="A1" t="s"', '<v>0</v>'), 'plain'],
    ['a text in parts, without how it is spoken', cell('r="A1" t="s"', '<v>1</v>'), 'two parts'],
    ['a text with signs that XML has no place for', cell('r="A1" t="s"', '<v>2</v>'), 'a\rb_x0041_'],
    ['the result of a formula', cell('r="A1" t="str"', '<f>A2&amp;"x"</f><v>yx</v>'), 'yx'],
    ['a yes', cell('r="A1" t="b"', '<v>1</v>'), 'yes'],
    ['an error', cell('r="A1" t="e"', '<v>#N/A</v>'), '#N/A'],
    ['a day in ISO', cell('r="A1" t="d"', '<v>2026-09-14T00:00:00</v>'), '2026-09-14'],
  ])('%s', async (_, xml, said) => expect(await one(xml)).toBe(said));

  test('days that are counted from 1904', async () => expect(await one(number('43538', 3), true)).toBe('2023-03-15'));
});

describe('a sheet is read', () => {
  const merged = sheetOf(
    [
      ['Hives of 2026'],
      ['Apiary', 'Spring', null, 'Autumn', null],
      [null, 'Hives', 'Honey', 'Hives', 'Honey'],
      ['Brackmoor', 4, 12.5, 6, 30],
      [null, 5, 11, 7, 28],
      [null, null, null, null, null],
      ['Heron Mere', 2, 3, 4, 5],
    ],
    '<mergeCells><mergeCell ref="A1:E1"/><mergeCell ref="A2:A3"/><mergeCell ref="B2:C2"/><mergeCell ref="D2:E2"/><mergeCell ref="A4:A6"/></mergeCells>',
  );

  test('with merged heads as one name each, and a merged cell for each of its rows', async () => {
    const app = await makeApp(ada, 'Merged', []);
    const answer = await upload(ada, app, 'Seasons.xlsx', await workbookOf({ sheets: { Seasons: merged } }));
    expect(answer.survey).toMatchObject({ rows: 3, reading: { format: 'workbook', skip: 1, headingRows: 2, part: 'Seasons' } });
    const done = await run(ada, app, answer, null);
    expect(done).toMatchObject({ state: 'done', added: 3 });
    expect(await records(ada, app, done.table)).toMatchObject([
      { Apiary: 'Brackmoor', 'Spring Hives': 4, 'Spring Honey': '12.5', 'Autumn Hives': 6, 'Autumn Honey': 30 },
      { Apiary: 'Brackmoor', 'Spring Hives': 5 },
      { Apiary: 'Heron Mere', 'Spring Hives': 2 },
    ]);
  });

  test('with amounts of money where most of a column is shown as such, of one currency', async () => {
    const formats = ['"£"#,##0.00', '[$€-407]\\ #,##0.00', '_-* #,##0.00\\ "CHF"_-;-0', '$0', '0 "try"', '[$-809]0.00', '0\\ "€";[Red]0'];
    const escaped = formats.map((code) => code.replaceAll('"', '&quot;'));
    const styles =
      `<numFmts>${escaped.map((code, i) => `<numFmt numFmtId="${170 + i}" formatCode="${code}"/>`).join('')}</numFmts>` +
      `<cellXfs><xf numFmtId="0"/>${escaped.map((_, i) => `<xf numFmtId="${170 + i}"/>`).join('')}</cellXfs>`;
    // The name of a column, its numbers, and the style of each.
    const columns: readonly (readonly [string, readonly number[], readonly number[]])[] = [
      ['Pounds', [12.5, 3, 1200], [1, 1, 1]],
      ['Mostly euro', [-12.5, 3, 7], [2, 0, 7]],
      ['Francs', [12.5, 3, 7], [3, 3, 3]],
      ['Dollars', [12, 3, 7], [4, 4, 4]],
      ['One by mistake', [12, 3, 7], [1, 0, 0]],
      ['Two currencies', [12.5, 3, 7], [1, 2, 1]],
      ['Parts of a penny', [0.125, 3, 7], [1, 1, 1]],
      ['A word', [1, 2, 3], [5, 5, 5]],
      ['A language', [1.5, 2, 3], [6, 6, 6]],
    ];
    const cell = (at: string, i: number, row: number, inside: string): string => `<c r="${String.fromCharCode(65 + i)}${row}" ${at}>${inside}</c>`;
    const rows = [0, 1, 2].map((n) => columns.map(([, numbers, of], i) => cell(`s="${of[n] ?? 0}"`, i, n + 2, `<v>${numbers[n] ?? 0}</v>`)).join(''));
    const heads = columns.map(([name], i) => cell('t="inlineStr"', i, 1, `<is><t>${name}</t></is>`)).join('');
    const sheet = `<sheetData>${[heads, ...rows].map((cells, i) => `<row r="${i + 1}">${cells}</row>`).join('')}</sheetData>`;
    const app = await makeApp(ada, 'Amounts', []);
    const answer = await upload(ada, app, 'Prices.xlsx', await workbookOf({ sheets: { S: sheet }, styles }));
    expect(answer.survey?.columns.map(({ name, kind, unit }) => [name, kind, unit])).toEqual([
      ['Pounds', 'money', 'GBP'],
      ['Mostly euro', 'money', 'EUR'],
      ['Francs', 'money', 'CHF'],
      ['Dollars', 'money', 'USD'],
      ['One by mistake', 'whole', null],
      ['Two currencies', 'decimal', null],
      ['Parts of a penny', 'decimal', null],
      ['A word', 'whole', null],
      ['A language', 'decimal', null],
    ]);
    const done = await run(ada, app, answer, null);
    expect(done).toMatchObject({ state: 'done', added: 3 });
    expect(await records(ada, app, done.table)).toMatchObject([{ Pounds: '12.5', 'Mostly euro': '-12.5' }, { Pounds: '3' }, { Pounds: '1200', Francs: '7' }]);
    const { design } = await ada.call(contract.openApp, { params: { app: app.id } });
    const made = design.tables.find((table) => table.id === done.table);
    expect(made?.fields.find(({ name }) => name === 'Francs')).toMatchObject({ kind: 'money', currency: 'CHF' });
  });

  test('that a person chooses, and within the cells that they name', async () => {
    const app = await makeApp(ada, 'Parts', []);
    const sheets = {
      'hidden Old': sheetOf([['Nothing'], ['x']]),
      Hives: sheetOf([
        ['Code', 'Year', 'Note'],
        ['H-1', 2024, 'a'],
        ['H-2', 2025, 'b'],
        ['Sum', 4049, null],
      ]),
      Empty: '',
    };
    const answer = await upload(ada, app, 'Book.xlsx', await workbookOf({ sheets }));
    expect(answer.survey).toMatchObject({ parts: ['Old', 'Hives', 'Empty'], rows: 3, reading: { part: 'Hives' } });
    const read = async (reading: object) => {
      await ada.call(contract.surveyImport, { params: importParams(app, answer.id), body: { reading } });
      return settled(ada, app, answer.id);
    };
    expect((await read({ range: 'A1:B3' })).survey).toMatchObject({ rows: 2, columns: [{ name: 'Code' }, { name: 'Year' }] });
    expect((await read({ range: '' })).survey).toMatchObject({ rows: 3 });
    expect((await read({ range: 'b:c' })).survey).toMatchObject({ rows: 3, columns: [{ name: 'Year' }, { name: 'Note' }] });
    expect((await read({ part: 'Old', range: '' })).survey).toMatchObject({ rows: 1, columns: [{ name: 'Nothing' }] });
    expect(await read({ part: 'Empty' })).toMatchObject({ state: 'failed', message: 'Empty has no rows. Choose another part of the file.' });
    // A heading that a person chose stays when another setting is changed.
    expect((await read({ part: 'Hives', heading: false })).survey).toMatchObject({ rows: 4 });
    expect((await read({ skip: 1 })).survey).toMatchObject({ rows: 3, reading: { heading: false, skip: 1 } });
    const wrong = await ada.refused(contract.surveyImport, { params: importParams(app, answer.id), body: { reading: { range: 'A1;B2' } } });
    expect(wrong.status).toBe(400);
  });

  test('that a spreadsheet library ships, unmodified', async () => {
    const app = await makeApp(ada, 'Shipped', []);
    const answer = await upload(ada, app, 'Clicks.csv', await readFile(join(library, 'ranges/template.xlsx')));
    const done = await run(ada, app, answer, null);
    expect(done).toMatchObject({ state: 'done', added: 5 });
    expect((await records(ada, app, done.table))[0]).toMatchObject({ Clicks: 423, Impressions: 398_503, CTR: '0.001061472561' });
    const locked = await upload(ada, app, 'Locked.xlsx', await readFile(join(library, 'encryption/out.xlsx')));
    expect(locked).toMatchObject({
      state: 'failed',
      message: 'The workbook is protected by a password. Remove the password where it was made and choose it again.',
    });
  });
});

describe('what is no workbook is refused in words, in little memory and time', () => {
  const good = { sheets: { S: sheetOf([['Code'], ['H-1']]) } };
  test.each<[string, () => Promise<Uint8Array>, string]>([
    ['half of a workbook', async () => (await workbookOf(good)).subarray(0, 700), 'The workbook is damaged.'],
    ['a workbook with wrong bytes', async () => await workbookOf({ sheets: { S: '<sheetData><row><c><v>1</c>' } }), 'The workbook is damaged.'],
    ['an archive', () => zipOf({ 'a.txt': 'a' }), 'This is an archive and no workbook.'],
    [
      'a workbook of another kind',
      () => zipOf({ 'content.xml': '<a/>', mimetype: 'application/vnd.oasis.opendocument.spreadsheet' }),
      'This is a workbook of another kind.',
    ],
    ['a workbook of an old kind', async () => Buffer.concat([Buffer.from([0xd0, 0xcf, 0x11, 0xe0]), Buffer.alloc(2000)]), 'This is a workbook of an old kind.'],
    ['a workbook without sheets', () => workbookOf({ sheets: {} }), 'The workbook has no sheet with cells.'],
    [
      'a part that is larger than it says',
      async () => lyingZip({ 'xl/workbook.xml': `<workbook>${' '.repeat(3_000_001)}</workbook>` }, 'xl/workbook.xml'),
      'The workbook is damaged.',
    ],
    [
      'a cell of 60 million characters',
      () => workbookOf({ sheets: { S: sheetOf([['Code'], ['x'.repeat(60_000_000)]]) } }),
      'A cell of the workbook is longer than 1 million characters.',
    ],
  ])('%s', async (_, bytes, words) => {
    const app = await makeApp(ada, 'Refused', []);
    const began = performance.now();
    const answer = await upload(ada, app, 'x.xlsx', await bytes());
    expect(answer.state).toBe('failed');
    expect(answer.message).toContain(words);
    expect(performance.now() - began).toBeLessThan(20_000);
  });

  test('a sheet with more columns than an import takes', async () => {
    const app = await makeApp(ada, 'Wide', []);
    const wide = await upload(ada, app, 'Wide.csv', Array.from({ length: 2500 }, (_, i) => `c${i}`).join(','));
    expect(wide).toMatchObject({ state: 'failed', message: 'The file has 2,500 columns. At most 1,000 can be imported: leave out what is not needed.' });
  });
});

describe('a list that is saved as a workbook', () => {
  async function hives(name: string): Promise<OpenApp> {
    const app = await makeApp(ada, name, [...honey, { kind: 'add_field', table: 'hives', field: field('date_and_time', 'h_seen', 'Seen') }]);
    const hive = (as: string, values: object) => ({ kind: 'add' as const, table: 'hives', as, values });
    await ada.call(contract.saveRecords, {
      params: { app: app.id },
      body: {
        key: saveKey(),
        writes: [
          { kind: 'add', table: 'apiaries', as: 'a', values: { a_name: 'Brackmoor' } },
          hive('h1', {
            h_code: '00501',
            h_year: 2024,
            h_rent: '12.50',
            h_since: '2024-02-29',
            h_gentle: true,
            h_stores: 'low',
            h_apiary: { added: 'a' },
            h_seen: '2026-10-25T01:30:00Z',
          }),
          hive('h2', { h_code: '=1+1', h_notes: "'=quoted\n  <b>&amp;</b> _x0041_", h_since: '1899-12-30', h_gentle: false }),
          hive('h3', { h_code: 'H-3', h_notes: 'x'.repeat(40_000) }),
        ],
      },
    });
    return app;
  }
  const saved = async (app: OpenApp, more: Record<string, string> = {}) =>
    (await ada.download(contract.exportRecords, { app: app.id, table: 'hives' }, { format: 'xlsx', ...more })).bytes;

  test('opens in another program with numbers and dates, and the record numbers out of sight', async () => {
    const app = await hives('Opened');
    const sheet = (await Populate.fromDataAsync(await saved(app))).sheet(0);
    expect(sheet.name()).toBe('Hives');
    const [heads = [], first = [], second = []] = sheet.usedRange().value();
    expect(heads).toEqual(['Record number', 'Code', 'Queen year', 'Rent', 'Since', 'Gentle', 'Stores', 'Notes', 'Apiary', 'Seen']);
    // 45351 is 29 February 2024.
    expect(first.slice(0, 9)).toEqual([1, '00501', 2024, 12.5, 45_351, true, 'Low', undefined, 'Brackmoor']);
    // What looks like a calculation is a text, with nothing put before it. The library leaves escaped signs as they are.
    expect(second.slice(0, 8)).toEqual([2, '=1+1', undefined, undefined, '1899-12-30', false, undefined, "'=quoted\n  <b>&amp;</b> _x005F_x0041_"]);
    expect(sheet.column('A').hidden()).toBe(true);
  });

  test('comes back from another program with exactly what was edited there, and is undone', async () => {
    const app = await hives('Edited');
    const before = await records(ada, app, 'hives');
    const same = await run(ada, app, await upload(ada, app, 'Hives.xlsx', await saved(app)), 'hives');
    expect(same).toMatchObject({ state: 'done', added: 0, changed: 0, unchanged: 3 });
    const book = await Populate.fromDataAsync(await saved(app));
    book.sheet(0).cell('C2').value(2025);
    book
      .sheet(0)
      .cell('E2')
      .value(new Date(2024, 2, 1));
    book.sheet(0).cell('B5').value('H-4');
    const done = await run(ada, app, await upload(ada, app, 'Hives.xlsx', await book.outputAsync()), 'hives');
    expect(done).toMatchObject({ state: 'done', added: 1, changed: 1, unchanged: 2 });
    const after = await records(ada, app, 'hives');
    expect(after.slice(0, 3)).toEqual([{ ...before[0], 'Queen year': 2025, Since: '2024-03-01' }, before[1], before[2]]);
    expect(after[3]).toMatchObject({ Code: 'H-4' });
    await ada.call(contract.takeBackImport, { params: importParams(app, done.id) });
    expect(await records(ada, app, 'hives')).toEqual(before);
  });

  test('has the columns that are asked for, and no others', async () => {
    const app = await hives('Columns');
    const rows = await rowsOf(await saved(app, { columns: JSON.stringify(['h_year', 'h_code']), sort: 'h_code', direction: 'down' }));
    expect(rows).toEqual([
      ['Record number', 'Queen year', 'Code'],
      ['3', '', 'H-3'],
      ['1', '2024', '00501'],
      ['2', '', '=1+1'],
    ]);
  });

  test('goes on in another sheet where one is full', async () => {
    async function* pages() {
      for (let from = 1; from <= 25; from += 10) yield Array.from({ length: 10 }, (_, i) => [from + i]);
    }
    const columns = [{ name: 'N', type: 'number', isWords: false }];
    const bytes = await buffer(writeWorkbook({ title: 'Tags/1', columns, pages: pages(), zone: 'UTC' }, 13));
    const parts = await withFile(bytes, async (start) => start.parts);
    expect(parts).toEqual(['Tags 1', 'Tags 1 2', 'Tags 1 3']);
    const sheets = await Promise.all(parts.map((part) => rowsOf(bytes, { part })));
    expect(sheets.map((rows) => [rows[0]?.[0], rows.length - 1])).toEqual([
      ['N', 12],
      ['N', 12],
      ['N', 6],
    ]);
    expect(sheets.flatMap((rows) => rows.slice(1).map((row) => Number(row[0])))).toEqual(Array.from({ length: 30 }, (_, i) => i + 1));
  });

  test('ends where its rows can no longer be read, and takes nothing else with it', async () => {
    async function* pages() {
      yield [[1]];
      throw new Error('the database is gone');
    }
    const columns = [{ name: 'N', type: 'number', isWords: false }];
    await expect(buffer(writeWorkbook({ title: 'Tags', columns, pages: pages(), zone: 'UTC' }, 100))).rejects.toThrow('the database is gone');
  });
});
