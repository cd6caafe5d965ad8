import { readFile } from 'node:fs/promises';
import { buffer } from 'node:stream/consumers';
import PDFDocument from 'pdfkit';
import type { Locator, Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { barriersOf, choose, openDemo, rowOf, signIn, visit, type House } from './browser.js';
import { demoPassword } from '../../scripts/demo.js';

/** Photos and documents, from making their field to reading them in the list. */
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

const png = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==', 'base64');
const photo = (name: string) => ({ name, mimeType: 'image/png', buffer: png });
const photos = (): Locator => page.getByRole('group', { name: 'Photos' });
const chooser = (name: string): Locator => page.getByLabel(`Choose files for ${name}`);
const save = async (): Promise<void> => {
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByText(/^Saved \d/u).waitFor();
};
const held = (id: number) => rowOf(house, app, `SELECT photos AS value FROM "app_${app}".hives WHERE id = ${id}`);

test('a field for documents of some kinds', async () => {
  await visit(page, `/workshop/${app}/tables/hives`);
  const details = page.getByRole('complementary', { name: 'Details' });
  await details.getByRole('link', { name: 'Field', exact: true }).click();
  await details.getByRole('textbox', { name: 'Name', exact: true }).fill('Papers');
  await choose(details, 'Kind', /^Files/u);
  await details.getByLabel('How many at most').fill('0');
  await details.getByRole('button', { name: 'Add the field' }).click();
  await details.getByText('A whole number from 1 to 50').waitFor();
  await details.getByLabel('How many at most').fill('2');
  await details.getByLabel('Kinds of file').fill('.pdf, TXT');
  expect(await barriersOf(page)).toEqual([]);
  await details.getByRole('button', { name: 'Add the field' }).click();
  await details.getByRole('link', { name: /^Papers/u }).waitFor();
});

test('photos are chosen, dropped and pasted, shown at once, and saved with the record', async () => {
  await visit(page, `/desk/${app}/hives/12`);
  await chooser('Photos').setInputFiles([photo('One.png'), photo('Two.png')]);
  await photos().getByRole('link', { name: 'Show Two.png' }).waitFor();
  // Before it is saved the small image is there already.
  await expect
    .poll(() =>
      photos()
        .locator('img')
        .first()
        .evaluate((image) => (image as HTMLImageElement).naturalWidth),
    )
    .toBe(1);
  await photos().evaluate(
    (group, bytes) => {
      const file = (name: string) => new File([new Uint8Array(bytes)], name, { type: 'image/png' });
      const data = new DataTransfer();
      data.items.add(file('Dropped.png'));
      group.dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }));
      const pasted = new DataTransfer();
      pasted.items.add(file('Pasted.png'));
      group.dispatchEvent(new ClipboardEvent('paste', { clipboardData: pasted, bubbles: true, cancelable: true }));
    },
    [...png],
  );
  await photos().getByRole('link', { name: 'Show Dropped.png' }).waitFor();
  await photos().getByRole('link', { name: 'Show Pasted.png' }).waitFor();
  await photos().getByRole('button', { name: 'Remove Two.png' }).click();
  expect(await photos().getByRole('link').count()).toBe(3);
  expect(await barriersOf(page)).toEqual([]);
  await save();
  expect((await held(12))['value']?.split('\n').map((line) => line.split('/')[0])).toEqual(expect.arrayContaining(['One.png', 'Dropped.png', 'Pasted.png']));
  await page.getByRole('complementary', { name: 'History' }).getByText('One.png', { exact: false }).waitFor();
});

test('what does not fit is refused at the field, and the rest of the form is kept', async () => {
  const notes = page.getByRole('textbox', { name: 'Notes' });
  await notes.fill('Typed before the wrong file');
  await chooser('Photos').setInputFiles([
    { name: 'Lie.png', mimeType: 'image/png', buffer: Buffer.from('no image') },
    { name: 'Paper.pdf', mimeType: 'application/pdf', buffer: Buffer.from('%PDF-1.4') },
  ]);
  await photos().getByText('“Lie.png” is not what its name says', { exact: false }).waitFor();
  await photos().getByText('“Paper.pdf” is none of these kinds of file: jpg, png, gif, webp, avif').waitFor();
  expect(await photos().getByRole('link').count()).toBe(3);
  await chooser('Papers').setInputFiles(Array.from({ length: 3 }, (_, i) => ({ name: `Paper ${i}.txt`, mimeType: 'text/plain', buffer: Buffer.from('text') })));
  const papers = page.getByRole('group', { name: 'Papers' });
  await papers.getByText('Papers holds up to 2 files; 1 were left out').waitFor();
  await papers.getByRole('link', { name: 'Paper 1.txt' }).waitFor();
  expect(await papers.getByRole('button', { name: 'Files' }).isDisabled()).toBe(true);
  expect(await notes.inputValue()).toBe('Typed before the wrong file');
  await save();
});

test('a save waits for files on their way, and an upload can be stopped', async () => {
  await visit(page, `/desk/${app}/hives/13`);
  let go = (): void => undefined;
  const held13 = new Promise<void>((resolve) => (go = resolve));
  await page.route('**/files?name=Slow.png', async (route) => {
    await held13;
    await route.continue();
  });
  await page.route('**/files?name=Never.png', () => undefined);
  await chooser('Photos').setInputFiles([photo('Slow.png'), photo('Never.png')]);
  await photos().getByText('Never.png').waitFor();
  await photos().getByRole('button', { name: 'Stop adding Never.png' }).click();
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  expect(await held(13)).toEqual({ value: 'null' });
  go();
  await page.getByText(/^Saved \d/u).waitFor();
  expect((await held(13))['value']).toMatch(/^Slow\.png\/[0-9a-f]{64}\/\d+$/u);
});

test('the list shows them, the viewer goes through them by keys, and a document is saved to the disk', async () => {
  await visit(page, `/desk/${app}/hives`);
  const row = page.getByRole('row').filter({ hasText: 'H-003' });
  await row.getByRole('link', { name: 'Show Hive 3.jpg' }).click();
  const viewer = page.getByRole('dialog', { name: 'Hive 3.jpg' });
  await viewer.getByText('1 of 2').waitFor();
  await expect.poll(() => viewer.getByRole('img', { name: 'Hive 3.jpg' }).evaluate((image) => (image as HTMLImageElement).naturalWidth)).toBe(960);
  expect(await barriersOf(page)).toEqual([]);
  await page.keyboard.press('ArrowRight');
  await page.getByRole('dialog', { name: 'Hive 3, opened.jpg' }).getByText('2 of 2').waitFor();
  await page.keyboard.press('Escape');
  await expect.poll(() => page.getByRole('dialog').count()).toBe(0);
  // A search finds what files are called.
  await page.getByLabel('Search Hives').fill('opened.jpg');
  await page.getByText('3 found').waitFor();

  await visit(page, `/desk/${app}/hives/12`);
  const waiting = page.waitForEvent('download');
  await page.getByRole('group', { name: 'Papers' }).getByRole('link', { name: 'Paper 1.txt' }).click();
  expect(await readFile(await (await waiting).path(), 'utf8')).toBe('text');
});

test('a PDF is read in the viewer, page by page, and one that is damaged says so', async () => {
  const paper = new PDFDocument({ size: 'A4' });
  paper.text('Moisture 17.2 %').addPage().text('Colour light amber').end();
  const file = (name: string, buffer: Buffer) => ({ name, mimeType: 'application/pdf', buffer });
  await visit(page, `/desk/${app}/hives/14`);
  await chooser('Papers').setInputFiles([file('Lab report.pdf', await buffer(paper)), file('Damaged.pdf', Buffer.from('%PDF-1.4\nnothing\n%%EOF'))]);
  await page.getByRole('link', { name: 'Show Lab report.pdf' }).click();
  const viewer = page.getByRole('dialog', { name: 'Lab report.pdf' });
  await viewer.getByText('Page 1. Moisture 17.2 %').waitFor({ state: 'attached' });
  await viewer.getByRole('region', { name: 'Pages of Lab report.pdf' }).press('End');
  await viewer.getByText('Page 2. Colour light amber').waitFor({ state: 'attached' });
  // Something is drawn on the white of the page.
  const isDrawn = (canvas: HTMLCanvasElement | SVGElement): boolean =>
    canvas instanceof HTMLCanvasElement &&
    canvas
      .getContext('2d')
      ?.getImageData(0, 0, canvas.width, canvas.height)
      .data.some((part) => part < 128) === true;
  expect(await viewer.locator('canvas').first().evaluate(isDrawn)).toBe(true);
  expect(await barriersOf(page)).toEqual([]);
  await page.keyboard.press('ArrowRight');
  await page
    .getByRole('dialog', { name: 'Damaged.pdf' })
    .getByText(/damaged and can't be shown/u)
    .waitFor();
  await page.keyboard.press('Escape');
});

test('on a phone a photo stands beside its record, and who may not change it only looks', async () => {
  const { page: phone, context } = await house.open({ width: 390, height: 844 });
  await signIn(phone, 'jorun.vasse@quillmoor.example', demoPassword);
  await visit(phone, `/desk/${app}/hives`);
  await expect
    .poll(() =>
      phone
        .getByRole('link', { name: /H-003/u })
        .locator('img')
        .evaluate((image) => (image as HTMLImageElement).naturalWidth),
    )
    .toBeGreaterThan(100);
  await visit(phone, `/desk/${app}/hives/3`);
  await phone.getByRole('link', { name: 'Show Hive 3.jpg' }).waitFor();
  const overflow = await phone.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
  expect(overflow).toBe(0);
  await context.close();
});
