/** Values that go over to other tables, and come back. */
import type { Page } from 'playwright-core';
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { barriersOf, choose, openDemo, type House } from './browser.js';

let house: House;
let page: Page;
beforeAll(async () => {
  ({ house, page } = await openDemo());
});
afterAll(() => house.close());

/** Visits to 24 hives at 4 apiaries, each row with all of it, and one slip. */
const flat = [
  'Visit,Hive,Apiary,Region,Kilograms',
  ...Array.from({ length: 240 }, (_, i) =>
    [i + 1, `H-${i % 24}`, `Site ${i % 4}`, i === 20 ? 'Inland' : ['Moor', 'Coast', 'Valley', 'Fell'][i % 4], 10 + (i % 7)].join(','),
  ),
].join('\n');

/** Presses the button of a dialog once it has shown what would change. */
async function press(name: string): Promise<void> {
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('list', { name: 'What would change' }).waitFor();
  await dialog.getByRole('button', { name, exact: true }).click();
  await dialog.waitFor({ state: 'detached' });
}

test('what a table repeats is found, becomes a table, and is a column again', async () => {
  await page.goto('/');
  await page.getByRole('button', { name: 'App', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'New app' });
  await dialog.getByRole('textbox', { name: 'Name' }).fill('Flat');
  await dialog.getByRole('radio', { name: /^A spreadsheet/u }).check();
  await dialog.getByRole('button', { name: 'Make the app' }).click();
  await page.getByLabel('Spreadsheet file').setInputFiles({ name: 'Visits.csv', mimeType: 'text/csv', buffer: Buffer.from(flat) });
  await page.getByRole('button', { name: 'Import 240 rows' }).click();
  await page.getByRole('link', { name: 'Look at the table' }).click();

  await page.getByRole('button', { name: 'Find repeats' }).click();
  const found = page.getByRole('dialog', { name: 'What Visits repeats' });
  const apiary = found.getByRole('listitem').filter({ hasText: 'Nearly always the same for one Apiary: Region.' });
  await apiary.getByText('4 values in 240 records').waitFor();
  expect(await barriersOf(page)).toEqual([]);
  await apiary.getByRole('button', { name: 'Make it a table' }).click();

  const making = page.getByRole('dialog', { name: 'Make Apiary a table' });
  await making.getByText('4 records of Apiaries are made: “Site 0”, “Site 1”, “Site 2”, “Site 3”.').waitFor();
  await making.getByText('1 record of Visits has another Region than most with the same Apiary, or no Apiary: “Inland”.').waitFor();
  await making.getByRole('textbox', { name: 'Name of the table' }).fill('');
  await making.getByRole('button', { name: 'Make the table' }).click();
  await making.getByText('Fill in what is missing.').waitFor();
  await making.getByRole('textbox', { name: 'Name of the table' }).fill('Visits');
  await making.getByText(/already|taken/u).waitFor();
  await making.getByRole('textbox', { name: 'Name of the table' }).fill('Sites');
  await making.getByText('4 records of Sites are made').waitFor();
  expect(await barriersOf(page)).toEqual([]);
  await press('Make the table');

  await page.getByRole('button', { name: 'Table Sites, 4 records' }).waitFor();
  await page.getByText('First 4 of 4 records').waitFor();
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByText('Undone: Made Apiary of Visits the table Sites').waitFor();
  await page.getByRole('button', { name: 'Table Sites, 4 records' }).waitFor({ state: 'detached' });
  await page
    .getByRole('link', { name: /^Visits/u })
    .first()
    .click();
  await page.getByRole('cell', { name: 'Site 3' }).first().waitFor();
});

test('a field moves to the table that a reference leads to, and its records go on showing it', async () => {
  await page.getByRole('button', { name: 'Redo' }).click();
  // It sets a value aside again, so it asks again.
  await page.getByRole('button', { name: 'Redo “Made Apiary of Visits the table Sites”' }).click();
  await page.getByText('Redone: Made Apiary of Visits the table Sites').waitFor();
  await page.getByRole('link', { name: /^Kilograms/u }).click();
  await page.getByRole('button', { name: 'Move to another table' }).click();
  const moving = page.getByRole('dialog', { name: 'Move fields of Visits' });
  await moving.getByText(/records of Visits have another Kilograms than most with the same Apiary/u).waitFor();
  // Somebody reads for long: it waits, says so, and can be stopped.
  const reader = new pg.Client({ connectionString: house.url });
  await reader.connect();
  await reader.query(`BEGIN; SELECT FROM "app_${page.url().split('/')[4] ?? ''}".visits`);
  await moving.getByRole('button', { name: 'Move', exact: true }).click();
  await moving.getByText(/^Waiting until nobody works with these tables, \d+ s so far/u).waitFor();
  expect(await barriersOf(page)).toEqual([]);
  await moving.getByRole('button', { name: 'Stop' }).click();
  await moving.getByText('The change was stopped. Nothing was changed.').waitFor();
  await reader.end();
  await press('Move');
  // The editor of the field is that of a formula now.
  await page.getByRole('textbox').filter({ hasText: 'Apiary.Kilograms' }).waitFor();
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByText('Undone: Moved Kilograms from Visits to Sites').waitFor();
  await page.getByRole('combobox', { name: 'Kind' }).getByText('Whole number').waitFor();
});

test('one parent becomes several, unless something takes it for one, and one again', async () => {
  await page.getByRole('button', { name: 'Back to Visits' }).click();
  await page.getByRole('link', { name: /^Apiary/u }).click();
  await page.getByRole('button', { name: 'Allow several of Sites' }).click();
  const several = page.getByRole('dialog', { name: 'Several Sites for one of Visits' });
  await several.getByText(/^It is used as one record in one place: the formula Region of Visits. Change that first./u).waitFor();
  await several.getByRole('button', { name: 'Cancel' }).click();
  await page.getByRole('button', { name: 'Back to Visits' }).click();
  await page.getByRole('link', { name: /^Region/u }).click();
  await page.getByRole('button', { name: 'Remove field' }).click();
  await page.getByRole('link', { name: /^Apiary/u }).click();
  await page.getByRole('button', { name: 'Allow several of Sites' }).click();
  await press('Allow several');
  await page.getByText('A record of Sites can have several of Visits').waitFor();
  await page.getByRole('button', { name: 'Allow only one' }).click();
  await choose(page.getByRole('dialog'), 'Who has only one', 'Visits');
  await press('Allow only one');
  await page.getByRole('heading', { name: 'Site' }).waitFor();
  await page.getByRole('cell', { name: 'Site 3' }).first().waitFor();
  expect(house.faults).toEqual([]);
});

test('two tables become one: what was made of one keeps to its records, and undo makes two of them again', async () => {
  const file = (name: string, ...lines: readonly string[]) => ({ name, mimeType: 'text/csv', buffer: Buffer.from(lines.join('\n')) });
  await page.goto('/');
  await page.getByRole('button', { name: 'App', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'New app' });
  await dialog.getByRole('textbox', { name: 'Name' }).fill('People of the yard');
  await dialog.getByRole('radio', { name: /^A spreadsheet/u }).check();
  await dialog.getByRole('button', { name: 'Make the app' }).click();
  await page.getByLabel('Spreadsheet file').setInputFiles(file('Keepers.csv', 'Name,Town', 'Bede,Dunlin', 'Cuthbert,Alder'));
  await page.getByRole('button', { name: 'Import 2 rows' }).click();
  await page.getByRole('link', { name: 'Look at the table' }).click();
  await page.getByRole('link', { name: 'Spreadsheet' }).click();
  await page.getByLabel('Spreadsheet file').setInputFiles(file('Helpers.csv', 'Name,Day rate', 'Dunstan,80', 'Edith,90', 'Frith,70'));
  await page.getByRole('button', { name: 'Import 3 rows' }).click();
  await page.getByRole('link', { name: 'Look at the table' }).click();
  await page.getByRole('tab', { name: 'Settings' }).click();
  await page.getByRole('button', { name: 'Merge into another table' }).click();

  const merging = page.getByRole('dialog', { name: 'Merge Helpers into another table' });
  await merging.getByText('3 records of Helpers become records of Keepers.').waitFor();
  expect(await merging.getByRole('combobox', { name: 'Name' }).textContent()).toBe('Name');
  expect(await barriersOf(page)).toEqual([]);
  await choose(merging, 'Day rate', 'Left out');
  await merging.getByText('3 values of Day rate do not go along: “80”, “90”, “70”.').waitFor();
  await choose(merging, 'Day rate', 'A new field');
  await merging.getByText('do not go along: “80”').waitFor({ state: 'detached' });
  await press('Merge');
  await page.getByText('First 5 of 5 records').waitFor();
  const workshop = page.url();

  // The list of helpers is there still, shows only them, and makes them.
  await page.getByRole('link', { name: 'Desk', exact: true }).click();
  await page.getByRole('link', { name: 'Helpers', exact: true }).click();
  await page.getByRole('gridcell', { name: 'Frith', exact: true }).waitFor();
  expect(await page.getByRole('gridcell', { name: 'Bede', exact: true }).count()).toBe(0);
  await page
    .getByRole('button', { name: 'New record' })
    .or(page.getByRole('link', { name: 'New record' }))
    .click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Hilda');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByText(/^Saved /u).waitFor();
  // That of keepers shows all, and can be narrowed.
  await page.getByRole('link', { name: /^Keepers \d/u }).click();
  await page.getByText('6 records').waitFor();
  await page
    .getByRole('complementary', { name: 'Quick filters' })
    .getByRole('button', { name: /^Helpers/u })
    .click();
  await page.getByText('4 found').waitFor();

  await page.goto(workshop);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByText('Undone: Merged Helpers into Keepers').waitFor();
  await page.getByRole('button', { name: 'Table Helpers, 4 records' }).waitFor();
  await page.getByRole('button', { name: 'Table Keepers, 2 records' }).waitFor();
  expect(house.faults).toEqual([]);
});
