import type { Page } from 'playwright-core';
import AxeBuilder from '@axe-core/playwright';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { choose, openDemo, rowOf, saveDraft, visit, type House } from './browser.js';

/** A builder asks questions at the Queries station; others read the answers at the Desk. */
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
const saved = (): Promise<void> => saveDraft(page, 'query');
const sql = (text: string): Promise<Record<string, string>> => rowOf(house, app, text);

test('a query begins with an answer', async () => {
  await visit(page, `/workshop/${app}/queries`);
  await page.getByRole('link', { name: 'Query', exact: true }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: 'Make the query' }).click();
  await dialog.getByText('Enter a name that says what it answers').waitFor();
  await dialog.getByLabel('Name').fill('Visits by apiary');
  await choose(page, 'One row per record of', 'Inspections');
  await dialog.getByRole('button', { name: 'Make the query' }).click();
  await sheet().getByRole('heading', { name: 'Visits by apiary' }).waitFor();
  await sheet().getByText('One row per record of Inspections').waitFor();
  await proof().getByText('100 of 120 rows').waitFor();
  await sheet().getByRole('table', { name: 'Where the rows go' }).getByText('Inspections, every one').waitFor();
});

test('columns are walked to, and rows grouped by one of them', async () => {
  for (const name of ['Number', 'Hive', 'Date', 'Inspected by', 'Mites counted']) {
    await sheet().getByRole('button', { name, exact: true }).click();
    await details().getByRole('button', { name: 'Leave out' }).click();
  }
  await proof().getByText('No columns yet.').waitFor();
  await sheet().getByRole('button', { name: 'Add a column' }).click();
  await details().getByRole('button', { name: 'Show fields of Hive' }).click();
  await details().getByRole('button', { name: 'Apiary', exact: true }).click();
  await sheet().getByRole('button', { name: 'Hive apiary', exact: true }).waitFor();
  await sheet().getByRole('button', { name: 'Add a column' }).click();
  await details().getByRole('button', { name: 'Number of Inspections' }).click();
  await sheet().getByText('One row per Hive apiary from Inspections').waitFor();
  await sheet().getByRole('button', { name: 'Add a column' }).click();
  await details().getByRole('button', { name: 'Mites counted', exact: true }).click();
  await choose(page, 'Summary', 'sum');
  await details().getByLabel('Name').fill('Mites in all');
  await proof().getByRole('columnheader', { name: 'Mites in all' }).waitFor();
  await proof().getByRole('button', { name: 'Mites in all' }).click();
  await sheet().getByRole('button', { name: 'Mites in all largest first' }).waitFor();
  const truth = await sql(
    `SELECT a.name, count(*) AS visits, sum(i.mites_counted) AS mites FROM inspections i JOIN hives h ON h.id = i.hive JOIN apiaries a ON a.id = h.apiary GROUP BY 1 ORDER BY 3 DESC LIMIT 1`,
  );
  const first = proof().getByRole('row').nth(1);
  await first.getByText(truth['name'] ?? '').waitFor();
  await expect.poll(() => first.getByRole('cell').allInnerTexts()).toEqual(['1', truth['name'], String(truth['visits']), String(truth['mites'])]);
  await saved();
});

test('the ledger tells what each part of the condition leaves out', async () => {
  await sheet().getByRole('button', { name: 'Add a condition' }).click();
  await details().getByRole('tab', { name: 'Text' }).click();
  await details().getByRole('textbox', { name: 'Only records where, as text' }).click();
  await page.keyboard.insertText('Stores = "Low" and Mites cunted > 5');
  await details().getByText('Did you mean Mites counted?').waitFor();
  await proof()
    .getByText(/The rows below are from before the change/u)
    .waitFor();
  await details().getByRole('button', { name: 'Write Mites counted' }).click();
  const truth = await sql(
    `SELECT count(*) AS all, count(*) FILTER (WHERE stores = 'low') AS low, count(*) FILTER (WHERE stores = 'low' AND mites_counted > 5) AS kept FROM inspections`,
  );
  const ledger = sheet().getByRole('table', { name: 'Where the rows go' });
  const [all, low, kept] = [Number(truth['all']), Number(truth['low']), Number(truth['kept'])];
  expect(kept).toBeGreaterThan(0);
  await ledger.getByRole('row', { name: /Stores is .Low/u }).waitFor();
  await expect
    .poll(() =>
      ledger
        .getByRole('row', { name: /Stores is .Low/u })
        .getByRole('cell')
        .allInnerTexts(),
    )
    .toEqual([String(all - low), String(low), '']);
  await expect
    .poll(() =>
      ledger
        .getByRole('row', { name: /Mites counted is more than 5/u })
        .getByRole('cell')
        .allInnerTexts(),
    )
    .toEqual([String(low - kept), String(kept), '']);
});

test('leaving unsaved work asks; saving keeps it, and undo undoes it', async () => {
  await page.getByRole('link', { name: 'Tables' }).click();
  await page.getByRole('heading', { name: 'Leave without saving?' }).waitFor();
  await page.getByRole('button', { name: 'Stay here' }).click();
  await page.getByRole('heading', { name: 'Leave without saving?' }).waitFor({ state: 'detached' });
  await page.keyboard.press('Control+s');
  await page.getByRole('button', { name: 'Discard changes' }).waitFor({ state: 'detached' });
  await page.reload();
  await sheet()
    .getByRole('button', { name: /Stores is .Low. and Mites counted is more than 5/u })
    .waitFor();
  await page.getByRole('button', { name: 'Undo' }).click();
  await sheet().getByRole('button', { name: 'Add a condition' }).waitFor();
  await page.getByRole('button', { name: 'Redo' }).click();
  await sheet()
    .getByRole('button', { name: /Stores is .Low/u })
    .waitFor();
});

test('the answer is at the Desk, and its records are one press away', async () => {
  await page.getByRole('link', { name: 'On the Desk' }).click();
  await page.getByRole('heading', { name: 'Visits by apiary', level: 1 }).waitFor();
  const answer = page.getByRole('grid', { name: 'Rows of Visits by apiary' });
  const apiary = await answer.getByRole('link').first().innerText();
  await answer.getByRole('link').first().click();
  await page.getByRole('heading', { name: apiary, level: 1 }).waitFor();
  await page.getByRole('link', { name: 'Hives not seen lately' }).click();
  await page.getByRole('heading', { name: 'Hives not seen lately', level: 1 }).waitFor();
});

test('a removed query is gone, and can come back', async () => {
  await visit(page, `/workshop/${app}/queries/unseen_hives`);
  await details().getByRole('button', { name: 'Remove query' }).click();
  // It is in the menu of a role, which is told first.
  await page.getByRole('dialog').getByText('Changes the role Coordinator').waitFor();
  await page.getByRole('button', { name: 'Remove the query Hives not seen lately' }).click();
  await sheet().getByRole('heading', { name: 'Mite-heavy apiaries' }).waitFor();
  expect(await page.getByRole('link', { name: 'Hives not seen lately' }).count()).toBe(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('link', { name: 'Hives not seen lately' }).waitFor();
});

test('the station has no fault that a machine can find', async () => {
  const found = await new AxeBuilder({ page }).exclude('[role=tooltip]').analyze();
  expect(found.violations.map((violation) => `${violation.id}: ${violation.nodes.map((node) => node.html).join(' ')}`)).toEqual([]);
  expect(house.faults).toEqual([]);
});
