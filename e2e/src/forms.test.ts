import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { demoPassword, demoPeople } from '../../scripts/demo.js';
import { barriersOf, choose, openDemo, rowOf, saveDraft, signIn, type House } from './browser.js';

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
const items = async (): Promise<readonly string[]> =>
  (await sheet().getByRole('group', { name: 'Form', exact: true }).getByRole('group').all()).reduce<Promise<string[]>>(
    async (found, one) => [...(await found), (await one.getAttribute('aria-label')) ?? ''],
    Promise.resolve([]),
  );

describe('a form', () => {
  test('is whole when it is made, and is arranged with the pointer and with keys', async () => {
    await page.goto(`/workshop/${app}/tables`);
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
    await theirs.goto(`/desk/${app}/shops/new`);
    await theirs.getByRole('heading', { name: 'Where it is' }).waitFor();
    await theirs.getByLabel('Name').fill('Lark Street Stores');
    await theirs.getByLabel('Village or town').fill('Quillmoor');
    await theirs.getByRole('button', { name: 'Save', exact: true }).click();
    await theirs.getByText('Welcome among our shops.').waitFor();
    await expect.poll(() => theirs.url()).toMatch(/\/shops$/u);
    expect(await sql(`SELECT town FROM shops WHERE name = 'Lark Street Stores'`)).toEqual({ town: 'Quillmoor' });
    await context.close();
    // A builder opens with the form of everybody.
    await page.goto(`/desk/${app}/shops/new`);
    await page.getByLabel('Town', { exact: true }).waitFor();
  });

  test('shows, requires and opens fields as it is filled', async () => {
    await page.goto(`/desk/${app}/f/inspections?form=inspection_quick`);
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

  test('has tabs, and brings the one with a mistake into sight', async () => {
    await page.goto(`/workshop/${app}/screens/shops_form`);
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
    await page.goto(`/desk/${app}/shops/1`);
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
});
