import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Page } from 'playwright-core';
import { barriersOf, openDemo } from './browser.js';

let demo: Awaited<ReturnType<typeof openDemo>>;
let page: Page;
beforeAll(async () => {
  demo = await openDemo();
  page = demo.page;
}, 120_000);
afterAll(() => demo.house.close());

/**
 * The bytes of script as they are sent, of those that had come when an element with a text was drawn. The page notes that by
 * itself: on a slow machine what is asked for afterwards has come, too, before it is noticed here.
 */
async function scriptUntil(path: string, element: string, text: string): Promise<number> {
  const fresh = await page.context().newPage();
  await fresh.addInitScript(
    ([selector, part]) => {
      new MutationObserver((_, watching) => {
        if (![...document.querySelectorAll(selector)].some((each) => each.textContent.includes(part))) return;
        performance.mark('drawn');
        watching.disconnect();
      }).observe(document, { childList: true, subtree: true, characterData: true });
    },
    [element, text] as const,
  );
  await fresh.goto(path);
  await fresh.locator(element, { hasText: text }).first().waitFor();
  const bytes = await fresh.evaluate(() => {
    const [drawn] = performance.getEntriesByName('drawn');
    const scripts = (performance.getEntriesByType('resource') as PerformanceResourceTiming[]).filter((each) => each.name.endsWith('.js'));
    return scripts.filter((each) => each.responseEnd <= (drawn?.startTime ?? 0)).reduce((sum, each) => sum + each.encodedBodySize, 0);
  });
  await fresh.close();
  return bytes;
}

test('a list and a record load at most 400 kB of script', async () => {
  const list = await scriptUntil(`/desk/${demo.app}/inspections`, '[role=gridcell]', '20');
  const record = await scriptUntil(`/desk/${demo.app}/inspections/5`, 'label', 'Notes');
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
