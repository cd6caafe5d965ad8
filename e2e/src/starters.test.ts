/** How an app begins. */
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { barriersOf, openDemo, type House } from './browser.js';

let house: House;
let page: Page;
beforeAll(async () => {
  ({ house, page } = await openDemo());
});
afterAll(() => house.close());

async function begin(name: string, start: RegExp): Promise<void> {
  await page.goto('/');
  await page.getByRole('button', { name: 'App', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'New app' });
  await dialog.getByRole('textbox', { name: 'Name' }).fill(name);
  await dialog.getByRole('radio', { name: start }).check();
  expect(await barriersOf(page)).toEqual([]);
  await dialog.getByRole('button', { name: 'Make the app' }).click();
}

test('with a design, which has records to look at on the Desk', async () => {
  await begin('Rounds', /^Lighthouse rounds/u);
  await page.getByText('3 tables', { exact: true }).waitFor();
  await page.getByRole('link', { name: 'Desk' }).click();
  await page.getByRole('link', { name: 'To mend' }).click();
  await page.getByRole('gridcell', { name: 'Battery runs low at night', exact: true }).waitFor();
  expect(await page.getByRole('gridcell', { name: 'Handrail loose at the third landing', exact: true }).count()).toBe(0);
});

test('with a spreadsheet', async () => {
  await begin('Sheets', /^A spreadsheet/u);
  await page.getByRole('heading', { name: 'A spreadsheet becomes a table' }).waitFor();
});

test('with nothing, where a design can still be chosen, and undone', async () => {
  await begin('Later', /^Nothing/u);
  await page.getByRole('region', { name: 'Start with a design' }).getByRole('button', { name: 'School garden' }).click();
  await page.getByText('5 tables', { exact: true }).waitFor();
  // All of a small diagram stays in sight when the proof of a table opens below it.
  const diagram = page.getByLabel('Diagram of the tables');
  const cards = diagram.locator('.react-flow__node-card');
  const below = (): Promise<number> =>
    cards.evaluateAll(
      (all) => all.filter((card) => card.getBoundingClientRect().bottom > (card.closest('.react-flow')?.getBoundingClientRect().bottom ?? 0)).length,
    );
  await page.reload();
  await diagram.locator('.react-flow__edge').first().waitFor({ state: 'attached' });
  expect([await cards.count(), await below()]).toEqual([5, 0]);
  await page.getByRole('complementary', { name: 'Shelf' }).getByRole('link', { name: 'Beds' }).click();
  await page.getByRole('group', { name: 'Records of Beds' }).waitFor();
  await expect.poll(below).toBe(0);
  expect(await barriersOf(page)).toEqual([]);
  await page.getByRole('button', { name: 'Undo', exact: true }).first().click();
  // It says what would be lost: the tables have records.
  await page.getByRole('dialog').getByRole('button', { name: /^Undo/u }).click();
  await page.getByRole('region', { name: 'Start with a design' }).waitFor();
});
