import { readFile } from 'node:fs/promises';
import type { Locator, Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { barriersOf, choose, openDemo, rowOf, visit, type House } from './browser.js';

/** The diagram of the tables, as somebody reads it who has many of them. */
let house: House;
let app: string;
let page: Page;
beforeAll(async () => {
  ({ house, app, page } = await openDemo());
});
afterAll(() => house.close());

interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}
async function boxOf(of: Locator): Promise<Box> {
  await of.waitFor();
  const box = await of.boundingBox();
  if (box === null) throw new Error('It is not on the screen');
  return box;
}

describe('the diagram of the tables', () => {
  const tool = (name: string): Locator => page.getByRole('toolbar', { name: 'Diagram' }).getByRole('button', { name });
  const card = (table: string): Locator => page.getByRole('main').getByRole('button', { name: new RegExp(`^Table ${table},`, 'u') });
  const overview = (): Locator => page.getByRole('img', { name: 'The whole diagram, small' });
  const isInSight = async (table: string): Promise<boolean> => {
    const [box, sheet] = [await card(table).boundingBox(), await page.getByLabel('Diagram of the tables').boundingBox()];
    if (box === null || sheet === null) return false;
    return box.x >= sheet.x && box.y >= sheet.y && box.x + box.width <= sheet.x + sheet.width && box.y + box.height <= sheet.y + sheet.height;
  };

  test('is drawn larger and smaller, shows the whole beside a part of it, and brings a table into sight', async () => {
    await visit(page, `/workshop/${app}/tables`);
    await card('Hives').waitFor();
    expect(await isInSight('Frames')).toBe(true);
    await expect.poll(() => overview().count()).toBe(0);
    for (let i = 0; i < 3; i += 1) await tool('Draw it larger').click();
    await overview().waitFor();
    await expect.poll(() => isInSight('Frames')).toBe(false);
    await page.getByRole('complementary', { name: 'Shelf' }).getByRole('link', { name: 'Frames' }).click();
    await expect.poll(() => isInSight('Frames')).toBe(true);
    await tool('Show all tables').click();
    await expect.poll(async () => [await isInSight('Shops'), await isInSight('Lab results')]).toEqual([true, true]);
  });

  test('is there again when its page is loaded anew, and nothing is laid out a second time', async () => {
    expect(page.workers()).toHaveLength(1);
    await page.reload();
    await card('Hives').waitFor();
    await expect.poll(() => isInSight('Frames')).toBe(true);
    expect(page.workers()).toEqual([]);
  });

  test('goes on showing what a person has chosen to see when tables come and go, and what the keyboard comes to', async () => {
    const size = (): Promise<string> => page.getByLabel('Size', { exact: true }).innerText();
    const inFull = await size();
    for (let i = 0; i < 3; i += 1) await tool('Draw it larger').click();
    const larger = await size();
    expect(larger).not.toBe(inFull);
    await page.getByRole('main').getByRole('button', { name: 'Table', exact: true }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByRole('textbox', { name: 'Name', exact: true }).fill('Queens');
    await page.keyboard.press('Enter');
    await card('Queens').waitFor();
    await expect.poll(() => isInSight('Queens')).toBe(true);
    expect(await size()).toBe(larger);
    // By Tab from card to card, also to those that are out of sight.
    expect(await isInSight('Keepers')).toBe(false);
    await card('Queens').press('Shift+Tab');
    for (let i = 0; i < 40 && !(await card('Keepers').evaluate((button) => button === document.activeElement)); i += 1) await page.keyboard.press('Shift+Tab');
    await expect.poll(() => isInSight('Keepers')).toBe(true);
    await tool('Show all tables').click();

    // What is pressed while the cards are placed anew does not move away until it is let go.
    const { x, y } = await boxOf(card('Orders'));
    await page.mouse.move(x + 30, y + 8);
    await page.mouse.down();
    await page.keyboard.press('Control+z');
    await card('Queens').waitFor({ state: 'detached' });
    // As long as it takes to place them.
    await page.waitForTimeout(500);
    expect(await boxOf(card('Orders'))).toMatchObject({ x, y });
    await page.mouse.up();
    await page.getByRole('complementary', { name: 'Details' }).getByRole('heading', { name: 'Orders' }).waitFor();
    await page.getByRole('complementary', { name: 'Shelf' }).getByRole('link', { name: 'Frames' }).click();
  });

  test('keeps tables where they are put, by pointer and by key, for others too, and arranges them again', async () => {
    await tool('Show all tables').click();
    const placeOf = async (table: string): Promise<readonly number[]> => {
      const box = await card(table).boundingBox();
      return [Math.round(box?.x ?? 0), Math.round(box?.y ?? 0)];
    };
    const kept = (): Promise<string> =>
      rowOf(house, app, `SELECT string_agg(x || ' ' || y, ',' ORDER BY table_id) AS at FROM bibliona.table_place WHERE table_id = 'shops'`).then(
        (row) => row['at'] ?? '',
      );
    const [x = 0, y = 0] = await placeOf('Shops');
    const lots = await placeOf('Lots');
    await page.mouse.move(x + 30, y + 8);
    await page.mouse.down();
    await page.mouse.move(x + 60, y + 60, { steps: 4 });
    await page.mouse.move(x + 330, y + 308, { steps: 4 });
    await page.mouse.up();
    await expect.poll(() => placeOf('Shops')).not.toEqual([x, y]);
    // It was put somewhere, and not opened.
    expect(page.url()).toContain('/frames');
    await expect.poll(kept).not.toBe('null');
    const before = await kept();
    await card('Shops').focus();
    await page.keyboard.press('Alt+ArrowRight');
    await page.keyboard.press('Alt+ArrowUp');
    const [left = 0, top = 0] = before.split(' ').map(Number);
    await expect.poll(kept).toBe(`${left + 20} ${top - 20}`);
    // The keys are for what was moved last, and not for the last change of the app.
    await page.keyboard.press('Control+z');
    await expect.poll(kept).toBe(`${left + 20} ${top}`);
    await page.keyboard.press('Control+z');
    await expect.poll(kept).toBe(`${left} ${top}`);
    await page.keyboard.press('Control+Shift+z');
    await page.keyboard.press('Control+Shift+z');
    await expect.poll(kept).toBe(`${left + 20} ${top - 20}`);
    // Another builder sees the same.
    await page.reload();
    await card('Shops').waitFor();
    await expect.poll(kept).toBe(`${left + 20} ${top - 20}`);

    await tool('Arrange by relationships').click();
    await page.getByText('The tables are arranged by their relationships again.').waitFor();
    await expect.poll(kept).toBe('null');
    await page.getByRole('button', { name: 'Undo', exact: true }).last().click();
    await expect.poll(kept).toBe(`${left + 20} ${top - 20}`);
    // Undone there it is undone for the keys too, and redone by them.
    await page.keyboard.press('Control+Shift+z');
    await expect.poll(kept).toBe('null');
    await tool('Show all tables').click();
    await expect.poll(() => placeOf('Lots')).toEqual(lots);
    expect(await barriersOf(page)).toEqual([]);
  });

  const section = (name: string): Locator => page.getByRole('button', { name: `Section ${name}`, exact: true });
  const frame = async (name: string): Promise<Box> => boxOf(section(name).locator('xpath=..'));
  const isWithin = (inner: Box, outer: Box): boolean =>
    inner.x >= outer.x && inner.y >= outer.y && inner.x + inner.width <= outer.x + outer.width && inner.y + inner.height <= outer.y + outer.height;
  const meet = (a: Box, b: Box): boolean => a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;

  test('frames the tables of a section, and no others, and moves them together', async () => {
    await visit(page, `/workshop/${app}/tables`);
    await section('Selling').waitFor();
    await tool('Show all tables').click();
    for (const [name, tables] of Object.entries({ Selling: ['Shops', 'Orders', 'Order lines'], Honey: ['Lots', 'Harvests', 'Lab results'] })) {
      const around = await frame(name);
      for (const table of tables) expect(isWithin(await boxOf(card(table)), around)).toBe(true);
      for (const table of ['Hives', 'Keepers', 'Frames', name === 'Honey' ? 'Shops' : 'Lots']) expect(meet(await boxOf(card(table)), around)).toBe(false);
    }
    const [before, shops, hives] = [await frame('Selling'), await boxOf(card('Shops')), await boxOf(card('Hives'))];
    const name = await boxOf(section('Selling'));
    await page.mouse.move(name.x + 6, name.y + 6);
    await page.mouse.down();
    await page.mouse.move(name.x + 20, name.y + 20, { steps: 3 });
    await page.evaluate(
      (at) => {
        // The pointer goes on and is let go before the sheet is drawn again.
        for (const type of ['mousemove', 'mouseup']) window.dispatchEvent(new MouseEvent(type, { ...at, view: window, bubbles: true }));
      },
      { clientX: name.x + 66, clientY: name.y + 46 },
    );
    await page.mouse.up();
    // Near its edge the sheet goes along: how far is told by what was not moved.
    const along = async (): Promise<number> => (await boxOf(card('Hives'))).x - hives.x;
    await expect.poll(async () => (await frame('Selling')).x - before.x - (await along())).toBeGreaterThan(40);
    const moved = await frame('Selling');
    await expect.poll(async () => (await boxOf(card('Shops'))).x - shops.x).toBeCloseTo(moved.x - before.x, 0);
    await section('Selling').focus();
    await page.keyboard.press('Alt+ArrowDown');
    await expect.poll(async () => (await frame('Selling')).y).toBeGreaterThan(moved.y + 3);
    await tool('Arrange by relationships').click();
    await expect.poll(async () => (await frame('Selling')).x - before.x - (await along())).toBeCloseTo(0, 0);
  });

  test('makes a section of tables, with a name and a colour, and undoes it', async () => {
    await tool('New section of tables').click();
    const dialog = page.getByRole('dialog', { name: 'A new section' });
    await dialog.getByRole('button', { name: 'Make the section' }).click();
    await dialog.getByText('Enter a name').waitFor();
    await dialog.getByRole('textbox', { name: 'Name' }).fill('honey');
    await dialog.getByRole('button', { name: 'Make the section' }).click();
    await dialog.getByText('Another section has this name').waitFor();
    await dialog.getByRole('textbox', { name: 'Name' }).fill('Visits');
    await dialog.getByRole('button', { name: 'Make the section' }).click();
    await dialog.getByText('Choose at least one table').waitFor();
    await choose(dialog, 'Colour', 'teal');
    for (const table of ['Inspections', 'Frames']) {
      await dialog.getByRole('combobox', { name: 'Tables' }).fill(table);
      await page.getByRole('option', { name: table, exact: true }).click();
    }
    await page.keyboard.press('Escape');
    expect(await barriersOf(page)).toEqual([]);
    await dialog.getByRole('button', { name: 'Make the section' }).click();
    await dialog.waitFor({ state: 'detached' });
    await section('Visits').waitFor();
    await expect.poll(async () => isWithin(await boxOf(card('Frames')), await frame('Visits'))).toBe(true);
    const shelf = page.getByRole('complementary', { name: 'Shelf' });
    await shelf.getByText(/^Visits/u).waitFor();
    await section('Visits').click();
    const old = page.getByRole('dialog', { name: 'Section Visits' });
    await old.getByRole('textbox', { name: 'Name' }).fill('Visits to hives');
    await old.getByRole('button', { name: 'Save' }).click();
    await section('Visits to hives').click();
    await page.getByRole('button', { name: 'Remove the section, not its tables' }).click();
    await section('Visits to hives').waitFor({ state: 'detached' });
    await card('Frames').waitFor();
    await page.getByRole('button', { name: /^Undo/u }).click();
    await section('Visits to hives').waitFor();
  });

  test('has notes that stand where they are put', async () => {
    await tool('New note').click();
    const dialog = page.getByRole('dialog', { name: 'A new note' });
    await dialog.getByRole('button', { name: 'Add the note' }).click();
    await dialog.getByText('Enter what the note says').waitFor();
    await dialog.getByRole('textbox', { name: 'Text' }).fill('Honey is filled in September.');
    await dialog.getByRole('button', { name: 'Add the note' }).click();
    const note = page.getByRole('button', { name: 'Note: Honey is filled in September.' });
    const at = await boxOf(note);
    for (const table of await page
      .getByRole('main')
      .getByRole('button', { name: /^Table /u })
      .all())
      expect(meet(await boxOf(table), at)).toBe(false);
    await note.focus();
    await page.keyboard.press('Alt+ArrowLeft');
    await expect.poll(async () => (await boxOf(note)).x).toBeLessThan(at.x);
    await tool('Show all tables').click();
    const moved = await boxOf(note);
    await page.reload();
    await note.waitFor();
    await tool('Show all tables').click();
    await expect.poll(async () => (await boxOf(note)).x).toBeCloseTo(moved.x, 0);
    // Tables are still where their relationships have them.
    expect(await rowOf(house, app, `SELECT count(*) AS placed FROM bibliona.table_place`)).toEqual({ placed: '1' });
    await note.click();
    const old = page.getByRole('dialog', { name: 'Note' });
    await old.getByRole('textbox', { name: 'Text' }).fill('Honey is filled in October.');
    await old.getByRole('button', { name: 'Save' }).click();
    await page.getByRole('button', { name: 'Note: Honey is filled in October.' }).click();
    await page.getByRole('button', { name: 'Remove the note' }).click();
    await page.getByRole('button', { name: /^Note: Honey/u }).waitFor({ state: 'detached' });
    await page.getByRole('button', { name: /^Undo/u }).click();
    await page.getByRole('button', { name: 'Note: Honey is filled in October.' }).waitFor();
    expect(await barriersOf(page)).toEqual([]);
  });

  test('is saved as a picture of all tables, whatever of them is in sight', async () => {
    for (let i = 0; i < 4; i += 1) await tool('Draw it larger').click();
    const save = async (format: RegExp): Promise<Buffer> => {
      await tool('Save as a picture').click();
      const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name: format }).click()]);
      expect(file.suggestedFilename()).toMatch(/^Quillmoor Honey\.(?:svg|png)$/u);
      return readFile(await file.path());
    };
    const svg = (await save(/SVG/u)).toString();
    // A browser reads it as what it is, without a fault.
    const seen = await page.evaluate((text) => {
      const drawing = new DOMParser().parseFromString(text, 'image/svg+xml');
      return { faults: drawing.querySelectorAll('parsererror').length, texts: [...drawing.querySelectorAll('text')].map((each) => each.textContent) };
    }, svg);
    expect(seen.faults).toBe(0);
    expect(seen.texts).toEqual(
      expect.arrayContaining([
        'Selling',
        'Honey is filled in October.',
        'Quillmoor Honey',
        'Shops',
        'Hive treatments',
        'Lab results',
        'Visits to hives',
        '349',
      ]),
    );
    const [, width = '', height = ''] = /<svg [^>]*width="(\d+)" height="(\d+)"/u.exec(svg) ?? [];
    const png = await save(/PNG/u);
    // Two dots for each pixel, as the head of the file says (PNG, 11.2.2).
    expect([png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual([Number(width) * 2, Number(height) * 2]);
    expect(house.faults).toEqual([]);
  });
});
