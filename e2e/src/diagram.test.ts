import { readFile } from 'node:fs/promises';
import type { Locator, Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { openDemo, type House } from './browser.js';

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
