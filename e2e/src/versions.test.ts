/** Earlier versions of an app. */
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { barriersOf, openDemo, type House } from './browser.js';

let house: House;
let app: string;
let page: Page;
beforeAll(async () => {
  ({ house, app, page } = await openDemo());
});
afterAll(() => house.close());

test('an earlier version shows what restoring it changes, comes back, and is undone', async () => {
  await page.goto(`/workshop/${app}/tables/hives`);
  await page.getByRole('link', { name: 'Versions of the app' }).click();
  const newest = page.getByRole('row').filter({ hasText: 'this is what you see' });
  await newest.waitFor();
  expect(await barriersOf(page)).toEqual([]);
  const made = page.getByRole('row').filter({ hasText: 'Added the route Route of a lot' });
  await made.getByRole('button', { name: /^Restore version/u }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByText('Removes the automation A swarm is seen').waitFor();
  expect(await barriersOf(page)).toEqual([]);
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await made.getByRole('button', { name: /^Restore version/u }).click();
  await dialog.getByRole('button', { name: 'Restore this version' }).click();
  await newest.filter({ hasText: /Restored version \d+: Added the route/u }).waitFor();
  // The automations that came after it are no longer there.
  await page.getByRole('navigation', { name: 'Workline' }).getByRole('link', { name: /Workflows\s*1$/u }).waitFor();
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await newest.filter({ hasNotText: 'Restored' }).waitFor();
  await page.getByRole('navigation', { name: 'Workline' }).getByRole('link', { name: /Workflows\s*6$/u }).waitFor();
});
