import { readFile } from 'node:fs/promises';
import type { Locator, Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { barriersOf, openDemo, rowOf, type House } from './browser.js';

/** The diagram of the tables, as somebody reads it who has many of them. */
let house: House;
let app: string;
let page: Page;
beforeAll(async () => {
  ({ house, app, page } = await openDemo());
});
afterAll(() => house.close());

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
    await page.goto(`/workshop/${app}/tables`);
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
    // Another builder sees the same.
    await page.reload();
    await card('Shops').waitFor();
    await expect.poll(kept).toBe(`${left + 20} ${top - 20}`);

    await tool('Arrange by relationships').click();
    await page.getByText('The tables are arranged by their relationships again.').waitFor();
    await expect.poll(kept).toBe('null');
    await page.getByRole('button', { name: 'Undo', exact: true }).last().click();
    await expect.poll(kept).toBe(`${left + 20} ${top - 20}`);
    await tool('Arrange by relationships').click();
    await expect.poll(kept).toBe('null');
    await tool('Show all tables').click();
    await expect.poll(() => placeOf('Lots')).toEqual(lots);
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
      return { faults: drawing.querySelectorAll('parsererror').length, texts: [...drawing.querySelectorAll('text')].map((one) => one.textContent) };
    }, svg);
    expect(seen.faults).toBe(0);
    expect(seen.texts).toEqual(expect.arrayContaining(['Quillmoor Honey', 'Shops', 'Hive treatments', 'Lab results', 'Given to', '349']));
    const [, width = '', height = ''] = /<svg [^>]*width="(\d+)" height="(\d+)"/u.exec(svg) ?? [];
    const png = await save(/PNG/u);
    // Two dots for each pixel, as the head of the file says (PNG, 11.2.2).
    expect([png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual([Number(width) * 2, Number(height) * 2]);
    expect(house.faults).toEqual([]);
  });
});
