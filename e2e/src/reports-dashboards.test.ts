import type { Page } from 'playwright-core';
import { readFile } from 'node:fs/promises';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { demoPassword, demoPeople } from '../../scripts/demo.js';
import { barriersOf, choose, openDemo, rowOf, saveDraft, signIn, visit, type House } from './browser.js';

/** A builder lays reports out and places tiles; others read and open them at the Desk. */
let house: House;
let app: string;
let page: Page;
beforeAll(async () => {
  ({ house, app, page } = await openDemo());
});
afterAll(() => house.close());

const details = () => page.getByRole('complementary', { name: 'Details' });
const proof = () => page.getByRole('region', { name: 'Proof' });
const sheet = () => page.getByRole('main');
const saved = (what: string): Promise<void> => saveDraft(page, what);
const sql = (text: string): Promise<Record<string, string>> => rowOf(house, app, text);
const accessible = async (): Promise<void> => {
  expect(await barriersOf(page)).toEqual([]);
};

describe('a report', () => {
  test('begins with three questions and its first page', async () => {
    await visit(page, `/workshop/${app}/reports`);
    await page.getByRole('link', { name: 'Report', exact: true }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByRole('button', { name: 'Next question' }).click();
    await dialog.getByText('Enter a name. It is shown at the top of the first page.').waitFor();
    await dialog.getByLabel('Name').fill('Inspections by keeper');
    await choose(page, 'Its rows come from', 'Inspections');
    await dialog.getByRole('button', { name: 'Next question' }).click();
    await dialog.getByRole('combobox', { name: 'Group by' }).click();
    await page.getByRole('option', { name: 'Inspected by' }).click();
    await choose(dialog, 'Sort by', 'Date');
    await dialog.getByRole('button', { name: 'Next question' }).click();
    await dialog.getByRole('button', { name: 'Make the first page' }).click();
    await sheet().getByRole('heading', { name: 'Inspections by keeper', level: 1 }).waitFor();
    await sheet()
      .getByText(/A4 portrait, \d pages/u)
      .waitFor();
    const first = sheet().getByRole('group', { name: /^Page 1 of/u });
    await first.getByText('Inspections by keeper').waitFor();
    await first.getByText('Inspected by').waitFor({ state: 'detached' });
    await sheet().getByRole('button', { name: 'Inspected by head' }).waitFor();
    await accessible();
  });

  test('adds up beside the rows that the database counts, and totals join in', async () => {
    const { n = '', mites = '' } = await sql('SELECT count(*) AS n, sum(mites_counted) AS mites FROM inspections');
    await proof().getByText('Totals match').waitFor();
    const row = (name: string) => proof().getByRole('row', { name: new RegExp(`^${name} `, 'u') });
    expect(await row('Rows').getByRole('cell').allTextContents()).toEqual([n, n]);
    await details().getByRole('button', { name: 'Mites counted' }).first().click();
    await choose(details(), 'Under each group and at the end', 'sum');
    await row('Sum of Mites counted').waitFor();
    expect(await row('Sum of Mites counted').getByRole('cell').allTextContents()).toEqual([mites, mites]);
  });

  test('says which text is too long and is cut off, and fixes it', async () => {
    await details().getByLabel('Wrap long text').waitFor();
    await details().getByRole('button', { name: 'All fields' }).click();
    await details().getByRole('button', { name: 'Hive', exact: true }).first().click();
    await details().getByLabel('Wrap long text').uncheck();
    await details().getByLabel('Part of the width').fill('1');
    await proof()
      .getByText(/^Hive is too long and is cut off/u)
      .waitFor();
    await proof()
      .getByText(/\d to look at/u)
      .waitFor();
    await proof().getByRole('button', { name: 'Wrap the text' }).click();
    expect(await details().getByLabel('Wrap long text').isChecked()).toBe(true);
    await details().getByLabel('Part of the width').fill('8');
    await proof().getByText('checks pass').waitFor();
    await saved('report');
  });

  test('narrows its rows by a condition that says what is wrong with it', async () => {
    await details().getByRole('button', { name: 'All fields' }).click();
    await details().getByRole('tab', { name: 'Rows' }).click();
    await details().getByRole('tab', { name: 'Text' }).click();
    const editor = details().getByRole('textbox').first();
    await editor.fill('Mites countd > 3');
    await proof().getByRole('alert').waitFor();
    await editor.fill('Mites counted > 3');
    const { n = '' } = await sql('SELECT count(*) AS n FROM inspections WHERE mites_counted > 3');
    await proof()
      .getByRole('row', { name: /^Rows /u })
      .getByRole('cell', { name: n })
      .first()
      .waitFor();
    await saved('report');
  });

  test('is on the Desk page below page, and is saved as a PDF', async () => {
    await page.getByRole('link', { name: 'On the Desk' }).click();
    await page.waitForURL(/\/desk\//u);
    await page.getByRole('heading', { name: 'Inspections by keeper', level: 1 }).waitFor();
    await page.getByRole('group', { name: /^Page 1 of/u }).waitFor();
    const waiting = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Save as PDF' }).click();
    const download = await waiting;
    expect(download.suggestedFilename()).toBe('Inspections by keeper.pdf');
    expect((await readFile(await download.path())).subarray(0, 5).toString()).toBe('%PDF-');
    await accessible();
  });

  test('holds for a keeper what is theirs alone', async () => {
    const { page: theirs, context } = await house.open({ width: 390, height: 844 });
    await signIn(theirs, demoPeople[2].email, demoPassword);
    await visit(theirs, `/desk/${app}/r/harvest_report`);
    const says = theirs.getByRole('status').filter({ hasText: /rows? on \d+ pages?/u });
    await says.getByText('Counts only what you can see', { exact: false }).waitFor();
    const { n = '' } = await sql(
      "SELECT count(*) AS n FROM harvests h JOIN hives v ON v.id = h.hive JOIN apiaries a ON a.id = v.apiary JOIN keepers k ON k.id = a.keeper WHERE k.name = 'Wystan Quill' AND h.date >= '2026-01-01'",
    );
    expect(await says.textContent()).toMatch(new RegExp(`^${n} rows? on`, 'u'));
    await context.close();
  });
});

describe('a dashboard', () => {
  test('begins empty, and its first tile counts at once', async () => {
    await visit(page, `/workshop/${app}/dashboards`);
    await page.getByRole('link', { name: 'Dashboard', exact: true }).click();
    await page.getByRole('dialog').getByLabel('Name').fill('Hive work');
    await page.getByRole('button', { name: 'Make the dashboard' }).click();
    await sheet().getByText('No tiles yet.').waitFor();
    await sheet().getByRole('button', { name: 'Tile' }).last().click();
    await choose(page.getByRole('dialog'), 'Made from', 'Inspections');
    await page.getByRole('button', { name: 'Add the tile' }).click();
    const { n = '' } = await sql('SELECT count(*) AS n FROM inspections');
    await sheet().getByRole('group', { name: 'Tile Inspections' }).getByText(`from ${n} rows`).waitFor();
    await details().getByLabel('Target').fill('1000');
    await choose(details(), 'Judged', 'more is better');
    await sheet()
      .getByText(`poor; goal 1,000, ${1000 - Number(n)} to go`)
      .waitFor();
  });

  test('draws bars by what is chosen, and places its tiles by the keyboard and by dragging', async () => {
    await sheet().getByRole('button', { name: 'Tile', exact: true }).click();
    const dialog = page.getByRole('dialog');
    await choose(dialog, 'It shows', 'bars, side by side');
    await choose(dialog, 'Made from', 'Inspections');
    await dialog.getByRole('button', { name: 'Add the tile' }).click();
    await dialog.getByText('Choose what the points are grouped by.').waitFor();
    await choose(dialog, 'By', 'Stores');
    await dialog.getByRole('button', { name: 'Add the tile' }).click();
    const tile = sheet().getByRole('group', { name: 'Tile Inspections by stores' });
    const { n = '' } = await sql("SELECT count(*) AS n FROM inspections WHERE stores = 'full'");
    await tile.getByRole('listitem').filter({ hasText: 'Full' }).getByText(n, { exact: true }).waitFor();
    const before = await tile.boundingBox();
    await tile.focus();
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('Shift+ArrowRight');
    await expect.poll(async () => (await tile.boundingBox())?.width ?? 0).toBeGreaterThan((before?.width ?? 0) + 20);
    const moved = await tile.boundingBox();
    expect((moved?.x ?? 0) - (before?.x ?? 0)).toBeGreaterThan(20);
    const title = tile.getByRole('heading');
    const at = await title.boundingBox();
    await page.mouse.move((at?.x ?? 0) + 30, (at?.y ?? 0) + 8);
    await page.mouse.down();
    await page.mouse.move((at?.x ?? 0) + 230, (at?.y ?? 0) + 8, { steps: 8 });
    await page.mouse.up();
    await expect.poll(async () => ((await tile.boundingBox())?.x ?? 0) - (moved?.x ?? 0)).toBeGreaterThan(60);
    await accessible();
    await saved('dashboard');
  });

  test('opens at the Desk the records behind a bar', async () => {
    await page.getByRole('link', { name: 'On the Desk' }).click();
    // The Workshop has the same heading: it is the Desk's that is waited for.
    await page.getByRole('navigation', { name: 'Lists' }).waitFor();
    await page.getByRole('heading', { name: 'Hive work', level: 1 }).waitFor();
    await accessible();
    const { n = '' } = await sql("SELECT count(*) AS n FROM inspections WHERE stores = 'low'");
    await page.getByRole('button', { name: `Low, ${n}: its records` }).click();
    const dialog = page.getByRole('dialog', { name: 'Inspections by stores, Low' });
    await dialog.getByText(`${n} records`).waitFor();
    expect(await dialog.getByRole('row').count()).toBe(Number(n) + 1);
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'As rows' }).click();
    await page.getByRole('group', { name: 'Number of Inspections by Stores' }).getByRole('cell', { name: 'Low' }).waitFor();
  });

  test('draws a line along time, which arrow keys follow', async () => {
    await visit(page, `/desk/${app}/d/season`);
    const chart = page.getByRole('article', { name: 'Harvest month by month, kg' }).getByRole('button', { name: /points\./u });
    await chart.focus();
    await page.keyboard.press('Home');
    const { kg = '' } = await sql(
      "SELECT trim_scale(sum(kilograms)) AS kg FROM harvests WHERE date_trunc('month', date) = (SELECT date_trunc('month', min(date)) FROM harvests)",
    );
    await expect.poll(() => chart.getAttribute('aria-label')).toContain(`: ${Number(kg).toFixed(1)}`);
    await page.keyboard.press('Enter');
    await page.getByRole('dialog').getByRole('table').waitFor();
  });

  test('goes on as it is found when it is left unsaved', async () => {
    await visit(page, `/workshop/${app}/dashboards/season`);
    await sheet().getByRole('group', { name: 'Tile Lots released' }).click();
    await details().getByLabel('Name').fill('Lots let go');
    await page.getByRole('link', { name: 'Tables' }).click();
    await page.getByRole('button', { name: 'Stay here' }).click();
    await page.getByRole('button', { name: 'Discard changes' }).click();
    await details().getByRole('heading', { name: 'Lots released' }).waitFor();
    expect(house.faults).toEqual([]);
  });
});
