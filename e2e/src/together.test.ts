import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { asBuilder } from '@bibliona/core';
import { demoPassword, demoPeople } from '../../scripts/demo.js';
import { barriersOf, openDemo, rowOf, signIn, visit, type House } from './browser.js';

/** Two people in the demo at once, and a phone. */
let house: House;
let app: string;
let ada: Page;
let bede: Page;
beforeAll(async () => {
  ({ house, app, page: ada } = await openDemo());
  bede = (await house.open()).page;
  await signIn(bede, demoPeople[1].email, demoPassword);
});
afterAll(() => house.close());

describe('two builders', () => {
  test('who change the same field see what the other did, and choose; different fields do not meet', async () => {
    const other = (await house.open()).page;
    await signIn(other, demoPeople[0].email, demoPassword);
    const open = async (page: Page, field: string): Promise<void> => {
      await visit(page, `/workshop/${app}/tables/hives`);
      await page
        .getByRole('complementary', { name: 'Details' })
        .getByRole('link', { name: new RegExp(`^${field}`, 'u') })
        .click();
      await page.getByRole('textbox', { name: 'Help text' }).waitFor();
    };
    const explain = async (page: Page, words: string): Promise<void> => {
      await page.getByRole('textbox', { name: 'Help text' }).fill(words);
      await page.getByRole('button', { name: 'Save', exact: true }).click();
    };
    await open(ada, 'Code');
    await open(other, 'Queen year');
    await explain(ada, 'On the lid');
    await ada.getByRole('button', { name: 'Save', exact: true }).waitFor({ state: 'detached' });
    await explain(other, 'The year of the queen');
    await other.getByRole('button', { name: 'Save', exact: true }).waitFor({ state: 'detached' });
    await open(ada, 'Code');
    await open(other, 'Code');
    await explain(ada, 'Painted on the lid');
    await ada.getByRole('button', { name: 'Save', exact: true }).waitFor({ state: 'detached' });
    await explain(other, 'Burnt into the side');
    const dialog = other.getByRole('dialog', { name: 'Save your version?' });
    await dialog.getByText('Changed Code of Hives (Tamsin Oake)').waitFor();
    await dialog.getByRole('row', { name: 'Help text Painted on the lid Burnt into the side' }).waitFor();
    await dialog.getByRole('button', { name: 'Save mine' }).click();
    await other.getByRole('button', { name: 'Save', exact: true }).waitFor({ state: 'detached' });
    await open(ada, 'Code');
    expect(await ada.getByRole('textbox', { name: 'Help text' }).inputValue()).toBe('Burnt into the side');
    await other.close();
  });
});

describe('what the other saves', () => {
  test('shows in a list, in its count, and in a form that nobody has typed in', async () => {
    const id = 3;
    await visit(ada, `/desk/${app}/apiaries/${id}`);
    await ada.getByRole('textbox', { name: 'Altitude, m' }).waitFor();
    await visit(bede, `/desk/${app}/apiaries/${id}`);
    await bede.getByRole('textbox', { name: 'Altitude, m' }).fill('77');
    await bede.getByRole('button', { name: 'Save', exact: true }).click();
    await bede.getByText(/^Saved/u).waitFor();
    await expect.poll(() => ada.getByRole('textbox', { name: 'Altitude, m' }).inputValue(), { timeout: 2500 }).toBe('77');
    // A list and the menu's count.
    await visit(ada, `/desk/${app}/keepers`);
    await ada.getByRole('gridcell', { name: 'Jorun Vasse' }).first().waitFor();
    const menu = ada.getByRole('link', { name: /^Keepers/u });
    // The menu counts once the list is there.
    await menu.getByText(/^\d+$/u).waitFor();
    const count = Number(/\d+/u.exec(await menu.innerText())?.[0]);
    await visit(bede, `/desk/${app}/keepers/new`);
    await bede.getByRole('textbox', { name: 'Name' }).fill('Aa Newcome');
    await bede.getByRole('button', { name: 'Save', exact: true }).click();
    await bede.getByText(/^Saved/u).waitFor();
    await expect.poll(async () => Number(/\d+/u.exec(await menu.innerText())?.[0]), { timeout: 2500 }).toBe(count + 1);
    // What is saved while one is elsewhere is there on the way back, however soon that is.
    await visit(ada, '/profile');
    await visit(bede, `/desk/${app}/keepers/new`);
    await bede.getByRole('textbox', { name: 'Name' }).fill('Aa Latecome');
    await bede.getByRole('button', { name: 'Save', exact: true }).click();
    await bede.getByText(/^Saved/u).waitFor();
    await ada.goBack();
    await expect.poll(async () => Number(/\d+/u.exec(await menu.innerText())?.[0]), { timeout: 2500 }).toBe(count + 2);
  });

  test('is read again once the server that was away answers', async () => {
    let refused = 0;
    await ada.route('**/live?**', async (route) => {
      refused += 1;
      await (refused > 1 ? route.continue() : route.fulfill({ status: 503, body: '{}' }));
    });
    await visit(ada, `/desk/${app}/apiaries/3`);
    await ada.getByRole('textbox', { name: 'Altitude, m' }).waitFor();
    await expect.poll(() => refused).toBe(1);
    await visit(bede, `/desk/${app}/apiaries/3`);
    await bede.getByRole('textbox', { name: 'Altitude, m' }).fill('78');
    await bede.getByRole('button', { name: 'Save', exact: true }).click();
    await bede.getByText(/^Saved/u).waitFor();
    await expect.poll(() => ada.getByRole('textbox', { name: 'Altitude, m' }).inputValue()).toBe('78');
    await ada.unroute('**/live?**');
  });

  test('takes nothing away from under what is typed', async () => {
    for (const page of [ada, bede]) {
      await visit(page, `/desk/${app}/apiaries/3`);
      await page.getByRole('textbox', { name: 'Altitude, m' }).waitFor();
    }
    await ada.getByRole('textbox', { name: 'Name' }).fill('Typed and not saved');
    await bede.getByRole('textbox', { name: 'Altitude, m' }).fill('88');
    await bede.getByRole('button', { name: 'Save', exact: true }).click();
    await bede.getByText(/^Saved/u).waitFor();
    await ada.getByRole('complementary', { name: 'History' }).getByText('Jorun Vasse').first().waitFor();
    await ada.getByText('Jorun Vasse changed Altitude, m while you were typing.').waitFor();
    expect(await ada.getByRole('textbox', { name: 'Name' }).inputValue()).toBe('Typed and not saved');
    await ada.getByRole('button', { name: 'Discard changes' }).click();
    await ada.getByText('while you were typing').waitFor({ state: 'detached' });
    expect(await ada.getByRole('textbox', { name: 'Altitude, m' }).inputValue()).toBe('88');
    // Where one is only in an input, or types what was there, it comes as soon as the input is left.
    const saves = async (height: string): Promise<void> => {
      await bede.getByRole('textbox', { name: 'Altitude, m' }).fill(height);
      const saved = bede.waitForResponse((answer) => answer.url().endsWith('/save') && answer.ok());
      await bede.getByRole('button', { name: 'Save', exact: true }).click();
      await saved;
    };
    const name = ada.getByRole('textbox', { name: 'Name' });
    const was = await name.inputValue();
    await name.focus();
    const isTold = ada.waitForResponse((answer) => /\/records\/3(?:\?|$)/u.test(answer.url()) && answer.ok());
    await saves('89');
    await isTold;
    await name.fill('Typed');
    await name.fill(was);
    expect(await ada.getByRole('textbox', { name: 'Altitude, m' }).inputValue()).toBe('88');
    await name.blur();
    await expect.poll(() => ada.getByRole('textbox', { name: 'Altitude, m' }).inputValue()).toBe('89');
  });
});

describe('two people talk about a record', () => {
  test('who is told finds it, answers, and both see it without a reload', async () => {
    const comments = (page: Page) => page.getByRole('region', { name: 'Comments' });
    await visit(bede, `/desk/${app}/apiaries/2`);
    await comments(bede).getByRole('textbox', { name: 'New comment' }).waitFor();
    await visit(ada, `/desk/${app}/apiaries/2`);
    const words = comments(ada).getByRole('textbox', { name: 'New comment' });
    await words.fill('The gate is <b>open</b> again.');
    // What is written is there again when one comes back.
    await ada.goto(`/desk/${app}/hives`);
    await ada.getByRole('heading', { name: 'Hives', level: 1 }).waitFor();
    await ada.goBack();
    await expect.poll(() => words.inputValue()).toBe('The gate is <b>open</b> again.');
    const tell = comments(ada).getByRole('combobox', { name: 'Tell by mail' });
    await tell.fill('corin');
    await ada.getByRole('option', { name: 'Corin Tarn' }).click();
    await comments(ada).getByRole('button', { name: 'Add comment' }).click();
    await comments(ada).getByText("Corin Tarn can't see this record.", { exact: false }).waitFor();
    await tell.press('Backspace');
    await tell.fill('jorun');
    await ada.getByRole('option', { name: 'Jorun Vasse' }).click();
    expect(await barriersOf(ada)).toEqual([]);
    await words.press('Control+Enter');
    await comments(ada).getByText('told Jorun Vasse').waitFor();
    expect(await words.inputValue()).toBe('');
    await comments(bede).getByText('The gate is <b>open</b> again.').waitFor();
    const { subject } = await rowOf(house, app, `SELECT subject FROM bibliona.mail WHERE recipient = '${demoPeople[1].email}' AND kind = 'comment'`);
    expect(subject).toMatch(/^Tamsin Oake wrote to you about /u);

    await comments(bede).getByRole('textbox', { name: 'New comment' }).fill('I shut it.');
    await comments(bede).getByRole('button', { name: 'Add comment' }).click();
    await comments(ada).getByText('I shut it.').waitFor();
    // Each changes their own; the builder removes any.
    expect(
      await comments(bede)
        .getByRole('button', { name: /^Change the comment/u })
        .count(),
    ).toBe(1);
    await comments(bede)
      .getByRole('button', { name: /^Change the comment/u })
      .click();
    await comments(bede).getByRole('textbox', { name: 'Comment', exact: true }).fill('I shut it, and tied it.');
    await comments(bede).getByRole('button', { name: 'Save comment' }).click();
    await comments(ada).getByText('I shut it, and tied it.').waitFor();
    await comments(ada)
      .getByRole('button', { name: /^Remove the comment of Jorun Vasse/u })
      .click();
    await ada.getByRole('button', { name: 'Remove comment' }).click();
    await comments(bede).getByText('I shut it, and tied it.').waitFor({ state: 'detached' });
  });
});

describe('two people change the same record', () => {
  test('the second sees both versions field by field, and chooses', async () => {
    for (const page of [ada, bede]) {
      await visit(page, `/desk/${app}/apiaries/1`);
      await page.getByRole('textbox', { name: 'Altitude, m' }).waitFor();
    }
    // Typed in before the other saves: what is not touched yet would show the other's values.
    await ada.getByRole('textbox', { name: 'Altitude, m' }).fill('222');
    await bede.getByRole('textbox', { name: 'Altitude, m' }).fill('111');
    await bede.getByRole('textbox', { name: 'Rent a year' }).fill('50');
    await bede.getByRole('button', { name: 'Save', exact: true }).click();
    await bede.getByText(/^Saved/u).waitFor();
    await ada.getByRole('textbox', { name: 'Name' }).fill('Brackmoor Top');
    await ada.getByRole('button', { name: 'Save', exact: true }).click();
    const dialog = ada.getByRole('dialog');
    await dialog.getByRole('heading', { name: 'Jorun Vasse changed this record at the same time' }).waitFor();
    // Both changed the altitude; only the other changed the rent, only this one the name.
    expect(await dialog.getByRole('radio', { name: 'Altitude, m: yours, 222' }).isChecked()).toBe(true);
    expect(await dialog.getByRole('radio', { name: 'Rent a year: theirs, £50.00' }).isChecked()).toBe(true);
    expect(await dialog.getByRole('radio', { name: 'Name: yours, Brackmoor Top' }).isChecked()).toBe(true);
    await dialog.getByRole('radio', { name: 'Altitude, m: theirs, 111' }).click();
    await dialog.getByRole('button', { name: 'Save this choice' }).click();
    await ada.getByRole('heading', { name: 'Brackmoor Top', level: 1 }).waitFor();
    await ada.reload();
    expect(await ada.getByRole('textbox', { name: 'Altitude, m' }).inputValue()).toBe('111');
    expect(await ada.getByRole('textbox', { name: 'Rent a year' }).inputValue()).toBe('50.00');
    const history = ada.getByRole('complementary', { name: 'History' });
    await history.getByText('Brackmoor Top').waitFor();
    await history.getByText('Jorun Vasse').waitFor();
  });

  test('a record removed by the other cannot be saved, and nothing typed is lost', async () => {
    await visit(ada, `/desk/${app}/frames/1`);
    await ada.getByRole('textbox', { name: 'Note' }).fill('worth keeping');
    await visit(bede, `/desk/${app}/frames/1`);
    await bede.getByRole('button', { name: 'Remove this record' }).click();
    await bede.getByRole('button', { name: 'Remove 1 record' }).click();
    await bede.getByRole('heading', { name: 'Frames', level: 1 }).waitFor();
    await ada.getByText('Someone removed this record').waitFor();
    await ada.getByRole('button', { name: 'Save', exact: true }).click();
    await ada.getByRole('heading', { name: 'This record is no longer available' }).waitFor();
    await ada.getByRole('button', { name: 'Back to the form' }).click();
    expect(await ada.getByRole('textbox', { name: 'Note' }).inputValue()).toBe('worth keeping');
    await ada.getByRole('button', { name: 'Discard changes' }).click();
  });

  test('a record removed by the other is gone where it is open and in the own menu, and comes back with the undo', async () => {
    await visit(ada, `/desk/${app}/hives/4`);
    await ada.getByRole('button', { name: 'Add to my menu' }).click();
    const own = ada.getByRole('navigation').getByRole('link', { name: /^H-004/u });
    await own.waitFor();
    await visit(bede, `/desk/${app}/hives/4`);
    await bede.getByRole('button', { name: 'Remove this record' }).click();
    await bede.getByRole('button', { name: /^Remove it/u }).click();
    await ada.getByRole('heading', { name: 'H-004 is no longer here' }).waitFor();
    await own.waitFor({ state: 'detached' });
    expect(await barriersOf(ada)).toEqual([]);
    await bede.getByRole('button', { name: 'Restore' }).click();
    await bede.getByRole('dialog').getByRole('button', { name: 'Restore' }).click();
    await ada.getByRole('textbox', { name: 'Code' }).waitFor();
    await own.waitFor();
  });
});

describe('undoing', () => {
  const dialog = (of: Page) => of.getByRole('dialog');

  test('a record that was removed by mistake comes back with what went with it', async () => {
    await visit(ada, `/desk/${app}/hives/2`);
    const inspections = ada.getByRole('group', { name: 'Inspections' });
    await inspections.waitFor();
    const rows = await inspections.getByRole('button', { name: /^Remove row/u }).count();
    expect(rows).toBeGreaterThan(0);
    await ada.getByRole('button', { name: 'Remove this record' }).click();
    await ada.getByRole('button', { name: /^Remove it and .*\d Inspections/u }).click();
    await ada.getByText('H-002 was removed.').waitFor();
    await ada.getByRole('button', { name: 'Restore' }).click();
    await dialog(ada).getByText('H-002', { exact: true }).waitFor();
    await dialog(ada).getByRole('button', { name: 'Restore' }).click();
    await ada.getByText('H-002 was removed.').waitFor({ state: 'detached' });
    await visit(ada, `/desk/${app}/hives/2`);
    await expect.poll(() => inspections.getByRole('button', { name: /^Remove row/u }).count()).toBe(rows);
    await ada.getByRole('complementary', { name: 'History' }).getByText('restored it').waitFor();
  });

  test('what was removed some time ago is found beside its list', async () => {
    await visit(bede, `/desk/${app}/frames`);
    await bede.getByRole('link', { name: 'Removed from Frames' }).click();
    await bede.getByRole('heading', { name: 'Removed from Frames' }).waitFor();
    expect(await barriersOf(bede)).toEqual([]);
    await bede.getByRole('button', { name: /^Restore/u }).click();
    await dialog(bede).getByText('comes back').waitFor();
    expect(await barriersOf(bede)).toEqual([]);
    await bede.keyboard.press('Enter');
    await bede.getByText(/is back\.$/u).waitFor();
    await bede.getByText('No removed records').waitFor();
    await bede.getByRole('link', { name: 'Open it' }).click();
    await bede.getByRole('textbox', { name: 'Note' }).waitFor();
  });

  test('a change is undone from the history, as long as nobody has written over it', async () => {
    const rent = bede.getByRole('textbox', { name: 'Rent a year' });
    await visit(bede, `/desk/${app}/apiaries/2`);
    const before = await rent.inputValue();
    const write = async (text: string): Promise<void> => {
      await rent.fill(text);
      await bede.getByRole('button', { name: 'Save', exact: true }).click();
      await bede.getByText(/^Saved/u).waitFor();
    };
    await write('71');
    await write('72');
    const history = bede.getByRole('complementary', { name: 'History' });
    await expect.poll(() => history.getByRole('button', { name: /^Undo what/u }).count()).toBe(2);
    await history
      .getByRole('button', { name: /^Undo what/u })
      .last()
      .click();
    await dialog(bede).getByText('has been changed since. Nothing was undone.').waitFor();
    await dialog(bede).getByRole('button', { name: 'Close' }).click();
    for (const left of ['71.00', before]) {
      await history
        .getByRole('button', { name: /^Undo what/u })
        .nth(left === before ? 2 : 0)
        .click();
      await dialog(bede).getByRole('button', { name: 'Undo save' }).click();
      await expect.poll(() => rent.inputValue()).toBe(left);
    }
  });
});

test('a member works at the Desk and never reaches the Workshop', async () => {
  await visit(bede, `/workshop/${app}/tables`);
  await bede.getByRole('navigation', { name: 'Lists' }).waitFor();
  expect(bede.url()).toContain('/desk/');
  expect(await bede.getByRole('link', { name: 'Workshop' }).count()).toBe(0);
});

test('a cell that somebody else changed while it was open is not written over', async () => {
  const cellOf = (page: Page, code: string) => page.getByRole('gridcell', { name: code, exact: true });
  const { id = '', code = '' } = await rowOf(house, app, 'SELECT id, code FROM hives ORDER BY id OFFSET 7 LIMIT 1');
  const other = await ada.context().newPage();
  for (const page of [ada, other]) {
    await visit(page, `/desk/${app}/hives`);
    await cellOf(page, code).waitFor();
  }
  await cellOf(other, code).dblclick();
  await other.getByRole('textbox', { name: 'Code' }).waitFor();
  await cellOf(ada, code).click();
  await ada.keyboard.type('H-711');
  await ada.keyboard.press('Enter');
  // The other tab hears of it while its cell is open.
  await other.getByRole('gridcell', { name: 'Open H-711' }).waitFor();
  await other.keyboard.type('H-722');
  await other.keyboard.press('Enter');
  await other.getByText(`Code of record ${id} was not saved`).waitFor();
  await other.getByText('It now says “H-711”').waitFor();
  expect((await rowOf(house, app, `SELECT code FROM hives WHERE id = ${id}`))['code']).toBe('H-711');
  // Entered once more, it is meant.
  await other.getByRole('button', { name: 'Enter it again' }).click();
  await other.keyboard.press('Enter');
  await expect.poll(async () => (await rowOf(house, app, `SELECT code FROM hives WHERE id = ${id}`))['code']).toBe('H-722');
  await other.close();
});

describe('on a phone', () => {
  test('lists, menu and form fit 390 pixels and save', async () => {
    const { page } = await house.open({ width: 390, height: 844 });
    await signIn(page, demoPeople[1].email, demoPassword);
    await visit(page, `/desk/${app}/hives`);
    await page.getByRole('link', { name: /^H-001/u }).waitFor();
    const fits = (): Promise<boolean> => page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth);
    expect(await fits()).toBe(true);
    await page.getByRole('link', { name: /^H-001/u }).click();
    await page.getByRole('textbox', { name: 'Queen year' }).fill('2026');
    expect(await fits()).toBe(true);
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByRole('button', { name: 'Menu', exact: true }).click();
    await page
      .getByRole('navigation', { name: 'Lists' })
      .getByRole('link', { name: /^Keepers/u })
      .click();
    await page.getByRole('heading', { name: 'Keepers', level: 1 }).waitFor();
    await page.context().close();
  });
});

test('a design that someone else has changed is not overwritten', async () => {
  await visit(ada, `/workshop/${app}/tables/hives`);
  await ada.getByRole('heading', { name: 'Hives', level: 2 }).waitFor();
  const other = asBuilder({ id: 2, name: 'Jorun Vasse', mail: 'builder@quillmoor.example' });
  const open = await house.server.apps.open(app, other);
  await house.server.apps.change(app, other, open.version, [{ kind: 'change_table', table: 'hives', description: 'A box.' }], false);
  const details = ada.getByRole('complementary', { name: 'Details' });
  await details.getByRole('tab', { name: 'Settings' }).click();
  await details.getByRole('textbox', { name: 'What one record is' }).fill('A colony.');
  await details.getByRole('button', { name: 'Save settings' }).click();
  const dialog = ada.getByRole('dialog', { name: 'Save your version?' });
  await dialog.getByText('Changed Hives (Jorun Vasse)').waitFor();
  await dialog.getByRole('button', { name: 'Keep theirs' }).click();
  expect((await house.server.apps.open(app, other)).version).toBe(open.version + 1);
});

test('nothing was complained of on the way', () => expect(house.faults).toEqual([]));
