import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { demoPassword, demoPeople } from '../../scripts/demo.js';
import { barriersOf, choose, itemsOnSheet, openDemo, rowOf, saveDraft, signIn, visit, type House } from './browser.js';

/** Forms: the builder arranges them at their station, and people fill them. */
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
const items = () => itemsOnSheet(page);

describe('a form', () => {
  test('is whole when it is made, and is arranged with the pointer and with keys', async () => {
    await visit(page, `/workshop/${app}/tables`);
    await page
      .getByRole('navigation', { name: 'Workline' })
      .getByRole('link', { name: /^Forms & lists/u })
      .click();
    await page.getByRole('complementary', { name: 'Shelf' }).getByRole('link', { name: 'Form', exact: true }).click();
    const dialog = page.getByRole('dialog', { name: 'A new form' });
    await choose(dialog, 'Of the table', 'Shops');
    await dialog.getByLabel('The record alone').check();
    await dialog.getByRole('button', { name: 'Make the form' }).click();
    await dialog.getByText('Enter a name that says what it is for').waitFor();
    await dialog.getByLabel('Name').fill('Shop card');
    await dialog.getByRole('button', { name: 'Make the form' }).click();
    await page.getByRole('heading', { name: 'Shop card', level: 1 }).waitFor();
    expect(await items()).toEqual([
      'Field Name, 6 of 12 wide',
      'Field Town, 6 of 12 wide',
      'Field Mail, 6 of 12 wide',
      'Field Web page, 6 of 12 wide',
      'Field Sells since, 3 of 12 wide',
      'Field Address, 12 of 12 wide',
    ]);
    await proof().getByText('Name').first().waitFor();
    expect(await barriersOf(page)).toEqual([]);

    const item = (name: string) => sheet().getByRole('group', { name: new RegExp(`^Field ${name}`, 'u') });
    await item('Town').focus();
    await page.keyboard.press('ArrowLeft');
    await page.keyboard.press('Shift+ArrowLeft');
    await page.keyboard.press('Shift+ArrowLeft');
    expect((await items()).slice(0, 2)).toEqual(['Field Town, 4 of 12 wide', 'Field Name, 6 of 12 wide']);
    await page.keyboard.press('F2');
    await page.getByRole('textbox', { name: 'Label' }).fill('Village or town');
    await page.keyboard.press('Enter');
    await item('Village or town').waitFor();
    await item('Web page').focus();
    await page.keyboard.press('Delete');
    expect((await items()).join()).not.toContain('Web page');
    // What was taken off comes back by undo, and goes again.
    await page.keyboard.press('Control+z');
    await item('Web page').waitFor();
    await page.keyboard.press('Control+Shift+z');
    await item('Web page').waitFor({ state: 'detached' });

    await sheet().getByRole('button', { name: 'Section', exact: true }).click();
    await details().getByLabel('Heading').fill('Where it is');
    await page.getByRole('button', { name: 'Put Web page on the form' }).click();
    // Dragged from the end to before the first.
    const from = (await item('Web page').boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
    const to = (await item('Village or town').boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
    await page.mouse.move(from.x + 60, from.y + 10);
    await page.mouse.down();
    await page.mouse.move(from.x + 90, from.y + 30, { steps: 4 });
    // The middle of what is dragged lies left of the middle of where it goes.
    await page.mouse.move(to.x + 20, to.y + to.height / 2, { steps: 10 });
    await page.mouse.up();
    await expect.poll(async () => (await items())[0]).toBe('Field Web page, 6 of 12 wide');
    await saveDraft(page, 'form');
    expect(await items()).toEqual([
      'Field Web page, 6 of 12 wide',
      'Field Village or town, 4 of 12 wide',
      'Field Name, 6 of 12 wide',
      'Field Mail, 6 of 12 wide',
      'Field Sells since, 3 of 12 wide',
      'Field Address, 12 of 12 wide',
      'Section Where it is',
    ]);
  });

  test('opens for its roles, with its labels, and goes back to the list with its message', async () => {
    await details().getByRole('button', { name: 'To the form' }).click();
    await details().getByRole('combobox', { name: 'For the roles' }).click();
    await page.getByRole('option', { name: 'Coordinator' }).click();
    await page.keyboard.press('Escape');
    await details().getByLabel('These roles open with this form').check();
    await choose(details(), 'After a new record is saved', 'Back to the list');
    await details().getByLabel('Message after that').fill('Welcome among our shops.');
    await saveDraft(page, 'form');
    const { page: theirs, context } = await house.open();
    await signIn(theirs, demoPeople[1].email, demoPassword);
    await visit(theirs, `/desk/${app}/shops/new`);
    await theirs.getByRole('heading', { name: 'Where it is' }).waitFor();
    await theirs.getByLabel('Name').fill('Lark Street Stores');
    await theirs.getByLabel('Village or town').fill('Quillmoor');
    await theirs.getByRole('button', { name: 'Save', exact: true }).click();
    await theirs.getByText('Welcome among our shops.').waitFor();
    await expect.poll(() => theirs.url()).toMatch(/\/shops$/u);
    expect(await sql(`SELECT town FROM shops WHERE name = 'Lark Street Stores'`)).toEqual({ town: 'Quillmoor' });
    await context.close();
    // A builder opens with the form of everybody.
    await visit(page, `/desk/${app}/shops/new`);
    await page.getByLabel('Town', { exact: true }).waitFor();
  });

  test('shows, requires and opens fields as it is filled', async () => {
    await visit(page, `/desk/${app}/f/inspections?form=inspection_quick`);
    await page.getByRole('heading', { name: 'Quick inspection' }).waitFor();
    await page.getByLabel('Notes, if no queen was seen').waitFor();
    await page.getByLabel('Queen seen').check();
    await page.getByLabel('Notes, if no queen was seen').waitFor({ state: 'detached' });
    expect(await page.getByLabel(/^Bees sampled/u).count()).toBe(0);
    await page.getByLabel('Mites counted').fill('4');
    await page.getByLabel(/^Bees sampled/u).fill('');
    await page.getByLabel(/^Number/u).fill('99001');
    await page.getByLabel(/^Hive/u).fill('H-003');
    await page.getByRole('option', { name: /H-003/u }).click();
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByText('Bees sampled is required').waitFor();
    expect(await sql(`SELECT count(*) AS n FROM inspections WHERE number = 99001`)).toEqual({ n: '0' });
    await page.getByLabel(/^Bees sampled/u).fill('250');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByText('Here is the form for another').waitFor();
    expect(await page.getByLabel(/^Number/u).inputValue()).toBe('');
    expect(await sql(`SELECT bees_sampled AS bees FROM inspections WHERE number = 99001`)).toEqual({ bees: '250' });
    expect(await barriersOf(page)).toEqual([]);
  });

  test('fills fields by formulas as it is filled, and leaves alone what was there', async () => {
    await visit(page, `/workshop/${app}/screens/orders_form`);
    await page.getByRole('heading', { name: 'Orders', level: 1 }).waitFor();
    await sheet().getByRole('group', { name: 'Rows Lines' }).click();
    await details().getByRole('button', { name: 'Fill a column' }).click();
    await choose(details(), 'Column to fill', 'Price of a jar');
    const formula = details().getByRole('textbox', { name: 'Price of a jar of a row is filled with' });
    await formula.click();
    await page.keyboard.insertText('if Order.Paid then 4 else if Honey = "Heather" then 8.5 else if Honey = "Meadow" then 6.2 else null');
    await formula.getByText('Heather').waitFor();
    await sheet()
      .getByRole('group', { name: /^Field Sent/u })
      .click();
    await details().getByRole('textbox', { name: 'Filled with' }).click();
    await page.keyboard.insertText('if Paid then Date else null');
    expect(await barriersOf(page)).toEqual([]);
    await saveDraft(page, 'form');

    await visit(page, `/desk/${app}/orders/new`);
    const rows = page.getByRole('group', { name: 'Lines' });
    const cell = (row: number, label: string) => rows.getByRole('row').nth(row).locator(`[data-label="${label}"]`);
    const add = async (row: number, honey: string): Promise<void> => {
      await rows.getByRole('button', { name: 'Add a row to Lines' }).click();
      await cell(row, 'Honey').getByRole('combobox').click();
      await page.getByRole('option', { name: honey, exact: true }).click();
    };
    await add(1, 'Heather');
    await expect.poll(() => cell(1, 'Price of a jar').getByRole('textbox').inputValue()).toBe('8.50');
    await add(2, 'Meadow');
    await expect.poll(() => cell(2, 'Price of a jar').getByRole('textbox').inputValue()).toBe('6.20');
    // What is typed over it stays, until the honey is another.
    await cell(2, 'Price of a jar').getByRole('textbox').fill('5');
    await cell(2, 'Jars').getByRole('textbox').fill('3');
    await cell(2, 'Jars').getByRole('textbox').press('Tab');
    await cell(2, 'Amount').getByText('15.00').waitFor();
    await cell(2, 'Honey').getByRole('combobox').click();
    await page.getByRole('option', { name: 'Heather', exact: true }).click();
    await cell(2, 'Amount').getByText('25.50').waitFor();
    // What is read of the order fills all rows at once.
    await page.getByLabel('Paid').check();
    await cell(1, 'Amount').getByText('48.00').waitFor();
    await cell(2, 'Amount').getByText('12.00').waitFor();
    const date = await page.getByRole('textbox', { name: /^Date/u }).inputValue();
    await expect.poll(() => page.getByRole('textbox', { name: 'Sent' }).inputValue()).toBe(date);
    await page.getByLabel(/^Number/u).fill('88001');
    await page.getByLabel(/^Shop/u).click();
    await page.getByRole('option').first().click();
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page
      .getByText(/^Saved /u)
      .or(page.getByRole('heading', { name: 'Order 88001' }))
      .first()
      .waitFor();
    const total = () => sql(`SELECT sum(l.jars * l.price_of_a_jar)::text AS total FROM order_lines l JOIN orders o ON o.id = l.order WHERE o.number = 88001`);
    expect(await total()).toEqual({ total: '60.00' });

    // A record that was there keeps its values when it is opened; discarding brings them back.
    const { id, price } = await sql(
      `SELECT o.id, l.price_of_a_jar::text AS price FROM orders o JOIN order_lines l ON l.order = o.id WHERE l.price_of_a_jar NOT IN (6.2, 8.5) ORDER BY o.id, l.id LIMIT 1`,
    );
    await visit(page, `/desk/${app}/orders/${id ?? ''}`);
    await rows
      .getByText(price ?? '')
      .first()
      .waitFor();
    await page.getByRole('textbox', { name: /^Date/u }).fill('3 Mar 2026');
    await page.keyboard.press('Tab');
    await page.getByRole('button', { name: 'Discard changes' }).waitFor();
    await page.waitForTimeout(400);
    await rows
      .getByText(price ?? '')
      .first()
      .waitFor();
    await page.getByRole('button', { name: 'Discard changes' }).click();
    await page.getByRole('button', { name: 'Discard changes' }).waitFor({ state: 'detached' });
    await page.waitForTimeout(400);
    expect(await page.getByRole('button', { name: 'Discard changes' }).count()).toBe(0);
  });

  test('fills a reference by way of others', async () => {
    await visit(page, `/desk/${app}/inspections/new?form=inspection_quick`);
    await page.getByLabel(/^Hive/u).fill('H-003');
    await page.getByRole('option', { name: /H-003/u }).click();
    const { keeper } = await sql(
      `SELECT k.name AS keeper FROM hives h JOIN apiaries a ON a.id = h.apiary JOIN keepers k ON k.id = a.keeper WHERE h.code = 'H-003'`,
    );
    await expect.poll(() => page.getByRole('combobox', { name: 'Inspected by' }).inputValue()).toBe(keeper);
    await page.getByRole('button', { name: 'Discard changes' }).click();
    await page.getByRole('button', { name: 'Discard changes' }).waitFor({ state: 'detached' });
  });

  test('has tabs, and brings the one with a mistake into sight', async () => {
    await visit(page, `/workshop/${app}/screens/shops_form`);
    await page.getByRole('heading', { name: 'Shops', level: 1 }).waitFor();
    await sheet()
      .getByRole('group', { name: /^Field Town/u })
      .click();
    await sheet().getByRole('button', { name: 'Tab', exact: true }).click();
    await details().getByLabel('Name').fill('Contact');
    await sheet().getByRole('button', { name: 'Tab', exact: true }).click();
    await details().getByLabel('Name').fill('Orders');
    for (let i = 0; i < 4; i += 1) {
      await sheet().getByRole('group', { name: 'Tab Orders' }).focus();
      await page.keyboard.press('ArrowRight');
    }
    await saveDraft(page, 'form');
    await visit(page, `/desk/${app}/shops/1`);
    await page.getByRole('tab', { name: 'Contact' }).waitFor();
    await page.getByRole('textbox', { name: 'Mail' }).fill('nobody');
    await page.getByRole('tab', { name: 'Orders' }).click();
    await page.getByRole('textbox', { name: 'Mail' }).waitFor({ state: 'hidden' });
    expect(await barriersOf(page)).toEqual([]);
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByText('One value needs correction').waitFor();
    await page.getByRole('textbox', { name: 'Mail' }).waitFor();
    await page.getByRole('button', { name: 'Discard changes' }).click();
  });

  test('shows what is around its record, follows the reference that is picked, and adds from there', async () => {
    await visit(page, `/desk/${app}/hives/1?form=hive_glance`);
    const { region, phone, code } = await sql(
      `SELECT a.region, k.phone, h.code FROM hives h JOIN apiaries a ON a.id = h.apiary JOIN keepers k ON k.id = a.keeper WHERE h.id = 1`,
    );
    const shown = (label: string) => page.getByRole('status', { name: label, exact: true });
    await expect.poll(async () => (await shown('Region').innerText()).toLowerCase()).toBe(region);
    await expect.poll(async () => (await shown('Phone of its keeper').innerText()).replaceAll(' ', '')).toBe(phone);
    const { other, town } = await sql(`SELECT name AS other, region AS town FROM apiaries WHERE region <> '${region ?? ''}' ORDER BY id LIMIT 1`);
    await page.getByRole('combobox', { name: /^Apiary/u }).fill(other ?? '');
    await page.getByRole('option', { name: other ?? '' }).click();
    await expect.poll(async () => (await shown('Region').innerText()).toLowerCase()).toBe(town);
    // What is not saved is not run for.
    await page.getByRole('button', { name: 'Ask for a visit' }).click();
    await page.getByText('Save your changes first, then run it.').waitFor();
    await page.getByRole('button', { name: 'Discard changes' }).click();
    await expect.poll(async () => (await shown('Region').innerText()).toLowerCase()).toBe(region);
    const visits = page.getByRole('region', { name: 'Calendar of inspections' });
    const { n } = await sql(`SELECT least(count(*), 5) AS n FROM inspections WHERE hive = 1`);
    expect(await visits.getByRole('link', { name: /^Open /u }).count()).toBe(Number(n));
    expect(await barriersOf(page)).toEqual([]);
    await visits.getByRole('link', { name: 'Add', exact: true }).click();
    await expect.poll(() => page.getByRole('combobox', { name: /^Hive/u }).inputValue()).toBe(code);
    await page.goBack();
    await page.getByRole('link', { name: 'Add an inspection' }).click();
    await expect.poll(() => page.getByRole('combobox', { name: /^Hive/u }).inputValue()).toBe(code);
  });

  test('has a button that runs an automation, which is undone from there, and is run for several at once', async () => {
    const note = async (id: number): Promise<string> => (await sql(`SELECT coalesce(notes, '') AS notes FROM hives WHERE id = ${id}`))['notes'] ?? '';
    const before = await note(1);
    await visit(page, `/desk/${app}/hives/1?form=hive_glance`);
    await page.getByRole('button', { name: 'Ask for a visit' }).click();
    await page.getByText('Ask for a visit: done.').waitFor();
    expect(await note(1)).toContain('Visit asked for on');
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await page.getByRole('dialog').getByRole('button', { name: 'Undo save' }).click();
    await page.getByText('Ask for a visit: done.').waitFor({ state: 'detached' });
    expect(await note(1)).toBe(before);
    // Where no form has a button for it, it is found over the form.
    await visit(page, `/desk/${app}/hives/2`);
    await page.getByRole('region', { name: 'Run' }).getByRole('button', { name: 'Ask for a visit' }).click();
    await page.getByText('Ask for a visit: done.').waitFor();
    expect(await note(2)).toContain('Visit asked for on');
    await visit(page, `/desk/${app}/hives`);
    await page.getByRole('gridcell', { name: 'H-001', exact: true }).waitFor();
    for (const code of ['H-003', 'H-004'])
      await page
        .getByRole('row', { name: new RegExp(code, 'u') })
        .getByRole('checkbox')
        .click();
    await page.getByRole('group', { name: 'Chosen records' }).getByRole('button', { name: 'Run' }).click();
    const dialog = page.getByRole('dialog', { name: 'Run' });
    expect(await barriersOf(page)).toEqual([]);
    await dialog.getByRole('button', { name: 'Run it for 2 records' }).click();
    await page.getByText('Ask for a visit: done with 2 records.').waitFor();
    for (const id of [3, 4]) expect(await note(id)).toContain('Visit asked for on');
  });

  test('is given lists, buttons and fields of other records by its builder', async () => {
    await visit(page, `/workshop/${app}/screens/orders_form`);
    await page.getByRole('heading', { name: 'Orders', level: 1 }).waitFor();
    await sheet().getByRole('button', { name: 'Of its Shop' }).click();
    await sheet().getByRole('button', { name: 'Put Mail of its Shop on the form' }).click();
    await details().getByText('Field of another record on the form').waitFor();
    await sheet().getByRole('button', { name: 'Mail of its Shop is on the form' }).waitFor();
    await details().getByLabel('Label').fill('Where to write');
    await sheet().getByRole('button', { name: 'List', exact: true }).click();
    await details().getByRole('combobox', { name: 'List' }).getByText('Order').waitFor();
    await sheet().getByRole('button', { name: 'Button', exact: true }).click();
    await details().getByLabel('Label').fill('Look at the post');
    await choose(details(), 'When it is pressed', 'Open an address on the web');
    await details().getByRole('textbox', { name: 'Address' }).fill('javascript:alert(1)');
    await page.getByRole('button', { name: 'Save form' }).click();
    await page.getByText('must be an address such as https://example.org').waitFor();
    await details().getByRole('textbox', { name: 'Address' }).fill('https://post.example');
    // No automation of orders has a button yet.
    await details().getByRole('combobox', { name: 'When it is pressed' }).click();
    expect(await page.getByRole('option', { name: 'Run an automation' }).getAttribute('aria-disabled')).toBe('true');
    await page.keyboard.press('Escape');
    expect(await barriersOf(page)).toEqual([]);
    await saveDraft(page, 'form');
    await visit(page, `/desk/${app}/orders/1`);
    const { mail } = await sql(`SELECT s.mail FROM orders o JOIN shops s ON s.id = o.shop WHERE o.id = 1`);
    await expect.poll(() => page.getByRole('status', { name: 'Where to write' }).innerText()).toBe(mail === 'null' ? 'empty' : mail);
    const link = page.getByRole('link', { name: 'Look at the post' });
    expect([await link.getAttribute('href'), await link.getAttribute('rel')]).toEqual(['https://post.example', 'noopener noreferrer']);
  });
});
