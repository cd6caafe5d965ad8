import { readFile } from 'node:fs/promises';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { demoPassword, demoPeople } from '../../scripts/demo.js';
import { barriersOf, choose, openDemo, rowOf, saveDraft, signIn, visit, type House } from './browser.js';

/** Lists: the builder writes them as sentences at their station, and people work in them. */
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
const details = () => page.getByRole('complementary', { name: 'Details' });
const sheet = () => page.getByRole('main');
const proof = () => page.getByRole('region', { name: 'Proof' });

describe('a list', () => {
  test('loads no script of what is only checked or built elsewhere', async () => {
    const scripts = new Set<string>();
    const { page: fresh } = await house.open();
    await signIn(fresh, demoPeople[0].email, demoPassword);
    fresh.on('request', (request) => {
      if (request.resourceType() === 'script') scripts.add(request.url());
    });
    await visit(fresh, `/desk/${app}/hives`);
    await fresh.getByRole('gridcell', { name: 'H-001', exact: true }).waitFor();
    // Read again by their addresses: a browser forgets what a page received that it has left.
    const texts = await Promise.all([...scripts].map(async (url) => (await fresh.request.get(url)).text()));
    const code = texts.join('');
    expect(code.length).toBeGreaterThan(500_000);
    // Of the language, of the diagram and of formatted texts.
    for (const word of ['substring before', 'lookbehind', 'react-flow', 'ProseMirror']) expect(code, word).not.toContain(word);
    await fresh.context().close();
  });

  test('is narrowed by values with their counts, and its records are walked within them', async () => {
    await visit(page, `/desk/${app}/hives`);
    const filters = page.getByRole('complementary', { name: 'Quick filters' });
    const { n } = await sql(`SELECT count(*) AS n FROM hives WHERE box = 'top_bar'`);
    await filters.getByRole('button', { name: `Top bar ${n ?? ''}` }).click();
    await page.getByText(`${n ?? ''} found`).waitFor();
    await page.getByRole('button', { name: 'Remove the filter Box: Top bar' }).waitFor();
    expect(await barriersOf(page)).toEqual([]);
    // A second value of the same field adds to the first.
    await filters.getByRole('button', { name: /^Langstroth/u }).click();
    const { both } = await sql(`SELECT count(*) AS both FROM hives WHERE box IN ('top_bar', 'langstroth')`);
    await page.getByText(`${both ?? ''} found`).waitFor();
    await page.reload();
    await page.getByText(`${both ?? ''} found`).waitFor();
    await page
      .getByRole('link', { name: /^Open H-/u })
      .first()
      .click();
    await page.getByRole('link', { name: 'Next record' }).waitFor();
    for (let walked = 1; walked < Number(both); walked += 1) {
      const title = page.getByRole('heading', { level: 1 });
      const from = await title.innerText();
      await page.getByRole('link', { name: 'Next record' }).click();
      await expect.poll(() => title.innerText()).not.toBe(from);
    }
    // The last of them leads nowhere on.
    await page.getByRole('button', { name: 'Next record' }).waitFor();
    await page.getByRole('link', { name: 'Previous record' }).waitFor();
    await page.getByRole('main').getByRole('link', { name: 'Hives' }).click();
    await page.getByText(`${both ?? ''} found`).waitFor();
    await page.getByRole('button', { name: 'Show all' }).click();
    await page.getByText('20 records').waitFor();
  });

  test('is grouped with sums that are those of the database', async () => {
    await visit(page, `/desk/${app}/harvests?list=harvests_season`);
    const season = `date >= '2026-01-01'`;
    const { frames } = await sql(`SELECT sum(frames) AS frames FROM harvests WHERE ${season}`);
    await page
      .getByRole('row', { name: /^All/u })
      .getByRole('cell', { name: frames ?? '', exact: true })
      .waitFor();
    const june = page.getByRole('row', { name: /^Jun 2026/u });
    const { inJune } = await sql(`SELECT sum(frames) AS "inJune" FROM harvests WHERE date >= '2026-06-01' AND date < '2026-07-01'`);
    await june.getByRole('cell', { name: inJune ?? '', exact: true }).waitFor();
    await june.getByRole('button').click();
    await page.getByRole('button', { name: /^Orchard/u }).click();
    await page.getByRole('link', { name: /^Open/u }).first().waitFor();
    expect(await barriersOf(page)).toEqual([]);
    // Somebody groups it in another way, for themselves.
    await page.getByRole('button', { name: 'Group Harvests' }).click();
    await choose(page.getByRole('dialog', { name: 'Group Harvests' }), 'Group by', 'Hive');
    await page.keyboard.press('Escape');
    await page.getByRole('row', { name: /^H-0/u }).first().waitFor();
  });

  test('has sums at the foot of its columns, and saves chosen records as a file', async () => {
    await visit(page, `/desk/${app}/harvests?list=harvests_season&by=[]`);
    const { frames } = await sql(`SELECT sum(frames) AS frames FROM harvests WHERE date >= '2026-01-01'`);
    const grid = page.getByRole('grid');
    await grid.getByRole('gridcell', { name: `Sum of Frames: ${frames ?? ''}`, exact: true }).waitFor();
    // The foot stays in sight where the rows go on below it, and the last row is not covered by it.
    await page.setViewportSize({ width: 1280, height: 420 });
    await grid.getByRole('gridcell').nth(1).focus();
    await page.keyboard.press('Control+End');
    const foot = await grid.getByRole('gridcell', { name: /^Sum of Frames/u }).boundingBox();
    const last = await grid.locator('[data-focus]').boundingBox();
    expect((last?.y ?? 0) + (last?.height ?? 0)).toBeLessThanOrEqual((foot?.y ?? 0) + 1);
    await page.setViewportSize({ width: 1280, height: 800 });
    expect(await barriersOf(page)).toEqual([]);
    const boxes = grid.getByRole('checkbox', { name: /^Choose record/u });
    await boxes.nth(0).click();
    await boxes.nth(1).click();
    const chosen = page.getByRole('group', { name: 'Chosen records' });
    const saved = async (as: string) => {
      await chosen.getByRole('button', { name: 'Export' }).click();
      const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name: as }).click()]);
      return file;
    };
    expect((await readFile(await (await saved('CSV, plain text')).path(), 'utf8')).trim().split('\r\n')).toHaveLength(3);
    const pdf = await saved('PDF, for printing');
    expect(pdf.suggestedFilename()).toBe('Harvest by month.pdf');
    expect((await readFile(await pdf.path())).subarray(0, 5).toString()).toBe('%PDF-');
  });

  test('begins a record with what it is narrowed to, or where on it one adds', async () => {
    await visit(page, `/desk/${app}/hives`);
    const filters = page.getByRole('complementary', { name: 'Quick filters' });
    await filters.getByRole('button', { name: /^National/u }).click();
    await page.getByRole('button', { name: 'Remove the filter Box: National' }).waitFor();
    await filters.getByRole('button', { name: /^Brackmoor/u }).click();
    await page.getByRole('button', { name: 'Remove the filter Apiary: Brackmoor' }).waitFor();
    await page
      .getByRole('link', { name: 'New record' })
      .or(page.getByRole('button', { name: 'New record' }))
      .first()
      .click();
    await page.getByRole('combobox', { name: 'Box' }).getByText('National').waitFor();
    expect(await page.getByRole('combobox', { name: /^Apiary/u }).inputValue()).toBe('Brackmoor');
    await visit(page, `/desk/${app}/inspections?list=inspections_calendar&month=2026-08`);
    await page.getByRole('link', { name: 'New record on 20 Aug 2026' }).click();
    await page.getByLabel(/^Number/u).waitFor();
    expect(await page.getByRole('textbox', { name: /^Date/u }).inputValue()).toBe('20 Aug 2026');
  });

  test('is kept as a list of one’s own, in one’s own menu, and goes again', async () => {
    const menu = page.getByRole('navigation', { name: 'Lists' });
    await visit(page, `/desk/${app}/hives`);
    await page
      .getByRole('complementary', { name: 'Quick filters' })
      .getByRole('button', { name: /^Top bar/u })
      .click();
    await page.getByRole('button', { name: 'Keep this list' }).click();
    const dialog = page.getByRole('dialog', { name: 'Keep this list' });
    await dialog.getByRole('button', { name: 'Keep the list' }).click();
    await dialog.getByText('Enter a name for the menu').waitFor();
    await dialog.getByLabel('Name in the menu').fill('Only top bars');
    await dialog.getByRole('button', { name: 'Keep the list' }).click();
    await menu.getByRole('link', { name: 'Only top bars' }).and(page.locator('[aria-current=page]')).waitFor();
    expect(await barriersOf(page)).toEqual([]);
    await menu.getByRole('link', { name: /^Hives \d/u }).click();
    await page.getByText('20 records').waitFor();
    await menu.getByRole('link', { name: 'Only top bars' }).click();
    await page.getByRole('button', { name: 'Remove the filter Box: Top bar' }).waitFor();
    // A list that a table does not open with is found by its name.
    await page.keyboard.press('Control+k');
    await page.keyboard.type('lots on');
    await page.getByRole('option', { name: /^Lots on their way/u }).waitFor();
    await page.keyboard.press('Escape');
    // Nobody else has it.
    const { page: theirs, context } = await house.open();
    await signIn(theirs, demoPeople[1].email, demoPassword);
    await visit(theirs, `/desk/${app}/hives`);
    await theirs.getByRole('heading', { name: 'Hives', level: 1 }).waitFor();
    expect(await theirs.getByRole('link', { name: 'Only top bars' }).count()).toBe(0);
    await context.close();
    await page.getByRole('button', { name: 'Remove Only top bars from my lists' }).click();
    await page.getByRole('button', { name: 'Remove the list' }).click();
    await menu.getByRole('link', { name: 'Only top bars' }).waitFor({ state: 'detached' });
  });

  test('is kept by its builder for a role, whose people find it in their menu and can only keep lists for themselves', async () => {
    await visit(page, `/desk/${app}/hives?sort=hive_code&dir=down`);
    const filters = page.getByRole('complementary', { name: 'Quick filters' });
    await filters.getByRole('button', { name: /^National/u }).click();
    await filters.getByRole('button', { name: /^Brackmoor/u }).click();
    const { n } = await sql(`SELECT count(*) AS n FROM hives h JOIN apiaries a ON a.id = h.apiary WHERE h.box = 'national' AND a.name = 'Brackmoor'`);
    await page.getByText(`${n ?? ''} found`).waitFor();
    await page.getByRole('button', { name: 'Keep this list' }).click();
    const dialog = page.getByRole('dialog', { name: 'Keep this list' });
    await dialog.getByLabel('Name in the menu').fill('Nationals at Brackmoor');
    await choose(dialog, 'Who sees it', 'Keeper');
    await dialog.getByRole('button', { name: 'Keep the list' }).click();
    await page.getByRole('heading', { level: 1, name: 'Nationals at Brackmoor' }).waitFor();
    await page.getByText(`${n ?? ''} records`).waitFor();
    const { page: theirs } = await house.open();
    await signIn(theirs, demoPeople[2]?.email ?? '', demoPassword);
    await visit(theirs, `/desk/${app}`);
    await theirs.getByRole('navigation', { name: 'Lists' }).getByRole('link', { name: 'Nationals at Brackmoor' }).click();
    await theirs
      .getByText(/^\d+ records?$/u)
      .first()
      .waitFor();
    await visit(theirs, `/desk/${app}/hives?q=H`);
    await theirs.getByRole('button', { name: 'Keep as my list' }).click();
    await theirs.getByRole('dialog', { name: 'Keep as my list' }).getByLabel('Name in the menu').waitFor();
    expect(await theirs.getByRole('combobox', { name: 'Who sees it' }).count()).toBe(0);
    await theirs.context().close();
    const { page: lab } = await house.open();
    await signIn(lab, demoPeople[3]?.email ?? '', demoPassword);
    await visit(lab, `/desk/${app}`);
    await lab.getByRole('navigation', { name: 'Lists' }).getByRole('link').first().waitFor();
    expect(await lab.getByRole('link', { name: 'Nationals at Brackmoor' }).count()).toBe(0);
    await lab.context().close();
  });

  test('takes several cells at once: copied, pasted, filled down, emptied, and undone as one', async () => {
    const years = (): Promise<Record<string, string>> =>
      sql(`SELECT string_agg(coalesce(queen_year::text, 'none'), ' ' ORDER BY id) AS first FROM hives WHERE id <= 3`);
    const asWas = await years();
    const press = async (...keys: readonly string[]): Promise<void> => {
      for (const key of keys) await page.keyboard.press(key);
    };
    await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
    const clipboard = (): Promise<string> => page.evaluate(() => navigator.clipboard.readText());
    const put = (text: string): Promise<void> => page.evaluate((held) => navigator.clipboard.writeText(held), text);
    const cell = (row: number, column: number) => page.locator(`[role=row][aria-rowindex="${row + 1}"] [role=gridcell][aria-colindex="${column}"]`);
    await visit(page, `/desk/${app}/hives`);

    // Apiary, box and queen year of the first three hives, by keys.
    await cell(1, 3).click();
    await press('Shift+ArrowDown', 'Shift+ArrowDown', 'Shift+ArrowRight', 'Shift+ArrowRight');
    expect(await page.locator('[role=gridcell][aria-selected=true]').count()).toBe(9);
    expect(await barriersOf(page)).toEqual([]);
    await press('Control+c');
    const { text } = await sql(
      `SELECT string_agg(concat_ws(E'\t', a.name, CASE h.box WHEN 'national' THEN 'National' ELSE h.box END, h.queen_year), E'\n' ORDER BY h.id) AS text FROM hives AS h JOIN apiaries AS a ON a.id = h.apiary WHERE h.id <= 3`,
    );
    await expect.poll(clipboard).toBe(text);

    // What does not fit is told for each cell, and nothing is changed.
    await put('Nowhere\tNational\t2020\nBell Mere\tBarrel\tsoon');
    await press('Control+v');
    await page.getByText('3 cells do not fit. Nothing was changed.').waitFor();
    await page.getByText('Apiary of H-001: no record of Apiaries is called “Nowhere”', { exact: false }).waitFor();
    await page.getByText('Queen year of H-002: "soon" is not a number').waitFor();
    expect(await years()).toEqual(asWas);

    // What fits goes as far as it reaches, references by what they are called, and is one save.
    await put('Bell Mere\tTop bar\t2020\nbell mere\tLangstroth\t2021');
    await press('Control+v');
    await page.getByText('6 cells were changed in 2 records.').waitFor();
    const { found } = await sql(
      `SELECT string_agg(concat_ws(' ', a.name, h.box, h.queen_year), ', ' ORDER BY h.id) AS found FROM hives AS h JOIN apiaries AS a ON a.id = h.apiary WHERE h.id <= 2`,
    );
    expect(found).toBe('Bell Mere top_bar 2020, Bell Mere langstroth 2021');
    await cell(2, 4).getByText('Langstroth').waitFor();
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await page.getByRole('button', { name: 'Undo save' }).click();
    await page.getByText('6 cells were changed', { exact: false }).waitFor({ state: 'detached' });
    expect(await years()).toEqual(asWas);

    // With the pointer: queen years are filled from the first, then emptied.
    await cell(1, 5).hover();
    await page.mouse.down();
    await cell(3, 5).hover();
    await page.mouse.up();
    expect(await page.locator('[role=gridcell][aria-selected=true]').count()).toBe(3);
    await press('Control+d');
    await page.getByText('cells were changed in 2 records.', { exact: false }).waitFor();
    const [first = ''] = (asWas['first'] ?? '').split(' ');
    expect(await years()).toEqual({ first: `${first} ${first} ${first}` });
    await press('Delete');
    await page.getByText('3 cells were changed in 3 records.').waitFor();
    expect(await years()).toEqual({ first: 'none none none' });

    // One value goes into all of them, and what reaches beyond the end is told.
    await put('2018');
    await press('Control+v');
    await expect.poll(years).toEqual({ first: '2018 2018 2018' });
    await press('Control+End');
    await put('2017\n2016\n2015');
    await press('Control+v');
    await page.getByText('1 cell was changed in 1 record. 2 more rows had no record to go to: add those first.').waitFor();
    // What is computed can't be pasted over.
    await press('Control+ArrowRight', 'Control+v');
    await page.getByText('These cells can’t be changed in the list.', { exact: false }).waitFor();
    expect(await sql('SELECT count(*) AS n FROM hives WHERE queen_year IN (2015, 2016, 2017)')).toEqual({ n: '1' });
  });

  test('leads to records whose history folds away, and stays so', async () => {
    await visit(page, `/desk/${app}/hives/1`);
    const history = page.getByRole('complementary', { name: 'History' });
    await history.waitFor();
    await page.getByRole('button', { name: 'History' }).click();
    await history.waitFor({ state: 'detached' });
    await visit(page, `/desk/${app}/hives/2`);
    await page.getByRole('heading', { level: 1 }).waitFor();
    await page.getByRole('button', { name: 'History' }).click();
    await history.waitFor();
  });

  test('is made by the builder as a sentence, for a role of its own', async () => {
    await visit(page, `/workshop/${app}/screens?add=list`);
    const dialog = page.getByRole('dialog', { name: 'A new list' });
    await choose(dialog, 'Of the table', 'Orders');
    await dialog.getByLabel('Cards').check();
    await dialog.getByLabel('Name').fill('Orders of 2026');
    await dialog.getByRole('button', { name: 'Make the list' }).click();
    await page.getByRole('heading', { name: 'Orders of 2026', level: 1 }).waitFor();
    await sheet().getByRole('button', { name: 'all records' }).click();
    await details().getByRole('tab', { name: 'Text' }).click();
    await details().getByRole('textbox').first().fill('Date >= date("2026-01-01")');
    await sheet().getByRole('button', { name: 'the first added first' }).click();
    await choose(details(), 'Add to: Order', 'Total');
    await choose(details(), 'Direction of Total', 'down');
    await sheet().getByRole('button', { name: 'nothing' }).last().click();
    await choose(details(), 'Add to: Quick filters', 'Paid');
    await proof()
      .getByText(/of \d+ rows/u)
      .waitFor();
    expect(await barriersOf(page)).toEqual([]);
    await saveDraft(page, 'list');
    await sheet().getByRole('link', { name: 'On the Desk' }).click();
    const { n } = await sql(`SELECT count(*) AS n FROM orders WHERE date >= '2026-01-01'`);
    await page.getByText(`${n ?? ''} records`).waitFor();
    await expect.poll(() => page.getByRole('article').count()).toBe(Math.min(Number(n), 60));
    await page
      .getByRole('complementary', { name: 'Quick filters' })
      .getByRole('button', { name: /^(yes|no)/u })
      .first()
      .waitFor();
  });

  test('keeps its first columns in sight, and opens its records in the form that its builder chose', async () => {
    await visit(page, `/workshop/${app}/screens/hives_list`);
    await page.getByRole('heading', { name: 'Hives', level: 1 }).waitFor();
    await choose(details(), 'Records open in', 'Hive at a glance');
    await sheet()
      .getByRole('button', { name: /^Code, Apiary/u })
      .click();
    await choose(details(), 'Columns that stay in sight', /^the first$/u);
    expect(await barriersOf(page)).toEqual([]);
    await saveDraft(page, 'list');
    const { page: small, context } = await house.open({ width: 900, height: 700 });
    await signIn(small, demoPeople[1].email, demoPassword);
    await visit(small, `/desk/${app}/hives`);
    await small.getByRole('button', { name: 'Quick filters' }).click();
    const cell = small.getByRole('gridcell', { name: 'H-001', exact: true });
    const before = await cell.boundingBox();
    await cell.click();
    await small.keyboard.press('End');
    await expect.poll(() => small.getByRole('grid').evaluate((grid) => grid.scrollLeft)).toBeGreaterThan(50);
    expect((await cell.boundingBox())?.x).toBe(before?.x);
    await small.getByRole('link', { name: 'Open H-001' }).click();
    await small.getByRole('status', { name: 'Phone of its keeper' }).waitFor();
    await visit(small, `/desk/${app}/hives/new`);
    await small.getByRole('heading', { name: 'Hive at a glance' }).waitFor();
    await context.close();
  });

  test('on a phone nothing of it lies beside the screen', async () => {
    const { page: theirs, context } = await house.open({ width: 390, height: 844 });
    await signIn(theirs, demoPeople[0].email, demoPassword);
    for (const path of ['hives', 'harvests?list=harvests_season', 'inspections?list=inspections_calendar&month=2026-08', 'apiaries?list=apiary_cards']) {
      await visit(theirs, `/desk/${app}/${path}`);
      await theirs.getByRole('heading', { level: 1 }).waitFor();
      await theirs.getByRole('button', { name: 'Quick filters' }).click();
      await theirs.getByRole('complementary', { name: 'Quick filters' }).getByRole('button').first().waitFor();
      expect(await theirs.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
      expect(await barriersOf(theirs)).toEqual([]);
    }
    await context.close();
  });
});

test('the shelf shows the open part and keeps its place', async () => {
  const shelf = page.getByRole('complementary', { name: 'Shelf' });
  const isInSight = (name: string): Promise<boolean> =>
    shelf
      .getByRole('link', { name })
      .first()
      .evaluate((link) => {
        const [at, of] = [link.getBoundingClientRect(), (link.closest('.stack') ?? link).getBoundingClientRect()];
        return at.top >= of.top && at.bottom <= of.bottom;
      });
  await visit(page, `/workshop/${app}/screens/lots_ready`);
  await page.getByRole('heading', { name: 'Honey in the jar' }).first().waitFor();
  await expect.poll(() => isInSight('Honey in the jar')).toBe(true);
  expect(await isInSight('Keepers')).toBe(false);
  const stack = shelf.locator('.stack');
  const left = await stack.evaluate((each) => (each.scrollTop = 300));
  await shelf.getByRole('link', { name: 'Harvests' }).first().click();
  await details().getByRole('heading', { name: 'Harvests' }).waitFor();
  await expect.poll(() => stack.evaluate((each) => each.scrollTop)).toBe(left);
});
