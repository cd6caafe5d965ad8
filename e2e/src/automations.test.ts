import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { demoPassword } from '../../scripts/demo.js';
import { barriersOf, choose, openDemo, rowOf, saveDraft, signIn, visit, type House } from './browser.js';

/** A builder writes what happens by itself and sees it happen dry; then people trigger it. */
let house: House;
let app: string;
let page: Page;
beforeAll(async () => {
  ({ house, app, page } = await openDemo());
});
afterAll(() => house.close());

const details = () => page.getByRole('complementary', { name: 'Details' });
const sheet = () => page.getByRole('main');
const proof = () => page.getByRole('region', { name: 'Proof' });
const accessible = async (of: Page): Promise<void> => {
  expect(await barriersOf(of)).toEqual([]);
};
const open = (id: string) => visit(page, `/workshop/${app}/workflows/automations/${id}`);

describe('an automation', () => {
  test('shows what it would do with a real record, and with another one that is picked', async () => {
    await open('swarm_is_seen');
    await proof().getByText('dry run with a real record').waitFor();
    await proof().getByText('Mail to jorun.vasse@quillmoor.example').waitFor();
    const first = await rowOf(house, app, 'SELECT place FROM swarm_reports ORDER BY id LIMIT 1');
    await proof()
      .getByRole('combobox', { name: 'Another record' })
      .fill(first['place'] ?? '');
    await page
      .getByRole('option', { name: first['place'] ?? '' })
      .first()
      .click();
    await proof()
      .getByText(`A swarm: ${first['place'] ?? ''}`)
      .waitFor();
    expect(await rowOf(house, app, 'SELECT count(*) FROM bibliona.mail')).toEqual({ count: '0' });
    await accessible(page);
  });

  test('says at once what is missing, is not saved so, and is cancelled without a trace', async () => {
    await sheet().getByRole('button', { name: 'Add a record' }).click();
    await choose(details(), 'To the table', 'Shops');
    await proof().getByText('Step 2 of the automation A swarm is seen does not say what Name is filled with.').waitFor();
    await page.getByRole('button', { name: 'Save automation' }).click();
    await sheet().getByRole('alert').getByText('does not say what Name is filled with').waitFor();
    await details().getByRole('group', { name: 'Name' }).getByRole('textbox').fill('Seen on');
    await details().getByText('This must be a text').waitFor();
    await page.getByRole('button', { name: 'Discard changes' }).click();
    await sheet().getByRole('listitem').nth(1).waitFor({ state: 'detached' });
    await proof().getByText('Mail to jorun.vasse@quillmoor.example').waitFor();
  });

  test('is written step by step, put in another order, and begins to work when it is switched on', async () => {
    await page.getByRole('complementary', { name: 'Shelf' }).getByRole('link', { name: 'Automation', exact: true }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByRole('button', { name: 'Make the automation' }).click();
    await dialog.getByText('Enter a name').waitFor();
    await dialog.getByLabel('Name').fill('a swarm is SEEN');
    await dialog.getByRole('button', { name: 'Make the automation' }).click();
    await dialog.getByText('There is already an automation called').waitFor();
    await dialog.getByLabel('Name').fill('A weak hive');
    await choose(dialog, 'When a record of', 'Inspections');
    await dialog.getByRole('button', { name: 'Make the automation' }).click();
    await page.getByRole('heading', { name: 'A weak hive', level: 1 }).waitFor();
    await proof().getByText('No steps yet. Add a step to see what would happen.').waitFor();

    await sheet().getByRole('button', { name: 'Add a condition' }).click();
    await details().getByRole('tab', { name: 'Text' }).click();
    await details().getByRole('textbox', { name: 'Only when' }).fill('Mites counted > 900');
    await proof().getByText('does not meet the condition').waitFor();
    await details().getByRole('textbox', { name: 'Only when' }).fill('Number > 0');
    await sheet().getByRole('button', { name: 'Add a record' }).click();
    // Frames belong to an inspection, and the first of them refers to this one.
    await details().getByRole('combobox', { name: 'Inspection' }).getByText('this record of Inspections').waitFor();
    await details().getByRole('group', { name: 'Frame', exact: true }).getByRole('textbox').fill('1');
    await sheet().getByRole('button', { name: 'Change this record' }).click();
    await choose(details(), 'Fill another field', 'Stores');
    await choose(details().getByRole('group', { name: 'Stores' }), 'Stores', 'Low');
    await choose(details(), 'Fill another field', 'Queen seen');
    await choose(details().getByRole('group', { name: 'Queen seen' }), 'Queen seen', 'no');
    await details().getByRole('button', { name: 'Earlier' }).click();
    await details().getByText('Step 1 of 2').waitFor();
    await proof().getByText('Adds a record to Frames').waitFor();
    await accessible(page);
    const findings = page.getByRole('region', { name: 'Findings' });
    await findings.getByText("It is off, so it doesn't run.").waitFor();
    await findings.getByRole('button', { name: 'Switch it on' }).click();
    await findings.waitFor({ state: 'detached' });
    await saveDraft(page, 'automation');
    await sheet().getByText('on, 2 steps, by records of Inspections').waitFor();
    await page.reload();
    await sheet().getByRole('listitem').first().getByText('Change this record').waitFor();
  });
});

describe('the person who triggers it', () => {
  test('finds what it did in the form at once, and in the history that it did', async () => {
    await visit(page, `/desk/${app}/inspections/new`);
    await page.getByRole('textbox', { name: 'Number' }).fill('90001');
    await page.getByRole('combobox', { name: 'Hive' }).fill('H-001');
    await page.getByRole('option', { name: 'H-001' }).click();
    await choose(page, 'Stores', 'Full');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByRole('heading', { name: /^90001/u, level: 1 }).waitFor();
    await page.getByRole('combobox', { name: 'Stores' }).getByText('Low').waitFor();
    await page.getByRole('group', { name: 'Frames checked' }).getByRole('cell', { name: '1', exact: true }).first().waitFor();
    const history = page.getByRole('complementary', { name: 'History' });
    await history.getByText('Automatic').waitFor();
    // The form goes on from the version that the automation left.
    await page.getByRole('textbox', { name: 'Mites counted' }).fill('4');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByText(/^Saved \d\d:\d\d/u).waitFor();
  });

  test('is told when it cannot be done, and the log says why', async () => {
    await open('lot_is_released');
    await sheet().getByRole('button', { name: 'Change this record' }).last().click();
    await choose(details(), 'Fill another field', 'Notes');
    await sheet().getByRole('button', { name: 'Add a record' }).click();
    await choose(details(), 'To the table', /^Treatments$/u);
    const name = details().getByRole('group', { name: 'Name' });
    await name.getByRole('textbox').fill('"Thymol strips"');
    await choose(details().getByRole('group', { name: 'Against' }), 'Against', 'Mites');
    await details().getByRole('group', { name: 'Days in the hive' }).getByRole('textbox').fill('1');
    await sheet().getByRole('listitem').nth(2).getByRole('button').click();
    await details().getByRole('button', { name: 'Remove step' }).click();
    await proof().getByText("Step 3 can't run: Name must be unique").waitFor();
    await saveDraft(page, 'automation');
    const lot = await rowOf(
      house,
      app,
      `SELECT id FROM lots WHERE status = 'in_lab' AND NOT EXISTS (SELECT 1 FROM lab_results AS r WHERE r.lot = lots.id AND r.passed = false) LIMIT 1`,
    );
    await visit(page, `/desk/${app}/lots/${lot['id'] ?? ''}`);
    // All of the page is there before rows are added to it.
    await page.getByRole('complementary', { name: 'History' }).getByText('imported it from a file').waitFor();
    const results = page.getByRole('group', { name: 'Lab results' });
    for (const test of ['Water', 'HMF', 'Diastase']) {
      await results.getByRole('button', { name: 'Add a row to Lab results' }).click();
      await results.getByRole('combobox', { name: 'Test' }).click();
      await page.getByRole('option', { name: test }).click();
    }
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByText(/^Saved \d\d:\d\d/u).waitFor();
    await page.getByRole('button', { name: 'Release', exact: true }).click();
    await page.getByText('The automation “A lot is released” failed at its step 3: Name must be unique').waitFor();
    expect(await rowOf(house, app, `SELECT status, released_on FROM lots WHERE id = ${lot['id'] ?? ''}`)).toEqual({ status: 'in_lab', released_on: 'null' });
    await open('lot_is_released');
    await proof().getByRole('tab', { name: 'Runs' }).click();
    await proof().getByText('refused', { exact: true }).waitFor();
    await proof().getByText('Step 3 failed: Name must be unique').waitFor();
    expect(await rowOf(house, app, `SELECT count(*) FROM bibliona.mail WHERE subject LIKE 'Lot %'`)).toEqual({ count: '0' });
    await accessible(page);
  });
});

describe('mails', () => {
  test('are read as they came in, and a visitor who sent one off sees nothing but their form', async () => {
    const { page: theirs, context } = await house.open({ width: 390, height: 844 });
    await signIn(theirs, 'corin.tarn@quillmoor.example', demoPassword);
    await visit(theirs, `/desk/${app}`);
    await theirs.getByRole('heading', { name: 'Add to Swarm reports' }).waitFor();
    expect(await theirs.getByRole('combobox', { name: 'Fetched by' }).count()).toBe(0);
    await theirs.getByRole('button', { name: 'Save', exact: true }).click();
    await theirs.getByText('Place is required').waitFor();
    for (const [i, place] of ['Harth, in the plum tree', 'Withy Bridge, on a bicycle'].entries()) {
      await theirs.getByRole('textbox', { name: 'Place' }).fill(place);
      await choose(theirs, 'How high', 'Within reach');
      await theirs.getByRole('button', { name: 'Save', exact: true }).click();
      await theirs.getByText(i === 0 ? /^It is saved as No\. \d+ of Swarm reports/u : /^2 are saved, the last one as No\./u).waitFor();
    }
    expect(await theirs.getByRole('textbox', { name: 'Place' }).inputValue()).toBe('');
    // Nobody enters the number of a report: each gets the next one of its year.
    await theirs.getByText('given when saved').waitFor();
    expect(await rowOf(house, app, `SELECT count(DISTINCT report) = count(*) AS differ, max(report) LIKE 'S-20__-00%' AS numbered FROM swarm_reports`)).toEqual(
      {
        differ: 'true',
        numbered: 'true',
      },
    );
    await accessible(theirs);
    await visit(theirs, `/desk/${app}/swarms`);
    await theirs.getByText("This list doesn't exist, or you don't have access to it.").waitFor();
    await context.close();

    await visit(page, `/workshop/${app}/workflows/mails`);
    await page.getByText('No mail relay is set up: mails stay in this mailbox', { exact: false }).waitFor();
    await page.getByRole('link', { name: 'A swarm: Withy Bridge, on a bicycle' }).click();
    const letter = page.getByRole('group', { name: 'The mail' });
    await letter.getByText('Within reach').waitFor();
    await letter.getByText('From honey@quillmoor.example to jorun.vasse@quillmoor.example').waitFor();
    await details().getByText('sent,').waitFor();
    await accessible(page);
    expect(house.faults).toEqual([]);
  });
});
