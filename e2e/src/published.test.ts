import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { openWebsite } from '../../scripts/website.js';
import { barriersOf, choose, openDemo, rowOf, saveDraft, visit, type House } from './browser.js';

/** Lists, reports and tiles that anyone can see: published by the builder, read by visitors, also within a page of another site. */
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
const details = () => page.getByRole('complementary', { name: 'Details' });
const isPublic = () => details().getByRole('checkbox', { name: 'Anyone can see it, without signing in' });
const address = () => details().getByRole('textbox', { name: 'Address' });

describe('a list', () => {
  test('is published by its builder, who is told what visitors don’t see of it, and read from a phone', async () => {
    await visit(page, `/workshop/${app}/screens/lots_list`);
    await isPublic().click();
    await choose(details(), 'Visitors see what this role sees', 'Visitor');
    await details().getByText("The role Visitor can't see Lots, so visitors see nothing.").waitFor();
    await choose(details(), 'Visitors see what this role sees', 'Readers of the website');
    await details().getByText('Kilograms, Tests are computed from records of which this role sees only some', { exact: false }).waitFor();
    await details().getByText('Save it to open its address.').waitFor();
    await details().getByRole('textbox', { name: 'Websites that can show it' }).fill('quillmoor');
    await details().getByText('must be the address of a site', { exact: false }).waitFor();
    await details().getByRole('textbox', { name: 'Websites that can show it' }).fill('https://quillmoor.example');
    await details().getByRole('textbox', { name: 'Put this into a page there' }).waitFor();
    expect(await barriersOf(page)).toEqual([]);
    await saveDraft(page, 'list');
    const { page: visitor } = await house.open({ width: 390, height: 844 });
    await visitor.goto(await address().inputValue());
    await visitor.getByRole('heading', { name: 'Lots', level: 1 }).waitFor();
    const { n, first = '' } = await rowOf(house, app, `SELECT count(*) AS n, min(lot) AS first FROM lots WHERE status = 'released'`);
    expect(await visitor.getByRole('list', { name: 'Lots' }).getByRole('listitem').count()).toBe(Number(n));
    await visitor.getByRole('heading', { name: first, level: 2 }).waitFor();
    expect(await visitor.getByText('In lab').count()).toBe(0);
    expect(await barriersOf(visitor)).toEqual([]);
    expect(await visitor.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
    await visitor.emulateMedia({ colorScheme: 'dark' });
    await visitor.setViewportSize({ width: 1280, height: 800 });
    await visitor.getByRole('columnheader', { name: 'Kilograms' }).waitFor();
    expect(await visitor.getByRole('row').count()).toBe(Number(n) + 1);
    expect(await barriersOf(visitor)).toEqual([]);

    // It ends as it began: with one press, and at once.
    await isPublic().click();
    await saveDraft(page, 'list');
    await visitor.reload();
    await visitor.getByText('There is nothing at this address, or it is no longer public.').waitFor();
    await visitor.context().close();
  });

  test('makes a role for its visitors where there is none', async () => {
    await visit(page, `/workshop/${app}/screens/orders_list`);
    await isPublic().click();
    await details().getByRole('combobox', { name: 'Visitors see what this role sees' }).waitFor();
    expect(await details().getByRole('combobox', { name: 'Visitors see what this role sees' }).innerText()).toBe('Visitors of Orders');
    await page.getByRole('button', { name: 'Discard changes' }).click();
    await visit(page, `/workshop/${app}/access`);
    await page.getByRole('link', { name: 'Visitors of Orders, Orders: sees all' }).waitFor();
  });

  test('is a part of a page of another site, as high as what it shows, beside a form', async () => {
    const site = await openWebsite(`${house.server.address}/public/${app}/swarm_public`);
    try {
      for (const [screen, what] of [
        ['swarm_public', 'form'],
        ['lots_ready', 'list'],
      ] as const) {
        await visit(page, `/workshop/${app}/screens/${screen}`);
        const sites = details().getByRole('textbox', { name: 'Websites that can show it' });
        await sites.press('Control+End');
        await sites.pressSequentially(`\n${site.address}`);
        await saveDraft(page, what);
      }
      const { page: visitor } = await house.open();
      await visitor.goto(site.address);
      await visitor.frameLocator('bibliona-form iframe').getByRole('heading', { name: 'Report a swarm' }).waitFor();
      const place = visitor.locator('bibliona-list iframe');
      const list = visitor.frameLocator('bibliona-list iframe');
      await list.getByRole('heading', { name: 'Honey in the jar' }).waitFor();
      const height = (): Promise<number> => place.evaluate((frame) => frame.getBoundingClientRect().height);
      const inside = (): Promise<number> => list.locator('body').evaluate((body) => body.getBoundingClientRect().height);
      await expect.poll(async () => Math.abs((await height()) - (await inside()))).toBeLessThan(2);
      const { n } = await rowOf(house, app, `SELECT count(*) AS n FROM lots WHERE status = 'released'`);
      expect(await list.getByRole('listitem').or(list.getByRole('row')).count()).toBeGreaterThanOrEqual(Number(n));
      await visitor.context().close();
    } finally {
      await site.close();
    }
  });
});

test('a tile is published, and drawn without the app around it', async () => {
  await visit(page, `/workshop/${app}/dashboards/season`);
  const tile = page.getByRole('group', { name: /^Tile Lots by status/u });
  await tile.getByRole('heading').click();
  await isPublic().click();
  await choose(details(), 'Visitors see what this role sees', 'Readers of the website');
  expect(await barriersOf(page)).toEqual([]);
  await saveDraft(page, 'dashboard');
  const { page: visitor } = await house.open();
  await visitor.goto(await address().inputValue());
  await visitor.getByRole('article', { name: 'Lots by status' }).waitFor();
  await visitor.getByRole('button', { name: 'As rows' }).click();
  const { n } = await rowOf(house, app, `SELECT count(*) AS n FROM lots WHERE status = 'released' AND filled >= '2026-01-01'`);
  await visitor.getByRole('row', { name: `Released ${n}` }).waitFor();
  expect(await visitor.getByRole('row').count()).toBe(2);
  expect(await barriersOf(visitor)).toEqual([]);
  await visitor.context().close();
});

test('a report is published, with as many pages as it has for its readers', async () => {
  await visit(page, `/workshop/${app}/reports/harvest_report`);
  await page.getByRole('tab', { name: 'Paper' }).click();
  await isPublic().click();
  await choose(details(), 'Visitors see what this role sees', 'Coordinator');
  expect(await barriersOf(page)).toEqual([]);
  await saveDraft(page, 'report');
  const { page: visitor } = await house.open({ width: 390, height: 844 });
  await visitor.goto(await address().inputValue());
  await visitor.getByRole('group', { name: 'Page 1 of 1' }).waitFor();
  const { apiary, n } = await rowOf(
    house,
    app,
    `SELECT a.name AS apiary, count(*) AS n FROM harvests AS h JOIN hives AS i ON i.id = h.hive JOIN apiaries AS a ON a.id = i.apiary
     WHERE h.date >= '2026-01-01' GROUP BY 1 HAVING count(*) > 1 ORDER BY 1 LIMIT 1`,
  );
  await visitor.getByText(`${apiary ?? ''} · ${n ?? ''} rows`).waitFor();
  expect(await barriersOf(visitor)).toEqual([]);
  expect(await visitor.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
  await visitor.context().close();
});
