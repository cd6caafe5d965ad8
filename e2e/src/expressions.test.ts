import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { asBuilder } from '@bibliona/core';
import { demoDesign } from '@bibliona/demo';
import AxeBuilder from '@axe-core/playwright';
import { choose, openHouse, saveRules, signIn, visit, type House } from './browser.js';

/** A builder who lets the app work things out, and what those who enter records see of it. */
let house: House;
let page: Page;
let app: string;
const password = 'a long enough password';
beforeAll(async () => {
  house = await openHouse();
  const builder = await house.server.people.add('Tamsin Oake', 'tamsin.oake@quillmoor.example', password);
  app = await house.server.apps.make('Honey', builder, { timeZone: 'Europe/London' });
  await house.server.people.join(app, builder.id, 'builder');
  const as = asBuilder({ ...builder, mail: builder.email });
  // The tables alone, before anything has been said in expressions about them.
  // What these tests add to the list takes their place in it.
  const later = ['inspection_rate', 'inspection_start', 'inspection_took'];
  const plain = demoDesign.filter((change) => {
    if (change.kind === 'add_field') return change.field.kind !== 'formula' && !later.includes(change.field.id);
    if (change.kind === 'move_field') return !later.includes(change.field);
    return change.kind === 'add_table' || change.kind === 'add_relationship' || (change.kind === 'change_table' && change.checks === undefined);
  });
  const { version } = await house.server.apps.open(app, as);
  await house.server.apps.change(app, as, version, plain, false);
  ({ page } = await house.open());
  await signIn(page, builder.email, password);
});
afterAll(async () => {
  await house.close();
});

const details = () => page.getByRole('complementary', { name: 'Details' });
const write = async (label: string, text: string): Promise<void> => {
  const editor = page.getByRole('textbox', { name: label, exact: true });
  await editor.click();
  await page.keyboard.press('Control+a');
  await page.keyboard.insertText(text);
};
const openField = async (table: string, name: string): Promise<void> => {
  await visit(page, `/workshop/${app}/tables/${table}`);
  await details()
    .getByRole('link', { name: new RegExp(`^${name}`, 'u') })
    .click();
};

test('records are entered first', async () => {
  await visit(page, `/desk/${app}/keepers/new`);
  await page.getByLabel('Name').fill('Jorun Vasse');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByRole('heading', { name: 'Jorun Vasse', level: 1 }).waitFor();
  await visit(page, `/desk/${app}/apiaries/new`);
  await page.getByLabel('Name').fill('Brackmoor');
  await choose(page, 'Region', 'Moor');
  await page.getByRole('combobox', { name: 'Keeper' }).fill('Jor');
  await page.getByRole('option', { name: 'Jorun Vasse' }).click();
  const hives = page.getByRole('group', { name: 'Hives' });
  await hives.getByRole('button', { name: 'Add a row to Hives' }).click();
  await hives.getByRole('textbox', { name: 'Code' }).fill('H-1');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByRole('heading', { name: 'Brackmoor', level: 1 }).waitFor();
});

test('a formula is written with completion, and a wrong name is fixed on the spot', async () => {
  await visit(page, `/workshop/${app}/tables/inspections/fields/new`);
  await details().getByRole('textbox', { name: 'Name', exact: true }).fill('Mites per 100');
  await details().getByRole('combobox', { name: 'Kind' }).click();
  await page.getByRole('option', { name: /^Formula/u }).click();
  await page.getByRole('textbox', { name: 'Expression' }).click();
  await page.keyboard.type('decimal(Mites co');
  await page.getByRole('option', { name: /^Mites counted/u }).waitFor();
  await page.keyboard.press('Enter');
  await page.keyboard.type(' / Bees samplet * 100, 1');
  await details().getByRole('status').getByText('Did you mean Bees sampled?').waitFor();
  await details().getByRole('button', { name: 'Write Bees sampled' }).click();
  await details().getByText('Mites counted divided by Bees sampled times 100 rounded to 1 digit: a number').waitFor();
  await details().getByText('No records yet to try it with.').waitFor();
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa']).analyze();
  expect(violations.map((violation) => `${violation.id}: ${violation.nodes.map((node) => node.html.slice(0, 160)).join(' | ')}`)).toEqual([]);
  await details().getByRole('button', { name: 'Add the field' }).click();
  await details()
    .getByRole('link', { name: /^Mites per 100/u })
    .waitFor();
});

test('formulas that walk and that sum up children', async () => {
  for (const [name, text] of [
    ['Region', 'Hive.Apiary.Region'],
    ['Mean brood', 'mean(Frames checked.Brood)'],
  ] as const) {
    await visit(page, `/workshop/${app}/tables/inspections/fields/new`);
    await details().getByRole('textbox', { name: 'Name', exact: true }).fill(name);
    await details().getByRole('combobox', { name: 'Kind' }).click();
    await page.getByRole('option', { name: /^Formula/u }).click();
    await write('Expression', text);
    await details().getByRole('button', { name: 'Add the field' }).click();
    await details()
      .getByRole('link', { name: new RegExp(`^${name}`, 'u') })
      .waitFor();
  }
});

test('a default is computed, a check is written in words', async () => {
  await openField('inspections', 'Notes');
  await details().getByRole('button', { name: 'Use an expression' }).click();
  await write('Default value', '"Seen by " + me.Nme');
  await details()
    .getByText('Did you mean', { exact: false })
    .or(details().getByText('The person has nothing called “Nme”', { exact: false }))
    .first()
    .waitFor();
  await write('Default value', '"Seen by " + me.Name');
  await details().getByRole('button', { name: 'Save', exact: true }).click();
  await details().getByRole('tab', { name: 'Rules' }).click();
  await details().getByRole('button', { name: 'Check', exact: true }).click();
  const check = details().getByRole('group', { name: /^Check 1/u });
  await check.getByRole('tab', { name: 'Text' }).click();
  await write('Check 1: every record has, as text', 'Mites counted <= Bees sampled');
  await details().getByRole('button', { name: 'Save rules' }).click();
  await details().getByText('Enter the message that people see').waitFor();
  await details().getByLabel('Message when it fails').fill('More mites were counted than bees sampled.');
  await saveRules(page);
});

test('the form computes while it is filled in, and the check refuses with its sentence', async () => {
  await visit(page, `/desk/${app}/inspections/new`);
  expect(await page.getByLabel('Notes').inputValue()).toBe('Seen by Tamsin Oake');
  await page.getByLabel('Number').fill('1');
  await page.getByRole('combobox', { name: 'Hive' }).fill('H-');
  await page.getByRole('option', { name: 'H-1' }).click();
  // The region of the hive's apiary is in other records: it is fetched and shown before anything is saved.
  await page.getByRole('status', { name: 'Region' }).getByText('Moor').waitFor();
  await page.getByLabel('Mites counted').fill('18');
  await page.getByLabel('Bees sampled').fill('300');
  await page.getByRole('status', { name: 'Mites per 100' }).getByText('6', { exact: true }).waitFor();
  const frames = page.getByRole('group', { name: 'Frames checked' });
  for (const [frame, brood] of ['40', '65'].entries()) {
    await frames.getByRole('button', { name: 'Add a row to Frames checked' }).click();
    await frames.getByRole('textbox', { name: 'Frame' }).fill(String(frame + 1));
    await frames.getByRole('textbox', { name: 'Brood, %' }).fill(brood);
  }
  await page.getByRole('status', { name: 'Mean brood' }).getByText('52.5').waitFor();
  await page.getByLabel('Mites counted').fill('301');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByRole('alert').getByText('One value needs correction. Nothing was saved.').waitFor();
  await page.getByText('More mites were counted than bees sampled.').waitFor();
  expect(await page.getByLabel('Bees sampled').getAttribute('aria-invalid')).toBe('true');
  await page.getByLabel('Mites counted').fill('18');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByRole('heading', { name: /^1 · /u, level: 1 }).waitFor();
  expect(await page.getByRole('status', { name: 'Mean brood' }).innerText()).toBe('52.5');
});

test('lists show and sort formulas; a condition on the list is pointed together', async () => {
  // Wide enough for all columns: the grid draws only those in sight.
  await page.setViewportSize({ width: 2400, height: 800 });
  await visit(page, `/desk/${app}/inspections`);
  await page.getByRole('gridcell', { name: 'Moor' }).waitFor();
  await page.getByRole('columnheader', { name: 'Mites per 100' }).click();
  await page.waitForURL(/sort=/u);
  await page.getByRole('gridcell', { name: 'Moor' }).waitFor();
  await page.setViewportSize({ width: 1280, height: 800 });
  await visit(page, `/workshop/${app}/tables/inspections`);
  await details().getByRole('tab', { name: 'Rules' }).click();
  const shows = details().getByRole('group', { name: 'The list shows records where' });
  await shows.getByRole('button', { name: 'Condition', exact: true }).click();
  await shows.getByRole('combobox', { name: 'Field' }).click();
  await page.getByRole('option', { name: 'Mites per 100', exact: true }).click();
  await shows.getByRole('combobox', { name: 'Comparison' }).click();
  await page.getByRole('option', { name: 'is more than' }).click();
  await shows.getByRole('textbox', { name: 'Value' }).fill('7');
  await shows.getByText('True for 0 of 1 real records').waitFor();
  await shows.getByRole('tab', { name: 'Text' }).click();
  await shows.getByText('Mites per 100 > 7').waitFor();
  await saveRules(page);
  await visit(page, `/desk/${app}/inspections`);
  await page
    .getByRole('status')
    .getByText(/^(no|0) record/iu)
    .or(page.getByText('There are none yet.'))
    .first()
    .waitFor();
});

test('renaming a field rewrites what uses it; removing it says what does', async () => {
  await openField('inspections', 'Bees sampled');
  await details().getByRole('textbox', { name: 'Name', exact: true }).fill('Bees in the sample');
  await details()
    .getByText(/Its name is rewritten in .*the formula Mites per 100 of Inspections/u)
    .waitFor();
  await details().getByRole('button', { name: 'Save', exact: true }).click();
  await details()
    .getByRole('link', { name: /^Mites per 100/u })
    .click();
  await details().getByText('decimal(Mites counted / Bees in the sample * 100, 1)').waitFor();
  await openField('inspections', 'Bees in the sample');
  await details().getByRole('button', { name: 'Remove field' }).click();
  await details()
    .getByText(/^It is still used in the formula Mites per 100 of Inspections/u)
    .waitFor();
  await openField('inspections', 'Bees in the sample');
});

test('a circle of formulas is refused with the circle named', async () => {
  await openField('inspections', 'Region');
  await write('Expression', 'Region + "!"');
  await details().getByRole('button', { name: 'Save', exact: true }).click();
  await details()
    .getByText(/it goes in a circle: Inspections.Region needs Inspections.Region/u)
    .first()
    .waitFor();
});

test('the app is called and timed as its builder says', async () => {
  await visit(page, `/workshop/${app}/tables`);
  await details().getByRole('textbox', { name: 'Name', exact: true }).fill('Honey and wax');
  await details().getByRole('combobox', { name: 'Time zone' }).fill('Auckland');
  await page.getByRole('option', { name: 'Pacific/Auckland' }).click();
  await details().getByRole('button', { name: 'Save', exact: true }).click();
  await details().getByRole('heading', { name: 'Honey and wax' }).waitFor();
  await page.reload();
  expect(await details().getByRole('combobox', { name: 'Time zone' }).inputValue()).toBe('Pacific/Auckland');
});

test('nothing was complained of on the way', () => expect(house.faults).toEqual([]));
