import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Page } from 'playwright-core';
import { countScripts } from '../../scripts/loaded-scripts.js';
import { barriersOf, openDemo } from './browser.js';

let demo: Awaited<ReturnType<typeof openDemo>>;
let page: Page;
beforeAll(async () => {
  demo = await openDemo();
  page = demo.page;
}, 120_000);
afterAll(() => demo.house.close());

/** The bytes of script as they are sent, until something is there. */
async function scriptUntil(path: string, isThere: () => Promise<unknown>): Promise<number> {
  const devtools = await page.context().newCDPSession(page);
  const loaded = await countScripts(devtools);
  await devtools.send('Network.clearBrowserCache');
  await page.goto(path);
  await isThere();
  const { bytes } = loaded();
  await devtools.detach();
  return bytes;
}

test('a list and a record load at most 400 kB of script', async () => {
  // What computes comes when a form is shown, and no form waits for it. On a slow machine it can come before the form is noticed here.
  await page.route('**/assets/language-*.js', () => undefined);
  const list = await scriptUntil(`/desk/${demo.app}/inspections`, () =>
    page
      .getByRole('gridcell', { name: /20\d\d/u })
      .first()
      .waitFor(),
  );
  const record = await scriptUntil(`/desk/${demo.app}/inspections/5`, () => page.getByLabel('Notes').waitFor());
  await page.unroute('**/assets/language-*.js');
  // Something was counted: a page without scripts draws nothing.
  expect([list, record].map((bytes) => bytes > 100_000 && bytes <= 400_000)).toEqual([true, true]);
});

test('the diagram is drawn while what opens beside it has not come', async () => {
  let release = (): void => undefined;
  const held = new Promise<void>((resolve) => (release = resolve));
  await page.route('**/assets/TableDetails-*.js', async (route) => {
    await held;
    await route.continue();
  });
  await page.goto(`/workshop/${demo.app}/tables`);
  const card = page.locator('.react-flow__node').filter({ hasText: 'Apiaries' }).first();
  await card.waitFor();
  await card.click();
  await page.getByRole('region', { name: 'Proof' }).waitFor();
  release();
  await page.getByRole('complementary', { name: 'Details' }).getByRole('heading', { name: 'Apiaries' }).waitFor();
});

test('a page whose script did not come is shown once it is loaded again', async () => {
  await page.goto(`/desk/${demo.app}/hives`);
  await page.route('**/assets/WaitingScreen-*.js', (route) => route.abort());
  await page.getByRole('link', { name: /^Waiting for me/u }).click();
  await page.getByRole('heading', { name: 'This page could not be shown.' }).waitFor();
  expect(await barriersOf(page)).toEqual([]);
  await page.unroute('**/assets/WaitingScreen-*.js');
  await page.getByRole('button', { name: 'Load it again' }).click();
  await page.getByRole('heading', { name: 'Waiting for me', level: 1 }).waitFor();
});
