import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { barriersOf, itemsOnSheet, openDemo, rowOf, visit, type House } from './browser.js';

/** A form that the product lays out from the fields its builder picks across tables, and that people fill by keys. */
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

test('a form is made of fields of three tables, read one way or the other, and a record with five rows is entered by keys alone', async () => {
  await visit(page, `/workshop/${app}/screens/orders_form`);
  await page.getByRole('complementary', { name: 'Shelf' }).getByRole('link', { name: 'Form', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'A new form' });
  await dialog.getByLabel('Fields that you pick').check();
  await dialog.getByText('Here you see how the form would be.').waitFor();
  await dialog.getByRole('textbox', { name: 'Name' }).fill('Order desk');
  await dialog.getByRole('button', { name: 'Make the form' }).click();
  await dialog.getByText('Pick the fields that the form shows.').waitFor();
  const pick = async (table: string, ...fields: readonly string[]): Promise<void> => {
    const section = dialog.getByRole('region', { name: table, exact: true });
    const head = section.getByRole('button', { name: table });
    if ((await head.getAttribute('aria-expanded')) === 'false') await head.click();
    for (const field of fields) await section.getByLabel(field, { exact: true }).click();
  };
  await pick('Orders', 'Date');
  await pick('Lab results', 'Test');
  await dialog.getByText('No record leads to all of these.').waitFor();
  await pick('Lab results', 'Test');
  await pick('Shops', 'Town');
  await pick('Order lines', 'Honey', 'Jars');
  await dialog.getByRole('radio', { name: /^One record of Order lines, and what is known of its Shop, Order/u }).waitFor();
  await dialog.getByRole('radio', { name: /^One record of Orders, with its Lines as rows, and what is known of its Shop/u }).check();
  expect(await barriersOf(page)).toEqual([]);
  await dialog.getByRole('button', { name: 'Make the form' }).click();
  await page.getByRole('heading', { name: 'Order desk', level: 1 }).waitFor();
  // What an order and a line need is there too.
  expect(await itemsOnSheet(page)).toEqual([
    'Field Number, 3 of 12 wide',
    'Field Shop, 6 of 12 wide',
    'Field Date, 3 of 12 wide',
    'Field of another record Town, 6 of 12 wide',
    'Rows Lines',
  ]);
  await visit(page, `/desk/${app}/f/orders?form=${page.url().split('/').at(-1) ?? ''}`);
  await page.getByRole('heading', { name: 'Order desk' }).waitFor();
  const { shop, town } = await sql(`SELECT name AS shop, town FROM shops ORDER BY id LIMIT 1`);
  /** Goes on with the Tab key until that has the focus. */
  const tabTo = async (name: RegExp): Promise<void> => {
    for (let i = 0; i < 80; i += 1) {
      const here = await page.evaluate(() => {
        const at = document.activeElement;
        const labels = at instanceof HTMLInputElement ? [...(at.labels ?? [])].map((label) => label.textContent) : [];
        return [at?.getAttribute('aria-label') ?? '', ...labels, at?.tagName === 'BUTTON' ? at.textContent : ''].join(' ').trim();
      });
      if (name.test(here)) return;
      await page.keyboard.press('Tab');
    }
    throw new Error(`Nothing called ${name.source} gets the focus`);
  };
  await tabTo(/^Number/u);
  await page.keyboard.type('98001');
  await tabTo(/^Shop/u);
  await page.keyboard.type(shop ?? '');
  // Whatever was offered before, nothing else is offered for what is typed.
  await page.getByRole('option', { name: shop ?? '' }).waitFor();
  expect(await page.getByRole('option').count()).toBe(1);
  await page.keyboard.press('Enter');
  await expect.poll(() => page.getByRole('status', { name: 'Town' }).innerText()).toBe(town);
  const lines = page.getByRole('group', { name: 'Lines' });
  for (let row = 1; row <= 5; row += 1) {
    await tabTo(/^Add a row/u);
    await page.keyboard.press('Enter');
    await lines.getByText(row === 1 ? '1 row' : `${row} rows`, { exact: true }).waitFor();
    await expect.poll(() => page.evaluate(() => document.activeElement?.getAttribute('role'))).toBe('combobox');
    await page.keyboard.press('Enter');
    await page.getByRole('option').first().waitFor();
    // The first row is left without a honey, which is said there and mended.
    for (let down = 1; down < row; down += 1) await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await page.getByRole('option').first().waitFor({ state: 'detached' });
    await page.keyboard.press('Tab');
    await page.keyboard.type(String(row * 10));
    await page.keyboard.press('Tab');
    await page.keyboard.type('4.50');
  }
  await page.keyboard.press('Control+s');
  await lines.getByText('Honey is required').waitFor();
  await expect.poll(() => page.evaluate(() => document.activeElement?.getAttribute('role'))).toBe('combobox');
  await page.keyboard.press('Enter');
  await page.getByRole('option').first().waitFor();
  for (let down = 0; down < 5; down += 1) await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await page.getByRole('option').first().waitFor({ state: 'detached' });
  await page.keyboard.press('Control+s');
  await expect
    .poll(() =>
      sql(
        `SELECT count(*) AS n, sum(l.jars) AS jars, count(DISTINCT l.honey) AS honeys FROM order_lines l JOIN orders o ON o.id = l."order" WHERE o.number = 98001`,
      ),
    )
    .toEqual({ n: '5', jars: '150', honeys: '5' });
});
