import type { Page, Route } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { barriersOf, choose, everythingCame, openDemo, rowOf, saveDraft, visit, type House } from './browser.js';

/** What a builder sets for a whole form: where its records open, how wide it is, and the images on it. */
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
const record = () => page.getByRole('dialog', { name: 'Record of Shops' });
const design = async (form: string): Promise<void> => {
  await page.goto(`/workshop/${app}/screens/${form}`);
  await details().getByLabel('Name').waitFor();
};

describe('a record in a window over its list', () => {
  test('opens, is walked through, saved and closed, while the list stays as it was', async () => {
    await design('shops_form');
    await choose(details(), 'Records open', 'In a window over the list');
    await choose(details(), 'Width of the form', 'Narrow');
    await choose(details(), 'Fields side by side', 'One below the other');
    await saveDraft(page, 'form');
    await visit(page, `/desk/${app}/shops?sort=shop_town`);
    const rows = page.getByRole('grid').getByRole('link', { name: /^Open /u });
    await rows.first().waitFor();
    // Marked, to see that it is not drawn anew.
    await page.getByRole('grid').evaluate((grid) => grid.setAttribute('data-seen', 'yes'));
    await rows.first().click();
    await record().getByRole('textbox', { name: 'Name' }).waitFor();
    expect(new URL(page.url()).pathname).toMatch(/\/shops\/\d+$/u);
    expect((await record().boundingBox())?.width).toBe(640);
    expect(await barriersOf(page)).toEqual([]);
    const first = await record().getByRole('textbox', { name: 'Name' }).inputValue();
    await page.keyboard.press('Alt+PageDown');
    await expect.poll(() => record().getByRole('textbox', { name: 'Name' }).inputValue()).not.toBe(first);
    const second = await record().getByRole('textbox', { name: 'Name' }).inputValue();
    await record().getByLabel('Town', { exact: true }).fill('Otterbourne');
    // Escape in an input is about the input.
    await page.keyboard.press('Escape');
    await record().getByLabel('Town', { exact: true }).waitFor();
    // What is not saved is asked about.
    await record().getByRole('button', { name: 'Close' }).click();
    await page.getByRole('dialog', { name: 'Leave without saving?' }).getByRole('button', { name: 'Stay here' }).click();
    await record().getByLabel('Town', { exact: true }).focus();
    // It is read anew once it is saved, and that may take a while: who has gone on to a button stays there.
    const answersSlowly = async (route: Route): Promise<void> => {
      if (route.request().method() === 'GET') await new Promise((resolve) => setTimeout(resolve, 400));
      await route.continue();
    };
    await page.route('**/api/apps/**', answersSlowly);
    await page.keyboard.press('Control+s');
    await record()
      .getByText(/^Saved \d/u)
      .waitFor();
    const close = record().getByRole('button', { name: 'Close' });
    await close.focus();
    await everythingCame(page);
    expect(await close.evaluate((button) => button === document.activeElement)).toBe(true);
    await page.unrouteAll({ behavior: 'ignoreErrors' });
    await page.keyboard.press('Escape');
    await record().waitFor({ state: 'detached' });
    expect(new URL(page.url()).search).toBe('?sort=shop_town');
    expect(await page.getByRole('grid').getAttribute('data-seen')).toBe('yes');
    await page.getByRole('grid').getByText('Otterbourne').waitFor();
    expect(await rowOf(house, app, `SELECT name FROM shops WHERE town = 'Otterbourne'`)).toEqual({ name: second });
  });

  test('is added, goes on to the next, and is opened by its address', async () => {
    await page.keyboard.press('Alt+n');
    await record().getByRole('textbox', { name: 'Name' }).fill('Heron Deli');
    await page.keyboard.press('Control+Enter');
    await record().getByText('The record is saved as', { exact: false }).waitFor();
    await record().getByRole('textbox', { name: 'Name' }).fill('Lapwing Café');
    await record().getByRole('button', { name: 'Save', exact: true }).click();
    await expect.poll(() => page.url()).toMatch(/\/shops\/\d+\?sort=shop_town$/u);
    const isAdded = () => record().getByRole('heading', { name: 'Lapwing Café', level: 1 }).waitFor();
    await isAdded();
    const top = async (): Promise<number | undefined> => (await record().getByRole('button', { name: 'Close' }).boundingBox())?.y;
    const topOfNew = await top();
    await visit(page, `/desk/${app}/shops/3?sort=shop_town`);
    await record().getByRole('button', { name: 'Remove row 5 of Orders' }).waitFor();
    // A record with many rows begins where one with none does.
    expect(await top()).toBe(topOfNew);
    await page.goBack();
    await page.reload();
    await isAdded();
    // Removed from here, it is the list that says so.
    await record().getByRole('button', { name: 'Remove' }).click();
    await page
      .getByRole('dialog', { name: /^Remove/u })
      .getByRole('button', { name: /^Remove/u })
      .click();
    await page.getByText('Lapwing Café was removed.').waitFor();
    await record().waitFor({ state: 'detached' });
  });

  test('is a page of its own on a phone', async () => {
    await page.setViewportSize({ width: 390, height: 844 });
    await visit(page, `/desk/${app}/shops/1`);
    await page.getByRole('textbox', { name: 'Name' }).waitFor();
    expect(await record().count()).toBe(0);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
    await page.setViewportSize({ width: 1280, height: 800 });
  });
});

test('an image is put on a form, is seen in the proof and on the Desk, and is taken off again', async () => {
  await design('shops_form');
  await page.getByRole('main').getByRole('button', { name: 'Image', exact: true }).click();
  await details().getByText('JPG', { exact: false }).first().waitFor({ state: 'detached' });
  const png = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==', 'base64');
  await details()
    .getByLabel('Choose files for Image')
    .setInputFiles({ name: 'words.png', mimeType: 'image/png', buffer: Buffer.from('no image') });
  await details().getByText('is not what its name says', { exact: false }).waitFor();
  await details().getByLabel('Choose files for Image').setInputFiles({ name: 'jars.png', mimeType: 'image/png', buffer: png });
  await details().getByLabel('What it shows').fill('Jars of heather honey');
  // On the sheet, and in the proof, where nothing can be reached.
  const drawn = page.getByAltText('Jars of heather honey');
  await expect.poll(() => drawn.evaluateAll((images) => images.map((image) => (image as HTMLImageElement).naturalWidth))).toEqual([1, 1]);
  expect(await barriersOf(page)).toEqual([]);
  await saveDraft(page, 'form');
  await visit(page, `/desk/${app}/shops/1`);
  await expect
    .poll(() =>
      record()
        .getByRole('img', { name: 'Jars of heather honey' })
        .evaluate((image) => (image as HTMLImageElement).naturalWidth),
    )
    .toBe(1);
  expect(await barriersOf(page)).toEqual([]);
});

test('a record is read first where the form says so: a press or a key makes it a form, and saving makes it one to read again', async () => {
  await design('orders_form');
  await details().getByRole('checkbox', { name: 'Records are read first' }).check();
  await saveDraft(page, 'form');
  await visit(page, `/desk/${app}/orders/1`);
  const change = () => page.getByRole('button', { name: 'Change', exact: true });
  const lines = () => page.getByRole('group', { name: 'Lines', exact: true });
  const sent = () => page.getByRole('textbox', { name: 'Sent', exact: true });
  await change().waitFor();
  await lines().getByRole('row').nth(1).waitFor();
  expect(await page.locator('.fields-grid').getByRole('textbox').count()).toBe(0);
  expect(await page.locator('.fields-grid').getByRole('combobox').count()).toBe(0);
  expect(await lines().getByRole('button', { name: 'Lines' }).count()).toBe(0);
  expect(await page.getByRole('button', { name: 'Save', exact: true }).count()).toBe(0);
  expect(await barriersOf(page)).toEqual([]);
  await page.keyboard.press('Alt+e');
  await sent().waitFor();
  // The focus is in the form, and comes back to the button.
  expect(await page.evaluate(() => document.activeElement?.closest('.fields-grid') !== null)).toBe(true);
  await page.getByRole('button', { name: 'Cancel' }).click();
  await expect.poll(() => change().evaluate((button) => button === document.activeElement)).toBe(true);
  await change().click();
  await sent().fill('1 Dec 2026');
  await page.getByRole('button', { name: 'Discard changes' }).click();
  await change().waitFor();
  expect(await sent().count()).toBe(0);
  await change().click();
  await sent().fill('1 Dec 2026');
  await page.keyboard.press('Control+s');
  await change().waitFor();
  await page.getByText(/^Saved \d/u).waitFor();
  await expect.poll(() => change().evaluate((button) => button === document.activeElement)).toBe(true);
  expect(await rowOf(house, app, 'SELECT sent::text FROM orders WHERE id = 1')).toEqual({ sent: '2026-12-01' });
  // A new record is a form at once.
  await visit(page, `/desk/${app}/orders/new`);
  await sent().waitFor();
  expect(await change().count()).toBe(0);
});

test('what belongs to a row is chosen by the builder, and is shown below the rows', async () => {
  await design('apiaries_form');
  await page.getByText('Rows of Hives').click();
  await choose(details(), 'Add to: Lists of a row', /^Inspections$/u);
  await choose(details(), 'Add to: Lists of a row', 'Harvest by month');
  expect(await barriersOf(page)).toEqual([]);
  await saveDraft(page, 'form');
  const {
    apiary = '',
    hive,
    code = '',
  } = await rowOf(
    house,
    app,
    `SELECT a.id AS apiary, h.id AS hive, h.code FROM hives h JOIN apiaries a ON a.id = h.apiary WHERE EXISTS (SELECT FROM inspections i WHERE i.hive = h.id) ORDER BY h.id LIMIT 1`,
  );
  const { n } = await rowOf(house, app, `SELECT least(count(*), 20) AS n FROM inspections WHERE hive = ${hive}`);
  await visit(page, `/desk/${app}/apiaries/${apiary}`);
  const rows = page.getByRole('group', { name: 'Hives' });
  const below = page.getByRole('region', { name: `Belongs to ${code}` });
  const opener = rows.getByRole('row', { name: new RegExp(code, 'u') }).getByRole('button', { name: /^What belongs to row/u });
  await opener.click();
  const inspections = below.getByRole('region', { name: 'Inspections' });
  await expect.poll(() => inspections.getByRole('link', { name: /^Open /u }).count()).toBe(Number(n) + 1);
  await below.getByRole('region', { name: 'Harvest by month' }).waitFor();
  expect([await opener.getAttribute('aria-expanded'), await barriersOf(page)]).toEqual(['true', []]);
  // One who comes back from there finds what was open.
  await inspections.getByRole('link', { name: 'Add', exact: true }).click();
  await expect.poll(() => page.getByRole('combobox', { name: /^Hive/u }).inputValue()).toBe(code);
  await page.goBack();
  await below.waitFor();
  // A row that is not saved yet has nothing; another row takes the place of this one; it goes with its button, and with its row.
  await rows.getByRole('button', { name: 'Add a row to Hives' }).click();
  await expect
    .poll(() => rows.getByRole('button', { name: /^Remove row/u }).count())
    .toBe((await rows.getByRole('button', { name: /^What belongs/u }).count()) + 1);
  await rows
    .getByRole('button', { name: /^What belongs/u })
    .last()
    .click();
  await below.waitFor({ state: 'detached' });
  await page.getByRole('region', { name: /^Belongs to/u }).waitFor();
  await opener.click();
  await below.getByRole('button', { name: `Close what belongs to ${code}` }).click();
  await below.waitFor({ state: 'detached' });
  await opener.click();
  await rows
    .getByRole('row', { name: new RegExp(code, 'u') })
    .getByRole('button', { name: /^Remove row/u })
    .click();
  await below.waitFor({ state: 'detached' });
});

test('rows are moved by keys and with the pointer where the builder chose a number for it', async () => {
  await design('apiary_hives');
  await page.getByText('Rows of Hives').click();
  await choose(details(), 'Order of the rows', 'By Queen year');
  await saveDraft(page, 'form');
  const { apiary = '' } = await rowOf(house, app, 'SELECT apiary FROM hives GROUP BY apiary ORDER BY count(*) DESC LIMIT 1');
  const hives = async (order: string): Promise<readonly string[]> =>
    (await rowOf(house, app, `SELECT string_agg(code, ',' ORDER BY ${order}) AS codes FROM hives WHERE apiary = ${apiary}`))['codes']?.split(',') ?? [];
  const [first = '', second = '', ...others] = await hives('queen_year, id');
  await visit(page, `/desk/${app}/apiaries/${apiary}?form=apiary_hives`);
  const rows = page.getByRole('group', { name: 'Hives' });
  const grip = (n: number) => rows.getByRole('button', { name: `Move row ${n} of Hives`, exact: true });
  const shown = () => rows.locator('tbody tr td:first-child').allInnerTexts();
  await expect.poll(shown).toEqual([first, second, ...others]);
  await grip(1).focus();
  await page.keyboard.press('ArrowDown');
  await expect.poll(shown).toEqual([second, first, ...others]);
  // The focus goes with the row; it stays where there is no further place.
  await expect.poll(() => page.evaluate(() => document.activeElement?.getAttribute('aria-label'))).toBe('Move row 2 of Hives');
  await grip(1).press('ArrowUp');
  const last = others.length + 2;
  await grip(last).hover();
  await page.mouse.down();
  await grip(1).hover();
  await page.mouse.up();
  const moved = [others.at(-1) ?? '', second, first, ...others.slice(0, -1)];
  await expect.poll(shown).toEqual(moved);
  // In a low window the last row is out of sight: it comes when the pointer is held at the edge. Escape leaves all as it was.
  const heldAtTheEdge = async (): Promise<void> => {
    const edge = await rows.evaluate((element) => {
      let around = element.parentElement;
      while (around !== null && !/auto|scroll/u.test(getComputedStyle(around).overflowY)) around = around.parentElement;
      return Math.min(around?.getBoundingClientRect().bottom ?? innerHeight, innerHeight);
    });
    const lastRow = rows.locator('tbody tr').last();
    const bottom = async (): Promise<number> => ((box) => (box === null ? Number.POSITIVE_INFINITY : box.y + box.height))(await lastRow.boundingBox());
    expect(await bottom()).toBeGreaterThan(edge);
    await grip(1).hover();
    await page.mouse.down();
    await page.mouse.move(300, edge - 6, { steps: 4 });
    await expect.poll(bottom).toBeLessThan(edge);
    await lastRow.hover();
  };
  await page.setViewportSize({ width: 1280, height: 340 });
  await grip(1).evaluate((element) => element.scrollIntoView({ block: 'center' }));
  await heldAtTheEdge();
  await page.keyboard.press('Escape');
  await page.mouse.up();
  expect(await shown()).toEqual(moved);
  await grip(1).evaluate((element) => element.scrollIntoView({ block: 'center' }));
  await heldAtTheEdge();
  await page.mouse.up();
  await expect.poll(shown).toEqual([...moved.slice(1), moved[0]]);
  await page.setViewportSize({ width: 1280, height: 800 });
  await grip(last).hover();
  await page.mouse.down();
  await grip(1).hover();
  await page.mouse.up();
  await expect.poll(shown).toEqual(moved);
  // A new row comes after all others.
  await rows.getByRole('button', { name: 'Add a row to Hives' }).click();
  await rows.getByRole('textbox', { name: 'Code' }).fill('H-last');
  expect(await barriersOf(page)).toEqual([]);
  await page.keyboard.press('Control+s');
  await page.getByText(/^Saved/u).waitFor();
  expect(await hives('queen_year')).toEqual([...moved, 'H-last']);
  await page.reload();
  await expect.poll(shown).toEqual([...moved, 'H-last']);
  // The proof has them in the same order.
  const { name = '' } = await rowOf(house, app, `SELECT name FROM apiaries WHERE id = ${apiary}`);
  await design('apiary_hives');
  await page.getByRole('combobox', { name: 'Record in the proof' }).fill(name);
  await page.getByRole('option', { name }).first().click();
  const proven = page.getByRole('group', { name: 'The form with a record' }).locator('.child-rows tbody tr td:first-child');
  await expect.poll(() => proven.allInnerTexts()).toEqual([...moved, 'H-last']);
});

test('the proof shows a form as anyone else is shown it, also what is not saved yet', async () => {
  await design('apiary_hives');
  const proof = page.getByRole('group', { name: 'The form with a record' });
  await proof.getByRole('combobox', { name: /^Keeper/u, includeHidden: true }).waitFor({ state: 'attached' });
  await choose(page, 'As whom', 'As Wystan Quill');
  await proof.getByRole('status', { name: 'Keeper', includeHidden: true }).waitFor({ state: 'attached' });
  const title = await proof.getByRole('heading', { level: 2, includeHidden: true }).first().innerText();
  const { keeper } = await rowOf(house, app, `SELECT k.name AS keeper FROM apiaries a JOIN keepers k ON k.id = a.keeper WHERE a.name = '${title}'`);
  expect(keeper).toBe('Wystan Quill');
  await details().getByRole('combobox', { name: 'For the roles' }).click();
  await page.getByRole('option', { name: 'Lab' }).click();
  await page.keyboard.press('Escape');
  await proof.getByText("They don't get this form: it is for other roles.").waitFor();
  await page.getByRole('button', { name: 'Discard changes' }).click();
  await page.getByRole('button', { name: 'Put Altitude, m on the form' }).click();
  await proof.getByText('Altitude, m').waitFor();
  expect(await barriersOf(page)).toEqual([]);
  await choose(page, 'As whom', 'As the role Lab');
  await proof.getByText("They don't get this form: they have no permission to see Apiaries.").waitFor();
  await choose(page, 'As whom', 'As the role Coordinator');
  await proof.getByText('Altitude, m').waitFor();
  await page.getByRole('button', { name: 'Discard changes' }).click();
  await proof.getByText('Altitude, m').waitFor({ state: 'detached' });
});
