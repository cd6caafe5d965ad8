import type { Page } from 'playwright-core';
import { asBuilder, formFor, tableOf, type AppDesign } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { demoPassword, demoPeople } from '../../scripts/demo.js';
import { openDemo, rowOf, signIn, visit, type House } from './browser.js';

/** What a form says about typed values: checks that they break, and fields that are removed while somebody types. */
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

const tooMany = 'More mites were counted than bees sampled.';
const input = (of: Page, name: string) => of.getByRole('textbox', { name });
const isMarked = async (of: Page, name: string): Promise<boolean> => (await input(of, name).getAttribute('aria-invalid')) === 'true';

describe('a check is told', () => {
  test('to a member as they leave the field, and no longer once either of its fields is mended', async () => {
    const { page: member, context } = await house.open();
    await signIn(member, 'wystan.quill@quillmoor.example', demoPassword);
    await visit(member, `/desk/${app}/inspections/new`);
    await input(member, 'Bees sampled').fill('100');
    await input(member, 'Mites counted').fill('2');
    await input(member, 'Notes').click();
    await input(member, 'Mites counted').fill('200');
    // What is half typed is not told to be wrong; the field that is told it is the last of the two.
    await input(member, 'Notes').click();
    await member.getByText(tooMany).waitFor();
    expect([await isMarked(member, 'Mites counted'), await isMarked(member, 'Bees sampled')]).toEqual([false, true]);
    await input(member, 'Mites counted').fill('20');
    await member.getByText(tooMany).waitFor({ state: 'detached' });
    await input(member, 'Bees sampled').fill('10');
    await member.waitForFunction(() => document.activeElement?.getAttribute('aria-invalid') === 'false');
    await input(member, 'Notes').click();
    await member.getByText(tooMany).waitFor();
    expect(await isMarked(member, 'Bees sampled')).toBe(true);
    await context.close();
  });

  test('by a save that is refused, and no longer once another field of the check is mended', async () => {
    const { id } = await rowOf(house, app, 'SELECT max(id) AS id FROM inspections WHERE bees_sampled IS NOT NULL');
    await visit(page, `/desk/${app}/inspections/${id ?? ''}`);
    await input(page, 'Mites counted').fill('200');
    await input(page, 'Bees sampled').fill('100');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByText('One value needs correction. Nothing was saved.').waitFor();
    expect(await isMarked(page, 'Bees sampled')).toBe(true);
    await input(page, 'Mites counted').fill('20');
    await input(page, 'Notes').click();
    await page.getByText(tooMany).waitFor({ state: 'detached' });
    expect([await isMarked(page, 'Bees sampled'), await page.getByText('needs correction').count()]).toEqual([false, 0]);
    await page.keyboard.press('Control+s');
    await page.getByText(/^Saved /u).waitFor();
  });

  test('in the very row, while it is typed and when it is saved all the same', async () => {
    const { id } = await rowOf(house, app, 'SELECT max("order") AS id FROM order_lines');
    await visit(page, `/desk/${app}/orders/${id ?? ''}`);
    const lines = page.getByRole('group', { name: 'Lines' });
    const row = lines.getByRole('row').nth(2);
    await row.getByRole('cell').nth(1).click();
    await row.getByRole('textbox', { name: 'Jars' }).fill('0');
    await input(page, 'Number').click();
    await row.getByText('Order at least one jar.').waitFor();
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByText('One value needs correction. Nothing was saved.').waitFor();
    expect(await page.getByText('Order at least one jar.').count()).toBe(1);
    await row.getByRole('textbox', { name: 'Jars' }).fill('24');
    await page.keyboard.press('Control+s');
    await page.getByText(/^Saved /u).waitFor();
    expect(await rowOf(house, app, `SELECT count(*) AS n FROM order_lines WHERE "order" = ${id ?? ''} AND jars = 24`)).not.toEqual({ n: '0' });
  });
});

test('what is wrong with a field that is not on the form is told over it', async () => {
  const as = asBuilder({ id: 1, name: demoPeople[0].name, mail: demoPeople[0].email });
  const { version, design } = await house.server.apps.open(app, as);
  const form = formFor(design as AppDesign, 'shops', []);
  const value = { ...form, items: form.items.filter((item) => item.kind !== 'field' || item.field !== 'shop_name') };
  await house.server.apps.change(app, as, version, [{ kind: 'put', part: 'form', value }], false);
  await visit(page, `/desk/${app}/shops/new`);
  await input(page, 'Town').fill('Ottermere');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByText('Nothing was saved. Name is required (not on this form).').waitFor();
  expect(await page.getByText('needs correction', { exact: false }).count()).toBe(0);
});

test('what was typed in a field that the builder takes away is told, and comes back with the field', async () => {
  const { page: member, context } = await house.open();
  await signIn(member, 'jorun.vasse@quillmoor.example', demoPassword);
  const { id } = await rowOf(house, app, 'SELECT max(id) AS id FROM inspections');
  await visit(member, `/desk/${app}/inspections/${id ?? ''}`);
  await input(member, 'Temperature, °C').fill('17.5');
  await input(member, 'Notes').fill('Quiet.');
  const as = asBuilder({ id: 1, name: demoPeople[0].name, mail: demoPeople[0].email });
  const { version, design } = await house.server.apps.open(app, as);
  const field = tableOf(design as AppDesign, 'inspections').fields.find(({ name }) => name === 'Temperature, °C')?.id ?? '';
  await house.server.apps.change(app, as, version, [{ kind: 'remove_field', table: 'inspections', field }], true);
  const told = member.getByText('Temperature, °C is no longer part of this record. “17.5”, which you typed there, can’t be saved.');
  await told.waitFor();
  expect(await input(member, 'Notes').inputValue()).toBe('Quiet.');
  await house.server.apps.undo(app, as, version + 1, 'undo', true);
  await told.waitFor({ state: 'detached' });
  expect(await input(member, 'Temperature, °C').inputValue()).toBe('17.5');
  await member.getByRole('button', { name: 'Save', exact: true }).click();
  await member.getByText(/^Saved /u).waitFor();
  await context.close();
});
