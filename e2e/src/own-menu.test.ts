import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { demoPassword, demoPeople } from '../../scripts/demo.js';
import { barriersOf, openDemo, rowOf, signIn, visit, type House } from './browser.js';

/** The part of the Desk's menu that people make for themselves, and the records that they opened last. */
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
const menu = (of: Page = page) => of.getByRole('navigation', { name: 'Lists' });
const add = (of: Page = page) => of.getByRole('button', { name: 'Add to my menu' });
const remove = (of: Page = page) => of.getByRole('button', { name: 'Remove from my menu' });
/** What is under a heading of the menu, in its order. */
const under = (heading: string): Promise<string[]> =>
  menu()
    .locator('section', { has: page.getByRole('heading', { name: heading, exact: true }) })
    .getByRole('link')
    .locator('.el, .called')
    .allInnerTexts();

test('pages and records are put into the menu, arranged in sections, and taken out', async () => {
  const { code = '' } = await rowOf(house, app, 'SELECT code FROM hives WHERE id = 3');
  await visit(page, `/desk/${app}/d/season`);
  await add().click();
  await remove().waitFor();
  await visit(page, `/desk/${app}/hives/3`);
  await add().click();
  await expect.poll(() => under('Favourites')).toEqual(['Season at a glance', code]);
  await visit(page, `/desk/${app}/lots`);
  await add().click();
  await expect.poll(() => under('Favourites')).toEqual(['Season at a glance', code, 'Lots']);

  await menu().getByRole('button', { name: 'Arrange my menu' }).click();
  const dialog = page.getByRole('dialog', { name: 'My menu' });
  await dialog.getByRole('button', { name: 'Section', exact: true }).click();
  await dialog.getByRole('textbox', { name: 'Section' }).last().fill('');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await dialog.getByText('It needs a name').waitFor();
  await dialog.getByRole('textbox', { name: 'Section' }).last().fill('In the morning');
  expect(await barriersOf(page)).toEqual([]);
  await dialog.getByRole('button', { name: 'Move Lots up' }).click();
  // Over the end of its section into the next one.
  await dialog.getByRole('button', { name: `Move ${code} down` }).click();
  await dialog.getByRole('button', { name: 'Save' }).click();
  await dialog.waitFor({ state: 'detached' });
  await expect.poll(() => under('In the morning')).toEqual([code]);
  expect(await under('Favourites')).toEqual(['Season at a glance', 'Lots']);

  await page.reload();
  await expect.poll(() => under('In the morning')).toEqual([code]);
  await menu()
    .getByRole('link', { name: new RegExp(`^${code}`, 'u') })
    .first()
    .click();
  await page.getByRole('heading', { name: code, level: 1 }).waitFor();
  await remove().click();
  await expect.poll(() => under('In the morning')).toEqual([]);
  expect(await barriersOf(page)).toEqual([]);
  // Two windows, each with a page of its own: neither undoes what the other did.
  const other = await page.context().newPage();
  await visit(other, `/desk/${app}/q/mite_heavy`);
  await add(other).waitFor();
  await visit(page, `/desk/${app}/r/harvest_report`);
  await add().click();
  await remove().waitFor();
  await add(other).click();
  await remove(other).waitFor();
  await other.close();
  await page.reload();
  await expect.poll(() => under('Favourites')).toEqual(['Season at a glance', 'Lots', 'Harvest by apiary', 'Mite-heavy apiaries']);
});

test('a list that somebody keeps for themselves goes into a section like any other page', async () => {
  await visit(page, `/desk/${app}/hives?q=H-00`);
  await page.getByRole('button', { name: 'Keep this list' }).click();
  const dialog = page.getByRole('dialog', { name: 'Keep this list' });
  await dialog.getByRole('textbox', { name: 'Name in the menu' }).fill('First hives');
  await dialog.getByRole('button', { name: 'Keep the list' }).click();
  await page.getByRole('button', { name: 'Remove First hives from my lists' }).waitFor();
  await add().click();
  await remove().waitFor();
  await expect.poll(async () => (await under('Favourites')).at(-1)).toBe('First hives');
  const here = new URL(page.url()).search;
  // The whole list is another page.
  await visit(page, `/desk/${app}/hives`);
  await add().waitFor();
  await menu().locator('.own-section').getByRole('link', { name: 'First hives' }).click();
  await remove().waitFor();
  expect(new URL(page.url()).search).toBe(here);
  // Once the list is removed, it is gone from the menu too.
  await page.getByRole('button', { name: 'Remove First hives from my lists' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Remove the list' }).click();
  await expect.poll(async () => (await under('Favourites')).includes('First hives')).toBe(false);
});

test('the records that were opened last are a press away, in the menu and in the search', async () => {
  const named = async (id: number): Promise<string> => (await rowOf(house, app, `SELECT name FROM apiaries WHERE id = ${id}`))['name'] ?? '';
  for (const id of [1, 2, 3]) {
    await visit(page, `/desk/${app}/apiaries/${id}`);
    await page.getByRole('heading', { name: await named(id), level: 1 }).waitFor();
  }
  await visit(page, `/desk/${app}/keepers`);
  await expect.poll(async () => (await under('Opened last')).slice(0, 3)).toEqual([await named(3), await named(2), await named(1)]);
  await page.keyboard.press('Control+k');
  await expect.poll(() => page.getByRole('option').first().innerText()).toContain(await named(3));
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await page.getByRole('heading', { name: await named(2), level: 1 }).waitFor();
  await expect.poll(async () => (await under('Opened last'))[0]).toBe(await named(3));
});

test('it is each person’s own, also on a phone', async () => {
  const { page: phone } = await house.open({ width: 390, height: 844 });
  await signIn(phone, demoPeople[1].email, demoPassword);
  await visit(phone, `/desk/${app}/hives`);
  await phone.getByRole('button', { name: 'Menu', exact: true }).click();
  await menu(phone).getByRole('link', { name: 'Hives 20' }).waitFor();
  expect(await menu(phone).getByRole('heading', { name: 'Favourites' }).count()).toBe(0);
  await phone.getByRole('button', { name: 'Menu', exact: true }).click();
  await add(phone).click();
  await remove(phone).waitFor();
  await phone.getByRole('button', { name: 'Menu', exact: true }).click();
  await menu(phone).getByRole('heading', { name: 'Favourites' }).waitFor();
  expect(await barriersOf(phone)).toEqual([]);
  expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
  await phone.context().close();
});
