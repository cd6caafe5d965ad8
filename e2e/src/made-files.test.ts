/** Large lists become files in the background: while people work on, with a way to stop it. */
import { readFile } from 'node:fs/promises';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { barriersOf, openDemo, visit, type House } from './browser.js';

let house: House;
let app: string;
let page: Page;
const many = 40_000;
let inspections = 0;
beforeAll(async () => {
  ({ house, app, page } = await openDemo());
  const schema = `"app_${app}"`;
  const sql = (text: string) => house.server.database.query<{ n: string }[]>(text);
  await sql(
    `INSERT INTO ${schema}.inspections (number, date, hive, created_by, updated_by)
     SELECT 1000000 + n, date '2020-01-01' + n % 1000, (SELECT min(id) FROM ${schema}.hives), 1, 1 FROM generate_series(1, ${many}) AS n`,
  );
  inspections = Number((await sql(`SELECT count(*) AS n FROM ${schema}.inspections`))[0]?.n);
});
afterAll(() => house.close());

const files = () => page.getByRole('region', { name: 'Files' });
async function saveAs(format: RegExp): Promise<void> {
  await visit(page, `/desk/${app}/inspections`);
  await page.getByRole('status').filter({ hasText: 'records' }).first().waitFor();
  await page.getByRole('button', { name: 'Export' }).click();
  await page.getByRole('menuitem', { name: format }).click();
}

test('a file of a large list is made while one goes on working, and saved when it is ready', async () => {
  const coming = page.waitForEvent('download');
  await saveAs(/^CSV/u);
  await files().getByText('Inspections.csv').waitFor();
  await page.getByRole('link', { name: /^Hives \d/u }).click();
  await page.getByRole('heading', { name: 'Hives', exact: true }).waitFor();
  const download = await coming;
  expect(download.suggestedFilename()).toBe('Inspections.csv');
  const text = await readFile(await download.path(), 'utf8');
  expect(text.trim().split('\r\n')).toHaveLength(inspections + 1);
  await files()
    .getByText(/^Saved, [\d.]+ (MB|kB)$/u)
    .waitFor();
  expect(await barriersOf(page)).toEqual([]);
  // Its tab may be closed before it was saved.
  await page.reload();
  const again = page.waitForEvent('download');
  await files().getByRole('button', { name: 'Save', exact: true }).click();
  expect(await readFile(await (await again).path(), 'utf8')).toBe(text);
  // Who looks as someone else sees none of it, and finds it again afterwards.
  await page.evaluate(([id]) => sessionStorage.setItem('bibliona look as', JSON.stringify({ app: id, as: 'role:keeper', name: 'Keeper' })), [app]);
  await page.reload();
  await page.getByText('You look as').waitFor();
  await page.getByRole('main').getByRole('heading').first().waitFor();
  expect(await files().count()).toBe(0);
  await page.getByRole('button', { name: 'Stop looking' }).click();
  await page.waitForURL(/workshop/u);
  await visit(page, `/desk/${app}`);
  await files().getByRole('button', { name: 'Close Inspections.csv' }).click();
  await files().waitFor({ state: 'detached' });
});

test('what is cancelled is not saved, and what cannot be made says why', async () => {
  let downloads = 0;
  page.on('download', () => (downloads += 1));
  await saveAs(/^XLSX/u);
  await files().getByRole('progressbar', { name: 'Progress of Inspections.xlsx' }).waitFor();
  await files().getByRole('button', { name: 'Cancel Inspections.xlsx' }).click();
  await files().waitFor({ state: 'detached' });
  await saveAs(/^PDF/u);
  await files()
    .getByRole('alert')
    .filter({ hasText: /up to 25,000 fit on paper/u })
    .waitFor();
  await files().getByRole('button', { name: 'Close Inspections.pdf' }).click();
  await files().waitFor({ state: 'detached' });
  expect(downloads).toBe(0);
});
