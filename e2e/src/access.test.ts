import type { Page } from 'playwright-core';
import AxeBuilder from '@axe-core/playwright';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { demoPassword, demoPeople } from '../../scripts/demo.js';
import { choose, mailedLink, openDemo, signIn, visit, type House } from './browser.js';

/** A builder decides who can do what, someone gets access and works, and the builder looks as they do. */
let house: House;
let app: string;
let builder: Page;
beforeAll(async () => {
  ({ house, app, page: builder } = await openDemo());
});
afterAll(() => house.close());

const details = () => builder.getByRole('complementary', { name: 'Details' });
const proof = () => builder.getByRole('region', { name: 'Proof' });
const matrix = () => builder.getByRole('group', { name: 'Roles and tables' });

test('a role is made, and granted some records of a table without one of their fields', async () => {
  await visit(builder, `/workshop/${app}/access`);
  await builder.getByRole('main').getByRole('button', { name: 'Role' }).click();
  await builder.getByRole('dialog').getByLabel('Name').fill('Guest');
  await builder.getByRole('button', { name: 'Make the role' }).click();
  await details().getByRole('heading', { name: 'Guest' }).waitFor();
  await matrix().getByRole('link', { name: 'Guest, Apiaries: nothing' }).click();
  await details().getByText("No permissions yet: this role can't see or change records of Apiaries.").waitFor();
  await details().getByRole('button', { name: 'Grant', exact: true }).click();
  await details().getByRole('tab', { name: 'Text' }).click();
  await details().getByRole('textbox', { name: 'Grant 1: only records where, as text' }).click();
  await builder.keyboard.insertText('Region = "Moor"');
  await details().getByLabel('Hidden fields').fill('Rent');
  await builder.getByRole('option', { name: 'Rent a year' }).click();
  await details().getByRole('button', { name: 'Save grants' }).click();
  await matrix().getByRole('link', { name: 'Guest, Apiaries: sees some' }).waitFor();
});

let link: string;
test('someone new is invited by mail with a link of their own', async () => {
  await builder.getByRole('main').getByRole('link', { name: 'People' }).click();
  await builder.getByRole('main').getByRole('button', { name: 'Person' }).click();
  const dialog = builder.getByRole('dialog');
  await dialog.getByLabel('Mail address').fill('bede');
  await dialog.getByRole('button', { name: 'Invite' }).click();
  await dialog.getByText('must be a mail address').waitFor();
  await dialog.getByLabel('Mail address').fill('bede.lunn@quillmoor.example');
  // No role is chosen for anybody.
  expect(await dialog.getByRole('checkbox', { checked: true }).count()).toBe(0);
  await dialog.getByRole('checkbox', { name: 'Keeper' }).check();
  await dialog.getByText(/^Keeper shows records of their own Keeper/u).waitFor();
  await dialog.getByRole('checkbox', { name: 'Keeper' }).uncheck();
  await dialog.getByRole('checkbox', { name: 'Guest' }).check();
  await dialog.getByRole('button', { name: 'Invite' }).click();
  await dialog.getByText('no mail relay is set up', { exact: false }).waitFor();
  await dialog.getByRole('button', { name: 'Done' }).click();
  const row = builder.getByRole('row', { name: /bede\.lunn/u });
  await row.getByText('invited').waitFor();
  await row.getByText('Guest').waitFor();
  link = await mailedLink(house, 'bede.lunn@quillmoor.example');
});

test('they set a password, and see what their role grants and nothing else', async () => {
  const { page: bede } = await house.open();
  await bede.goto(link);
  await bede.getByRole('heading', { name: 'Join Quillmoor Honey' }).waitFor();
  await bede.getByLabel('Your name').fill('Bede Lunn');
  await bede.getByLabel('Password').fill('short');
  await bede.getByRole('button', { name: 'Join' }).click();
  await bede.getByText('needs at least 10 characters').waitFor();
  await bede.getByLabel('Password').fill('a long enough password');
  await bede.getByRole('button', { name: 'Join' }).click();
  await bede.getByRole('heading', { name: 'Apiaries', level: 1 }).waitFor();
  const menu = bede.getByRole('navigation', { name: 'Lists' });
  expect((await menu.getByRole('link').allInnerTexts()).map((text) => text.split('\n')[0])).toEqual(['Apiaries', 'Apiaries at a glance', 'Map of apiaries']);
  expect(await bede.getByRole('link', { name: 'New record' }).count()).toBe(0);
  await bede.getByRole('columnheader', { name: 'Region' }).waitFor();
  expect(await bede.getByRole('columnheader', { name: 'Rent a year' }).count()).toBe(0);
  const shown = await bede.getByRole('gridcell', { name: /^(Moor|Valley|Coast|Orchards)$/u }).allInnerTexts();
  expect(shown.length).toBeGreaterThan(0);
  expect(new Set(shown)).toEqual(new Set(['Moor']));
  await bede
    .getByRole('link', { name: /^Open /u })
    .first()
    .click();
  await bede.getByText('Read-only').waitFor();
  expect(await bede.getByText('Rent a year').count()).toBe(0);
  expect(await bede.getByRole('group', { name: 'Hives' }).count()).toBe(0);
  await bede.context().close();
});

test('the proof says who sees what, and why', async () => {
  await visit(builder, `/workshop/${app}/access/people`);
  await choose(builder, 'As whom', 'Bede Lunn');
  await choose(builder, 'Which table', 'Apiaries');
  await proof()
    .getByText(/^sees \d of 6 records$/u)
    .waitFor();
  const records = proof().getByRole('list', { name: 'Records of Apiaries' });
  await records
    .getByRole('button', { name: /not seen$/u })
    .first()
    .click();
  await proof()
    .getByRole('heading', { name: /^Bede Lunn can.t see/u })
    .waitFor();
  await proof().getByText('This one is not among them.').waitFor();
  await records
    .getByRole('button', { name: / seen$/u })
    .first()
    .click();
  await proof().getByText('Hidden from them in this record: Rent a year.').waitFor();
});

test('the builder looks as a keeper: their records, no way to change the design, and nothing saved', async () => {
  await builder.getByRole('link', { name: 'Wystan Quill' }).click();
  await details().getByRole('button', { name: 'Look as' }).click();
  await builder.getByText('You look as Wystan Quill').waitFor();
  expect(await builder.getByRole('link', { name: 'Workshop' }).count()).toBe(0);
  await builder
    .getByRole('navigation', { name: 'Lists' })
    .getByRole('link', { name: /Apiaries/u })
    .click();
  await builder
    .getByRole('link', { name: /^Open /u })
    .first()
    .click();
  await builder.getByRole('textbox', { name: 'Altitude, m' }).fill('77');
  // A keeper sees the rent, and does not change it.
  expect(await builder.getByRole('textbox', { name: 'Rent a year' }).count()).toBe(0);
  await builder.getByText('Rent a year').waitFor();
  await builder.getByRole('button', { name: 'Save', exact: true }).click();
  await builder.getByText('You are looking as someone else, so nothing is saved.').waitFor();
  await builder.getByRole('button', { name: 'Discard changes' }).click();
  await builder.getByRole('button', { name: 'Stop looking' }).click();
  await builder.getByRole('heading', { name: 'What each role can do' }).waitFor();
});

test('a keeper adds an inspection of their own hive, and cannot reach another', async () => {
  const { page: wystan } = await house.open({ width: 390, height: 844 });
  await signIn(wystan, demoPeople[2].email, demoPassword);
  // The Desk opens where the menu of the role begins.
  await visit(wystan, `/desk/${app}`);
  await wystan.getByRole('heading', { name: 'Hives', level: 1 }).waitFor();
  await visit(wystan, `/desk/${app}/inspections/new`);
  await wystan.getByRole('textbox', { name: 'Number' }).fill('9001');
  await wystan.getByRole('combobox', { name: 'Hive' }).click();
  await wystan.getByRole('option').first().waitFor();
  const offered = await wystan.getByRole('option').allInnerTexts();
  expect(offered.length).toBeLessThan(20);
  await wystan.getByRole('option').first().click();
  await wystan.getByRole('button', { name: 'Save', exact: true }).click();
  await wystan.getByRole('heading', { name: /^9001/u, level: 1 }).waitFor();
  await wystan.context().close();
});

test('a keeper changes their own record in Keepers, and only reads that of another', async () => {
  const { page } = await house.open();
  await signIn(page, demoPeople[2].email, demoPassword);
  const open = async (name: RegExp): Promise<void> => {
    await visit(page, `/desk/${app}/keepers`);
    await page.getByRole('link', { name }).first().click();
    await page.getByRole('heading', { level: 1 }).waitFor();
  };
  await open(/^Open Wystan Quill/u);
  await page.getByRole('textbox', { name: 'Name' }).waitFor();
  await open(/^Open (?!Wystan)/u);
  await page.getByRole('status', { name: 'Name', exact: true }).waitFor();
  expect(await page.getByRole('textbox', { name: 'Name' }).count()).toBe(0);
});

test('a form for a new record is not shown to a person who can add none', async () => {
  const { page } = await house.open();
  await signIn(page, demoPeople[3].email, demoPassword);
  await visit(page, `/desk/${app}/lots/new`);
  await page.getByRole('heading', { name: "You can't add records to Lots" }).waitFor();
  await page.getByRole('link', { name: 'Go to Lots' }).click();
  await page.getByRole('heading', { name: 'Lots', level: 1 }).waitFor();
});

test('the station has no fault that a machine can find', async () => {
  for (const place of ['access/roles/keeper/hives', 'access/people']) {
    await visit(builder, `/workshop/${app}/${place}`);
    await proof()
      .getByText(/^sees /u)
      .waitFor();
    const found = await new AxeBuilder({ page: builder }).exclude('[role=tooltip]').analyze();
    expect(found.violations.map((violation) => `${violation.id}: ${violation.nodes.map((node) => node.html).join(' ')}`)).toEqual([]);
  }
  expect(house.faults).toEqual([]);
});
