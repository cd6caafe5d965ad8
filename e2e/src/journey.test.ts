import { join } from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { choose, openHouse, type House } from './browser.js';

/** The whole path as a new user walks it, on an empty database: each test goes on where the one before it ended. */
let house: House;
let page: Page;
beforeAll(async () => {
  house = await openHouse();
  ({ page } = await house.open());
});
afterAll(async () => {
  await house.close();
});

async function hasNoBarriers(): Promise<void> {
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa']).analyze();
  expect(violations.map((violation) => `${violation.id}: ${violation.nodes.map((node) => node.html.slice(0, 160)).join(' | ')}`)).toEqual([]);
}

test('the first person is made with the key that the server printed', async () => {
  await page.goto('/');
  await page.getByRole('heading', { name: 'Welcome to Bibliona' }).waitFor();
  await page.getByLabel('Set-up key').fill(await house.server.people.setUpKey());
  await page.getByLabel('Your name').fill('Tamsin Oake');
  await page.getByLabel('Mail address').fill('tamsin.oake@quillmoor.example');
  await page.getByLabel('Password').fill('short');
  await page.getByRole('button', { name: 'Start' }).click();
  await page.getByText('needs at least 10 characters').waitFor();
  await page.getByLabel('Password').fill('a long enough password');
  await page.getByRole('button', { name: 'Start' }).click();
  await page.getByText('No apps yet').waitFor();
});

test('signing out and in again, with a wrong password between', async () => {
  await page.getByRole('button', { name: /theme and sign out/u }).click();
  await page.getByRole('menuitem', { name: 'Sign out' }).click();
  await page.getByLabel('Mail address').fill('tamsin.oake@quillmoor.example');
  await page.getByLabel('Password').fill('not the password');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.getByText('The mail address or the password is wrong.').waitFor();
  await hasNoBarriers();
  await page.getByLabel('Password').fill('a long enough password');
  await page.keyboard.press('Enter');
  await page.getByRole('heading', { name: 'My apps' }).waitFor();
});

test('an app and its first table', async () => {
  await page.getByRole('button', { name: 'App' }).click();
  await page.getByLabel('Name').fill('Honey');
  await page.getByRole('button', { name: 'Make the app' }).click();
  await page.getByRole('main').getByText('No tables yet.').waitFor();
  await page.getByRole('main').getByRole('button', { name: 'Table', exact: true }).click();
  await page.getByRole('button', { name: 'Make the table' }).click();
  await page.getByText('Enter a name, best in the plural').waitFor();
  await page.getByRole('dialog').getByRole('textbox', { name: 'Name' }).fill('Apiaries');
  await page.getByRole('button', { name: 'Make the table' }).click();
  await page.getByRole('heading', { name: 'Apiaries', level: 2 }).waitFor();
});

test('fields of other kinds, with default, choices and order', async () => {
  const details = page.getByRole('complementary', { name: 'Details' });
  const addField = async (name: string, kind: string | null, more: () => Promise<void> = async () => undefined): Promise<void> => {
    await details.getByRole('link', { name: 'Field', exact: true }).click();
    await details.getByRole('textbox', { name: 'Name', exact: true }).fill(name);
    if (kind !== null) await choose(details, 'Kind', new RegExp(`^${kind}(?! and)`, 'u'));
    await more();
    await details.getByRole('button', { name: 'Add the field' }).click();
    await details.getByRole('link', { name: new RegExp(name, 'u') }).waitFor();
  };
  await addField('Region', 'One choice', async () => {
    await details.getByRole('button', { name: 'Choice', exact: true }).click();
    await details.getByRole('textbox', { name: 'Choice 1' }).fill('Moor');
    await page.keyboard.press('Enter');
    await page.keyboard.type('Coast');
  });
  await addField('Altitude', 'Whole number', async () => {
    await details.getByRole('textbox', { name: 'Default value' }).fill('high up');
    await details.getByRole('button', { name: 'Add the field' }).click();
    await details.getByText('"high up" is not a number').waitFor();
    await details.getByRole('textbox', { name: 'Default value' }).fill('120');
  });
  await addField('Rented since', 'Date');
  // Moved with the keyboard from its grip, to the place before Region.
  await details.getByRole('button', { name: 'Move Rented since' }).focus();
  await page.keyboard.press('Space');
  await page.waitForTimeout(150);
  await page.keyboard.press('ArrowUp');
  await page.waitForTimeout(150);
  await page.keyboard.press('ArrowUp');
  await page.waitForTimeout(150);
  await page.keyboard.press('Space');
  await expect
    .poll(async () => (await details.locator('.fields a').allInnerTexts()).map((text) => text.split('\n')[0]?.trim()))
    .toEqual(['Name *', 'Rented since', 'Region', 'Altitude']);
});

test('a second table, and one apiary has many hives, in a sentence', async () => {
  await page.getByRole('main').getByRole('button', { name: 'Table', exact: true }).click();
  await page.getByRole('dialog').getByRole('textbox', { name: 'Name' }).fill('Hives');
  await page.getByLabel('First field').fill('Code');
  await page.getByRole('button', { name: 'Make the table' }).click();
  await page.getByRole('heading', { name: 'Hives', level: 2 }).waitFor();
  await page.getByRole('main').getByRole('button', { name: 'Relationship' }).click();
  const dialog = page.getByRole('dialog');
  await choose(dialog, 'The one', 'Apiaries');
  await choose(dialog, 'The many', 'Hives');
  expect(await dialog.getByLabel('Field on Hives').inputValue()).toBe('Apiary');
  await dialog.getByRole('button', { name: 'Relate them' }).click();
  await dialog.waitFor({ state: 'hidden' });
  await page.getByRole('complementary', { name: 'Details' }).getByText('to Apiaries').waitFor();
  await page.getByRole('button', { name: /^Table Apiaries/u }).waitFor();
  await hasNoBarriers();
});

test('undo undoes it, redo makes it again', async () => {
  const details = page.getByRole('complementary', { name: 'Details' });
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByText('Undone: Related Hives to Apiaries').waitFor();
  await details.getByText('to Apiaries').waitFor({ state: 'detached' });
  await page.getByRole('button', { name: 'Redo' }).click();
  await details.getByText('to Apiaries').waitFor();
});

test('an apiary is entered in its form with hives as rows, in one save', async () => {
  await page.getByRole('link', { name: 'Desk', exact: true }).click();
  await page
    .getByRole('navigation', { name: 'Lists' })
    .getByRole('link', { name: /^Apiaries/u })
    .click();
  await page.getByText('No records in Apiaries yet.').waitFor();
  await page.getByRole('link', { name: 'New record' }).click();
  await page.getByRole('heading', { name: 'New record in Apiaries' }).waitFor();
  expect(await page.getByRole('textbox', { name: 'Altitude' }).inputValue()).toBe('120');
  await page.keyboard.press('Control+s');
  await page.getByText('One value needs correction.').waitFor();
  await page.getByText('Name is required').waitFor();
  expect(await page.getByRole('textbox', { name: 'Name' }).evaluate((input) => input === document.activeElement)).toBe(true);
  await page.getByRole('textbox', { name: 'Name' }).fill('Brackmoor');
  await page.getByRole('textbox', { name: 'Rented since' }).fill('14/9/2026');
  await choose(page, 'Region', 'Moor');
  const hives = page.getByRole('group', { name: 'Hives' });
  await hives.getByRole('button', { name: 'Add a row to Hives' }).click();
  await hives.getByRole('textbox', { name: 'Code' }).fill('H-001');
  await hives.getByRole('button', { name: 'Add a row to Hives' }).click();
  await hives.getByRole('textbox', { name: 'Code' }).fill('H-002');
  await page.keyboard.press('Control+s');
  await page.getByRole('heading', { name: 'Brackmoor', level: 1 }).waitFor();
  expect(await page.getByRole('textbox', { name: 'Rented since' }).inputValue()).toBe('14 Sep 2026');
  await hives.getByRole('button', { name: 'Remove row 2 of Hives' }).click();
  await hives.getByRole('cell', { name: 'H-001' }).click();
  await hives.getByRole('textbox', { name: 'Code' }).fill('H-007');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByText(/^Saved \d/u).waitFor();
  await page.reload();
  await hives.getByRole('cell', { name: 'H-007' }).waitFor();
  expect(await hives.getByRole('button', { name: /^Remove row/u }).count()).toBe(1);
  await hasNoBarriers();
});

test('leaving with unsaved changes asks', async () => {
  await page.getByRole('textbox', { name: 'Altitude' }).fill('300');
  await page
    .getByRole('navigation', { name: 'Lists' })
    .getByRole('link', { name: /^Hives/u })
    .click();
  await page.getByRole('heading', { name: 'Leave without saving?' }).waitFor();
  await page.getByRole('button', { name: 'Stay here' }).click();
  expect(await page.getByRole('textbox', { name: 'Altitude' }).inputValue()).toBe('300');
  await page.getByRole('button', { name: 'Discard changes' }).click();
  expect(await page.getByRole('textbox', { name: 'Altitude' }).inputValue()).toBe('120');
});

test('a reference is picked by typing part of what a record is called', async () => {
  await page
    .getByRole('navigation', { name: 'Lists' })
    .getByRole('link', { name: /^Hives/u })
    .click();
  await page.getByRole('link', { name: 'New record' }).click();
  await page.getByRole('textbox', { name: 'Code' }).fill('H-100');
  await page.getByRole('combobox', { name: 'Apiary' }).fill('ackm');
  await page.getByRole('option', { name: 'Brackmoor' }).click();
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByRole('heading', { name: 'H-100', level: 1 }).waitFor();
  await page.getByRole('link', { name: 'Previous record' }).click();
  await page.getByRole('heading', { name: 'H-007', level: 1 }).waitFor();
});

test('a real spreadsheet comes in as a table of its own, with the right kinds and every row', async () => {
  await page.getByRole('link', { name: 'Workshop', exact: true }).click();
  await page.getByRole('link', { name: 'Spreadsheet' }).click();
  await page.getByLabel('Spreadsheet file').setInputFiles(join(import.meta.dirname, '../../node_modules/vega-datasets/data/seattle-weather.csv'));
  await page.getByText('has 1,461 rows and 6 columns').waitFor();
  expect(await page.getByRole('combobox', { name: /^Kind of/u }).allInnerTexts()).toEqual(['Date', 'Decimal', 'Decimal', 'Decimal', 'Decimal', 'One choice']);
  await hasNoBarriers();
  await page.getByRole('textbox', { name: 'Name of the new table' }).fill('Weather');
  await page.getByRole('button', { name: 'Import 1,461 rows' }).click();
  await page.getByText('1,461 records added to Weather.').waitFor();
  await page.getByRole('link', { name: 'Open the list' }).click();
  await page.getByText('1,461 records', { exact: true }).waitFor();
  await page.getByRole('gridcell', { name: '1 Jan 2012', exact: true }).waitFor();
});

test('rows from a file that do not fit are listed, then are imported once they are fixed', async () => {
  await page.getByRole('link', { name: 'Workshop', exact: true }).click();
  await page.getByRole('complementary', { name: 'Shelf' }).getByRole('link', { name: /Hives/u }).click();
  await page.getByRole('link', { name: 'Rows from a file' }).click();
  const file = (text: string) => ({ name: 'hives.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
  await page.getByLabel('Spreadsheet file').setInputFiles(file('Code,Apiary,Colour\nH-201,Brackmoor,blue\nH-202,Nowhere,red\n'));
  await page.getByRole('button', { name: 'Import 2 rows' }).click();
  await page.getByText('One cell has an error.').waitFor();
  const row = page.getByRole('group', { name: 'Cells with errors' }).getByRole('row').nth(1);
  expect((await row.getByRole('cell').allInnerTexts()).map((text) => text.trim())).toEqual(['3', 'Apiary', 'Nowhere', 'is the name of no record']);
  await page.getByLabel('Leave cells with errors empty').check();
  await page.getByRole('button', { name: 'Import 2 rows' }).click();
  await page.getByText('2 records added to Hives.').waitFor();
  await page.getByRole('link', { name: 'Look at the table' }).click();
  await page
    .getByRole('complementary', { name: 'Details' })
    .getByRole('link', { name: /Colour/u })
    .waitFor();
});

test('the proof shows the real records, and in the heads what is in each field', async () => {
  const proof = page.getByRole('region', { name: 'Proof' });
  await proof.getByText('First 4 of 4 records').waitFor();
  await proof.getByRole('img', { name: 'Code: 4 of 4 filled, 4 distinct' }).waitFor();
  await proof.getByRole('img', { name: 'Colour: 2 of 4 filled, 2 distinct' }).waitFor();
  await hasNoBarriers();
});

test('the list shows imported and hand-entered records, sorts, searches and keeps its state in the address', async () => {
  await page.getByRole('link', { name: 'Desk', exact: true }).click();
  await page
    .getByRole('navigation', { name: 'Lists' })
    .getByRole('link', { name: /^Hives/u })
    .click();
  await page.getByRole('gridcell', { name: 'H-202', exact: true }).waitFor();
  await page.getByRole('columnheader', { name: 'Code' }).click();
  await page.getByRole('columnheader', { name: 'Code' }).click();
  await expect.poll(() => page.getByRole('gridcell', { name: /^H-/u }).allInnerTexts()).toEqual(['H-202', 'H-201', 'H-100', 'H-007']);
  await page.getByRole('searchbox', { name: 'Search Hives' }).fill('brack');
  await page.getByText('3 found').waitFor();
  expect(page.url()).toMatch(/q=brack.*dir=down/u);
  await page.reload();
  await expect.poll(() => page.getByRole('gridcell', { name: /^H-/u }).allInnerTexts()).toEqual(['H-201', 'H-100', 'H-007']);
  await hasNoBarriers();
});

test('a cell is edited in place; what does not fit is said and not lost', async () => {
  await page
    .getByRole('navigation', { name: 'Lists' })
    .getByRole('link', { name: /^Apiaries/u })
    .click();
  const cell = page.getByRole('gridcell', { name: '120' });
  await cell.dblclick();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('low');
  await page.keyboard.press('Enter');
  await page.getByText('Altitude of record 1 was not saved: "low" is not a number').waitFor();
  await page.getByRole('button', { name: 'Enter it again' }).click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('85');
  await page.keyboard.press('Enter');
  await page.getByRole('gridcell', { name: '85' }).waitFor();
  await page.reload();
  await page.getByRole('gridcell', { name: '85' }).waitFor();
});

test('Ctrl+K finds tables, records and commands', async () => {
  const find = async (text: string, option: RegExp): Promise<void> => {
    await page.keyboard.press('Control+k');
    await page.getByRole('combobox', { name: /^Find a table/u }).fill(text);
    await page.getByRole('option', { name: option }).first().waitFor();
  };
  await find('H-20', /^H-201/u);
  await page.getByRole('option', { name: /^H-201/u }).click();
  await page.getByRole('heading', { name: 'H-201', level: 1 }).waitFor();
  await find('new weather', /^New record in Weather/u);
  await page.keyboard.press('Enter');
  await page.getByRole('heading', { name: 'New record in Weather' }).waitFor();
  await find('weather list', /^Weather/u);
  await page.keyboard.press('Escape');
});

test('removing a field says what it touches, asks, and undo brings it back', async () => {
  await page.getByRole('link', { name: 'Workshop', exact: true }).click();
  await page.getByRole('complementary', { name: 'Shelf' }).getByRole('link', { name: /Hives/u }).click();
  const details = page.getByRole('complementary', { name: 'Details' });
  await details.getByRole('link', { name: /Colour/u }).click();
  await details.getByRole('button', { name: 'Remove field' }).click();
  await page.getByText('2 records have a Colour.').waitFor();
  await page.getByRole('button', { name: 'Remove Colour from Hives' }).click();
  // Right away, while the removal can still be on its way: it is undone all the same.
  await page.keyboard.press('Control+z');
  await page.getByText('Undone: Removed Colour from Hives').waitFor();
  await page.getByRole('region', { name: 'Proof' }).getByRole('cell', { name: 'blue' }).waitFor();
});

test('nothing was complained of on the way', () => expect(house.faults).toEqual([]));
