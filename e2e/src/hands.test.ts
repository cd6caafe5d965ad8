import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { demoPassword, demoPeople } from '../../scripts/demo.js';
import { barriersOf, openDemo, rowOf, signIn, visit, type House } from './browser.js';

/** Working at the Desk by keys: one record after another, and a record that is much like another one. And by the pointer. */
let house: House;
let app: string;
let page: Page;
beforeAll(async () => {
  ({ house, app, page } = await openDemo());
});
afterAll(async () => {
  expect(house.faults).toEqual([]);
  await house.close();
});
const sql = (text: string): Promise<Record<string, string>> => rowOf(house, app, text);

test('keys lead from the list through records and back, and a page tells of them', async () => {
  await visit(page, `/desk/${app}/shops`);
  await page.getByRole('row').nth(1).waitFor();
  await page.keyboard.press('/');
  expect(await page.getByLabel('Search Shops').evaluate((input) => input === document.activeElement)).toBe(true);
  // In an input it is a letter like any other.
  await page.keyboard.type('?');
  expect(await page.getByLabel('Search Shops').inputValue()).toBe('?');
  await page.getByLabel('Search Shops').fill('');
  await page.getByRole('heading', { name: 'Shops' }).click();
  await page.keyboard.press('Shift+?');
  const help = page.getByRole('dialog', { name: 'Keyboard shortcuts' });
  await help.getByText('Duplicate the record with its rows').waitFor();
  expect(await barriersOf(page)).toEqual([]);
  // What lies under a dialog does nothing.
  await page.keyboard.press('Alt+n');
  await page.keyboard.press('Escape');
  await help.waitFor({ state: 'detached' });
  expect(page.url()).toMatch(/\/shops$/u);

  await visit(page, `/desk/${app}/shops/1`);
  await page.getByRole('link', { name: 'Next record' }).waitFor();
  await page.keyboard.press('Alt+PageDown');
  await expect.poll(() => page.url()).toMatch(/\/shops\/2$/u);
  await page.getByRole('link', { name: 'Previous record' }).waitFor();
  await page.keyboard.press('Alt+PageUp');
  await expect.poll(() => page.url()).toMatch(/\/shops\/1$/u);
});

test('one record after another is entered without the pointer', async () => {
  await visit(page, `/desk/${app}/treatments`);
  await page.getByRole('row').nth(1).waitFor();
  await page.keyboard.press('Alt+n');
  const name = page.getByRole('textbox', { name: 'Name' });
  for (const [at, text] of ['Hops strips', 'Hive smoke'].entries()) {
    await name.fill(text);
    await page.getByRole('combobox', { name: 'Against' }).press('Enter');
    await page.getByRole('option', { name: 'Mites' }).press('Enter');
    await page.getByRole('textbox', { name: 'Days in the hive' }).fill('3');
    await page.keyboard.press('Control+Enter');
    await page.getByText(`The record is saved as ${text}. Here is the form for another.`).waitFor();
    await expect.poll(() => name.inputValue()).toBe('');
    expect(await sql(`SELECT count(*) AS n FROM "app_${app}".treatments WHERE name IN ('Hops strips', 'Hive smoke')`)).toEqual({ n: String(at + 1) });
  }
  // What is wrong keeps the form, and nothing is saved.
  await name.fill('Hops strips');
  await page.keyboard.press('Control+Enter');
  await page.getByText(/values? needs? correction/u).waitFor();
  expect(await name.inputValue()).toBe('Hops strips');
  await page.getByRole('button', { name: 'Discard changes' }).click();
});

test('a record is duplicated with its rows; what is unique is left to be filled', async () => {
  const before = await sql(`SELECT count(*) AS rows FROM "app_${app}".order_lines WHERE "order" = 3`);
  await visit(page, `/desk/${app}/orders/3`);
  await page.getByRole('button', { name: 'Duplicate' }).waitFor();
  await page.keyboard.press('Alt+d');
  await page.getByText(/^This is a copy of/u).waitFor();
  expect(await barriersOf(page)).toEqual([]);
  const number = page.getByRole('textbox', { name: 'Number' }).first();
  expect(await number.inputValue()).toBe('');
  await number.fill('90001');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect.poll(() => page.url()).toMatch(/\/orders\/\d+$/u);
  const copy = await sql(
    `SELECT o.shop = first.shop AS same_shop, (SELECT count(*) FROM "app_${app}".order_lines AS l WHERE l."order" = o.id) AS rows FROM "app_${app}".orders AS o, "app_${app}".orders AS first WHERE first.id = 3 AND o.number = 90001`,
  );
  expect(copy).toEqual({ same_shop: 'true', rows: before['rows'] });
  expect(await sql(`SELECT count(*) AS rows FROM "app_${app}".order_lines WHERE "order" = 3`)).toEqual(before);
});

test('a list scrolls from page to page to its end', async () => {
  await visit(page, `/desk/${app}/inspections?sort=inspection_no`);
  await page.getByRole('gridcell', { name: '1', exact: true }).first().waitFor();
  await page
    .getByRole('gridcell', { name: / 20\d\d$/u })
    .first()
    .click();
  await page.keyboard.press('Control+End');
  await page.getByRole('link', { name: 'Open Number 120' }).waitFor();
});

test('what was typed survives a closed tab, and meets what somebody else saved meanwhile', async () => {
  const { page: first, context } = await house.open();
  await signIn(first, demoPeople[0].email, demoPassword);
  const town = (of: Page) => of.getByRole('textbox', { name: 'Town' });
  const note = (of: Page) => of.getByText('You made changes here that were not saved');
  await visit(first, `/desk/${app}/shops/2`);
  await town(first).fill('Heronmere');
  // It is kept a moment after the last key.
  await expect.poll(() => first.evaluate(() => Object.keys(localStorage).filter((key) => key.startsWith('bibliona kept')).length)).toBe(1);
  await first.close();

  const second = await context.newPage();
  await visit(second, `/desk/${app}/shops/2`);
  await note(second).waitFor();
  expect(await town(second).inputValue()).not.toBe('Heronmere');
  expect(await barriersOf(second)).toEqual([]);
  await second.getByRole('button', { name: 'Restore them' }).click();
  expect(await town(second).inputValue()).toBe('Heronmere');
  await second.getByRole('button', { name: 'Save', exact: true }).click();
  await second.getByText(/^Saved /u).waitFor();
  expect(await sql(`SELECT town FROM "app_${app}".shops WHERE id = 2`)).toEqual({ town: 'Heronmere' });
  await second.reload();
  await town(second).waitFor();
  expect(await note(second).count()).toBe(0);

  // Somebody changes the same field between the closed tab and the next one: neither is lost.
  await town(second).fill('Mine');
  await expect.poll(() => second.evaluate(() => Object.keys(localStorage).filter((key) => key.startsWith('bibliona kept')).length)).toBe(1);
  await second.close();
  await visit(page, `/desk/${app}/shops/2`);
  // Typed before what was saved last has come, it would meet that.
  await expect.poll(() => town(page).inputValue()).toBe('Heronmere');
  await town(page).fill('Theirs');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByText(/^Saved /u).waitFor();
  const third = await context.newPage();
  await visit(third, `/desk/${app}/shops/2`);
  await third.getByRole('button', { name: 'Restore them' }).click();
  await third.getByRole('button', { name: 'Save', exact: true }).click();
  await third.getByText('Theirs').first().waitFor();
  expect(await sql(`SELECT town FROM "app_${app}".shops WHERE id = 2`)).toEqual({ town: 'Theirs' });
  // Signing out leaves nothing of it in this browser.
  await third.goto(`/desk/${app}`);
  await third.getByRole('button', { name: /Tamsin Oake/u }).click();
  await third.getByRole('menuitem', { name: 'Sign out' }).click();
  await third.getByRole('button', { name: 'Sign in' }).waitFor();
  expect(await third.evaluate(() => Object.keys(localStorage).filter((key) => key.startsWith('bibliona kept')).length)).toBe(0);
  await context.close();
});

test('a button that moves while it is pressed is pressed all the same, and who moves away has not pressed it', async () => {
  await visit(page, `/desk/${app}/shops/1`);
  const next = page.getByRole('link', { name: 'Next record' });
  await next.waitFor();
  /** Presses the link, moves all that is shown down, and lets go. */
  const press = async (away: number): Promise<void> => {
    const { x, y, width, height } = (await next.boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
    await page.mouse.move(x + width / 2, y + height / 2);
    await page.mouse.down();
    await page.evaluate(() => (document.body.style.paddingTop = '120px'));
    await page.mouse.move(x + width / 2 + away, y + height / 2);
    await page.mouse.up();
    await page.evaluate(() => document.body.style.removeProperty('padding-top'));
  };
  await press(60);
  await page.getByRole('textbox', { name: 'Name' }).fill('Not left');
  expect(page.url()).toMatch(/\/shops\/1$/u);
  await page.getByRole('button', { name: 'Discard changes' }).click();
  await press(0);
  await expect.poll(() => page.url()).toMatch(/\/shops\/2$/u);
});
