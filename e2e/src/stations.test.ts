import { readFile } from 'node:fs/promises';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { demoPassword, demoPeople } from '../../scripts/demo.js';
import { choose, mailedLink, openDemo, openHouse, signIn, visit, type House } from './browser.js';

/** A small app is built from nothing through all stations, and two people work in it; then the demo is walked as each role. */
let house: House;
beforeAll(async () => {
  house = await openHouse();
});
afterAll(() => house.close());

describe('a costume store, from nothing', () => {
  let page: Page;
  const details = () => page.getByRole('complementary', { name: 'Details' });
  const station = (name: string) =>
    page
      .getByRole('navigation', { name: 'Workline' })
      .getByRole('link', { name: new RegExp(`^${name}`, 'u') })
      .click();
  const addTable = async (name: string, first: string, fields: readonly (readonly [name: string, kind: string])[]): Promise<void> => {
    await page.getByRole('main').getByRole('button', { name: 'Table', exact: true }).click();
    await page.getByRole('dialog').getByRole('textbox', { name: 'Name' }).fill(name);
    await page.getByLabel('First field').fill(first);
    await page.getByRole('button', { name: 'Make the table' }).click();
    await page.getByRole('heading', { name, level: 2 }).waitFor();
    for (const [field, kind] of fields) {
      await details().getByRole('link', { name: 'Field', exact: true }).click();
      await details().getByRole('textbox', { name: 'Name', exact: true }).fill(field);
      await choose(details(), 'Kind', new RegExp(`^${kind}(?! and)`, 'u'));
      await details().getByRole('button', { name: 'Add the field' }).click();
      await details()
        .getByRole('link', { name: new RegExp(field, 'u') })
        .waitFor();
    }
  };

  test('Tables: costumes, and loans that belong to them', async () => {
    ({ page } = await house.open());
    await page.goto('/');
    await page.getByLabel('Set-up key').fill(await house.server.people.setUpKey());
    await page.getByLabel('Your name').fill('Greta Larkin');
    await page.getByLabel('Mail address').fill('greta.larkin@quillmoor.example');
    await page.getByLabel('Password').fill(demoPassword);
    await page.getByRole('button', { name: 'Start' }).click();
    await page.getByRole('button', { name: 'App' }).click();
    await page.getByLabel('Name').fill('Costume store');
    await page.getByRole('button', { name: 'Make the app' }).click();
    for (const name of ['Queries', 'Reports', 'Dashboards', 'Workflows', 'Permissions']) {
      await station(name);
      await page.getByRole('main').getByText('Make a table first').waitFor();
      await page.getByRole('main').getByRole('link', { name: 'To the tables' }).click();
      await page.getByRole('main').getByText('No tables yet.').waitFor();
    }
    await addTable('Costumes', 'Name', [['Deposit', 'Decimal']]);
    await addTable('Loans', 'Borrower', [['Lent on', 'Date']]);
    await page.getByRole('main').getByRole('button', { name: 'Relationship' }).click();
    const dialog = page.getByRole('dialog');
    await choose(dialog, 'The one', 'Costumes');
    await choose(dialog, 'The many', 'Loans');
    await dialog.getByRole('button', { name: 'Relate them' }).click();
    await dialog.waitFor({ state: 'hidden' });
  });

  test('Desk: the first costumes with their loans', async () => {
    await page.getByRole('link', { name: 'Desk', exact: true }).click();
    for (const [name, deposit, borrowers] of [
      ['Ruff and doublet', '40', ['Ysolde Tarn', 'Corin Withy']],
      ['Fairy wings', '12.50', ['Maud Sedge']],
    ] as const) {
      await page
        .getByRole('navigation', { name: 'Lists' })
        .getByRole('link', { name: /Costumes/u })
        .click();
      await page.getByRole('link', { name: 'New record' }).click();
      await page.getByRole('textbox', { name: 'Name' }).fill(name);
      await page.getByRole('textbox', { name: 'Deposit' }).fill(deposit);
      const loans = page.getByRole('group', { name: 'Loans' });
      for (const borrower of borrowers) {
        await loans.getByRole('button', { name: 'Add a row to Loans' }).click();
        await loans.getByRole('textbox', { name: 'Borrower' }).fill(borrower);
      }
      await page.getByRole('button', { name: 'Save', exact: true }).click();
      await page.getByRole('heading', { name, level: 1 }).waitFor();
    }
    await page.getByRole('link', { name: 'Workshop', exact: true }).click();
  });

  test('Queries: how often each costume was lent', async () => {
    await station('Queries');
    await page.getByRole('complementary', { name: 'Shelf' }).getByRole('link', { name: 'Query', exact: true }).click();
    await page.getByRole('dialog').getByLabel('Name').fill('Lent how often');
    await choose(page.getByRole('dialog'), 'One row per record of', 'Loans');
    await page.getByRole('button', { name: 'Make the query' }).click();
    await page.getByRole('region', { name: 'Proof' }).getByText('3 of 3 rows').waitFor();
    for (const name of ['Borrower', 'Lent on']) {
      await page.getByRole('main').getByRole('button', { name, exact: true }).click();
      await details().getByRole('button', { name: 'Leave out' }).click();
    }
    await page.getByRole('main').getByRole('button', { name: 'Add a column' }).click();
    await details().getByRole('button', { name: 'Number of Loans' }).click();
    await page.getByRole('main').getByText('One row per Costume from Loans').waitFor();
    await page.getByRole('button', { name: 'Save query' }).click();
    await page.getByRole('button', { name: 'Discard changes' }).waitFor({ state: 'detached' });
    await page
      .getByRole('region', { name: 'Proof' })
      .getByRole('row', { name: /Ruff and doublet/u })
      .getByRole('cell', { name: '2', exact: true })
      .last()
      .waitFor();
  });

  test('Reports: loans under their costumes', async () => {
    await station('Reports');
    await page.getByRole('complementary', { name: 'Shelf' }).getByRole('link', { name: 'Report', exact: true }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('Name').fill('Loan book');
    await choose(dialog, 'Its rows come from', 'Loans');
    await dialog.getByRole('button', { name: 'Next question' }).click();
    await dialog.getByRole('combobox', { name: 'Group by' }).click();
    await page.getByRole('option', { name: 'Costume' }).click();
    await dialog.getByRole('button', { name: 'Next question' }).click();
    await dialog.getByRole('button', { name: 'Make the first page' }).click();
    const first = page.getByRole('main').getByRole('group', { name: 'Page 1 of 1' });
    await first.getByText('Ruff and doublet · 2 rows').waitFor();
    await page.getByRole('region', { name: 'Proof' }).getByText('Totals match').waitFor();
  });

  test('Dashboards: what the deposits come to', async () => {
    await station('Dashboards');
    await page.getByRole('complementary', { name: 'Shelf' }).getByRole('link', { name: 'Dashboard', exact: true }).click();
    await page.getByRole('dialog').getByLabel('Name').fill('The store');
    await page.getByRole('button', { name: 'Make the dashboard' }).click();
    await page.getByRole('main').getByRole('button', { name: 'Tile' }).last().click();
    await choose(page.getByRole('dialog'), 'How much', 'Deposit');
    await page.getByRole('button', { name: 'Add the tile' }).click();
    await page.getByRole('group', { name: 'Tile Deposit' }).getByText('52.50').waitFor();
    await page.getByRole('button', { name: 'Save dashboard' }).click();
    await page.getByRole('button', { name: 'Discard changes' }).waitFor({ state: 'detached' });
  });

  test('Workflows: a loan is asked for, lent and brought back', async () => {
    await station('Workflows');
    await page.getByRole('complementary', { name: 'Shelf' }).getByRole('link', { name: 'Route', exact: true }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('Name').fill('Way of a loan');
    await choose(dialog, 'Of the records of', 'Loans');
    await dialog.getByLabel('Statuses, from the first to the last').fill('Asked for, Lent, Back');
    await dialog.getByRole('button', { name: 'Draw the route' }).click();
    await page.getByRole('button', { name: 'Status Asked for, 3 now' }).waitFor();
    await page.getByRole('button', { name: /^Move To Lent/u }).click();
    await details().getByLabel('What is done').fill('Hand out');
    await page.getByRole('button', { name: 'Save route' }).click();
    await page.getByRole('button', { name: 'Discard changes' }).waitFor({ state: 'detached' });
  });

  test('Workflows: what is handed out is dated and told of by itself', async () => {
    await page.getByRole('complementary', { name: 'Shelf' }).getByRole('link', { name: 'Automation', exact: true }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('Name').fill('A costume leaves');
    await choose(dialog, 'When a record of', 'Loans');
    await choose(dialog, 'What happens', 'it is moved on its route');
    await dialog.getByRole('button', { name: 'Make the automation' }).click();
    await page.getByRole('heading', { name: 'A costume leaves', level: 1 }).waitFor();
    await page.getByRole('main').getByRole('button', { name: 'is moved on its route' }).click();
    await details().getByRole('combobox', { name: 'Only by these moves' }).click();
    await page.getByRole('option', { name: 'Hand out' }).click();
    await page.getByRole('main').getByRole('button', { name: 'Change this record' }).click();
    await choose(details(), 'Fill another field', 'Lent on');
    await details().getByRole('group', { name: 'Lent on' }).getByRole('textbox').fill('today()');
    await page.getByRole('main').getByRole('button', { name: 'Send a mail' }).click();
    await choose(details(), 'To', 'an address of the record, or a written one');
    await details().getByRole('textbox', { name: 'Address' }).fill('"wardrobe@quillmoor.example"');
    await details().getByLabel('Subject').fill('Gone: ');
    await details().getByRole('button', { name: 'Field into subject' }).click();
    await page.getByRole('menuitem', { name: 'Costume' }).click();
    await details().getByLabel('Text').fill('{Borrower} has it since {Lent on}.');
    const proof = page.getByRole('region', { name: 'Proof' });
    await proof.getByText('Mail to wardrobe@quillmoor.example').waitFor();
    await proof.getByText(/^Maud Sedge has it since \d+ \w+ \d{4}\.$/u).waitFor();
    await page.getByRole('main').getByRole('button', { name: 'The automation' }).click();
    await details().getByRole('checkbox').check();
    await page.getByRole('button', { name: 'Save automation' }).click();
    await page.getByRole('button', { name: 'Discard changes' }).waitFor({ state: 'detached' });
    await proof.getByRole('tab', { name: 'Runs' }).click();
    await proof.getByText('No runs yet.').waitFor();
  });

  const links = new Map<string, string>();
  test('Permissions: a helper with every loan, a guest who only looks', async () => {
    await station('Permissions');
    await page.getByRole('main').getByRole('button', { name: 'Role' }).click();
    await page.getByRole('dialog').getByLabel('Name').fill('Guest');
    await page.getByRole('button', { name: 'Make the role' }).click();
    await page.getByRole('group', { name: 'Roles and tables' }).getByRole('link', { name: 'Guest, Costumes: nothing' }).click();
    await details().getByRole('button', { name: 'Grant', exact: true }).click();
    await details().getByRole('button', { name: 'Save grants' }).click();
    await page.getByRole('main').getByRole('link', { name: 'People' }).click();
    for (const [mail, role] of [
      ['helper@quillmoor.example', 'Team'],
      ['guest@quillmoor.example', 'Guest'],
    ] as const) {
      await page.getByRole('main').getByRole('button', { name: 'Person' }).click();
      const dialog = page.getByRole('dialog');
      await dialog.getByLabel('Mail address').fill(mail);
      for (const name of ['Team', 'Guest']) await dialog.getByRole('checkbox', { name }).setChecked(name === role);
      await dialog.getByRole('button', { name: 'Invite' }).click();
      await dialog.getByRole('button', { name: 'Done' }).click();
      links.set(role, await mailedLink(house, mail));
    }
    // The app's list of mails shows that it was sent, but hides its link from the builders.
    await station('Workflows');
    await page.getByRole('link', { name: 'All mails' }).click();
    const guest = page.getByRole('row', { name: /guest@quillmoor\.example/u });
    await guest.getByText('kept in the mailbox, not sent').waitFor();
    await guest.getByRole('link').click();
    await page.getByText('Only the invited person can read this mail', { exact: false }).waitFor();
  });

  const join = async (role: string, name: string): Promise<Page> => {
    const { page: theirs } = await house.open();
    await theirs.goto(links.get(role) ?? '');
    await theirs.getByLabel('Your name').fill(name);
    await theirs.getByLabel('Password').fill(demoPassword);
    await theirs.getByRole('button', { name: 'Join' }).click();
    await theirs.getByRole('navigation', { name: 'Lists' }).waitFor();
    return theirs;
  };

  test('the helper hands a costume out, and it no longer waits', async () => {
    const theirs = await join('Team', 'Perrin Mossop');
    const menu = theirs.getByRole('navigation', { name: 'Lists' });
    await menu.getByRole('link', { name: /^Waiting for me/u }).click();
    await theirs.getByRole('button', { name: 'Hand out: Maud Sedge' }).click();
    await theirs.getByRole('button', { name: 'To Back: Maud Sedge' }).waitFor();
    await theirs.getByRole('link', { name: 'Maud Sedge' }).click();
    await theirs.getByText('Automatic').waitFor();
    await theirs.getByText('triggered by Perrin Mossop').waitFor();
    await menu.getByRole('link', { name: 'The store' }).click();
    await theirs.getByRole('button', { name: 'Deposit: its records' }).click();
    await theirs.getByRole('dialog').getByText('2 records').waitFor();
    await theirs.keyboard.press('Escape');
    await menu.getByRole('link', { name: /^Costumes/u }).click();
    const waiting = theirs.waitForEvent('download');
    await theirs.getByRole('button', { name: 'Export' }).click();
    await theirs.getByRole('menuitem', { name: 'CSV, plain text' }).click();
    expect(await readFile(await (await waiting).path(), 'utf8')).toBe('\uFEFFRecord number,Name,Deposit\r\n1,Ruff and doublet,40\r\n2,Fairy wings,12.5\r\n');
    await menu.getByRole('link', { name: 'Loan book' }).click();
    await theirs.getByText('3 rows on 1 page').waitFor();
    await theirs.context().close();
  });

  test('the guest sees costumes and nothing that is made of loans', async () => {
    const theirs = await join('Guest', 'Linnet Quill');
    const menu = theirs.getByRole('navigation', { name: 'Lists' });
    expect((await menu.getByRole('link').allInnerTexts()).map((each) => each.split('\n')[0])).toEqual(['Costumes', 'The store']);
    await theirs.getByText('Fairy wings').waitFor();
    expect(await theirs.getByRole('link', { name: 'New record' }).count()).toBe(0);
    await theirs.goto(theirs.url().replace(/[^/]+$/u, 'waiting'));
    await theirs.getByText('Nothing is waiting for you').waitFor();
    await theirs.context().close();
    await page.getByRole('link', { name: 'All mails' }).click();
    await page.getByRole('link', { name: 'Gone: Fairy wings' }).click();
    await page.getByRole('group', { name: 'The mail' }).getByText('Maud Sedge has it since').waitFor();
    await page.getByRole('link', { name: /^A costume leaves/u }).click();
    await page.getByRole('tab', { name: 'Runs' }).click();
    await page.getByRole('group', { name: 'Runs' }).getByText('2 steps done').waitFor();
    await page.getByRole('group', { name: 'Runs' }).getByText('triggered by Perrin Mossop').waitFor();
    expect(house.faults).toEqual([]);
  });
});

describe('the demo, walked as', () => {
  let demo: House;
  let app: string;
  beforeAll(async () => {
    ({ house: demo, app } = await openDemo());
  });
  afterAll(() => demo.close());

  const expected = {
    'tamsin.oake': ['Waiting for me', 'Keepers', 'Lots', 'Season at a glance', 'Harvest by apiary'],
    'jorun.vasse': ['Waiting for me', 'Season at a glance', 'Lots', 'Orders', 'Harvest by apiary', 'Orders by shop'],
    'wystan.quill': ['Waiting for me', 'Hives', 'Inspections', 'Harvests', 'Harvest by apiary'],
    'edda.roke': ['Waiting for me', 'Lots', 'Lab results'],
    'maud.larkin': ['Orders', 'Orders by shop'],
    'corin.tarn': ['Add to Swarm reports'],
  } as const;

  test.each(demoPeople.map((person) => [person.description, person] as const))('who %s: every page of the menu opens', async (_, person) => {
    const { page, context } = await demo.open();
    await signIn(page, person.email, demoPassword);
    await visit(page, `/desk/${app}`);
    const menu = page.getByRole('navigation', { name: 'Lists' });
    await menu
      .getByRole('link')
      .nth(person.email.startsWith('corin') ? 0 : 1)
      .waitFor();
    const names = (await menu.getByRole('link').allInnerTexts()).map((each) => each.split('\n')[0] ?? '');
    for (const name of expected[person.email.split('@')[0] as keyof typeof expected]) expect(names).toContain(name);
    for (const name of names) {
      await menu
        .getByRole('link', { name: new RegExp(`^${name}`, 'u') })
        .first()
        .click();
      await page.getByRole('heading', { name, level: 1 }).waitFor();
      expect([name, await page.getByRole('alert').allInnerTexts()]).toEqual([name, []]);
    }
    await context.close();
    expect(demo.faults).toEqual([]);
  });
});
