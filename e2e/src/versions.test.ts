/** Earlier versions of an app. */
import { readFile } from 'node:fs/promises';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { demoPassword, demoPeople } from '../../scripts/demo.js';
import { barriersOf, openDemo, rowOf, signIn, visit, type House } from './browser.js';

let house: House;
let app: string;
let page: Page;
beforeAll(async () => {
  ({ house, app, page } = await openDemo());
});
afterAll(() => house.close());

test('an earlier version shows what restoring it changes, comes back, and is undone', async () => {
  await visit(page, `/workshop/${app}/tables/hives`);
  await page.getByRole('link', { name: 'Versions of the app' }).click();
  const newest = page.getByRole('row').filter({ hasText: 'this is what you see' });
  await newest.waitFor();
  expect(await barriersOf(page)).toEqual([]);
  const made = page.getByRole('row').filter({ hasText: 'Added the route Route of a lot' });
  await made.getByRole('button', { name: /^Restore version/u }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByText('Removes the automation A swarm is seen').waitFor();
  expect(await barriersOf(page)).toEqual([]);
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await made.getByRole('button', { name: /^Restore version/u }).click();
  await dialog.getByRole('button', { name: 'Restore this version' }).click();
  await newest.filter({ hasText: /Restored version \d+: Added the route/u }).waitFor();
  // The automations that came after it are no longer there.
  await page
    .getByRole('navigation', { name: 'Workline' })
    .getByRole('link', { name: /Workflows\s*1$/u })
    .waitFor();
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await newest.filter({ hasNotText: 'Restored' }).waitFor();
  await page
    .getByRole('navigation', { name: 'Workline' })
    .getByRole('link', { name: /Workflows\s*6$/u })
    .waitFor();
});

test('two versions are compared', async () => {
  await visit(page, `/workshop/${app}/versions`);
  await page.getByRole('button', { name: 'Compare' }).click();
  const dialog = page.getByRole('dialog', { name: 'Compare two versions' });
  await dialog.getByRole('list', { name: 'What is different' }).waitFor();
  expect(await barriersOf(page)).toEqual([]);
  await dialog.getByRole('combobox', { name: 'One version' }).click();
  await page.getByRole('option', { name: /^\d+: Added the route Route of a lot/u }).click();
  await dialog.getByText('Added the automation A swarm is seen').waitFor();
  await dialog.getByRole('button', { name: 'Close' }).click();
});

test('where something is used is told, with the way there', async () => {
  await visit(page, `/workshop/${app}/tables/apiaries`);
  await page.getByRole('button', { name: 'Where used' }).click();
  const uses = page.getByRole('dialog', { name: 'Where it is used' });
  await uses.getByText('the formula Region of Inspections').waitFor();
  expect(await barriersOf(page)).toEqual([]);
  await uses.getByRole('link', { name: 'Map of apiaries' }).click();
  await page.getByRole('heading', { name: 'Map of apiaries' }).first().waitFor();
  await page.getByRole('button', { name: 'Where used' }).click();
  await uses.getByRole('link', { name: 'Coordinator' }).click();
  await page.getByRole('heading', { name: 'Coordinator' }).first().waitFor();
});

test('a table that is still needed stays, with the places that need it; another takes along what is made of it, which is told first', async () => {
  const table = async (name: string): Promise<void> => {
    await page.getByRole('complementary', { name: 'Shelf' }).getByRole('link', { name }).click();
    await page.getByRole('heading', { name, level: 2 }).waitFor();
    await page.getByRole('tab', { name: 'Settings' }).click();
    await page.getByRole('button', { name: 'Remove table' }).click();
  };
  await visit(page, `/workshop/${app}/tables`);
  await table('Lab results');
  await page.getByText('It is still used in the formula Tests of Lots; the guard of Release in the route Route of a lot. Take it out there first.').waitFor();

  await table('Swarm reports');
  const asked = page.getByRole('dialog', { name: 'Remove the table Swarm reports?' });
  await asked.getByText(/^5 records of Swarm reports go with it/u).waitFor();
  const besides = asked.getByRole('list', { name: 'What else changes in the app' });
  expect(await besides.getByRole('listitem').allInnerTexts()).toEqual([
    'Removes the relationship Swarms fetched',
    'Changes the form Keepers',
    'Removes the form Swarm reports',
    'Removes the form Report a swarm',
    'Removes the list Swarm reports',
    'Removes the report Swarms handed over',
    'Removes the automation A swarm is seen',
    'Changes the role Coordinator',
    'Changes the role Keeper',
    'Changes the role Visitor',
  ]);
  expect(await barriersOf(page)).toEqual([]);
  const [report] = await Promise.all([page.context().waitForEvent('page'), besides.getByRole('link', { name: /Swarms handed over/u }).click()]);
  await report.getByRole('heading', { name: 'Swarms handed over' }).first().waitFor();
  await report.close();
  await asked.getByRole('button', { name: 'Keep it as it is' }).click();
  await page.getByText('Nothing was changed.').waitFor();
  await page.getByRole('button', { name: 'Remove table' }).click();
  await asked.getByRole('button', { name: 'Remove the table Swarm reports' }).click();
  const shelved = page.getByRole('complementary', { name: 'Shelf' }).getByRole('link', { name: 'Swarm reports' });
  await shelved.waitFor({ state: 'detached' });
  // It was asked about once, and nothing more is asked on the way back.
  expect(await page.getByRole('dialog').count()).toBe(0);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await shelved.waitFor();
  expect(await rowOf(house, app, 'SELECT count(*) AS reports FROM swarm_reports')).toEqual({ reports: '5' });
});

test('what two people remove at once is removed once, and neither is asked about it further', async () => {
  const { page: other } = await house.open();
  await signIn(other, demoPeople[0].email, demoPassword);
  for (const each of [page, other]) {
    await visit(each, `/workshop/${app}/queries/unseen_hives`);
    await each.getByRole('button', { name: 'Remove query' }).click();
    await each.getByRole('dialog').getByText('Changes the role Coordinator').waitFor();
  }
  for (const each of [page, other]) {
    await each.getByRole('button', { name: 'Remove the query Hives not seen lately' }).click();
    await each.getByRole('heading', { name: 'Mite-heavy apiaries' }).first().waitFor();
  }
  await other.getByText('Someone else has just removed it.').waitFor();
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await page.getByRole('link', { name: 'Hives not seen lately' }).waitFor();
  await other.context().close();
});

test('the tables are saved as SQL', async () => {
  await page.goto(`/workshop/${app}/versions`);
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save as SQL' }).click()]);
  expect(download.suggestedFilename()).toMatch(/\.sql$/u);
  expect(await readFile(await download.path(), 'utf8')).toContain('CREATE TABLE "quillmoor_honey"."hives" (');
});

test('the design is saved as a file, and another app takes it over; a file that is none is refused in words', async () => {
  await visit(page, `/workshop/${app}/versions`);
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save the design' }).click()]);
  const file = await readFile(await download.path());
  await page.getByLabel('Design file').setInputFiles({ name: 'notes.json', mimeType: 'application/json', buffer: Buffer.from('{"format":8,') });
  await page.getByText('notes.json is not the design of an app.').waitFor();
  await page.getByLabel('Design file').setInputFiles({ name: 'mine.json', mimeType: 'application/json', buffer: file });
  const dialog = page.getByRole('dialog');
  await dialog.getByText('It is the same as what you see now.').waitFor();
  await dialog.getByRole('button', { name: 'Close' }).click();
  const edited = file.toString().replace('"name": "Treatments"', '"name": ""');
  await page.getByLabel('Design file').setInputFiles({ name: 'edited.json', mimeType: 'application/json', buffer: Buffer.from(edited) });
  await dialog.getByText(/tables\.\d+\.name: needs a name/u).waitFor();
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await page.goto('/');
  await page.getByRole('button', { name: 'App', exact: true }).click();
  await dialog.getByRole('textbox', { name: 'Name' }).fill('Second co-operative');
  await dialog.getByRole('button', { name: 'Make the app' }).click();
  await page.getByRole('link', { name: 'Versions of the app' }).click();
  await page.getByLabel('Design file').setInputFiles({ name: 'honey.json', mimeType: 'application/json', buffer: file });
  await dialog.getByText('Adds the table Hives', { exact: true }).waitFor();
  // What everyone could open from then on is told before it is so.
  await dialog.getByText(/^It publishes the form Report a swarm.*: everyone who knows the address can open (?:it|them) without signing in\.$/u).waitFor();
  await dialog.getByText('Adds the form Report a swarm, and publishes it').waitFor();
  await dialog.getByRole('button', { name: 'Use this design' }).click();
  await page.getByRole('row', { name: /Took the design of honey\.json/u }).waitFor();
  await page
    .getByRole('navigation', { name: 'Workline' })
    .getByRole('link', { name: /Tables\s*14$/u })
    .waitFor();
});
