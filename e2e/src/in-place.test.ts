import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { demoPassword, demoPeople } from '../../scripts/demo.js';
import { barriersOf, openDemo, rowOf, saveDraft, signIn, visit, type House } from './browser.js';

/** Fields of the records that one refers to, changed in its form and saved with it. */
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
const details = () => page.getByRole('complementary', { name: 'Details' });
const sheet = () => page.getByRole('main');
const called = () => page.getByRole('textbox', { name: 'Name' });
const phone = () => page.getByRole('textbox', { name: 'Phone of its keeper' });
const save = () => page.getByRole('button', { name: 'Save', exact: true }).click();
const saved = () => page.getByText(/^Saved \d/u).waitFor();
const open = async (): Promise<void> => {
  await visit(page, `/desk/${app}/hives/1?form=hive_glance`);
  await called().waitFor();
};
const stored = () =>
  rowOf(
    house,
    app,
    'SELECT a.id, a.name, k.phone, h.queen_year FROM hives h JOIN apiaries a ON a.id = h.apiary JOIN keepers k ON k.id = a.keeper WHERE h.id = 1',
  );

test('the builder says which fields are changed in place', async () => {
  await visit(page, `/workshop/${app}/screens/hive_glance`);
  await sheet().getByRole('button', { name: 'Of its Apiary' }).click();
  await sheet().getByRole('button', { name: 'Put Rent a year of its Apiary on the form' }).click();
  await details().getByRole('checkbox', { name: 'Can be changed here' }).check();
  await sheet().getByRole('button', { name: 'Put Name of its Apiary on the form' }).click();
  for (const name of ['Name', 'Phone of its keeper']) {
    await page
      .getByRole('group', { name: new RegExp(`^Field of another record ${name}`, 'u') })
      .first()
      .click();
    await details().getByRole('checkbox', { name: 'Can be changed here' }).check();
    await details().getByText('saved together with the record of this form', { exact: false }).waitFor();
  }
  expect(await barriersOf(page)).toEqual([]);
  await saveDraft(page, 'form');
});

test('they are saved with the record by one save, by one step away and by two', async () => {
  await open();
  await called().fill('Ling, and late clover');
  await phone().fill('+44 20 7946 0999');
  await page.getByRole('textbox', { name: 'Queen year' }).fill('2025');
  await save();
  await saved();
  expect(await stored()).toMatchObject({ name: 'Ling, and late clover', phone: '+442079460999', queen_year: '2025' });
  await expect.poll(() => called().inputValue()).toBe('Ling, and late clover');
  // Saved once more, on the version that the first save has made.
  await called().fill('Ling');
  await save();
  await expect.poll(async () => (await stored())['name']).toBe('Ling');
  // Typed and typed back there is nothing to save.
  await called().fill('Heather');
  await page.getByRole('button', { name: 'Discard changes' }).waitFor();
  await called().fill('Ling');
  await page.getByRole('button', { name: 'Discard changes' }).waitFor({ state: 'detached' });
  await called().fill('Heather');
  await page.getByRole('button', { name: 'Discard changes' }).click();
  await expect.poll(() => called().inputValue()).toBe('Ling');
});

test('what does not fit is said at its place; what was typed for a record that is no longer picked is not saved', async () => {
  await open();
  await phone().fill('no phone');
  await save();
  await page.getByText('One value needs correction').waitFor();
  expect(await phone().getAttribute('aria-invalid')).toBe('true');
  await phone().fill('+44 20 7946 0111');
  await called().fill('Bell heather');
  const before = await stored();
  const { other } = await rowOf(house, app, `SELECT name AS other FROM apiaries WHERE id <> ${before['id'] ?? ''} ORDER BY id LIMIT 1`);
  await page.getByRole('combobox', { name: /^Apiary/u }).fill(other ?? '');
  await page.getByRole('option', { name: other ?? '' }).click();
  await expect.poll(() => called().inputValue()).toBe(other);
  await save();
  await saved();
  expect(await rowOf(house, app, `SELECT name FROM apiaries WHERE id = ${before['id'] ?? ''}`)).toEqual({ name: before['name'] });
});

test('a change that somebody else saved meanwhile is shown as a conflict, and one of the two is chosen', async () => {
  await open();
  const { page: second } = await house.open();
  await signIn(second, demoPeople[1].email, demoPassword);
  const { id } = await stored();
  await called().fill('Mine');
  await visit(second, `/desk/${app}/apiaries/${id}`);
  await second.getByRole('textbox', { name: 'Name' }).fill('Theirs');
  await second.getByRole('button', { name: 'Save', exact: true }).click();
  await second.getByText(/^Saved \d/u).waitFor();
  // What is typed is not pulled away.
  expect(await called().inputValue()).toBe('Mine');
  await save();
  const dialog = page.getByRole('dialog', { name: /^Jorun Vasse changed the record .* in Apiaries at the same time/u });
  await dialog.getByRole('radio', { name: 'Name: yours, Mine' }).waitFor();
  expect(await barriersOf(page)).toEqual([]);
  await dialog.getByRole('button', { name: 'Save this choice' }).click();
  await saved();
  expect(await stored()).toMatchObject({ name: 'Mine' });
  // Nothing typed: what the other saves is seen here.
  await expect.poll(() => second.getByRole('textbox', { name: 'Name' }).inputValue()).toBe('Mine');
  await second.getByRole('textbox', { name: 'Name' }).fill('Theirs again');
  await second.getByRole('button', { name: 'Save', exact: true }).click();
  await expect.poll(() => called().inputValue()).toBe('Theirs again');
});

test('who can change the record and not the field only reads it', async () => {
  const { page: keeper } = await house.open();
  await signIn(keeper, demoPeople[2].email, demoPassword);
  await visit(keeper, `/desk/${app}/hives`);
  const link = await keeper
    .getByRole('link', { name: /^Open /u })
    .first()
    .getAttribute('href');
  await keeper.goto(`${(link ?? '').split('?')[0] ?? ''}?form=hive_glance`);
  await keeper.getByRole('textbox', { name: 'Name' }).waitFor();
  await keeper.getByRole('status', { name: 'Rent a year', exact: true }).waitFor();
  expect(await keeper.getByRole('textbox', { name: 'Rent a year' }).count()).toBe(0);
});

test('a draft with such a field survives a closed tab', async () => {
  const { page: first, context } = await house.open();
  await signIn(first, demoPeople[0].email, demoPassword);
  await visit(first, `/desk/${app}/hives/2?form=hive_glance`);
  await first.getByRole('textbox', { name: 'Name' }).fill('Kept');
  await first.waitForTimeout(900);
  await first.close({ runBeforeUnload: false });
  const next = await context.newPage();
  await visit(next, `/desk/${app}/hives/2?form=hive_glance`);
  await next.getByRole('button', { name: 'Restore them' }).click();
  await expect.poll(() => next.getByRole('textbox', { name: 'Name' }).inputValue()).toBe('Kept');
  await next.getByRole('button', { name: 'Save', exact: true }).click();
  await next.getByText(/^Saved \d/u).waitFor();
  expect(await rowOf(house, app, 'SELECT a.name FROM hives h JOIN apiaries a ON a.id = h.apiary WHERE h.id = 2')).toEqual({ name: 'Kept' });
});
