import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { openWebsite } from '../../scripts/website.js';
import { barriersOf, choose, openDemo, rowOf, saveDraft, visit, type House } from './browser.js';

/** Forms that anyone can fill in: made by the builder, filled in by visitors, also within a page of another site. */
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

test('a builder makes a form public, and a visitor sends it from a phone', async () => {
  await visit(page, `/workshop/${app}/screens`);
  await page.getByRole('complementary', { name: 'Shelf' }).getByRole('link', { name: 'Form', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'A new form' });
  await choose(dialog, 'Of the table', 'Shops');
  await dialog.getByLabel('The record alone').check();
  await dialog.getByLabel('Name').fill('Sell our honey');
  await dialog.getByRole('button', { name: 'Make the form' }).click();
  await page.getByRole('heading', { name: 'Sell our honey', level: 1 }).waitFor();
  await details().getByRole('checkbox', { name: 'Anyone can fill it in' }).check();
  await choose(details(), 'Adds records as the role', 'Visitors of Sell our honey');
  expect(await barriersOf(page)).toEqual([]);
  const sheet = page.getByRole('group', { name: 'Form', exact: true });
  await sheet.getByRole('group', { name: /^Field Web page/u }).click();
  await details().getByRole('textbox', { name: 'Filled with' }).click();
  await page.keyboard.insertText('if Town = null then null else "https://" + lower case(Town) + ".example"');
  await saveDraft(page, 'form');
  await page.reload();
  const address = await details().getByRole('textbox', { name: 'Address' }).inputValue();
  const { page: visitor } = await house.open({ width: 390, height: 844 });
  await visitor.goto(address);
  await visitor.getByRole('heading', { name: 'Sell our honey' }).waitFor();
  expect(await barriersOf(visitor)).toEqual([]);
  expect(await visitor.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
  await visitor.getByRole('button', { name: 'Send' }).click();
  await visitor.getByText('Name is required').waitFor();
  await visitor.getByLabel('Name').fill('The Corner Larder');
  await visitor.getByLabel('Town').fill('Dunlin');
  await expect.poll(() => visitor.getByRole('textbox', { name: 'Web page' }).inputValue()).toBe('https://dunlin.example');
  await visitor.getByLabel('Mail', { exact: true }).fill('larder');
  await visitor.getByRole('button', { name: 'Send' }).click();
  await visitor.getByText('is not a mail address', { exact: false }).waitFor();
  await visitor.getByLabel('Mail', { exact: true }).fill('larder@corner.example');
  await visitor.getByRole('button', { name: 'Send' }).click();
  await visitor.getByRole('heading', { name: 'Sent' }).waitFor();
  expect(await barriersOf(visitor)).toEqual([]);
  expect(await sql(`SELECT name, town, created_by FROM shops WHERE mail = 'larder@corner.example'`)).toEqual({
    name: 'The Corner Larder',
    town: 'Dunlin',
    created_by: '0',
  });
  // Each is a record of its own.
  await visitor.getByRole('button', { name: 'Fill in another' }).click();
  await visitor.getByLabel('Name').waitFor();
  expect(await visitor.getByLabel('Name').inputValue()).toBe('');
  await visitor.context().close();
  await page.reload();
  await details().getByText('1 record was sent with it so far.').waitFor();
});

test('what visitors can’t fill in is left out and said, and what nobody could send is told to the builder', async () => {
  await visit(page, `/workshop/${app}/screens/swarms_form`);
  await details().getByRole('checkbox', { name: 'Anyone can fill it in' }).check();
  await details().getByText('Visitors are not asked for', { exact: false }).waitFor();
  await choose(details(), 'Adds records as the role', 'Lab');
  await details().getByText("The role Lab can't add records to Swarm reports.").waitFor();
  await details().getByRole('textbox', { name: 'Question that keeps programs out' }).fill('What do bees make?');
  await details().getByText('Enter at least one answer.').waitFor();
  await details().getByRole('textbox', { name: 'Websites that can show it' }).fill('quillmoor');
  await details().getByText('must be the address of a site', { exact: false }).waitFor();
  await page.getByRole('button', { name: 'Discard changes' }).click();
});

describe('within a page of another site', () => {
  test('a form is as high as what it shows, and is sent from there, where the builder has named the site', async () => {
    const site = await openWebsite(`${house.server.address}/public/${app}/swarm_public`);
    try {
      await visit(page, `/workshop/${app}/screens/swarm_public`);
      const sites = details().getByRole('textbox', { name: 'Websites that can show it' });
      await sites.press('Control+End');
      await sites.pressSequentially(`\n${site.address}`);
      await saveDraft(page, 'form');
      const { page: visitor } = await house.open();
      await visitor.goto(site.address);
      const place = visitor.locator('bibliona-form iframe');
      const form = visitor.frameLocator('bibliona-form iframe');
      await form.getByRole('heading', { name: 'Report a swarm' }).waitFor();
      const height = (): Promise<number> => place.evaluate((frame) => frame.getBoundingClientRect().height);
      const inside = (): Promise<number> => form.locator('body').evaluate((body) => body.getBoundingClientRect().height);
      await form.getByRole('button', { name: 'Send' }).waitFor();
      await expect.poll(height).toBeGreaterThan(500);
      await expect.poll(async () => (await height()) - (await inside())).toBeLessThan(2);
      const full = await height();
      await form.getByLabel('Place').fill('Behind the chapel');
      const high = form.getByRole('combobox', { name: 'How high' });
      await high.press('Enter');
      await form.getByRole('option', { name: 'Needs a ladder' }).press('Enter');
      await expect.poll(() => high.textContent()).toBe('Needs a ladder');
      await form.getByLabel('What do bees make?').fill('wax');
      await form.getByRole('button', { name: 'Send' }).click();
      await form.getByText('Thank you. We call you before we set out.').waitFor();
      await expect.poll(height).toBeLessThan(full - 200);
      expect(await sql(`SELECT count(*) AS n FROM swarm_reports WHERE place = 'Behind the chapel'`)).toEqual({ n: '1' });
      await visitor.context().close();
    } finally {
      await site.close();
    }
  });

  test('a form is not shown where the builder has not', async () => {
    const site = await openWebsite(`${house.server.address}/public/${app}/swarm_public`);
    try {
      const { page: visitor } = await house.open();
      await visitor.goto(site.address);
      const refused = new Promise<void>((resolve) => {
        visitor.on('console', (message) => {
          if (message.text().includes('frame-ancestors')) resolve();
        });
      });
      await visitor.reload();
      await refused;
      expect(await visitor.frameLocator('bibliona-form iframe').getByRole('heading').count()).toBe(0);
      await visitor.context().close();
    } finally {
      await site.close();
      // The browser complains of it, as it should.
      house.faults.splice(0);
    }
  });
});
