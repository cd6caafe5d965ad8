import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { demoPassword, demoPeople } from '../../scripts/demo.js';
import { barriersOf, choose, openDemo, rowOf, signIn, visit, type House } from './browser.js';

/** What people meet on every day: the columns they choose, a record they pick or add, what happened, keys, and what they type staying what it is. */
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
const heads = async (): Promise<string[]> => (await page.getByRole('columnheader').allInnerTexts()).filter((text) => text !== 'Open');

test('columns are chosen in the list, kept for the person, and reset', async () => {
  await visit(page, `/desk/${app}/hives`);
  await page.getByRole('columnheader', { name: 'Box' }).waitFor();
  const before = await heads();
  await page.getByRole('button', { name: 'Columns of Hives' }).click();
  const choice = page.getByRole('dialog', { name: 'Columns of Hives' });
  expect(await barriersOf(page)).toEqual([]);
  await choice.getByRole('checkbox', { name: 'Box' }).uncheck();
  await page.keyboard.press('Escape');
  await page.getByRole('columnheader', { name: 'Box' }).waitFor({ state: 'detached' });
  const edge = page.getByRole('columnheader', { name: 'Code' }).locator('.grid-edge');
  const at = await edge.boundingBox();
  await page.mouse.move((at?.x ?? 0) + 2, (at?.y ?? 0) + 5);
  await page.mouse.down();
  await page.mouse.move((at?.x ?? 0) + 92, (at?.y ?? 0) + 5, { steps: 5 });
  await page.mouse.up();
  const widthOf = async (): Promise<number> => (await page.getByRole('columnheader', { name: 'Code' }).boundingBox())?.width ?? 0;
  const width = await widthOf();
  await expect.poll(async () => Number((await sql('SELECT count(*) AS n FROM bibliona.list_view'))['n'])).toBeGreaterThan(0);
  await page.reload();
  await page.getByRole('columnheader', { name: 'Code' }).waitFor();
  expect(await heads()).toEqual(before.filter((name) => name !== 'Box'));
  await expect.poll(async () => Math.abs((await widthOf()) - width)).toBeLessThan(3);
  await page.getByRole('button', { name: 'Columns of Hives' }).click();
  await page.getByRole('button', { name: 'Reset columns' }).click();
  await page.getByRole('columnheader', { name: 'Box' }).waitFor();
});

test('a list is gone about and edited with the keyboard alone', async () => {
  const { id = '', code = '' } = await sql('SELECT id, code FROM hives ORDER BY id OFFSET 3 LIMIT 1');
  const of = (column: string): Promise<Record<string, string>> => sql(`SELECT ${column} AS value, rev FROM hives WHERE id = ${id}`);
  const { rev = '' } = await of('code');
  await visit(page, `/desk/${app}/hives`);
  const cell = page.getByRole('gridcell', { name: code, exact: true });
  await cell.click();
  // Keys that come before the editor stands are not lost, and two cells of one record are saved one after the other.
  await page.keyboard.type('H-901');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Shift+Tab');
  await page.keyboard.press('Enter');
  await page.keyboard.press('End');
  await page.keyboard.type('x');
  await page.keyboard.press('Enter');
  await expect.poll(() => of('code')).toEqual({ value: 'H-901x', rev: String(Number(rev) + 2) });
  expect(await page.getByText('was not saved').count()).toBe(0);
  // Enter went down a row; Escape leaves a cell as it was.
  await page.keyboard.press('ArrowUp');
  await page.keyboard.type('gone');
  await page.keyboard.press('Escape');
  const changed = page.getByRole('gridcell', { name: 'H-901x', exact: true });
  await changed.waitFor();
  await expect.poll(() => changed.evaluate((element) => element === document.activeElement)).toBe(true);

  // A choice is typed in part and picked.
  await page.keyboard.press('Home');
  const at = (await heads()).indexOf('Box') + 1;
  for (let i = 0; i < at; i += 1) await page.keyboard.press('ArrowRight');
  const picked = (await of('box'))['value'] === 'langstroth' ? 'national' : 'langstroth';
  await page.keyboard.type(picked.slice(0, 4));
  await page.getByRole('option').first().waitFor();
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await of('box'))['value']).toBe(picked);

  // The head of a column sorts, moves and gets wider.
  await page.keyboard.press('Control+Home');
  await page.keyboard.press('ArrowUp');
  const head = page.getByRole('columnheader', { name: 'Box' });
  await expect.poll(() => head.evaluate((element) => element === document.activeElement)).toBe(true);
  const width = (await head.boundingBox())?.width ?? 0;
  await page.keyboard.press('Alt+ArrowRight');
  await expect.poll(async () => (await head.boundingBox())?.width).toBe(width + 16);
  const before = await heads();
  await page.keyboard.press('Control+ArrowLeft');
  await expect.poll(async () => (await heads()).indexOf('Box')).toBe(before.indexOf('Box') - 1);
  await page.keyboard.press('Enter');
  await page.locator('[role=columnheader][aria-sort=ascending]').getByText('Box').waitFor();
  await expect.poll(() => head.evaluate((element) => element === document.activeElement)).toBe(true);
  expect(await barriersOf(page)).toEqual([]);
  await page.getByRole('button', { name: 'Columns of Hives' }).click();
  await page.getByRole('button', { name: 'Reset columns' }).click();
});

test('a column is dragged to another place', async () => {
  await visit(page, `/desk/${app}/hives`);
  await page.getByRole('columnheader', { name: 'Code' }).waitFor();
  const [first = '', second = ''] = await heads();
  const [from, to] = [
    await page.getByRole('columnheader', { name: first, exact: true }).boundingBox(),
    await page.getByRole('columnheader', { name: second, exact: true }).boundingBox(),
  ];
  await page.mouse.move((from?.x ?? 0) + 20, (from?.y ?? 0) + 10);
  await page.mouse.down();
  await page.mouse.move((to?.x ?? 0) + (to?.width ?? 0) - 10, (to?.y ?? 0) + 10, { steps: 6 });
  await page.mouse.up();
  await expect.poll(async () => (await heads()).slice(0, 2)).toEqual([second, first]);
  // A drag is no press: the order of the rows is as it was.
  expect(page.url()).not.toContain('sort=');
  await page.getByRole('button', { name: 'Columns of Hives' }).click();
  await page.getByRole('button', { name: 'Reset columns' }).click();
});

test('numbers and dates are read and shown as a person chose in their profile', async () => {
  await visit(page, '/profile');
  const choice = page.getByRole('region', { name: 'Numbers and dates' });
  await choice.getByRole('combobox', { name: 'Numbers and dates' }).fill('German (Ger');
  await page.getByRole('option', { name: /^German \(Germany\)/u }).click();
  await choice.getByText('1.234,50 · 14. Sept. 2026').waitFor();
  expect(await barriersOf(page)).toEqual([]);
  await choice.getByRole('button', { name: 'Save numbers and dates' }).click();
  await page.getByText('Numbers and dates are saved.').waitFor();

  const { id = '' } = await sql('SELECT id FROM harvests ORDER BY id LIMIT 1');
  await visit(page, `/desk/${app}/harvests/${id}`);
  const [kilos, day] = [page.getByRole('textbox', { name: 'Kilograms' }), page.getByRole('textbox', { name: 'Date' })];
  await kilos.fill('1.234,5');
  await day.fill('3.5.');
  await kilos.focus();
  await day.focus();
  expect(await kilos.inputValue()).toBe('1234,5');
  expect(await day.inputValue()).toMatch(/^3\. Mai \d{4}$/u);
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByText(/^Saved/u).waitFor();
  expect(await sql(`SELECT kilograms, to_char(date, 'MM-DD') AS day FROM harvests WHERE id = ${id}`)).toEqual({ kilograms: '1234.5', day: '05-03' });
  await visit(page, `/desk/${app}/harvests`);
  await page.getByRole('gridcell', { name: '1.234,5' }).waitFor();

  await visit(page, '/profile');
  await choice.getByRole('combobox', { name: 'Numbers and dates' }).hover();
  await choice.getByRole('button', { name: 'Clear' }).click();
  await choice.getByRole('button', { name: 'Save numbers and dates' }).click();
  await page.getByText('Numbers and dates are saved.').waitFor();
});

test('what can’t be read is told as one leaves it, and no longer once something else is typed', async () => {
  await visit(page, `/desk/${app}/inspections/new`);
  const date = page.getByRole('textbox', { name: 'Date' });
  await date.fill('31/2/2026');
  expect(await date.getAttribute('aria-invalid')).toBe('false');
  await page.keyboard.press('Tab');
  await page.getByText('"31/2/2026" is not a date').waitFor();
  expect(await date.getAttribute('aria-invalid')).toBe('true');
  const mites = page.getByRole('textbox', { name: 'Mites counted' });
  await mites.fill('12kg');
  await date.fill('28/2/2026');
  await page.getByText('"12kg" is not a number').waitFor();
  await page.getByText('"31/2/2026" is not a date').waitFor({ state: 'detached' });
  // Nothing was asked to be saved yet.
  expect(await page.getByText('Nothing was saved.', { exact: false }).count()).toBe(0);
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByText('3 values need correction. Nothing was saved.').waitFor();
  // Its error comes as one presses something below it, which doesn't move away from under the pointer.
  await page.getByRole('textbox', { name: 'Bees sampled' }).fill('many');
  await page.getByRole('checkbox', { name: 'Queen seen' }).check();
  await page.getByText('"many" is not a number').waitFor();
  await page.getByRole('textbox', { name: 'Bees sampled' }).fill('300');
  await mites.fill('12');
  await page.getByText('2 values need correction. Nothing was saved.').waitFor();
  await page.getByRole('button', { name: 'Discard changes' }).click();
  await page.getByText('need correction', { exact: false }).waitFor({ state: 'detached' });
});

test('a row is opened by its own name, and its number here is not shown beside it', async () => {
  await visit(page, `/desk/${app}/hives`);
  await page.getByRole('link', { name: 'Open H-001' }).waitFor();
  expect(await page.getByRole('columnheader', { name: 'No.' }).count()).toBe(0);
  await visit(page, `/desk/${app}/order_lines`);
  await page.getByRole('columnheader', { name: 'No.' }).waitFor();
});

test('a picker that finds nothing offers to add it, one within another, and picks it then', async () => {
  const [hive] = [await sql('SELECT id FROM hives ORDER BY id LIMIT 1')];
  await visit(page, `/desk/${app}/hives/${hive['id'] ?? ''}`);
  const picker = page.getByRole('combobox', { name: 'Apiary' });
  await picker.fill('Thistle Bank');
  await page.getByRole('button', { name: 'Add “Thistle Bank”' }).click();
  const apiary = page.getByRole('dialog', { name: 'Add to Apiaries' });
  // What it needs itself can be added on the way as well.
  await apiary.getByRole('combobox', { name: 'Keeper' }).fill('Osric Vale');
  await page.getByRole('button', { name: 'Add “Osric Vale”' }).click();
  await page.getByRole('dialog', { name: 'Add to Keepers' }).getByRole('button', { name: 'Add', exact: true }).click();
  await expect.poll(() => apiary.getByRole('combobox', { name: 'Keeper' }).inputValue()).toBe('Osric Vale');
  await apiary.getByRole('button', { name: 'Add', exact: true }).click();
  await apiary.waitFor({ state: 'detached' });
  await expect.poll(() => picker.inputValue()).toBe('Thistle Bank');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByText(/^Saved/u).waitFor();
});

test('what happens to children is told in the history of their parent', async () => {
  const { id = '' } = await sql('SELECT inspection AS id FROM frames GROUP BY 1 HAVING count(*) > 5 ORDER BY 1 LIMIT 1');
  await visit(page, `/desk/${app}/inspections/${id}`);
  const frames = page.getByRole('group', { name: 'Frames checked' });
  await frames.getByRole('row').nth(1).getByRole('cell').nth(1).click();
  await frames.getByRole('textbox', { name: 'Brood, %' }).fill('77');
  await page.keyboard.press('Control+s');
  const history = page.getByRole('complementary', { name: 'History' });
  await history.getByText('(Frames checked)').waitFor();
  await history.getByText('77', { exact: true }).waitFor();
  await frames.getByRole('button', { name: 'Remove row 2 of Frames checked' }).click();
  await page.keyboard.press('Control+s');
  await history.getByText(/^removed/u).waitFor();
  expect(await barriersOf(page)).toEqual([]);
});

test('what is typed while a save is under way goes on, and the focus stays', async () => {
  await visit(page, `/desk/${app}/hives/1`);
  const notes = page.getByRole('textbox', { name: 'Notes' });
  await notes.fill('');
  await page.route('**/save', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 400));
    await route.continue();
  });
  await page.keyboard.type('Calm');
  const begun = page.waitForRequest('**/save');
  await page.keyboard.press('Control+s');
  await begun;
  await page.keyboard.type(' and gentle');
  await expect.poll(async () => (await sql('SELECT notes FROM hives WHERE id = 1'))['notes']).toBe('Calm');
  await page.unroute('**/save');
  await page.getByRole('button', { name: 'Discard changes' }).waitFor();
  await expect.poll(() => notes.inputValue()).toBe('Calm and gentle');
  await expect.poll(() => notes.evaluate((input) => document.activeElement === input)).toBe(true);
  await page.keyboard.type('.');
  await page.keyboard.press('Control+s');
  await expect.poll(async () => (await sql('SELECT notes FROM hives WHERE id = 1'))['notes']).toBe('Calm and gentle.');
});

test('who saves again while a save is under way gets both: what was typed meanwhile, and a row that was begun', async () => {
  const { page: own } = await house.open();
  await signIn(own, demoPeople[0].email, demoPassword);
  await own.route('**/save', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 700));
    await route.continue();
  });
  await visit(own, `/desk/${app}/inspections/new`);
  await own.getByRole('textbox', { name: 'Number' }).fill('9101');
  await own.getByRole('combobox', { name: 'Hive' }).fill('H-001');
  await own.getByRole('option', { name: /H-001/u }).click();
  const notes = own.getByRole('textbox', { name: 'Notes' });
  await notes.fill('Queen');
  await own.keyboard.press('Control+s');
  await own.keyboard.press('End');
  await own.keyboard.type(' seen');
  await own.getByRole('button', { name: 'Add a row to Frames checked' }).click();
  await own.keyboard.type('4');
  await own.keyboard.press('Control+s');
  await own.waitForURL(/\/inspections\/\d+/u);
  await expect.poll(async () => (await sql('SELECT notes FROM inspections WHERE number = 9101'))['notes']).toBe('Queen seen');
  expect(await sql('SELECT count(*) AS frames FROM frames JOIN inspections AS i ON i.id = inspection WHERE i.number = 9101')).toEqual({ frames: '1' });
  await own.context().close();
});

test('who saves again before the saved record is read anew gets both, once', async () => {
  const { page: own } = await house.open();
  await signIn(own, demoPeople[0].email, demoPassword);
  await own.route(/\/records\/\d+$/u, async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 1500));
    await route.continue();
  });
  const notes = own.getByRole('textbox', { name: 'Notes' });
  const saveAnd = async (typed: string): Promise<void> => {
    const saved = own.waitForResponse((answer) => answer.url().endsWith('/save') && answer.ok());
    await own.keyboard.press('Control+s');
    await saved;
    await notes.press('End');
    await own.keyboard.type(typed);
    await own.keyboard.press('Control+s');
  };
  const stored = () => sql(`SELECT count(*) AS n, min(notes) AS notes FROM swarm_reports WHERE place = 'By the weir'`);
  await visit(own, `/desk/${app}/swarms/new`);
  await own.getByRole('textbox', { name: 'Place' }).fill('By the weir');
  await choose(own, /^How high/u, 'Higher');
  await notes.fill('Calm');
  await saveAnd(' and');
  await own.waitForURL(/\/swarms\/\d+/u);
  await expect.poll(stored).toEqual({ n: '1', notes: 'Calm and' });
  await own.getByText(/^Saved/u).waitFor();
  await notes.press('End');
  await own.keyboard.type(' heavy');
  await saveAnd(' too');
  await expect.poll(stored).toEqual({ n: '1', notes: 'Calm and heavy too' });
  expect(await own.getByRole('dialog').count()).toBe(0);
  await own.context().close();
});

test('F6 walks the regions of the Desk', async () => {
  await visit(page, `/desk/${app}/hives`);
  await page.getByRole('link', { name: 'Open H-001' }).waitFor();
  const region = (): Promise<string | null | undefined> => page.evaluate(() => document.activeElement?.closest('[data-region]')?.getAttribute('data-region'));
  const walked: (string | null | undefined)[] = [];
  for (let i = 0; i < 3; i += 1) {
    await page.keyboard.press('F6');
    walked.push(await region());
  }
  expect([...walked].sort()).toEqual(['bar', 'menu', 'sheet']);
  await page.keyboard.press('Shift+F6');
  expect(await region()).toBe(walked[1]);
});

test('a dialog in which something was typed asks before it goes', async () => {
  await visit(page, `/workshop/${app}/tables?add=table`);
  const dialog = page.getByRole('dialog').first();
  await dialog.getByRole('textbox').first().fill('Barrels');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Go on' }).click();
  expect(await dialog.getByRole('textbox').first().inputValue()).toBe('Barrels');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Leave', exact: true }).click();
  await page.getByRole('dialog').waitFor({ state: 'detached' });
});

test('conditions are pointed together with a picked record and what the person created', async () => {
  await visit(page, `/workshop/${app}/tables/hives`);
  await page.getByRole('tab', { name: 'Rules' }).click();
  const shows = page.getByRole('group', { name: 'The list shows records where' });
  await shows.getByRole('button', { name: 'Condition', exact: true }).click();
  await choose(shows, 'Field', /^Apiary$/u);
  await shows.getByRole('combobox', { name: 'Record' }).fill('Brack');
  await page.getByRole('option', { name: 'Brackmoor' }).click();
  const { n = '', of = '' } = await sql(
    "SELECT count(*) FILTER (WHERE a.name = 'Brackmoor') AS n, count(*) AS of FROM hives AS h JOIN apiaries AS a ON a.id = h.apiary",
  );
  await shows.getByText(`True for ${n} of ${of} real records`).waitFor();
  await shows.getByRole('button', { name: 'Condition', exact: true }).click();
  await choose(shows.getByRole('group', { name: 'Condition 2' }), 'Field', /^Created by me$/u);
  await shows.getByRole('tab', { name: 'Text' }).click();
  await shows.getByText(/record number\(Apiary\) = \d+ and created by me\(\) = true/u).waitFor();
  await shows.getByRole('tab', { name: 'Rows' }).click();
  await expect.poll(() => shows.getByRole('combobox', { name: 'Record' }).inputValue()).toBe('Brackmoor');
});

test('a text field that becomes a choice begins with the values in it', async () => {
  await visit(page, `/workshop/${app}/tables/apiaries/fields/apiary_name`);
  await choose(page, 'Kind', /One choice/u);
  await page.getByText('These are the values in Name.', { exact: false }).waitFor();
  const { names = '' } = await sql('SELECT string_agg(name, \'|\' ORDER BY name COLLATE "C") AS names FROM apiaries');
  const offered = await page
    .getByRole('group', { name: 'Choices' })
    .getByRole('textbox')
    .evaluateAll((all) => all.map((each) => (each as HTMLInputElement).value));
  expect([...offered].sort().join('|')).toBe(names);
});

test('whatever people type is text: in lists, forms, pickers, the proof and the search nothing of it runs', async () => {
  const evil = '<img src=x onerror="window.ran=1"><script>window.ran=1</script>{{7*7}}';
  await visit(page, `/desk/${app}/apiaries/new`);
  await page.getByRole('textbox', { name: 'Name' }).fill(evil);
  await page.getByRole('combobox', { name: 'Keeper' }).fill('Ysolde');
  await page.getByRole('option', { name: 'Ysolde Quill' }).click();
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.waitForURL(/\/apiaries\/\d+/u);
  const { id = '' } = await sql('SELECT max(id) AS id FROM apiaries');
  await page.getByRole('heading', { name: evil }).waitFor();
  const { hive = '' } = await sql(`WITH u AS (UPDATE hives SET apiary = ${id} WHERE id = (SELECT min(id) FROM hives) RETURNING id) SELECT id AS hive FROM u`);
  for (const [path, words] of [
    [`/desk/${app}/apiaries`, evil],
    [`/desk/${app}/apiaries/${id}`, evil],
    [`/desk/${app}/hives`, evil],
    [`/desk/${app}/hives/${hive}`, null],
    [`/workshop/${app}/tables/apiaries`, evil],
    [`/workshop/${app}/tables/hives`, evil],
  ] as const) {
    await page.goto(path);
    if (words === null) await page.getByRole('combobox', { name: 'Apiary' }).click();
    await page.getByText(evil).first().waitFor();
    expect(await page.evaluate(() => (window as { ran?: number }).ran)).toBeUndefined();
    expect(await page.locator('img[src="x"]').count()).toBe(0);
  }
  await visit(page, `/desk/${app}/apiaries`);
  await page.getByText(evil).first().waitFor();
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: /^Find a /u }).fill('onerror');
  await page.getByText(evil).first().waitFor();
  expect(await page.evaluate(() => (window as { ran?: number }).ran)).toBeUndefined();
});
