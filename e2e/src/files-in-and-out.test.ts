/** Workbooks, JSON and pasted rows come in, change what they match, and go out again. */
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import Populate from 'xlsx-populate';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { barriersOf, choose, openDemo, rowOf, visit, type House } from './browser.js';

let house: House;
let app: string;
let page: Page;
beforeAll(async () => {
  ({ house, app, page } = await openDemo());
});
afterAll(() => house.close());

/** A workbook with these rows in its first sheet. */
async function bookOf(name: string, rows: readonly (readonly (string | number | Date | null)[])[]): Promise<string> {
  const book = await Populate.fromBlankAsync();
  for (const [y, row] of rows.entries())
    for (const [x, value] of row.entries())
      if (value !== null)
        book
          .sheet(0)
          .cell(`${String.fromCharCode(65 + x)}${y + 1}`)
          .value(value);
  const path = join(house.files, name);
  await writeFile(path, await book.outputAsync());
  return path;
}
const queenYear = async (code: string): Promise<string> =>
  (await rowOf(house, app, `SELECT queen_year::text AS year FROM hives WHERE lower(code) = lower('${code}')`))['year'] ?? '';

test('a workbook changes the records that its rows match: shown before, done, and undone as a whole', async () => {
  const before = [await queenYear('H-001'), await queenYear('H-002')];
  const rows = [
    ['Code', 'Apiary', 'Queen year'],
    ['h-001', 'Dunlin Mere', 1999],
    ['H-002', 'Nowhere', 1998],
  ];
  await visit(page, `/workshop/${app}/import?table=hives`);
  await page.getByLabel('Spreadsheet file').setInputFiles(await bookOf('hives.xlsx', rows));
  await page.getByText('has 2 rows and 3 columns').waitFor();
  await page.getByRole('button', { name: 'Next row' }).click();
  await page.getByRole('row', { name: /Code/u }).getByRole('cell', { name: 'H-002' }).waitFor();
  await choose(page, 'Rows of the file', 'Only change matching records');
  expect(await page.getByRole('combobox', { name: 'Matched by' }).innerText()).toBe('Code');
  expect(await barriersOf(page)).toEqual([]);
  await page.getByRole('button', { name: 'Preview 2 rows' }).click();
  // A name of no record is told with its row, and nothing that was chosen is lost.
  await page
    .getByRole('group', { name: 'Cells with errors' })
    .getByRole('row', { name: /3 Apiary Nowhere/u })
    .waitFor();
  expect(await page.getByRole('combobox', { name: 'Rows of the file' }).innerText()).toBe('Only change matching records');
  await choose(page, 'Apiary goes into', "don't import");
  await page.getByRole('button', { name: 'Preview 2 rows' }).click();
  const preview = page.getByRole('region', { name: 'Preview of the import' });
  await preview.getByRole('heading', { name: 'What hives.xlsx would do in Hives' }).waitFor();
  const changes = preview.getByRole('group', { name: 'Changes by field' });
  await changes.getByRole('row', { name: `Queen year in 2 records 2 ${before[0]} 1999` }).waitFor();
  expect(await barriersOf(page)).toEqual([]);
  expect(await queenYear('H-001')).toBe(before[0]);
  await preview.getByRole('button', { name: 'Import', exact: true }).click();
  await page.getByText('Hives: 2 changed, 0 unchanged.').waitFor();
  // The code was written with a small letter in the file, and counts as the same.
  expect(await rowOf(house, app, 'SELECT code FROM hives WHERE queen_year = 1999')).toEqual({ code: 'H-001' });
  await page.getByRole('button', { name: 'Undo the import' }).click();
  await page.getByText('The changed records have their earlier values again.').waitFor();
  expect([await queenYear('H-001'), await queenYear('H-002')]).toEqual(before);
});

test('rows that are pasted become a table, whose list is saved as a workbook that comes back unchanged', async () => {
  await visit(page, `/workshop/${app}/import`);
  const use = page.getByRole('button', { name: 'Use these rows' });
  expect(await use.isDisabled()).toBe(true);
  await page.getByRole('textbox', { name: 'Or paste rows here' }).fill('Tool\tBought on\tPrice\nSmoker\t2024-03-01\t24.50\n=Hive tool\t2025-01-15\t9\n');
  await use.click();
  await page.getByText('has 2 rows and 3 columns').waitFor();
  await page.getByRole('textbox', { name: 'Name of the new table' }).fill('Tools');
  await page.getByRole('button', { name: 'Preview', exact: true }).click();
  await page.getByText('to add').waitFor();
  expect(await page.getByText('to change').count()).toBe(0);
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await page.getByText('2 records added to Tools.').waitFor();
  await page.getByRole('link', { name: 'Open the list' }).click();
  await page.getByRole('button', { name: 'Export' }).click();
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name: 'XLSX, for spreadsheets' }).click()]);
  expect(download.suggestedFilename()).toBe('Tools.xlsx');
  const book = await Populate.fromDataAsync(await readFile(await download.path()));
  expect(book.sheet(0).usedRange().value()[2]).toEqual([2, '=Hive tool', 45_672, 9]);
  book.sheet(0).cell('D2').value(26);
  const path = join(house.files, 'tools.xlsx');
  await writeFile(path, await book.outputAsync());
  const table = /\/desk\/[^/]+\/([^/?]+)/u.exec(page.url())?.[1] ?? '';
  await visit(page, `/workshop/${app}/import?table=${table}`);
  await page.getByLabel('Spreadsheet file').setInputFiles(path);
  await page.getByRole('button', { name: 'Preview 2 rows' }).click();
  await page.getByRole('row', { name: 'Price in 1 record 2 24.5 26' }).waitFor();
  await page.getByRole('button', { name: 'Back to the columns' }).click();
  await choose(page, 'Rows of the file', 'Change, add, and delete records not in the file');
  await page.getByRole('button', { name: 'Preview 2 rows' }).click();
  await page.getByText('to delete').waitFor();
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await page.getByText('Tools: 1 changed, 1 unchanged.').waitFor();
});

test('a column is computed from each row, changed, and kept for the next file', async () => {
  const bring = async (rows: string): Promise<void> => {
    await visit(page, `/workshop/${app}/import`);
    await page.getByRole('textbox', { name: 'Or paste rows here' }).fill(`Member\tJars\tPrice\n${rows}`);
    await page.getByRole('button', { name: 'Use these rows' }).click();
    await page.getByRole('button', { name: 'Computed column' }).waitFor();
  };
  await bring('Ada Roke\t12\t6.50\nJorun Vasse\t3\t7\n');
  await page.getByRole('textbox', { name: 'Name of the new table' }).fill('Sales');
  await page.getByRole('button', { name: 'Computed column' }).click();
  const dialog = page.getByRole('dialog', { name: 'New computed column' });
  await dialog.getByRole('textbox', { name: 'Name' }).fill('jars');
  await dialog.getByRole('textbox', { name: 'Expression' }).click();
  await page.keyboard.type('Jars * Price');
  await dialog.getByRole('cell', { name: '78', exact: true }).waitFor();
  expect(await barriersOf(page)).toEqual([]);
  await dialog.getByRole('button', { name: 'Add the column' }).click();
  await dialog.getByText('Another column has this name').waitFor();
  await dialog.getByRole('textbox', { name: 'Name' }).fill('Sum');
  await dialog.getByRole('button', { name: 'Add the column' }).click();
  await page.getByRole('row', { name: /^Sum .*78/u }).waitFor();
  await page.getByRole('button', { name: 'Change Sum' }).click();
  const change = page.getByRole('dialog', { name: 'Computed column' });
  await change.getByRole('textbox', { name: 'Expression' }).click();
  await page.keyboard.press('Control+End');
  await page.keyboard.type(' + 1');
  await change.getByRole('button', { name: 'Use it' }).click();
  await page.getByRole('row', { name: /^Sum .*79/u }).waitFor();
  await page.getByRole('button', { name: 'Import 2 rows' }).click();
  await page.getByText('2 records added to Sales.').waitFor();
  expect(await rowOf(house, app, "SELECT sum::text FROM sales WHERE member = 'Jorun Vasse'")).toEqual({ sum: '22' });

  await bring('Bede Lunn\t2\t8\n');
  await page.getByRole('link', { name: 'Import this one into Sales too' }).click();
  await page.getByRole('row', { name: /^Sum .*17/u }).waitFor();
  await page.getByRole('button', { name: 'Import 1 row' }).click();
  await page.getByText('1 record added to Sales.').waitFor();
  expect(await rowOf(house, app, "SELECT sum::text FROM sales WHERE member = 'Bede Lunn'")).toEqual({ sum: '17' });
});

test('a list inside of the records of a JSON file is a part of its own, and the columns of one file are proposed for the next', async () => {
  const visits = [
    {
      hive: 'H-001',
      on: '2026-05-01',
      frames: [
        { number: 1, brood: 0.5 },
        { number: 2, brood: 0.25 },
      ],
    },
    { hive: 'H-002', on: '2026-05-02', frames: [{ number: 1, brood: 1 }] },
  ];
  const file = (name: string) => ({ name, mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(visits)) });
  await visit(page, `/workshop/${app}/import`);
  await page.getByLabel('Spreadsheet file').setInputFiles(file('visits.txt'));
  // The longest list is proposed.
  await page.getByText('has 3 rows and 4 columns').waitFor();
  await choose(page, 'List', 'Records');
  await page.getByText('has 2 rows and 2 columns').waitFor();
  await choose(page, 'List', 'frames');
  await page.getByText('has 3 rows and 4 columns').waitFor();
  expect(await page.getByRole('rowheader').allInnerTexts()).toEqual(['number', 'brood', 'Parent hive', 'Parent on']);
  await page.getByRole('textbox', { name: 'Name of the new table' }).fill('Frames seen');
  await page.getByRole('textbox', { name: 'Name of the field for brood' }).fill('Share of brood');
  await page.getByRole('button', { name: 'Import 3 rows' }).click();
  await page.getByText('3 records added to Frames seen.').waitFor();
  await visit(page, `/workshop/${app}/import`);
  await page.getByLabel('Spreadsheet file').setInputFiles(file('visits again.json'));
  await page.getByRole('link', { name: 'Import this one into Frames seen too' }).click();
  await page.getByRole('heading', { name: 'Rows for Frames seen' }).waitFor();
  expect(await page.getByRole('combobox', { name: 'brood goes into' }).innerText()).toBe('Share of brood');
  await page.getByRole('button', { name: 'Import 3 rows' }).click();
  await page.getByText('3 records added to Frames seen.').waitFor();
});

test('a workbook that is damaged or locked is refused in a sentence, and another one can be chosen', async () => {
  await visit(page, `/workshop/${app}/import?table=hives`);
  const locked = await (await Populate.fromBlankAsync()).outputAsync({ password: 'secret' });
  await page.getByLabel('Spreadsheet file').setInputFiles({ name: 'locked.xlsx', mimeType: '', buffer: locked });
  await page.getByText('The workbook is protected by a password.').waitFor();
  await page.getByRole('button', { name: 'Choose another file' }).click();
  const half = (await readFile(await bookOf('whole.xlsx', [['Code'], ['H-001']]))).subarray(0, 900);
  await page.getByLabel('Spreadsheet file').setInputFiles({ name: 'half.xlsx', mimeType: '', buffer: half });
  await page.getByText('The workbook is damaged.').waitFor();
});
