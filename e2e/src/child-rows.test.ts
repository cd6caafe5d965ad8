import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { textsOf } from '../../server/test/pdf.js';
import { barriersOf, openDemo, rowOf, visit, type House } from './browser.js';
import pg from 'pg';

/** Very many children of one record: they open at once, a key is drawn at once, and they are worked in by keys. */
let house: House;
let app: string;
let page: Page;
const many = 1500;
/** More rows than are drawn at once, and not so many that printing them takes long. */
const printed = 80;
let hive = 0;
let other = 0;
beforeAll(async () => {
  ({ house, app, page } = await openDemo());
  hive = Number((await rowOf(house, app, 'SELECT id FROM hives ORDER BY id LIMIT 1'))['id']);
  other = hive + 1;
  const client = new pg.Client({ connectionString: house.url });
  await client.connect();
  const insert = `INSERT INTO "app_${app}".inspections (number, hive, date, mites_counted, created_by, updated_by) SELECT $3 + n, $1, DATE '2020-01-01' + n, n % 20, 1, 1 FROM generate_series(1, $2) AS n`;
  await client.query(insert, [hive, many, 100_000]);
  await client.query(insert, [other, printed, 200_000]);
  await client.end();
});
afterAll(() => house.close());
const group = () => page.getByRole('group', { name: 'Inspections' });

/** With the processor four times slower than it is. */
async function slowed<T>(work: () => Promise<T>): Promise<T> {
  const session = await page.context().newCDPSession(page);
  await session.send('Emulation.setCPUThrottlingRate', { rate: 4 });
  try {
    return await work();
  } finally {
    await session.send('Emulation.setCPUThrottlingRate', { rate: 1 });
  }
}

test('1,500 children open within a second, and only those in sight are drawn', async () => {
  await visit(page, `/desk/${app}/hives`);
  await page
    .getByRole('link', { name: /^Open /u })
    .first()
    .waitFor();
  /** In milliseconds, until the rows of a record are there. */
  const opened = async (id: number, words: RegExp): Promise<number> => {
    const began = Date.now();
    await visit(page, `/desk/${app}/hives/${id}`);
    await group().getByText(words).waitFor();
    await group().getByRole('row').nth(5).waitFor();
    return Date.now() - began;
  };
  const few = await opened(other, /^\d\d rows$/u);
  // By itself this takes 0.6 to 0.8 s. Machines that test are busy: then it takes not much longer than 80 rows do.
  expect(await opened(hive, /^1,5\d\d rows$/u)).toBeLessThan(Math.max(2500, 2 * few));
  expect(await group().getByRole('row').count()).toBeLessThan(60);
  expect(await barriersOf(page)).toEqual([]);
  // The page never gets wider than the window, and the rows scroll inside.
  expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true);
});

/** How long a key in a row takes until it is drawn, in milliseconds: the median of ten, with the processor slowed four times. */
async function keyDrawn(): Promise<number> {
  await group().getByRole('row').nth(2).getByRole('cell').nth(1).click();
  const input = group().getByRole('textbox').first();
  await input.waitFor();
  await page.evaluate(() => {
    const drawn: number[] = [];
    Object.assign(window, { drawn });
    document.addEventListener(
      'keydown',
      () => {
        const began = performance.now();
        requestAnimationFrame(() => setTimeout(() => drawn.push(performance.now() - began)));
      },
      { capture: true },
    );
  });
  const times = (): Promise<number[]> => page.evaluate(() => (window as unknown as { drawn: number[] }).drawn);
  await slowed(async () => {
    for (const [i, key] of [...'2468024680'].entries()) {
      await page.keyboard.press(key);
      await expect.poll(async () => (await times()).length).toBe(i + 1);
    }
  });
  const median = (await times()).sort((a, b) => a - b)[5] ?? NaN;
  await page.getByRole('button', { name: 'Discard changes' }).click();
  return median;
}

test('a key is drawn at once, with the processor slowed four times', async () => {
  const opened = async (id: number): Promise<void> => {
    await visit(page, `/desk/${app}/hives/${id}`);
    await group().getByRole('row').nth(5).waitFor();
  };
  await opened(other);
  const few = await keyDrawn();
  await opened(hive);
  const median = await keyDrawn();
  console.log(`A key in a form of ${many} rows, processor slowed four times: ${median.toFixed(0)} ms, of ${printed} rows ${few.toFixed(0)} ms (medians of 10)`);
  // Machines that test are busy: then it takes not much longer than in 80 rows, and a form that draws all of them takes far longer.
  expect(median).toBeLessThan(Math.max(200, 2 * few));
});

test('a printed record has all of its rows, in light colours, and nothing to press', async () => {
  await page.emulateMedia({ colorScheme: 'dark' });
  await visit(page, `/desk/${app}/hives/${other}`);
  await group().getByRole('row').nth(5).waitFor();
  const text = (await textsOf(await page.pdf({ format: 'A4' }))).join(' ');
  expect(['200,001', '200,040', '200,080'].filter((number) => !text.includes(number))).toEqual([]);
  expect(['Save', 'Comments', 'Waiting for me', 'drop or paste'].filter((word) => text.includes(word))).toEqual([]);
  // The screen is as it was.
  await page.getByRole('button', { name: 'Save', exact: true }).waitFor();
  expect(await page.evaluate(() => document.documentElement.dataset['theme'])).toBe('dark');
  expect(await group().getByRole('row').count()).toBeLessThan(60);
  await page.emulateMedia({ colorScheme: 'light' });
  await page.evaluate(() => Object.assign(window, { print: () => Object.assign(window, { printed: 1 }) }));
  await page.getByRole('button', { name: 'Print' }).click();
  expect(await page.evaluate(() => 'printed' in window)).toBe(true);
});

test('on a phone each row is a line that opens, and nothing of it lies beside the screen', async () => {
  const phone = await page.context().newPage();
  await phone.setViewportSize({ width: 390, height: 844 });
  await visit(phone, `/desk/${app}/hives/${hive}`);
  const rows = phone.getByRole('group', { name: 'Inspections' });
  const edges = async () => {
    const cells = rows.locator('tbody tr:not([aria-hidden]) td');
    await cells.first().waitFor();
    const all = await cells.evaluateAll((found) => found.map((each) => each.getBoundingClientRect()).map(({ left, right }) => [left, right]));
    return all.filter(([left = 0, right = 0]) => left < 0 || right > 390);
  };
  expect(await edges()).toEqual([]);
  const height = async () => (await rows.locator('tbody tr').nth(1).boundingBox())?.height ?? 0;
  expect(await height()).toBeLessThan(60);
  const toggle = rows.getByRole('button', { name: 'Fields of row 2 of Inspections' });
  await toggle.click();
  const mites = rows.getByRole('textbox', { name: 'Mites counted' });
  await mites.fill('none');
  expect(await edges()).toEqual([]);
  // Folded, it still says what is wrong in it.
  await toggle.click();
  await mites.waitFor({ state: 'detached' });
  await rows.getByText('"none" is not a number').waitFor();
  expect(await toggle.getAttribute('aria-expanded')).toBe('false');
  expect(await barriersOf(phone)).toEqual([]);
  await rows.getByText('"none" is not a number').click();
  await mites.fill('4');
  await phone.keyboard.press('Control+s');
  await phone.getByText(/^Saved/u).waitFor();
  await phone.close();
});

/** The frames of the inspection that is shown, with a row begun. */
async function framesWithNewRow() {
  const frames = page.getByRole('group', { name: 'Frames checked' });
  await frames.getByRole('button', { name: 'Add a row to Frames checked' }).click();
  await frames.getByRole('textbox', { name: 'Frame', exact: true }).waitFor();
  return frames;
}

/** Pastes a block of cells where the focus is. */
const pasted = (text: string): Promise<void> =>
  page.evaluate((cells) => {
    const data = new DataTransfer();
    data.setData('text/plain', cells);
    document.activeElement?.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  }, text);

test('cells copied from a spreadsheet fill child rows', async () => {
  const { id } = await rowOf(house, app, 'SELECT min(id) AS id FROM inspections');
  await visit(page, `/desk/${app}/inspections/${id}`);
  const frames = await framesWithNewRow();
  const rows = frames.getByRole('button', { name: /^Remove row/u });
  const before = await rows.count();
  await pasted('7\t40\t20\n8\t50\t10\n');
  await expect.poll(() => rows.count()).toBe(before + 1);
  // A row that is removed by mistake comes back, by a key or by a press.
  await rows.first().click();
  await frames.getByText(/^Removed /u).waitFor();
  await expect.poll(() => rows.count()).toBe(before);
  await page.keyboard.press('Control+z');
  await expect.poll(() => rows.count()).toBe(before + 1);
  await rows.last().click();
  await frames.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect.poll(() => rows.count()).toBe(before + 1);
  await rows.first().click();
  await page.keyboard.press('Control+s');
  await page.getByText(/^Saved/u).waitFor();
  // What is saved is undone from the history.
  await frames.getByRole('button', { name: 'Undo', exact: true }).waitFor({ state: 'detached' });
  await page.reload();
  await frames.getByRole('row').last().getByRole('cell', { name: '50', exact: true }).waitFor();
});

test('two hundred rows are pasted, and the three cells that can’t be read are mended where they are', async () => {
  const { id } = await rowOf(house, app, 'SELECT max(id) AS id FROM inspections');
  await visit(page, `/desk/${app}/inspections/${id}`);
  const frames = await framesWithNewRow();
  const lines = Array.from({ length: 200 }, (_, i) => `${i + 1}\t${i === 50 ? 'lots' : i === 120 ? 'most' : 40}\t${i === 199 ? 'half' : 20}`);
  await pasted(lines.join('\n'));
  await frames.getByText('Pasted 200 rows.').waitFor();
  await page.keyboard.press('Control+s');
  const toMend = (count: string) => page.getByRole('alert').getByText(`${count} correction. Nothing was saved.`).waitFor();
  const typedIn = () => page.evaluate(() => (document.activeElement instanceof HTMLInputElement ? document.activeElement.value : ''));
  await toMend('3 values need');
  await expect.poll(typedIn).toBe('lots');
  await page.keyboard.type('41');
  await page.keyboard.press('Control+s');
  await toMend('2 values need');
  await expect.poll(typedIn).toBe('most');
  await page.keyboard.type('42');
  await toMend('One value needs');
  await page.getByRole('button', { name: 'Go to the first' }).click();
  await expect.poll(typedIn).toBe('half');
  // What is wrong with the last row is in sight as well.
  expect(await frames.getByText('"half" is not a number').evaluate(isInSight)).toBe(true);
  await page.keyboard.type('21');
  // What is wrong above the rows comes first.
  await page.getByRole('textbox', { name: 'Bees sampled' }).fill('many');
  await page.keyboard.press('Control+s');
  await toMend('One value needs');
  await expect.poll(typedIn).toBe('many');
  await page.getByRole('textbox', { name: 'Notes' }).focus();
  await page.getByRole('button', { name: 'Go to the first' }).click();
  await expect.poll(typedIn).toBe('many');
  await page.getByRole('textbox', { name: 'Bees sampled' }).fill('300');
  await page.keyboard.press('Control+s');
  await page.getByText(/^Saved/u).waitFor();
  const stored = `SELECT count(*) AS n, count(*) FILTER (WHERE (frame, brood, stores) IN ((51, 41, 20), (121, 42, 20), (200, 40, 21))) AS mended FROM frames WHERE inspection = ${id}`;
  expect(await rowOf(house, app, stored)).toMatchObject({ mended: '3' });
});

/** Whether the middle of an element is what one sees there. */
const isInSight = (element: Element): boolean => {
  const { left, top, width, height } = element.getBoundingClientRect();
  return element.contains(document.elementFromPoint(left + width / 2, top + height / 2));
};

test('rows are walked by keys, changed, saved and opened', async () => {
  await visit(page, `/desk/${app}/hives/${hive}`);
  const row = (n: number) => group().getByRole('row').nth(n);
  const focused = () => page.evaluate(() => document.activeElement?.closest('tr')?.getAttribute('aria-rowindex'));
  await row(1).getByRole('cell', { name: /\d/u }).nth(1).click();
  await page.keyboard.press('ArrowDown');
  await expect.poll(focused).toBe('3');
  await page.keyboard.press('ArrowUp');
  await expect.poll(focused).toBe('2');
  const mites = group().getByRole('textbox', { name: 'Mites counted' });
  // What can't be read is told once its cell is left, and holds nobody back; a save that is refused leads to it.
  await mites.fill('many');
  await page.keyboard.press('ArrowDown');
  await group().getByText('"many" is not a number').waitFor();
  expect(await focused()).toBe('3');
  await page.keyboard.press('Control+s');
  await expect.poll(focused).toBe('2');
  await mites.fill('17');
  await page.keyboard.press('Control+s');
  await page.getByText(/^Saved/u).waitFor();
  await page.keyboard.press('Escape');
  expect(Number((await rowOf(house, app, `SELECT count(*) AS n FROM inspections WHERE hive = ${hive} AND mites_counted = 17 AND rev = 2`))['n'])).toBe(1);
  await group().getByRole('link', { name: 'Open row 3 of Inspections' }).click();
  await page.waitForURL(/\/inspections\/\d+/u);
  expect(house.faults).toEqual([]);
});
