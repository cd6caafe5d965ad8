import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { barriersOf, choose, openDemo, rowOf, saveRules, visit, type House } from './browser.js';

/** Fields as a builder makes them, and their values as people write and read them. */
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

test('fields are made one after another, and a pasted list makes all of them', async () => {
  await visit(page, `/workshop/${app}/tables/shops`);
  const details = page.getByRole('complementary', { name: 'Details' });
  const name = details.getByRole('textbox', { name: 'Name of a new field' });
  await name.fill('Opening time');
  expect(await details.getByRole('combobox', { name: 'Kind of the new field' }).innerText()).toBe('Time');
  await name.press('Enter');
  await details.getByRole('link', { name: /^Opening time/u }).waitFor();
  // The next name is typed at once.
  await expect.poll(() => name.inputValue()).toBe('');
  expect(await name.evaluate((element) => element === document.activeElement)).toBe(true);
  await page.keyboard.type('Town');
  await page.keyboard.press('Enter');
  await details.getByText('There is already a field called "Town" in Shops').waitFor();
  expect(await name.inputValue()).toBe('Town');

  await name.fill('');
  await name.evaluate((element) => {
    const data = new DataTransfer();
    data.setData('text/plain', 'Discount\nOpen on Sundays?\n\n  Remarks  \n');
    element.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  });
  const list = details.getByRole('list', { name: 'New fields' });
  expect(await list.getByRole('combobox').allInnerTexts()).toEqual(['Percent', 'Yes/no', 'Long text']);
  expect(await barriersOf(page)).toEqual([]);
  await details.getByRole('button', { name: 'Add 3 fields' }).click();
  await details.getByRole('link', { name: /^Remarks/u }).waitFor();
  expect(
    await sql(
      `SELECT count(*) AS n FROM information_schema.columns WHERE table_schema = 'app_${app}' AND table_name = 'shops' AND column_name IN ('discount', 'open_on_sundays', 'remarks', 'opening_time')`,
    ),
  ).toEqual({ n: '4' });
  // One undo takes the whole list back.
  await page.getByRole('button', { name: 'Undo' }).click();
  await details.getByRole('link', { name: /^Remarks/u }).waitFor({ state: 'detached' });
  expect(await details.getByRole('link', { name: /^(?:Discount|Open on Sundays)/u }).count()).toBe(0);
});

test('what related tables hold is shown without writing a formula', async () => {
  await visit(page, `/workshop/${app}/tables/hives`);
  const details = page.getByRole('complementary', { name: 'Details' });
  await details.getByRole('button', { name: 'Ready-made formula' }).click();
  const dialog = page.getByRole('dialog', { name: 'Ready-made formula' });
  expect(await barriersOf(page)).toEqual([]);
  await dialog.getByRole('button', { name: 'Add the field' }).click();
  await dialog.getByText('Choose what to show').waitFor();
  await choose(dialog, 'Of', 'Inspections');
  await choose(dialog, 'What to show', 'Sum of Mites counted');
  await dialog.getByText('Formula: sum(Inspections.Mites counted)').waitFor();
  await dialog.getByRole('button', { name: 'Add the field' }).click();
  await details.getByRole('link', { name: /^Sum of Mites counted/u }).waitFor();
  const { code = '', mites = '' } = await sql(
    'SELECT h.code, sum(i.mites_counted) AS mites FROM hives h JOIN inspections i ON i.hive = h.id GROUP BY 1 HAVING sum(i.mites_counted) BETWEEN 10 AND 999 ORDER BY 1 LIMIT 1',
  );
  await visit(page, `/desk/${app}/hives?q=${code}`);
  await page.getByRole('link', { name: `Open ${code}` }).click();
  await page.getByText('Sum of Mites counted').waitFor();
  await expect
    .poll(() =>
      page
        .getByRole('group', { name: 'Sum of Mites counted' })
        .or(page.locator('.worked-out-field', { hasText: 'Sum of Mites counted' }))
        .innerText(),
    )
    .toContain(mites);
  await visit(page, `/workshop/${app}/tables/hives`);
  await page.getByRole('button', { name: 'Undo' }).click();
  await details.getByRole('link', { name: /^Sum of Mites counted/u }).waitFor({ state: 'detached' });
});

test('times, durations and addresses are read as people write them, in the form and in the list', async () => {
  const { id = '' } = await sql('SELECT id FROM inspections ORDER BY id OFFSET 6 LIMIT 1');
  await visit(page, `/desk/${app}/inspections/${id}`);
  const [started, took] = [page.getByRole('textbox', { name: 'Started' }), page.getByRole('textbox', { name: 'Took' })];
  await started.fill('9.45 pm');
  await took.fill('90');
  await started.focus();
  expect(await started.inputValue()).toBe('21:45');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByText('"90" is not a duration. Write it like 1:30, 90 min or 2 d').waitFor();
  await took.fill('90 min');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByText(/^Saved/u).waitFor();
  expect(await started.inputValue()).toBe('21:45');
  expect(await sql(`SELECT started::text AS started, took FROM inspections WHERE id = ${id}`)).toEqual({ started: '21:45:00', took: '5400' });

  await visit(page, `/desk/${app}/shops`);
  const mail = page.getByRole('gridcell', { name: /@/u }).first();
  expect(await mail.getByRole('link').getAttribute('href')).toMatch(/^mailto:/u);
  const web = page.getByRole('gridcell', { name: /^https:/u }).first();
  expect(await web.getByRole('link').getAttribute('rel')).toBe('noopener noreferrer');
  await page
    .getByRole('gridcell', { name: /^https:/u })
    .first()
    .click({ position: { x: 2, y: 28 } });
  await page.keyboard.type('javascript:alert(1)');
  await page.keyboard.press('Enter');
  await page.getByText(/^Web page of record \d+ was not saved: "javascript:alert\(1\)" is not a web address/u).waitFor();
  await page.getByRole('button', { name: 'Leave it as it was' }).click();
});

test('an amount is echoed with its currency, also where it is the same written otherwise', async () => {
  await visit(page, `/desk/${app}/treatments/3`);
  const price = page.getByRole('textbox', { name: 'Price of a pack' });
  for (const [text, echo] of [
    ['12', '12.00 GBP'],
    ['gbp 12.0', '12.00 GBP'],
    ['$8', '8.00 USD'],
    ['5 XXX', '5 XXX'],
  ] as const) {
    await price.fill(text);
    await price.press('Tab');
    await expect.poll(() => price.inputValue()).toBe(echo);
  }
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByText('"5 XXX" is not an amount of money. Write it like 12.50 EUR').waitFor();
  await page.getByRole('button', { name: 'Discard changes' }).click();
});

test('two tables show several records of each other, as a relationship and later as a table with fields', async () => {
  // Drawn from card to card, said in one sentence, and Enter.
  await visit(page, `/workshop/${app}/tables/shops?add=relationship&parent=shops&child=lots`);
  const dialog = page.getByRole('dialog', { name: 'A relationship' });
  await choose(dialog, 'How many they belong to', 'one or several');
  await dialog.getByRole('textbox', { name: 'Shown on Shops as' }).fill('Lots on the shelf');
  await dialog.getByRole('textbox', { name: 'Shown on Lots as' }).fill('On the shelf at');
  await dialog.getByRole('textbox', { name: 'Shown on Lots as' }).press('Enter');
  const details = page.getByRole('complementary', { name: 'Details' });
  await details.getByRole('heading', { name: 'Shops and Lots' }).waitFor();
  expect(await page.getByRole('button', { name: /^Table Shops and Lots/u }).count()).toBe(0);
  expect(await barriersOf(page)).toEqual([]);

  await visit(page, `/desk/${app}/shops/1`);
  const shelf = page.getByRole('combobox', { name: 'Lots on the shelf' });
  const [first, second] = Object.values(await sql(`SELECT min(lot) AS a, max(lot) AS b FROM "app_${app}".lots`));
  for (const lot of [first, second]) {
    await shelf.fill(lot ?? '');
    await page.getByRole('option', { name: lot ?? '' }).click();
    await page.getByRole('button', { name: lot ?? '', exact: true }).waitFor();
  }
  await page.keyboard.press('Control+s');
  await page.getByText(/^Saved /u).waitFor();
  expect(await sql(`SELECT count(*) AS n FROM "app_${app}".shops_and_lots WHERE shop = 1`)).toEqual({ n: '2' });
  // Two windows take the same one away at the same time: the second finds it done.
  const { page: other, context } = await house.open();
  await context.addCookies(await page.context().cookies());
  await visit(other, `/desk/${app}/shops/1`);
  for (const window of [page, other]) {
    await window.getByRole('combobox', { name: 'Lots on the shelf' }).focus();
    await window.keyboard.press('Backspace');
    await window.getByRole('button', { name: second ?? '', exact: true }).waitFor({ state: 'detached' });
  }
  for (const window of [page, other]) {
    await window.keyboard.press('Control+s');
    await window.getByText(/^Saved /u).waitFor();
  }
  await context.close();
  expect(await sql(`SELECT count(*) AS n FROM "app_${app}".shops_and_lots WHERE shop = 1`)).toEqual({ n: '1' });
  await shelf.fill(second ?? '');
  await page.getByRole('option', { name: second ?? '' }).click();
  await page.keyboard.press('Control+s');
  await expect.poll(async () => (await sql(`SELECT count(*) AS n FROM "app_${app}".shops_and_lots WHERE shop = 1`))['n']).toBe('2');
  // The same from the other side, which takes one away.
  await page.getByRole('button', { name: second ?? '', exact: true }).click();
  const shops = page.getByRole('combobox', { name: 'On the shelf at' });
  await shops.focus();
  await page.keyboard.press('Backspace');
  await page.keyboard.press('Control+s');
  await page.getByText(/^Saved /u).waitFor();
  expect(await sql(`SELECT count(*) AS n FROM "app_${app}".shops_and_lots`)).toEqual({ n: '1' });
  // History tells it, and takes it back.
  await page
    .getByRole('complementary', { name: 'History' })
    .getByText(/removed|took/u)
    .first()
    .waitFor();

  await visit(page, `/workshop/${app}/tables/shops`);
  await details.getByRole('tab', { name: 'Relationships' }).click();
  await details.getByRole('link', { name: /Lots on the shelf/u }).click();
  await details.getByRole('button', { name: 'Give it fields' }).click();
  await details.getByRole('textbox', { name: 'Name of a new field' }).fill('Since');
  await page.keyboard.press('Enter');
  await details.getByRole('link', { name: /^Since/u }).waitFor();
  await page.getByRole('button', { name: /^Table Shops and Lots, 1 record$/u }).waitFor();
  await visit(page, `/desk/${app}/shops/1`);
  await page.getByRole('group', { name: 'Lots on the shelf' }).getByRole('columnheader', { name: 'Since' }).waitFor();
  // With no field of its own left it can be a relationship again.
  await visit(page, `/workshop/${app}/tables`);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('complementary', { name: 'Shelf' }).getByRole('link', { name: 'Shops and Lots' }).click();
  await details.getByRole('tab', { name: 'Settings' }).click();
  await details.getByRole('button', { name: 'Hide the table' }).click();
  await details.getByRole('button', { name: 'Give it fields' }).waitFor();
  expect(await sql(`SELECT count(*) AS n FROM "app_${app}".shops_and_lots`)).toEqual({ n: '1' });
});

test('a record that a picker does not find is added on the way, and picked', async () => {
  await visit(page, `/desk/${app}/apiaries/new`);
  const keeper = page.getByRole('combobox', { name: 'Keeper' });
  await keeper.fill('Merrin Ashdown');
  await page.getByRole('button', { name: 'Add “Merrin Ashdown”' }).click();
  const dialog = page.getByRole('dialog', { name: 'Add to Keepers' });
  expect(await dialog.getByRole('textbox', { name: 'Name' }).inputValue()).toBe('Merrin Ashdown');
  expect(await barriersOf(page)).toEqual([]);
  // What is wrong is said in it, and nothing of either form is lost.
  await dialog.getByRole('textbox', { name: 'Mail' }).fill('no address');
  await page.keyboard.press('Control+s');
  await dialog.getByText(/is not a mail address/u).waitFor();
  expect(await page.getByText(/values? needs? correction/u).count()).toBe(0);
  await dialog.getByRole('textbox', { name: 'Mail' }).fill('merrin.ashdown@quillmoor.example');
  await dialog.getByRole('button', { name: 'Add', exact: true }).click();
  await dialog.waitFor({ state: 'detached' });
  await expect.poll(() => keeper.inputValue()).toBe('Merrin Ashdown');
  await page.getByRole('textbox', { name: 'Name' }).fill('Ashdown corner');
  await page.keyboard.press('Control+s');
  await page.getByRole('heading', { name: 'Ashdown corner' }).waitFor();
  expect(await sql(`SELECT k.name FROM "app_${app}".apiaries AS a JOIN "app_${app}".keepers AS k ON k.id = a.keeper WHERE a.name = 'Ashdown corner'`)).toEqual({
    name: 'Merrin Ashdown',
  });
  // Among several as well.
  await visit(page, `/desk/${app}/treatments/1`);
  await page.getByRole('combobox', { name: 'Trained keepers' }).fill('Tilda Brock');
  await page.getByRole('button', { name: 'Add “Tilda Brock”' }).click();
  await page.getByRole('dialog', { name: 'Add to Keepers' }).getByRole('button', { name: 'Add', exact: true }).click();
  await page.getByRole('button', { name: 'Tilda Brock', exact: true }).waitFor();
  await page.keyboard.press('Control+s');
  await page.getByText(/^Saved /u).waitFor();
  expect(
    await sql(
      `SELECT count(*) AS n FROM "app_${app}".treatments_and_keepers AS p JOIN "app_${app}".keepers AS k ON k.id = p.keeper WHERE k.name = 'Tilda Brock'`,
    ),
  ).toEqual({
    n: '1',
  });
});

test('a choice gets a colour and another is merged into it; a field that is fixed is only read once its record is saved', async () => {
  await visit(page, `/workshop/${app}/tables/inspections/fields/inspection_stores`);
  const details = page.getByRole('complementary', { name: 'Details' });
  await details.getByRole('button', { name: 'Choice 3: colour, Green' }).click();
  await page.getByRole('menuitem', { name: 'Blue' }).click();
  await details.getByRole('button', { name: 'Choice 3: colour, Blue' }).waitFor();
  expect(await barriersOf(page)).toEqual([]);
  await details.getByRole('button', { name: 'Choice 2: more' }).click();
  await page.getByRole('menuitem', { name: /^Merge into/u }).click();
  await page.getByRole('menuitem', { name: 'Full' }).click();
  await details.getByRole('button', { name: 'Save', exact: true }).click();
  const asked = page.getByRole('dialog', { name: 'Change Stores of Inspections?' });
  // Each example once, however many records there are.
  await asked.getByText(/“Fair” becomes “Full”\. The old values/u).waitFor();
  await asked.getByRole('button', { name: 'Change Stores of Inspections' }).click();
  await asked.waitFor({ state: 'detached' });
  await expect
    .poll(() =>
      sql(`SELECT count(*) FILTER (WHERE stores = 'fair') AS fair, count(*) FILTER (WHERE stores = 'full') > 0 AS full FROM "app_${app}".inspections`),
    )
    .toEqual({ fair: '0', full: 'true' });
  await visit(page, `/desk/${app}/inspections`);
  await page.locator('.tone-blue').first().waitFor();

  await visit(page, `/workshop/${app}/tables/keepers/fields/keeper_since`);
  await details.getByRole('checkbox', { name: "Can't be changed after saving" }).check();
  await details.getByRole('button', { name: 'Save', exact: true }).click();
  await details.getByRole('button', { name: 'Save', exact: true }).waitFor({ state: 'detached' });
  await visit(page, `/desk/${app}/keepers/new`);
  await page.getByRole('textbox', { name: 'Member since' }).waitFor();
  await visit(page, `/desk/${app}/keepers/1`);
  await page.getByRole('textbox', { name: 'Name' }).waitFor();
  expect(await page.getByRole('textbox', { name: 'Member since' }).count()).toBe(0);
});

test('a row begins with what the person entered last, in the row above and in another record', async () => {
  await visit(page, `/workshop/${app}/tables/inspections/fields/inspection_bees`);
  const details = page.getByRole('complementary', { name: 'Details' });
  await details.getByRole('checkbox', { name: 'Begins with what the person entered last' }).check();
  await details.getByRole('checkbox', { name: /indexed/u }).check();
  expect(await barriersOf(page)).toEqual([]);
  await details.getByRole('button', { name: 'Save', exact: true }).click();
  await details.getByRole('button', { name: 'Save', exact: true }).waitFor({ state: 'detached' });
  await visit(page, `/desk/${app}/hives/15`);
  const rows = page.getByRole('group', { name: 'Inspections' });
  const sampled = rows.getByRole('textbox', { name: 'Bees sampled' });
  const add = async (): Promise<void> => rows.getByRole('button', { name: 'Add a row to Inspections' }).click();
  await rows.getByRole('row').nth(1).waitFor();
  const before = await rows.getByRole('row').count();
  await add();
  await sampled.fill('271');
  await rows.getByRole('textbox', { name: 'Number' }).fill('9001');
  await add();
  await expect.poll(() => sampled.inputValue()).toBe('271');
  // The row that was only begun is none: it is not saved.
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByText(/^Saved \d/u).waitFor();
  await expect.poll(() => rows.getByRole('row').count()).toBe(before + 1);
  await visit(page, `/desk/${app}/hives/16`);
  await add();
  await expect.poll(() => sampled.inputValue()).toBe('271');
  expect(await sql(`SELECT count(*) AS n FROM pg_indexes WHERE schemaname = 'app_${app}' AND indexname = 'inspection_bees_filter'`)).toEqual({ n: '1' });
});

test('a long text that is fixed is folded, and two texts are unique together whatever their case', async () => {
  await page.goto(`/desk/${app}/hives/17`);
  await page.getByRole('textbox', { name: 'Notes' }).fill(Array.from({ length: 30 }, (_, i) => `Line ${i + 1}`).join('\n'));
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByText(/^Saved \d/u).waitFor();
  await visit(page, `/workshop/${app}/tables/hives/fields/hive_notes`);
  const details = page.getByRole('complementary', { name: 'Details' });
  await details.getByRole('checkbox', { name: "Can't be changed after saving" }).check();
  await details.getByRole('button', { name: 'Save', exact: true }).click();
  await details.getByRole('button', { name: 'Save', exact: true }).waitFor({ state: 'detached' });
  await visit(page, `/desk/${app}/hives/17`);
  const text = page.getByRole('status', { name: 'Notes' });
  const height = async (): Promise<number> => (await text.boundingBox())?.height ?? 0;
  const more = page.getByRole('button', { name: 'Show more' });
  await more.waitFor();
  const folded = await height();
  await more.click();
  expect(await height()).toBeGreaterThan(folded * 3);
  await page.getByRole('button', { name: 'Show less' }).click();
  expect(await height()).toBe(folded);

  await visit(page, `/workshop/${app}/tables/shops`);
  await details.getByRole('tab', { name: 'Rules' }).click();
  await details.getByRole('button', { name: 'Unique together', exact: true }).click();
  const together = details.getByRole('combobox', { name: 'Unique together 1' });
  await together.fill('Name');
  await page.keyboard.press('Enter');
  await together.fill('Town');
  await page.keyboard.press('Enter');
  await details.getByRole('checkbox', { name: /are the same/u }).check();
  await saveRules(page);
  const indexes = await sql(`SELECT count(*) AS n FROM pg_indexes WHERE schemaname = 'app_${app}' AND indexdef LIKE '%UNIQUE%lower(name)%lower(town)%'`);
  expect(indexes).toEqual({ n: '1' });
});

test('a file fills what belongs together, and the list shows it', async () => {
  await visit(page, `/workshop/${app}/import?table=treatments`);
  const csv = 'Name,Against,Days in the hive,Trained keepers\nHops strips,Mites,42,"Jorun Vasse; Ysolde Quill"\nHive smoke,Mites,1,\n';
  await page.locator('input[type=file]').setInputFiles({ name: 'Remedies.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) });
  const target = page.getByRole('combobox', { name: 'Trained keepers goes into' });
  await target.waitFor();
  expect(await target.innerText()).toBe('Trained keepers');
  await page.getByText('several of Keepers').waitFor();
  expect(await barriersOf(page)).toEqual([]);
  await page.getByRole('button', { name: 'Import 2 rows' }).click();
  await page.getByText('2 records added to Treatments.').waitFor();
  await visit(page, `/desk/${app}/treatments`);
  await page.getByLabel('Search Treatments').fill('hops');
  const row = page.getByRole('row').filter({ hasText: 'Hops strips' });
  await row.getByRole('gridcell', { name: 'Jorun Vasse, Ysolde Quill' }).waitFor();
  await page.getByRole('button', { name: 'Columns of Treatments' }).click();
  await page.getByRole('checkbox', { name: 'Trained keepers' }).uncheck();
  await row.getByRole('gridcell', { name: 'Jorun Vasse, Ysolde Quill' }).waitFor({ state: 'detached' });
});

test('a field is as wide in the form and in lists as the builder says', async () => {
  await visit(page, `/workshop/${app}/tables/shops/fields/shop_town`);
  const details = page.getByRole('complementary', { name: 'Details' });
  await choose(details, 'Width in the form', /^a whole line$/u);
  await details.getByRole('spinbutton', { name: 'Width in lists' }).fill('20');
  await details.getByRole('button', { name: 'Save', exact: true }).click();
  await details.getByText('A whole number from 40 to 1200').waitFor();
  await details.getByRole('spinbutton', { name: 'Width in lists' }).fill('333');
  expect(await barriersOf(page)).toEqual([]);
  await details.getByRole('button', { name: 'Save', exact: true }).click();
  await details.getByRole('button', { name: 'Save', exact: true }).waitFor({ state: 'detached' });
  await visit(page, `/desk/${app}/shops`);
  const head = page.getByRole('columnheader', { name: 'Town' });
  await head.waitFor();
  expect(Math.round((await head.boundingBox())?.width ?? 0)).toBe(333);
  await visit(page, `/desk/${app}/shops/1`);
  const [town, name] = [page.getByRole('textbox', { name: 'Town' }), page.getByRole('textbox', { name: 'Name' })];
  await town.waitFor();
  expect((await town.boundingBox())?.width ?? 0).toBeGreaterThan(1.5 * ((await name.boundingBox())?.width ?? 0));
});
