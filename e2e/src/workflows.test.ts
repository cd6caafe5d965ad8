import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { demoPassword, demoPeople } from '../../scripts/demo.js';
import { barriersOf, choose, openDemo, saveDraft, signIn, visit, type House } from './browser.js';

/** A builder draws a route and fixes what is doubtful; people move records along it. */
let house: House;
let app: string;
let page: Page;
beforeAll(async () => {
  ({ house, app, page } = await openDemo());
});
afterAll(() => house.close());

const details = () => page.getByRole('complementary', { name: 'Details' });
const proof = () => page.getByRole('region', { name: 'Proof' });
const findings = () => page.getByRole('region', { name: 'Findings' });
const saved = (): Promise<void> => saveDraft(page, 'route');
const accessible = async (of: Page): Promise<void> => {
  expect(await barriersOf(of)).toEqual([]);
};

describe('a route', () => {
  test('begins with its statuses in a row, for a table that has none yet', async () => {
    await visit(page, `/workshop/${app}/workflows`);
    await page.getByRole('link', { name: 'Route', exact: true }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('Name').fill('Way of an order');
    await choose(dialog, 'Of the records of', 'Orders');
    await dialog.getByLabel('Statuses, from the first to the last').fill('Placed');
    await dialog.getByRole('button', { name: 'Draw the route' }).click();
    await dialog.getByText('Enter at least two statuses').waitFor();
    await dialog.getByLabel('Statuses, from the first to the last').fill('Placed, Packed, Sent, Sent, Returned');
    await dialog.getByRole('button', { name: 'Draw the route' }).click();
    await page.getByRole('heading', { name: 'Way of an order', level: 1 }).waitFor();
    await page.getByText('4 statuses, 3 moves').waitFor();
    // The orders that were there before are at the start.
    await page.getByRole('button', { name: 'Status Placed, 20 now' }).waitFor();
    await page.getByRole('button', { name: 'Move To Packed, Coordinator' }).waitFor();
    await accessible(page);
  });

  test('is checked while it is drawn, and each finding offers its fix', async () => {
    await page.getByRole('button', { name: 'Move To Returned, Coordinator' }).click();
    await details().getByRole('button', { name: 'Remove move' }).click();
    await findings().getByText('Sent has no move out.').waitFor();
    await findings().getByText('No move leads to Returned.').waitFor();
    await findings().getByRole('button', { name: 'It can end here' }).click();
    await findings().getByText('Sent has no move out.').waitFor({ state: 'detached' });
    await findings().getByRole('button', { name: 'Add “To Returned”' }).click();
    await findings().waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'Move To Returned, Coordinator' }).click();
    await details().getByLabel('What is done').fill('Turn down');
    await details().getByRole('combobox', { name: 'Who can make it' }).focus();
    await page.keyboard.press('Backspace');
    await page.getByRole('button', { name: 'Move Turn down, nobody yet' }).waitFor();
    await page.getByRole('button', { name: 'Status Returned' }).click();
    await details().getByRole('button', { name: 'ended' }).click();
    await saved();
    await accessible(page);
  });

  test('asks a condition of the records that are moved', async () => {
    await page.getByRole('button', { name: 'Move To Packed, Coordinator' }).click();
    await details().getByLabel('What is done').fill('Pack');
    await details().getByRole('tab', { name: 'Text' }).click();
    await details().getByRole('textbox', { name: 'Only when' }).fill('count(Lines) > 0');
    await details().getByText('True for').waitFor();
    await saved();
  });
});

describe('people', () => {
  test('find what waits for them, and move it on from there', async () => {
    const { page: theirs, context } = await house.open({ width: 390, height: 844 });
    await signIn(theirs, demoPeople[1].email, demoPassword);
    await visit(theirs, `/desk/${app}/waiting`);
    await theirs.getByRole('heading', { name: 'Way of an order' }).waitFor();
    const pack = theirs.getByRole('button', { name: 'Pack: Order 1', exact: true });
    await pack.click();
    await theirs.getByRole('button', { name: 'To Sent: Order 1', exact: true }).waitFor();
    await pack.waitFor({ state: 'detached' });
    await accessible(theirs);
    await context.close();
  });

  test('see at the form at which status a record is and where it has been, and move it', async () => {
    const { page: theirs, context } = await house.open();
    await signIn(theirs, demoPeople[1].email, demoPassword);
    await visit(theirs, `/desk/${app}/orders/1`);
    const path = theirs.getByRole('region', { name: 'Way of an order' });
    await path.getByRole('listitem').filter({ hasText: 'Packed' }).and(theirs.locator('[aria-current=step]')).waitFor();
    await theirs.getByLabel('Sent', { exact: true }).first().fill('1 December 2026');
    await path.getByRole('button', { name: 'To Sent' }).click();
    await path.getByText('Save your changes first').waitFor();
    await theirs.getByRole('button', { name: 'Discard changes' }).click();
    await path.getByRole('button', { name: 'To Sent' }).click();
    await theirs.getByRole('complementary', { name: 'History' }).getByText('moved it to Sent').waitFor();
    await path.getByRole('button').first().waitFor({ state: 'detached' });
    await accessible(theirs);
    await context.close();
  });

  test('are told what a move waits for, and offered none that is not theirs', async () => {
    const { page: theirs, context } = await house.open();
    await signIn(theirs, demoPeople[3].email, demoPassword);
    await visit(theirs, `/desk/${app}`);
    await theirs.getByRole('link', { name: 'Waiting for me' }).click();
    await theirs.getByRole('heading', { name: 'Route of a lot' }).waitFor();
    const first = theirs.getByRole('group', { name: 'Records that wait' }).getByRole('listitem').filter({ hasText: 'In lab' }).first();
    await first.getByRole('link').click();
    const moves = theirs.getByRole('group', { name: 'Moves' });
    await moves.getByRole('button', { name: 'Hold' }).waitFor();
    expect(await moves.getByRole('button', { name: 'Recall' }).count()).toBe(0);
    await moves.getByRole('button', { name: 'Reject' }).click();
    await theirs.getByText('was moved on. You no longer have access to it.').waitFor();
    await accessible(theirs);
    await context.close();
  });
});

test('the proof walks a real record and says who could move it on', async () => {
  await visit(page, `/workshop/${app}/workflows`);
  await page.getByRole('link', { name: /^Way of an order/u }).click();
  await proof().getByText('Order 1', { exact: true }).waitFor();
  const walk = proof().getByRole('list', { name: 'Its path so far' });
  expect((await walk.getByRole('listitem').allTextContents()).map((content) => /^[A-Z][a-z]+/u.exec(content)?.[0])).toEqual(['Placed', 'Packed', 'Sent']);
  await proof()
    .getByRole('row', { name: /^Jorun Vasse/u })
    .getByText('at the end of the route')
    .waitFor();
  await proof().getByRole('combobox', { name: 'Another record' }).fill('Order 7');
  await page.getByRole('option', { name: 'Order 7', exact: true }).click();
  await proof()
    .getByRole('row', { name: /^Jorun Vasse/u })
    .getByText('Pack')
    .waitFor();
  await proof()
    .getByRole('row', { name: /^Edda Roke/u })
    .getByText('does not see it')
    .waitFor();
  expect(house.faults).toEqual([]);
});
