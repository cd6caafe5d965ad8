import type { Locator, Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { openDemo, visit, type House } from './browser.js';

/**
 * How many steps a builder takes for what is built most often: a step is one press, or one input that is filled. The numbers
 * are in docs/benchmarks.md; whoever makes it take fewer steps enters the lower number in both places.
 */
let house: House;
let app: string;
let page: Page;
beforeAll(async () => {
  ({ house, app, page } = await openDemo());
});
afterAll(() => house.close());

class Hand {
  steps = 0;
  async press(what: Locator): Promise<void> {
    this.steps += 1;
    await what.click();
  }
  async fill(what: Locator, text: string): Promise<void> {
    this.steps += 1;
    await what.fill(text);
  }
  /** Opens a choice and takes an entry: two steps. */
  async choose(within: Locator, label: string | RegExp, option: string | RegExp): Promise<void> {
    await this.press(within.getByRole('combobox', { name: label }));
    await this.press(page.getByRole('option', { name: option }));
  }
}
const station = async (): Promise<void> => {
  await visit(page, `/workshop/${app}/screens`);
  await page.getByRole('link', { name: 'Form', exact: true }).waitFor();
};
const details = () => page.getByRole('complementary', { name: 'Details' });
const sheet = () => page.getByRole('main');

test('a form of orders with their lines, from nothing: 5 steps', async () => {
  await station();
  const hand = new Hand();
  await hand.press(page.getByRole('link', { name: 'Form', exact: true }));
  const dialog = page.getByRole('dialog', { name: 'A new form' });
  await hand.choose(dialog, 'Of the table', 'Orders');
  await hand.fill(dialog.getByLabel('Name'), 'Orders with lines');
  await hand.press(dialog.getByRole('button', { name: 'Make the form' }));
  await page.getByRole('heading', { name: 'Orders with lines', level: 1 }).waitFor();
  // It is there to be worked in: with every field, and the lines as rows.
  await page.getByRole('link', { name: 'On the Desk' }).click();
  await page.getByRole('group', { name: 'Lines', exact: true }).waitFor();
  expect(hand.steps).toBe(5);
});

test('a list of five columns with a condition and an order, from nothing: 18 steps', async () => {
  await station();
  const hand = new Hand();
  await hand.press(page.getByRole('link', { name: 'List', exact: true }));
  const dialog = page.getByRole('dialog', { name: 'A new list' });
  await hand.choose(dialog, 'Of the table', 'Shops');
  await hand.fill(dialog.getByLabel('Name'), 'Shops of Quillmoor');
  await hand.press(dialog.getByRole('button', { name: 'Make the list' }));
  await page.getByRole('heading', { name: 'Shops of Quillmoor', level: 1 }).waitFor();
  // All but one of its fields are its columns already.
  await hand.press(sheet().getByRole('button', { name: /Name, Town/u }));
  await hand.press(details().getByRole('button', { name: 'Take out Address' }));
  await hand.press(sheet().getByRole('button', { name: 'all records' }));
  await hand.press(details().getByRole('button', { name: 'Condition', exact: true }));
  await hand.choose(details(), 'Field', /^Town$/u);
  await hand.fill(details().getByRole('textbox', { name: 'Value' }), 'Quillmoor');
  await hand.press(sheet().getByRole('button', { name: 'the first added first' }));
  await hand.choose(details(), 'Add to: Order', 'Sells since');
  await hand.choose(details(), 'Direction of Sells since', 'down');
  await hand.press(page.getByRole('button', { name: 'Save list' }));
  await page.getByRole('button', { name: 'Discard changes' }).waitFor({ state: 'detached' });
  await page.getByRole('link', { name: 'On the Desk' }).click();
  await page.getByRole('grid').getByText('Quillmoor Larder').waitFor();
  const columns = (await page.getByRole('columnheader').allInnerTexts()).map((text) => text.trim());
  expect(columns).toEqual(expect.arrayContaining(['Name', 'Town', 'Mail', 'Web page', 'Sells since']));
  expect(columns).not.toContain('Address');
  expect(hand.steps).toBe(18);
});
