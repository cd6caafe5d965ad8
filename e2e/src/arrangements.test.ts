import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { barriersOf, choose, openDemo, rowOf, saveDraft, visit, type House } from './browser.js';

/** The ways in which lists are arranged, besides the grid, and what is dragged in them. */
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

describe('a list', () => {
  test('is a board whose records are dragged along their route, or stay with the reason', async () => {
    await visit(page, `/desk/${app}/lots?list=lots_board`);
    const column = (name: string) => page.getByRole('region', { name, exact: true });
    const card = column('In lab').getByRole('article').first();
    await card.waitFor();
    const code = (await card.getByRole('link').innerText()).trim();
    const status = async (): Promise<string> => (await sql(`SELECT status FROM lots WHERE lot = '${code}'`))['status'] ?? '';
    const drag = async (to: string): Promise<void> => {
      const from = (await page.getByRole('article').filter({ hasText: code }).first().boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
      const target = (await column(to).boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
      await page.mouse.move(from.x + 40, from.y + from.height - 6);
      await page.mouse.down();
      await page.mouse.move(from.x + 60, from.y + from.height + 10, { steps: 4 });
      await page.mouse.move(target.x + 60, target.y + 60, { steps: 12 });
    };
    await drag('Draft');
    await column('Draft').getByText('No move leads from In lab to Draft.').waitFor();
    await page.mouse.up();
    await page.getByRole('main').getByText('No move leads from In lab to Draft.').waitFor();
    expect(await status()).toBe('in_lab');
    // Its guard asks for three passed results.
    await page.getByRole('button', { name: `Move ${code}` }).click();
    await page.getByRole('menuitem', { name: 'Released' }).click();
    await page.getByText(`${code} stays where it is`).waitFor();
    expect(await status()).toBe('in_lab');
    await drag('On hold');
    await column('On hold').getByText('Hold', { exact: true }).waitFor();
    await page.mouse.up();
    await column('On hold').getByRole('article').filter({ hasText: code }).waitFor();
    expect(await status()).toBe('on_hold');
    expect(await barriersOf(page)).toEqual([]);
  });

  test('is a calendar, walked month by month', async () => {
    await visit(page, `/desk/${app}/inspections?list=inspections_calendar&month=2026-08`);
    await page.getByRole('heading', { name: 'August 2026' }).waitFor();
    const { n } = await sql(`SELECT count(*) AS n FROM inspections WHERE date = '2026-08-15'`);
    await page.getByRole('list', { name: '15 Aug 2026' }).waitFor();
    expect(await page.getByRole('list', { name: '15 Aug 2026' }).getByRole('link').count()).toBe(Number(n));
    await page.getByRole('button', { name: 'Previous month' }).click();
    await page.getByRole('heading', { name: 'July 2026' }).waitFor();
    expect(await barriersOf(page)).toEqual([]);
  });

  test('is a calendar in which records are dragged to other days, or taken there by keys, and stay with the reason', async () => {
    await visit(page, `/desk/${app}/inspections?list=inspections_calendar&view=week&on=2026-08-15`);
    const { id } = await sql(`SELECT id FROM inspections WHERE date = '2026-08-15' ORDER BY id LIMIT 1`);
    const dateOf = async (): Promise<string> => (await sql(`SELECT date::text AS date FROM inspections WHERE id = ${id ?? ''}`))['date'] ?? '';
    const day = (name: string) => page.getByRole('list', { name, exact: true });
    const visited = page.locator(`a[data-record="${id ?? ''}"]`);
    await day('15 Aug 2026').getByRole('link').first().waitFor();
    expect(await barriersOf(page)).toEqual([]);
    const from = (await visited.boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
    const to = (await page.getByRole('link', { name: 'New record on 13 Aug 2026' }).boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
    await page.mouse.move(from.x + 10, from.y + 8);
    await page.mouse.down();
    await page.mouse.move(from.x - 20, from.y + 30, { steps: 4 });
    await page.mouse.move(to.x, to.y + 60, { steps: 10 });
    await page.mouse.up();
    await page.getByText(/is on 13 Aug 2026 now\.$/u).waitFor();
    expect(await dateOf()).toBe('2026-08-13');
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await page.getByRole('dialog').getByRole('button', { name: 'Undo save' }).click();
    await day('15 Aug 2026').locator(visited).waitFor();
    expect(await dateOf()).toBe('2026-08-15');
    await visited.focus();
    // The list is slow to show where it is now: until then another key does nothing, and is no conflict with what the first one did.
    const reading = `**/api/apps/*/tables/inspections/**`;
    await page.route(reading, async (route) => {
      await new Promise((resolve) => setTimeout(resolve, 500));
      await route.continue();
    });
    await page.keyboard.press('Alt+ArrowLeft');
    await expect.poll(dateOf).toBe('2026-08-14');
    await page.keyboard.press('Alt+ArrowLeft');
    await page.getByText(/is on 14 Aug 2026 now\.$/u).waitFor();
    await page.unroute(reading);
    expect(await page.getByText('stays where it is', { exact: false }).count()).toBe(0);
    // The focus goes with it, so that it can be taken further.
    await expect.poll(() => visited.evaluate((link) => link === document.activeElement)).toBe(true);
    await page.keyboard.press('Alt+ArrowRight');
    await page.getByText(/is on 15 Aug 2026 now\.$/u).waitFor();
    // Somebody else was faster, and nothing has told this screen.
    await sql(`UPDATE inspections SET rev = rev + 1 WHERE id = ${id ?? ''} RETURNING id`);
    await page.keyboard.press('Alt+ArrowRight');
    await page.getByText(/stays where it is: .*changed this record at the same time/u).waitFor();
    expect(await dateOf()).toBe('2026-08-15');
    await page.getByRole('tab', { name: 'Day' }).click();
    await page.getByRole('heading', { name: /15 August 2026/u }).waitFor();
    await page.getByRole('button', { name: 'Next day' }).click();
    await page.getByRole('heading', { name: /16 August 2026/u }).waitFor();
  });

  test('leads from a month without records to those before and after it', async () => {
    const shown = async (from: string, before: string): Promise<readonly (string | undefined)[]> => {
      const { back, on } = await sql(
        `SELECT to_char(max(date) FILTER (WHERE date < '${from}'), 'FMDD Mon YYYY') AS back, to_char(min(date) FILTER (WHERE date >= '${before}'), 'FMDD Mon YYYY') AS on FROM inspections`,
      );
      return [back, on];
    };
    await sql(`DELETE FROM inspections WHERE date >= '2025-04-28' AND date < '2025-06-02' RETURNING id`);
    await visit(page, `/desk/${app}/inspections?list=inspections_calendar&month=2025-05`);
    const [back, on] = await shown('2025-04-28', '2025-06-02');
    await page.getByRole('button', { name: `Back to ${back ?? ''}`, exact: true }).waitFor();
    await page.getByRole('button', { name: `On to ${on ?? ''}`, exact: true }).click();
    await page
      .getByRole('list', { name: on ?? '', exact: true })
      .getByRole('link')
      .first()
      .waitFor();
    await visit(page, `/desk/${app}/hive_treatments?list=treatments_timeline&on=2035-03-01`);
    const { last } = await sql(`SELECT to_char(max(date), 'FMDD Mon YYYY') AS last FROM hive_treatments`);
    await page.getByRole('button', { name: /^Back to/u }).waitFor();
    expect(await page.getByRole('button', { name: /^(?:Back|On) to/u }).allInnerTexts()).toEqual([`Back to ${last ?? ''}`]);
    expect(await barriersOf(page)).toEqual([]);
  });

  test('is a timeline whose bars are dragged to other days, alone or by keys', async () => {
    const { id, on, next, code, treatment } = await sql(
      `SELECT r.name AS treatment, t.id, t.date::text AS on, (t.date + 3)::text AS next, h.code FROM hive_treatments t JOIN hives h ON h.id = t.hive JOIN treatments r ON r.id = t.treatment
       WHERE extract(day FROM t.date) BETWEEN 5 AND 15 AND r.days_in_the_hive BETWEEN 2 AND 60 ORDER BY t.id LIMIT 1`,
    );
    const dateOf = async (): Promise<string> => (await sql(`SELECT date::text AS date FROM hive_treatments WHERE id = ${id ?? ''}`))['date'] ?? '';
    await visit(page, `/desk/${app}/hive_treatments?list=treatments_timeline&on=${on ?? ''}`);
    const bar = page.locator(`a[href*="/hive_treatments/${id ?? ''}?"]`);
    await bar.waitFor();
    expect(await bar.getAttribute('aria-label')).toContain(code ?? '');
    // What its lane is called is not said again.
    await page
      .getByRole('region', { name: treatment ?? '', exact: true })
      .filter({ has: bar })
      .waitFor();
    expect(await bar.innerText()).not.toContain(treatment);
    expect(await barriersOf(page)).toEqual([]);
    // A lane for each treatment that is in view, with as many bars as the database has.
    const month = `'${(on ?? '').slice(0, 7)}-01'::date`;
    const { n } = await sql(
      `SELECT count(*) AS n FROM hive_treatments t JOIN treatments r ON r.id = t.treatment WHERE t.date < ${month} + interval '1 month' AND t.date + r.days_in_the_hive::int >= ${month}`,
    );
    expect(await page.locator('a[href*="/hive_treatments/"][aria-keyshortcuts]').count()).toBe(Number(n));
    const track = (await page.getByRole('region').filter({ has: bar }).getByRole('list').boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
    const days = new Date(Date.UTC(Number(on?.slice(0, 4)), Number(on?.slice(5, 7)), 0)).getUTCDate();
    const box = (await bar.boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
    await page.mouse.move(box.x + 8, box.y + 10);
    await page.mouse.down();
    await page.mouse.move(box.x + 30, box.y + 10, { steps: 4 });
    await page.mouse.move(box.x + 8 + (3 * track.width) / days, box.y + 10, { steps: 8 });
    await page.mouse.up();
    await page.getByText(/begins on .* now\.$/u).waitFor();
    expect(await dateOf()).toBe(next);
    // A drag opens nothing.
    expect(page.url()).toContain('list=treatments_timeline');
    await bar.focus();
    for (const _ of [1, 2, 3]) {
      const before = await dateOf();
      await page.keyboard.press('Alt+ArrowLeft');
      await expect.poll(dateOf).not.toBe(before);
      await expect.poll(() => bar.getAttribute('aria-label')).not.toContain(before);
      await page.getByText(/begins on .* now\.$/u).waitFor();
      await bar.focus();
    }
    expect(await dateOf()).toBe(on);
    await page.getByRole('tab', { name: 'Year' }).click();
    await page.getByRole('heading', { name: (on ?? '').slice(0, 4), exact: true }).waitFor();
  });

  test('is a chart over its groups, narrowed by a press, on the form of a parent too', async () => {
    await visit(page, `/workshop/${app}/screens/harvest_chart`);
    await page.getByRole('button', { name: 'as a chart by Date, Kilograms' }).click();
    await choose(page, 'A bar for each, or over time', 'Honey');
    await saveDraft(page, 'list');
    await page.getByRole('button', { name: 'as a chart by Honey, Kilograms' }).waitFor();

    await visit(page, `/desk/${app}/harvests?list=harvest_chart`);
    const { kilos } = await sql(`SELECT to_char(sum(kilograms), 'FM999990.0') AS kilos FROM harvests WHERE honey = 'meadow'`);
    const { hive, own } = await sql(
      `SELECT hive, to_char(sum(kilograms), 'FM999990.0') AS own FROM harvests WHERE honey = 'orchard' GROUP BY hive ORDER BY hive LIMIT 1`,
    );
    const bar = (name: string, amount: string | undefined) => page.getByRole('button', { name: `${name}, ${amount ?? ''}: its records` });
    await bar('Meadow', kilos).click();
    await page.getByText('found').first().waitFor();
    await expect.poll(() => page.getByRole('button', { name: /: its records$/u }).count()).toBe(1);
    await page
      .getByRole('table', { name: 'Honey over the months' })
      .getByRole('cell', { name: kilos ?? '', exact: true })
      .first()
      .waitFor();
    expect(await barriersOf(page)).toEqual([]);
    // Pressed once more, all are back.
    await bar('Meadow', kilos).click();
    await page.getByRole('button', { name: /^Orchard, .*: its records$/u }).waitFor();

    await visit(page, `/desk/${app}/hives/${hive ?? ''}?form=hive_glance`);
    const chart = page.getByRole('region', { name: 'Honey over the months' });
    await chart.getByRole('button', { name: `Orchard, ${own ?? ''}: its records` }).click();
    await expect.poll(() => page.url()).toContain('list=harvest_chart');
    await bar('Orchard', own).waitFor();
  });

  test('is changed in place where it is grouped, by keys too, and its sums with it', async () => {
    await visit(page, `/desk/${app}/harvests?list=harvests_season`);
    const june = page.getByRole('row', { name: /^Jun 2026/u });
    await june.getByRole('button').click();
    await page.getByRole('button', { name: /^Orchard/u }).click();
    const row = page
      .getByRole('row')
      .filter({ has: page.getByRole('link', { name: /^Open/u }) })
      .first();
    const id = /(\d+)\?/u.exec((await row.getByRole('link').getAttribute('href')) ?? '')?.[1] ?? '';
    const { kilograms = '', frames = '' } = await sql(`SELECT kilograms, frames FROM harvests WHERE id = ${id}`);
    const inJune = async (): Promise<string> =>
      (await sql(`SELECT sum(frames) AS n FROM harvests WHERE date >= '2026-06-01' AND date < '2026-07-01'`))['n'] ?? '';
    const before = await inJune();

    // Nothing that can't be read is lost.
    await row.getByRole('cell', { name: frames, exact: true }).dblclick();
    await page.keyboard.press('Control+A');
    await page.keyboard.type('many');
    await page.keyboard.press('Enter');
    await page.getByText(`Frames of record ${id} was not saved`).waitFor();
    await page.getByRole('button', { name: 'Enter it again' }).click();
    await expect.poll(() => page.evaluate(() => (document.activeElement as HTMLInputElement | null)?.value)).toBe('many');
    await page.keyboard.press('Escape');
    await row.getByRole('cell', { name: frames, exact: true }).waitFor();

    // By keys alone: a digit begins to edit, and Enter saves.
    const more = String(Number(frames) + 100);
    await page.keyboard.type(more);
    await page.keyboard.press('Enter');
    await june.getByRole('cell', { name: String(Number(before) + 100), exact: true }).waitFor();
    expect(await inJune()).toBe(String(Number(before) + 100));
    expect(await sql(`SELECT kilograms, frames FROM harvests WHERE id = ${id}`)).toEqual({ kilograms, frames: more });
    // Its cell, or the one below it, still has the focus; from there one goes on by arrows.
    const focused = (): Promise<string | undefined> => page.evaluate(() => (document.activeElement as HTMLElement | null)?.dataset['cell']);
    const column = await focused();
    expect(column).toBeDefined();
    await page.keyboard.press('ArrowLeft');
    await expect.poll(focused).not.toBe(column);
    expect(await focused()).toBeDefined();
    expect(await barriersOf(page)).toEqual([]);
  });

  test('is a map whose points tell their record, beside the names of all', async () => {
    await visit(page, `/desk/${app}/apiaries?list=apiary_map`);
    const names = page.getByRole('list', { name: 'Map of apiaries' });
    await names.getByRole('link').first().waitFor();
    const { n } = await sql('SELECT count(*) AS n FROM apiaries WHERE location IS NOT NULL');
    expect(await names.getByRole('link').count()).toBe(Number(n));
    expect(await page.locator('svg circle').count()).toBe(Number(n));
    const name = await names.getByRole('link').last().innerText();
    await page.locator('svg circle').last().click();
    await page.getByRole('article').getByRole('link', { name, exact: true }).waitFor();
    expect(await barriersOf(page)).toEqual([]);
    // By keys: the name that has the focus is marked on the map.
    const first = await names.getByRole('link').first().innerText();
    await names.getByRole('link').first().focus();
    await page.getByRole('article').getByRole('link', { name: first, exact: true }).waitFor();
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { level: 1, name: first, exact: true }).waitFor();
    await expect.poll(() => page.url()).toMatch(/\/apiaries\/\d+\?list=apiary_map/u);
  });
});
