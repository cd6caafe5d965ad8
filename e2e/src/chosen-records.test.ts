import { readFile } from 'node:fs/promises';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { demoPassword, demoPeople } from '../../scripts/demo.js';
import { barriersOf, choose, openDemo, rowOf, signIn, visit, type House } from './browser.js';

/** Several records of a list are chosen, and something is done with all of them at once. */
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

describe('a list', () => {
  test('changes, moves and removes records that were chosen in it, each in one save that can be undone', async () => {
    const before = await sql(`SELECT string_agg(concat(id, ' ', queen_year), ', ' ORDER BY id) AS years FROM hives`);
    await visit(page, `/desk/${app}/hives`);
    await page.getByRole('checkbox', { name: 'Choose record 2', exact: true }).check();
    await page.getByRole('checkbox', { name: 'Choose record 5', exact: true }).click({ modifiers: ['Shift'] });
    const bar = page.getByRole('group', { name: 'Chosen records' });
    await bar.getByText('4 records chosen').waitFor();
    expect(await barriersOf(page)).toEqual([]);
    await bar.getByRole('button', { name: 'Set a field' }).click();
    const dialog = page.getByRole('dialog', { name: 'Set a field' });
    await choose(dialog, 'Field', 'Queen year');
    await dialog.getByRole('textbox', { name: 'Queen year' }).fill('soon');
    await dialog.getByRole('button', { name: 'Set it in 4 records' }).click();
    await dialog.getByText(/number/u).waitFor();
    await dialog.getByRole('textbox', { name: 'Queen year' }).fill('2019');
    await dialog.getByRole('button', { name: 'Set it in 4 records' }).click();
    await page.getByText('Queen year was set in 4 records.').waitFor();
    // The list shows it too.
    await expect.poll(() => page.getByRole('gridcell', { name: '2019', exact: true }).count()).toBe(4);
    expect(await sql('SELECT count(*) AS n FROM hives WHERE queen_year = 2019')).toEqual({ n: '4' });
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await page.getByRole('button', { name: 'Undo save' }).click();
    await page.getByText('Queen year was set in 4 records.').waitFor({ state: 'detached' });
    expect(await sql(`SELECT string_agg(concat(id, ' ', queen_year), ', ' ORDER BY id) AS years FROM hives`)).toEqual(before);

    // All of them, and none; also those that were never in sight.
    const all = page.getByRole('checkbox', { name: 'Choose all records' });
    await all.click();
    await bar.getByText('20 records chosen').waitFor();
    expect(await bar.getByRole('button', { name: /^Choose all/u }).count()).toBe(0);
    // Those of another filter stay chosen, and are not all of what is listed then.
    await page
      .getByRole('complementary', { name: 'Quick filters' })
      .getByRole('button', { name: /^National/u })
      .click();
    await page.getByText('15 found').waitFor();
    await bar.getByText('20 records chosen').waitFor();
    await expect.poll(() => all.isChecked()).toBe(false);
    await page.getByRole('button', { name: 'Show all' }).click();
    await page.getByRole('gridcell', { name: 'Langstroth' }).first().waitFor();
    await all.click();
    await expect.poll(() => all.isChecked()).toBe(true);
    await all.click();
    await bar.waitFor({ state: 'detached' });
    await visit(page, `/desk/${app}/inspections`);
    await page.getByRole('checkbox', { name: 'Choose record 1', exact: true }).check();
    await bar.getByText('1 record chosen').waitFor();
    expect(await all.evaluate((box: HTMLInputElement) => box.indeterminate)).toBe(true);
    await bar.getByRole('button', { name: 'Choose all 120' }).click();
    await bar.getByText('120 records chosen').waitFor();
    expect(await barriersOf(page)).toEqual([]);
    await bar.getByRole('button', { name: 'Remove' }).click();
    await page.getByRole('button', { name: 'Remove 120 records' }).click();
    await page.getByText('120 records were removed.').waitFor();
    expect(await sql('SELECT count(*) AS n FROM inspections')).toEqual({ n: '0' });
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await page.getByRole('button', { name: 'Undo save' }).click();
    await page.getByText('120 records were removed.').waitFor({ state: 'detached' });
    expect(await sql('SELECT count(*) AS n FROM inspections')).toEqual({ n: '120' });

    // Someone else removes one of the chosen records: the others are removed, and the list says so.
    for (const id of [1, 2, 3]) await page.getByRole('checkbox', { name: `Choose record ${id}`, exact: true }).check();
    const other = await page.context().newPage();
    await visit(other, `/desk/${app}/inspections/2`);
    await other.getByRole('button', { name: 'Remove this record' }).click();
    await other
      .getByRole('dialog')
      .getByRole('button', { name: /^Remove/u })
      .click();
    await other.getByText('was removed', { exact: false }).waitFor();
    await other.close();
    await bar.getByText('3 records chosen').waitFor();
    await bar.getByRole('button', { name: 'Remove' }).click();
    await page.getByRole('button', { name: 'Remove 3 records' }).click();
    await page.getByText('2 records were removed. 1 record could no longer be found.').waitFor();
    expect(await sql('SELECT count(*) AS n FROM inspections')).toEqual({ n: '117' });
    await visit(page, `/desk/${app}/hives`);

    // By keys: the space bar on a record chooses it.
    await page.getByRole('link', { name: 'Open H-001' }).focus();
    await page.keyboard.press(' ');
    await bar.getByText('1 record chosen').waitFor();
    await bar.getByRole('button', { name: 'Choose none' }).click();
    await bar.waitFor({ state: 'detached' });

    // Of several records that cannot all be removed, none is, and the one is named.
    await visit(page, `/desk/${app}/apiaries`);
    await page.getByRole('checkbox', { name: 'Choose record 1', exact: true }).check();
    await bar.getByRole('button', { name: 'Remove' }).click();
    await page.getByRole('button', { name: 'Remove 1 record' }).click();
    await bar.getByText('Nothing was changed.').waitFor();
    expect((await sql('SELECT count(*) AS n FROM apiaries'))['n']).toBe('6');

    await visit(page, `/desk/${app}/lots`);
    await page.getByRole('checkbox', { name: 'Choose record 1', exact: true }).check();
    await page.getByRole('checkbox', { name: 'Choose record 2', exact: true }).check();
    await bar.getByRole('button', { name: 'Move on' }).click();
    const move = page.getByRole('dialog', { name: 'Move on' });
    await choose(move, 'Move', 'Recall');
    await move.getByRole('button', { name: 'Recall' }).click();
    await page.getByText('Recall: done with 2 records.').waitFor();
    expect((await sql(`SELECT count(*) AS n FROM lots WHERE id IN (1, 2) AND status = 'on_hold'`))['n']).toBe('2');
  });

  test('on a phone does the same with records that were chosen in it', async () => {
    const { page: phone, context } = await house.open({ width: 390, height: 844 });
    await signIn(phone, demoPeople[0].email, demoPassword);
    await visit(phone, `/desk/${app}/hives`);
    await phone.getByRole('checkbox', { name: 'Choose H-001', exact: true }).click();
    await phone.getByRole('checkbox', { name: 'Choose H-004', exact: true }).click();
    const chosen = phone.getByRole('group', { name: 'Chosen records' });
    await chosen.getByText('2 records chosen').waitFor();
    expect(await barriersOf(phone)).toEqual([]);
    await chosen.getByRole('button', { name: 'Set a field' }).click();
    const dialog = phone.getByRole('dialog', { name: 'Set a field' });
    await choose(dialog, 'Field', 'Queen year');
    await dialog.getByRole('textbox', { name: 'Queen year' }).fill('2018');
    await dialog.getByRole('button', { name: 'Set it in 2 records' }).click();
    await phone.getByText('Queen year was set in 2 records.').waitFor();
    expect(await sql(`SELECT string_agg(code, ' ' ORDER BY code) AS codes FROM hives WHERE queen_year = 2018`)).toEqual({ codes: 'H-001 H-004' });
    await phone.getByRole('button', { name: 'Undo', exact: true }).click();
    await phone.getByRole('button', { name: 'Undo save' }).click();
    await phone.getByText('Queen year was set in 2 records.').waitFor({ state: 'detached' });
    // All of them, also those that are not shown yet.
    await visit(phone, `/desk/${app}/inspections`);
    await phone
      .getByRole('checkbox', { name: /^Choose /u })
      .first()
      .click();
    await chosen.getByRole('button', { name: /^Choose all/u }).click();
    await chosen.getByText(/^1\d\d records chosen$/u).waitFor();
    await context.close();
  });

  test('duplicates records that were chosen in it, unless each needs a value of its own, and takes that back', async () => {
    await visit(page, `/desk/${app}/hive_treatments`);
    const count = async (): Promise<number> => Number((await sql('SELECT count(*) AS n FROM hive_treatments'))['n']);
    const before = await count();
    await page.getByRole('checkbox', { name: 'Choose record 1', exact: true }).click();
    await page.getByRole('checkbox', { name: 'Choose record 2', exact: true }).click();
    const chosen = page.getByRole('group', { name: 'Chosen records' });
    await chosen.getByRole('button', { name: 'Duplicate' }).click();
    await page.getByRole('dialog').getByRole('button', { name: 'Duplicate 2 records' }).click();
    await page.getByText('2 records were duplicated.').waitFor();
    expect(await count()).toBe(before + 2);
    const same = await sql(
      `SELECT count(*) AS n FROM hive_treatments one JOIN hive_treatments two ON two.id > ${before} AND two.hive = one.hive AND two.treatment = one.treatment AND two.date = one.date WHERE one.id IN (1, 2)`,
    );
    expect(same).toEqual({ n: '2' });
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await page.getByRole('dialog').getByRole('button', { name: 'Undo save' }).click();
    await expect.poll(count).toBe(before);
    await visit(page, `/desk/${app}/hives`);
    await page.getByRole('row', { name: /H-001/u }).getByRole('checkbox').click();
    await chosen.getByRole('button', { name: 'Set a field' }).waitFor();
    expect(await chosen.getByRole('button', { name: 'Duplicate' }).count()).toBe(0);
  });

  test('of cards has records chosen in it, one by one, in a row with Shift, and all of them', async () => {
    await visit(page, `/desk/${app}/apiaries?list=apiary_cards`);
    const boxes = page.getByRole('list', { name: 'Apiaries at a glance' }).getByRole('checkbox', { name: /^Choose /u });
    const bar = page.getByRole('group', { name: 'Chosen records' });
    const { n } = await sql('SELECT count(*) AS n FROM apiaries');
    await boxes.nth(1).click();
    await bar.getByText('1 record chosen').waitFor();
    await boxes.nth(3).click({ modifiers: ['Shift'] });
    await bar.getByText('3 records chosen').waitFor();
    expect(await Promise.all([0, 1, 2, 3, 4].map((i) => boxes.nth(i).isChecked()))).toEqual([false, true, true, true, false]);
    expect(await barriersOf(page)).toEqual([]);
    await bar.getByRole('button', { name: `Choose all ${n ?? ''}` }).click();
    await bar.getByText(`${n ?? ''} records chosen`).waitFor();
    await bar.getByRole('button', { name: 'Choose none' }).click();
    await bar.waitFor({ state: 'detached' });
    // A field is set for those that are chosen, shown on their cards, and undone.
    const high = async () => (await sql('SELECT count(*) AS n FROM apiaries WHERE altitude_m = 999'))['n'];
    await boxes.nth(0).click();
    await bar.getByRole('button', { name: 'Set a field' }).click();
    const dialog = page.getByRole('dialog', { name: 'Set a field' });
    await choose(dialog, 'Field', 'Altitude');
    await dialog.getByRole('textbox', { name: 'Altitude' }).fill('999');
    await dialog.getByRole('button', { name: 'Set it in 1 record' }).click();
    await page.getByText('Altitude, m was set in 1 record.').waitFor();
    await page.getByRole('article').filter({ hasText: '999' }).waitFor();
    expect(await high()).toBe('1');
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await page.getByRole('button', { name: 'Undo save' }).click();
    await expect.poll(high).toBe('0');
    await page.getByRole('article').filter({ hasText: '999' }).waitFor({ state: 'detached' });
  });

  test('on a board has records of several columns chosen, and all of them', async () => {
    await visit(page, `/desk/${app}/lots?list=lots_board`);
    const bar = page.getByRole('group', { name: 'Chosen records' });
    const columns = page
      .getByRole('main')
      .getByRole('region')
      .filter({ has: page.getByRole('checkbox') });
    await columns.nth(1).waitFor();
    await columns.nth(0).getByRole('checkbox').first().click();
    await columns.nth(1).getByRole('checkbox').first().click();
    await bar.getByText('2 records chosen').waitFor();
    expect(await barriersOf(page)).toEqual([]);
    // Choosing one neither opens nor moves it.
    expect(page.url()).toContain('list=lots_board');
    const honey = async () => (await sql(`SELECT string_agg(honey, ' ' ORDER BY id) AS all FROM lots`))['all'];
    const before = await honey();
    await bar.getByRole('button', { name: 'Set a field' }).click();
    const dialog = page.getByRole('dialog', { name: 'Set a field' });
    await choose(dialog, 'Field', 'Honey');
    await choose(dialog, 'Honey', 'Cut comb');
    await dialog.getByRole('button', { name: 'Set it in 2 records' }).click();
    await page.getByText('Honey was set in 2 records.').waitFor();
    expect(await honey()).not.toBe(before);
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await page.getByRole('button', { name: 'Undo save' }).click();
    await expect.poll(honey).toBe(before);
    const { n = '' } = await sql('SELECT count(*) AS n FROM lots');
    await columns.nth(0).getByRole('checkbox').first().click();
    await bar.getByRole('button', { name: `Choose all ${n}` }).click();
    await bar.getByText(`${n} records chosen`).waitFor();
    for (const box of await columns.nth(1).getByRole('checkbox').all()) expect(await box.isChecked()).toBe(true);
  });

  test('in groups has records of several of them chosen, also of those that are folded', async () => {
    await visit(page, `/desk/${app}/hives?by=hives_apiaries_ref`);
    const bar = page.getByRole('group', { name: 'Chosen records' });
    for (const name of ['Brackmoor', 'Sallowmoor']) {
      const head = page.getByRole('row', { name: new RegExp(`^${name} `, 'u') });
      await head.getByRole('button').click();
    }
    const { first, second } = await sql(
      `SELECT min(h.id) FILTER (WHERE a.name = 'Brackmoor') AS first, min(h.id) FILTER (WHERE a.name = 'Sallowmoor') AS second FROM hives AS h JOIN apiaries AS a ON a.id = h.apiary`,
    );
    await page.getByRole('checkbox', { name: `Choose record ${first ?? ''}`, exact: true }).click();
    await page.getByRole('checkbox', { name: `Choose record ${second ?? ''}`, exact: true }).click({ modifiers: ['Shift'] });
    await bar.getByText('2 records chosen').waitFor();
    expect(await barriersOf(page)).toEqual([]);
    await page.getByRole('checkbox', { name: 'Choose all records' }).click();
    await bar.getByText('20 records chosen').waitFor();
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      bar
        .getByRole('button', { name: 'Export' })
        .click()
        .then(() => page.getByRole('menuitem', { name: 'CSV, plain text' }).click()),
    ]);
    expect((await readFile(await file.path(), 'utf8')).trim().split('\r\n')).toHaveLength(21);
    await page.getByRole('checkbox', { name: 'Choose all records' }).click();
    await bar.waitFor({ state: 'detached' });
  });
});
