import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { everythingCame, openDemo, visit, type House } from './browser.js';

/** Nothing that people read is cut off: no label, no value, and no page that is wider than its screen. */
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

const desk = [
  'hives',
  'inspections',
  'lots',
  'orders',
  'shops',
  'swarms',
  'apiaries?list=apiary_cards',
  'lots?list=lots_board',
  'inspections?list=inspections_calendar',
  'harvests?list=harvests_season',
  'harvests?list=harvest_chart',
  'hives/1',
  'inspections/5',
  'lots/1',
  'orders/1',
  'd/season',
  'waiting',
];
const stations = [
  'tables',
  'tables/hives',
  'screens/swarm_public',
  'screens/lots_board',
  'queries',
  'reports',
  'dashboards',
  'workflows',
  'access',
  'access/people',
];

/** What has a text or a value in it that is wider than its place. */
const cutOff = (on: Page): Promise<readonly string[]> =>
  on.evaluate(() => {
    const found = document.documentElement.scrollWidth > window.innerWidth ? ['The page is wider than the screen'] : [];
    for (const element of document.querySelectorAll<HTMLElement>('body *')) {
      const isInput = element instanceof HTMLInputElement && !['checkbox', 'radio', 'file'].includes(element.type);
      const text = isInput
        ? element.value
        : [...element.childNodes]
            .flatMap((node) => (node.nodeType === Node.TEXT_NODE ? [node.textContent ?? ''] : []))
            .join('')
            .trim();
      const { overflowX, visibility } = getComputedStyle(element);
      if (text === '' || visibility === 'hidden' || (overflowX === 'visible' && !isInput)) continue;
      // What is for those who hear the screen takes no space.
      if (element.getBoundingClientRect().width < 3) continue;
      if (element.scrollWidth > element.clientWidth + 1) found.push(`${text.slice(0, 60)} (${element.scrollWidth} of ${element.clientWidth} px)`);
    }
    return found;
  });

test.each([
  [1280, 800, [...desk.map((path) => `desk/APP/${path}`), ...stations.map((path) => `workshop/APP/${path}`)]],
  [1600, 900, [...desk.slice(0, 2), ...desk.slice(10, 12)].map((path) => `desk/APP/${path}`)],
  [390, 844, [...desk.map((path) => `desk/APP/${path}`), 'public/APP/swarm_public']],
] as const)('at a width of %i pixels', async (width, height, paths) => {
  await page.setViewportSize({ width, height });
  const found: Record<string, readonly string[]> = {};
  for (const path of paths) {
    await visit(page, `/${path.replace('APP', app)}`);
    await page.getByRole('heading', { level: 1 }).first().waitFor();
    await everythingCame(page);
    const cut = await cutOff(page);
    if (cut.length > 0) found[path] = cut;
  }
  expect(found).toEqual({});
});
