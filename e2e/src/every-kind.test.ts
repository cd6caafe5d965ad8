import { asBuilder, fieldKindNames, fieldKinds, FieldPlan, listFor, type AppDesign, type FieldKind } from '@bibliona/core';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { barriersOf, openDemo, rowOf, signIn, visit, type House } from './browser.js';
import { demoPassword, demoPeople } from '../../scripts/demo.js';

/** One form with a field of every kind: filled as people fill it, shown in the list, exported, and imported as it was. */
let house: House;
let app: string;
let page: Page;
// A relationship makes its own field, and a number that is given cannot be imported twice: both have tests of their own.
const kinds = fieldKindNames.filter((kind) => kind !== 'reference' && !('isGiven' in fieldKinds[kind]));
const plans = kinds.map((kind) =>
  FieldPlan.parse({
    ...fieldKinds[kind].sample.settings[0],
    kind,
    id: `k_${kind}`,
    name: `The ${kind.replaceAll('_', ' ')}`,
    ...(kind === 'formula' ? { expression: 'created by()' } : {}),
  }),
);
const nameOf = (kind: FieldKind): string => `The ${kind.replaceAll('_', ' ')}`;

/** What is typed for each kind that is typed, and what the list shows of it. */
const typed: Partial<Record<FieldKind, readonly [text: string, shown: string]>> = {
  text: ['=1+2, "quoted"', '=1+2, "quoted"'],
  long_text: ['one line', 'one line'],
  rich_text: ['a formatted line', 'a formatted line'],
  whole: ['1,200', '1200'],
  decimal: ['12.5', '12.50'],
  money: ['EUR 1,234.5', '€1,234.50'],
  any_money: ['8.2 usd', '8.20 USD'],
  percent: ['12 %', '12%'],
  date: ['14/9/2026', '14 Sep 2026'],
  time: ['9.30 pm', '21:30'],
  date_and_time: ['14 Sep 2026, 9:30', '14 Sep 2026, 09:30'],
  duration: ['90 min', '1 h 30 min'],
  mail_address: ['Anna@Quillmoor.example', 'Anna@quillmoor.example'],
  phone: ['020 7946 0018', '+44 20 7946 0018'],
  place: ['https://maps.example.org/#map=12/53.9576/-1.0827', '53.9576, -1.0827'],
  web_address: ['www.quillmoor.example', 'https://www.quillmoor.example'],
};
const png = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==', 'base64');

beforeAll(async () => {
  ({ house, app, page } = await openDemo());
  const builder = asBuilder({ id: 1, name: demoPeople[0].name, mail: demoPeople[0].email });
  const { version } = await house.server.apps.open(app, builder);
  const change = { kind: 'add_table', id: 'kinds', name: 'Kinds', description: '', section: '', form: 'fm_kinds', list: 'l_kinds', fields: plans } as const;
  await house.server.apps.change(app, builder, version, [change], false);
  // A new list shows the first few; this one shows all.
  const { design, version: next } = await house.server.apps.open(app, builder);
  const list = { ...listFor(design as AppDesign, 'kinds'), columns: plans.map((plan) => plan.id) };
  const map = { kind: 'set_map', address: 'https://maps.example.org/{latitude}/{longitude}' } as const;
  await house.server.apps.change(app, builder, next, [{ kind: 'put', part: 'list', value: list }, map], false);
});
afterAll(async () => {
  expect(house.faults).toEqual([]);
  await house.close();
});

const filled = () => rowOf(house, app, `SELECT * FROM "app_${app}".kinds ORDER BY id DESC LIMIT 1`);

/** Draws a line with the pointer. */
async function sign(form: Page): Promise<void> {
  await form.getByRole('button', { name: `Sign ${nameOf('signature')}` }).click();
  const pad = form.getByRole('img', { name: `Sign here for ${nameOf('signature')}` });
  await pad.scrollIntoViewIfNeeded();
  const box = await pad.boundingBox();
  if (box === null) throw new Error('There is nothing to sign on');
  await form.mouse.move(box.x + 20, box.y + 30);
  await form.mouse.down();
  await form.mouse.move(box.x + 80, box.y + 60, { steps: 5 });
  await form.mouse.up();
  await form.getByRole('button', { name: 'Clear' }).waitFor();
}

async function fill(form: Page): Promise<void> {
  for (const [kind, [text]] of Object.entries(typed)) {
    await form.getByRole('textbox', { name: nameOf(kind as FieldKind), exact: true }).fill(text);
    await form.keyboard.press('Tab');
  }
  await form.getByRole('combobox', { name: nameOf('yes_no') }).click();
  await form.getByRole('option', { name: 'yes', exact: true }).click();
  await form.getByRole('combobox', { name: nameOf('choice') }).click();
  await form.getByRole('option', { name: 'High' }).click();
  const several = form.getByRole('combobox', { name: nameOf('several_choices') });
  await several.click();
  for (const label of ['Ling heather', 'Lime']) await form.getByRole('option', { name: label, exact: true }).click();
  await several.press('Tab');
  const address = form.getByRole('group', { name: nameOf('address') });
  await address.getByRole('textbox', { name: 'Street and number' }).fill('3 Mill Lane');
  await address.getByRole('textbox', { name: 'City' }).fill('York');
  await address.getByRole('combobox', { name: 'Country' }).fill('United Kingdom');
  const person = form.getByRole('combobox', { name: nameOf('person') });
  await person.fill('wystan');
  await form.getByRole('option', { name: 'Wystan Quill' }).click();
  await sign(form);
  await form.getByLabel(`Choose files for ${nameOf('file')}`).setInputFiles({ name: 'Notes.txt', mimeType: 'text/plain', buffer: Buffer.from('some text') });
  await form.getByLabel(`Choose files for ${nameOf('image')}`).setInputFiles({ name: 'Hive.png', mimeType: 'image/png', buffer: png });
  await form.getByRole('link', { name: 'Show Hive.png' }).waitFor();
}

test('every kind is filled, saved and read again', async () => {
  expect(kinds.filter((kind) => !(kind in typed)).sort()).toEqual([
    'address',
    'choice',
    'file',
    'formula',
    'image',
    'person',
    'several_choices',
    'signature',
    'yes_no',
  ]);
  await visit(page, `/desk/${app}/kinds/new`);
  await page.getByRole('textbox', { name: nameOf('text'), exact: true }).waitFor();
  await fill(page);
  expect(await barriersOf(page)).toEqual([]);
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page
    .getByText(/^Saved \d/u)
    .or(page.getByRole('complementary', { name: 'History' }))
    .first()
    .waitFor();
  await page.getByRole('complementary', { name: 'History' }).getByText('Tamsin Oake').waitFor();
  const saved = await filled();
  expect(saved).toMatchObject({ the_money: '1234.50', the_percent: '0.12', the_several_choices: 'lime\nheather', the_whole: '1200', the_yes_no: 'true' });
  expect(saved).toMatchObject({
    the_phone: '+442079460018',
    the_place: '53.9576, -1.0827',
    the_rich_text: '{"text":"a formatted line","doc":{"type":"doc","content":[{"type":"paragraph","content":[{"type":"text","text":"a formatted line"}]}]}}',
  });
  expect(saved).toMatchObject({ the_address: '3 Mill Lane\n\n\nYork\n\nUnited Kingdom' });
  expect(saved['the_person']).toBe('Wystan Quill <wystan.quill@quillmoor.example>');
  expect(saved['the_signature']).toMatch(/^M\d+ \d+L[\dL ]+\nTamsin Oake\n\d{4}-\d\d-\d\dT\d\d:\d\d:\d\dZ$/u);
  expect(saved['the_image']).toMatch(/^Hive\.png\/[0-9a-f]{64}\/\d+$/u);
  await page
    .locator('.worked-out-field', { hasText: nameOf('formula') })
    .getByText('Tamsin Oake')
    .waitFor();
});

test('a place is set on the map, with the pointer and with keys', async () => {
  const place = page.getByRole('textbox', { name: nameOf('place') });
  const elsewhere = page.getByRole('link', { name: `Open ${nameOf('place')} in the map service` });
  expect(await elsewhere.getAttribute('href')).toBe('https://maps.example.org/53.9576/-1.0827');
  await page.getByRole('button', { name: 'Map', exact: true }).click();
  const map = page.getByRole('application', { name: `Map for ${nameOf('place')}` });
  await map.scrollIntoViewIfNeeded();
  await map.click({ position: { x: 20, y: 20 } });
  const pressed = await place.inputValue();
  const [north, west] = pressed.split(', ').map(Number);
  // Up and to the left of where it was, by a degree or so.
  expect((north ?? 0) > 53.96 && (north ?? 0) < 56 && (west ?? 0) < -1.09 && (west ?? 0) > -6).toBe(true);
  await map.focus();
  for (const key of ['+', 'ArrowDown', 'Enter']) await page.keyboard.press(key);
  const [set, east] = (await place.inputValue()).split(', ').map(Number);
  expect((set ?? 0) < 53.9576 && (set ?? 0) > 53 && Math.abs((east ?? 0) + 1.0827) < 0.001).toBe(true);
  await page.getByRole('button', { name: 'Discard changes' }).click();
});

test('the list shows every kind as it is written', async () => {
  await visit(page, `/desk/${app}/kinds`);
  const row = page.getByRole('row').nth(1);
  const shown = {
    ...Object.fromEntries(Object.entries(typed).map(([kind, [, text]]) => [kind, text])),
    yes_no: 'yes',
    choice: 'High',
    several_choices: 'Lime, Ling heather',
    address: '3 Mill Lane, York, United Kingdom',
    person: 'Wystan Quill',
    file: 'Notes.txt',
  };
  for (const [kind, text] of Object.entries(shown)) {
    const cell = row.getByRole('gridcell', { name: text, exact: true }).first();
    // Columns beyond the edge are drawn when one scrolls there.
    for (let steps = 0; steps < 30 && (await cell.count()) === 0; steps += 1) {
      await page.getByRole('grid').evaluate((grid) => grid.scrollBy(200, 0));
      await page.waitForTimeout(50);
    }
    expect([kind, await cell.count()]).toEqual([kind, 1]);
  }
});

test('what is exported is imported as it was', async () => {
  const before = await filled();
  await page.getByRole('button', { name: 'Export' }).click();
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name: 'CSV, plain text' }).click()]);
  const csv = await readFile(await download.path(), 'utf8');
  expect(csv).toContain('Lime; Ling heather');
  // As a new record, by its number it would be the same.
  const [heads = '', first = ''] = csv.replace(/^\uFEFF/u, '').split('\r\n');
  const path = join(house.files, 'kinds.csv');
  await writeFile(path, [heads, first].map((line) => line.slice(line.indexOf(',') + 1)).join('\r\n'));
  await visit(page, `/workshop/${app}/import?table=kinds`);
  await page.locator('input[type=file]').setInputFiles(path);
  await page.getByRole('button', { name: 'Import 1 row' }).click();
  await expect.poll(async () => (await filled())['id'] !== before['id']).toBe(true);
  const after = await filled();
  const left = new Set(['id', 'rev', 'created_at', 'created_by', 'updated_at', 'updated_by', 'the_file', 'the_image', 'the_signature']);
  for (const [column, value] of Object.entries(before)) if (!left.has(column)) expect([column, after[column]]).toEqual([column, value]);
});

test('on a phone every kind is filled too', async () => {
  const { page: phone, context } = await house.open({ width: 390, height: 844 });
  await signIn(phone, demoPeople[0].email, demoPassword);
  await visit(phone, `/desk/${app}/kinds/new`);
  await phone.getByRole('textbox', { name: nameOf('text'), exact: true }).waitFor();
  await fill(phone);
  expect(await phone.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)).toBe(0);
  await phone.getByRole('button', { name: 'Save', exact: true }).click();
  await expect.poll(async () => (await filled())['the_duration']).toBe('5400');
  await context.close();
});
