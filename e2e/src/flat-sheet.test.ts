/** A flat sheet that becomes several tables. */
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { barriersOf, choose, openDemo, type House } from './browser.js';

let house: House;
let page: Page;
beforeAll(async () => {
  ({ house, page } = await openDemo());
});
afterAll(() => house.close());

const regions = ['Moor', 'Coast', 'Valley'];
/** Visits of 24 hives at 4 apiaries, each row with all of it, and two slips. */
const flat = [
  'Visit,Hive code,Queen year,Apiary,Region,Kilograms',
  ...Array.from({ length: 240 }, (_, i) => {
    const [hive, apiary] = [i % 24, i % 4];
    const region = i === 20 ? 'Inland' : i === 33 ? 'Caost' : regions[apiary % 3];
    return [i + 1, `H-${hive}`, 2020 + (hive % 5), `Site ${apiary}`, region, 10 + (i % 7)].join(',');
  }),
].join('\n');

async function bring(app: string): Promise<void> {
  await page.goto('/');
  await page.getByRole('button', { name: 'App', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'New app' });
  await dialog.getByRole('textbox', { name: 'Name' }).fill(app);
  await dialog.getByRole('radio', { name: /^A spreadsheet/u }).check();
  await dialog.getByRole('button', { name: 'Make the app' }).click();
  await page.getByLabel('Spreadsheet file').setInputFiles({ name: 'Visits.csv', mimeType: 'text/csv', buffer: Buffer.from(flat) });
  await page.getByRole('region', { name: 'One table, or 3' }).waitFor();
}

test('is one table unless somebody says otherwise', async () => {
  await bring('One table');
  await page.getByRole('button', { name: 'Import 240 rows' }).click();
  await page.getByText('240 records added to Visits.').waitFor();
});

test('shows what it repeats, and is imported into the tables that were chosen', async () => {
  await bring('Three tables');
  const tables = page.getByRole('region', { name: 'One table, or 3' });
  await tables.getByRole('button', { name: 'Make all 3 tables' }).click();
  for (const card of ['Table Apiaries, 4 records', 'Table Hives, 24 records', 'Table Visits, 240 records'])
    await tables.getByRole('button', { name: card }).waitFor();
  await tables.getByRole('textbox', { name: 'Name of the table for Apiary' }).fill('Sites');
  await tables.getByRole('button', { name: 'Table Sites, 4 records' }).waitFor();
  expect(await barriersOf(page)).toEqual([]);

  const apiary = tables.getByRole('listitem', { name: 'Apiary' });
  await apiary.getByText('the same for one Apiary in 238 of 240 rows').waitFor();
  await apiary.getByRole('button', { name: '2 rows differ' }).click();
  await apiary.getByText('Caost in 1 row, first in line 35').waitFor();
  await choose(page, 'Right Region of Site 0', 'Inland');
  await apiary.getByText('Moor in 59 rows, first in line 2').waitFor();
  // A field is of the table that its column is in, and shorter there.
  expect(await page.getByRole('textbox', { name: 'Name of the field for Hive code' }).inputValue()).toBe('Code');

  await page.getByRole('button', { name: 'Preview', exact: true }).click();
  const preview = page.getByRole('region', { name: 'Preview of the import' });
  await preview.getByText('4 records would be added to Sites, because rows refer to them: Site 0, Site 1, Site 2, Site 3.').waitFor();
  await preview.getByRole('cell', { name: 'is taken as “Inland”, as chosen. 59 rows have this value.' }).waitFor();
  await preview.getByRole('button', { name: 'Back to the columns' }).click();
  // What was chosen is there again.
  expect(await page.getByRole('textbox', { name: 'Name of the table for Apiary' }).inputValue()).toBe('Sites');
  await page.getByRole('button', { name: 'Import 240 rows' }).click();
  await page.getByText('240 records added to Visits. 24 records added to Hives. 4 records added to Sites.').waitFor();
  await page.getByRole('cell', { name: 'is taken as “Coast”, as in most rows.' }).waitFor();

  await page.getByRole('link', { name: 'Look at the table' }).click();
  await page.getByText('3 tables', { exact: true }).waitFor();
  await page.getByRole('button', { name: 'Table Sites, 4 records' }).waitFor();
  await page.goBack();
  await page.getByRole('button', { name: 'Undo the import' }).click();
  await page.getByText('The import was undone.').waitFor();
  await page.getByRole('link', { name: 'Back to the tables' }).click();
  await page.getByRole('button', { name: /^Table Sites, (?:no|0) records$/u }).waitFor();
});

test('leaves out a table that is declined, and a column that is to stay', async () => {
  await bring('Some of them');
  const tables = page.getByRole('region', { name: 'One table, or 3' });
  await tables.getByRole('checkbox', { name: 'A table for Apiary' }).check();
  await tables.getByRole('button', { name: 'Table Apiaries, 4 records' }).waitFor();
  await tables.getByRole('checkbox', { name: 'Region is in the table for Apiary' }).uncheck();
  await tables.getByText('stays in the rows').waitFor();
  await page.getByRole('button', { name: 'Import 240 rows' }).click();
  await page.getByText('240 records added to Visits. 4 records added to Apiaries.').waitFor();
  await page.getByRole('link', { name: 'Open the list' }).click();
  await page.getByRole('columnheader', { name: /^Region/u }).waitFor();
  await page.getByRole('gridcell', { name: 'Site 3', exact: true }).first().waitFor();
});
