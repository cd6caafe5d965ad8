import pg from 'pg';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { demoPassword, demoPeople } from '../../scripts/demo.js';
import { signIn } from '../../scripts/sign-in.js';
import { barriersOf, mailedLink, openDemo, visit, type House } from './browser.js';

/** What people do with their own accounts, and an administrator with the server. */
let house: House;
let app: string;
let builder: Page;
beforeAll(async () => ({ house, app, page: builder } = await openDemo()));
afterAll(() => house.close());

const coordinator = demoPeople[1];
const keeper = demoPeople[2];
const other = async (email: string, password: string): Promise<Page> => {
  const { page } = await house.open();
  await signIn(page, email, password);
  return page;
};
const endSessionsOf = async (email: string): Promise<void> => {
  const client = new pg.Client({ connectionString: house.url });
  await client.connect();
  await client.query('DELETE FROM bibliona.session WHERE person_id = (SELECT id FROM bibliona.person WHERE email = $1)', [email]);
  await client.end();
  // Each process remembers who asks for two seconds.
  await new Promise((resolve) => setTimeout(resolve, 2100));
};

describe('a session that ends while a form is open', () => {
  test('is started again on the spot, and what was typed is saved', async () => {
    const page = await other(coordinator.email, demoPassword);
    await visit(page, `/desk/${app}/apiaries/1`);
    await page.getByRole('textbox', { name: 'Altitude, m' }).fill('321');
    await endSessionsOf(coordinator.email);
    const save = page.getByRole('button', { name: 'Save', exact: true });
    // Something that the page asks by itself can meet the end of the session before the press does.
    const isPressed = await save.click({ timeout: 5000 }).then(
      () => true,
      () => false,
    );
    const dialog = page.getByRole('dialog', { name: 'Sign in again' });
    await dialog.getByLabel('Password').fill('not the password');
    await dialog.getByRole('button', { name: 'Sign in' }).click();
    await dialog.getByText('The mail address or the password is wrong.').waitFor();
    await dialog.getByLabel('Password').fill(demoPassword);
    await dialog.getByRole('button', { name: 'Sign in' }).click();
    if (!isPressed) await save.click();
    await page.getByText(/^Saved/u).waitFor();
    await page.reload();
    expect(await page.getByRole('textbox', { name: 'Altitude, m' }).inputValue()).toBe('321');
    await page.context().close();
  });
});

describe('the profile', () => {
  test('changes the name and the password, and ends other sessions', async () => {
    const phone = await other(keeper.email, demoPassword);
    const page = await other(keeper.email, demoPassword);
    await page.getByRole('button', { name: /profile, theme/u }).click();
    await page.getByRole('menuitem', { name: 'Profile' }).click();
    await page.getByRole('heading', { name: 'Profile', level: 1 }).waitFor();
    expect(await barriersOf(page)).toEqual([]);
    await page.getByLabel('Your name').fill('Wystan Quill-Marsh');
    await page.getByRole('button', { name: 'Save name' }).click();
    await page.getByText('Your name is saved.').waitFor();
    await page.getByRole('button', { name: /^Wystan Quill-Marsh: profile/u }).waitFor();
    await page.getByLabel('Current password').fill('wrong password');
    await page.getByLabel('New password').fill('another-honey-word');
    await page.getByRole('button', { name: 'Change password' }).click();
    await page.getByText('is wrong', { exact: true }).waitFor();
    await page.getByLabel('Current password').fill(demoPassword);
    await page.getByRole('button', { name: 'Change password' }).click();
    await page.getByText('Your password is changed.', { exact: false }).waitFor();
    await page.getByText('this browser').waitFor();
    expect(await page.getByRole('button', { name: /^Sign out Chrome/u }).count()).toBe(0);
    // A page that is opened in the other browser asks to sign in.
    await visit(phone, '/profile');
    await phone.getByLabel('Mail address').waitFor();
    const again = await other(keeper.email, 'another-honey-word');
    await page.reload();
    await page.getByRole('button', { name: /^Sign out Chrome/u }).click();
    await page.getByRole('button', { name: /^Sign out Chrome/u }).waitFor({ state: 'detached' });
    await visit(again, '/profile');
    await again.getByLabel('Mail address').waitFor();
    for (const each of [phone, page, again]) await each.context().close();
  });
});

describe('a forgotten password', () => {
  test('is set again by a mailed link', async () => {
    const { page } = await house.open();
    await page.goto('/sign-in');
    await page.getByRole('link', { name: 'Forgot your password?' }).click();
    await page.getByRole('button', { name: 'Send the link' }).click();
    await page.getByText('Enter your mail address').waitFor();
    await page.getByLabel('Mail address').fill(coordinator.email);
    await page.getByRole('button', { name: 'Send the link' }).click();
    await page.getByText(`If ${coordinator.email} has an account`, { exact: false }).waitFor();
    expect(await barriersOf(page)).toEqual([]);
    const link = await mailedLink(house, coordinator.email);
    await page.goto(link);
    await page.getByLabel('New password').fill('a fresh honey word');
    await page.getByRole('button', { name: 'Set the password' }).click();
    await page.getByRole('heading', { name: 'My apps' }).waitFor();
    await page.goto(link);
    await page.getByText('This link has been used or is too old.', { exact: false }).waitFor();
    // A link that lost its end on the way counts as an old one.
    await page.goto(link.slice(0, -30));
    await page.getByText('This link has been used or is too old.', { exact: false }).waitFor();
    await page.goto('/join/lost');
    await page.getByText('This invitation is no longer valid. Ask for a new one.').waitFor();
    await page.goto('/nowhere');
    await page.getByRole('heading', { name: "This page doesn't exist, or you don't have access to it." }).waitFor();
    await page.context().close();
    await (await other(coordinator.email, 'a fresh honey word')).context().close();
  });
});

describe('an administrator', () => {
  test('allows someone to make apps, and passes on an invitation where there is no relay', async () => {
    const maker = await other(demoPeople[3].email, demoPassword);
    // With one app the Desk opens at once.
    await maker.waitForURL(/\/desk\//u);
    await maker.goto('/');
    await maker.getByRole('link', { name: 'Quillmoor Honey', exact: true }).waitFor();
    expect(await maker.getByRole('button', { name: 'App', exact: true }).count()).toBe(0);
    await builder.goto('/server');
    await builder.getByRole('checkbox', { name: 'Edda Roke can make apps' }).check();
    expect(await barriersOf(builder)).toEqual([]);
    await maker.reload();
    await maker.getByRole('button', { name: 'App', exact: true }).click();
    await maker.getByRole('dialog').getByLabel('Name').fill('Lighthouse rounds');
    await maker.getByRole('button', { name: 'Make the app' }).click();
    await maker.getByRole('heading', { level: 1 }).first().waitFor();
    await maker.getByRole('link', { name: 'Permissions' }).click();
    await maker.getByRole('button', { name: 'Person' }).click();
    await maker.getByRole('dialog').getByLabel('Mail address').fill(demoPeople[4].email);
    await maker.getByRole('dialog').getByRole('checkbox', { name: 'Team' }).check();
    await maker.getByRole('button', { name: 'Invite' }).click();
    await maker.getByText('Ask an administrator of the server to pass on the link.', { exact: false }).waitFor();
    const link = await mailedLink(house, demoPeople[4].email);
    await builder.reload();
    await builder.getByRole('button', { name: /Edda Roke invites you to Lighthouse rounds/u }).click();
    await builder.getByText(link, { exact: false }).waitFor();
    // A person who has an account agrees before they join. Here they do so from their own list of apps.
    const invited = await other(demoPeople[4].email, demoPassword);
    await invited.getByText('Edda Roke invites you to').waitFor();
    expect(await invited.getByRole('link', { name: 'Lighthouse rounds' }).count()).toBe(0);
    await invited.getByRole('button', { name: 'Join Lighthouse rounds' }).click();
    await invited.waitForURL(/\/desk\/lighthouse/u);
    for (const page of [maker, invited]) await page.context().close();
  });

  test('removes a person and a role after being told what that touches, and undoes both', async () => {
    await visit(builder, `/workshop/${app}/access/people`);
    await builder.getByRole('link', { name: 'Edda Roke' }).click();
    await builder.getByRole('button', { name: 'Remove from the app' }).click();
    const dialog = builder.getByRole('dialog');
    await dialog.getByText('Their role (Lab)', { exact: false }).waitFor();
    await dialog.getByRole('button', { name: 'Remove 1 person' }).click();
    await builder.getByText('Edda Roke was removed from the app.').waitFor();
    expect(await builder.getByRole('link', { name: 'Edda Roke' }).count()).toBe(0);
    await builder.getByRole('button', { name: 'Undo', exact: true }).last().click();
    await builder.getByRole('row', { name: /Edda Roke.*Lab/u }).waitFor();
    await visit(builder, `/workshop/${app}/access/roles/lab`);
    await builder.getByRole('button', { name: 'Remove role' }).click();
    await builder.getByRole('dialog').getByText('1 person has it; 1 has no other role and would see nothing.').waitFor();
    await builder.getByRole('dialog').getByRole('button', { name: 'Remove 1 role' }).click();
    await builder.getByRole('dialog').waitFor({ state: 'detached' });
    await builder.keyboard.press('Control+z');
    await builder.getByText('Undone: Removed the role Lab').waitFor();
    await visit(builder, `/workshop/${app}/access/people`);
    await builder.getByRole('row', { name: /Edda Roke.*Lab/u }).waitFor();
  });
});

test('the dark theme is chosen and remembered', async () => {
  await visit(builder, `/desk/${app}/hives`);
  await builder.getByRole('button', { name: /theme and sign out/u }).click();
  await builder.getByRole('menuitem', { name: 'Dark' }).click();
  await builder.reload();
  await builder.getByRole('heading', { name: 'Hives', level: 1 }).waitFor();
  expect(await builder.evaluate(() => getComputedStyle(document.body).color)).toBe('rgb(238, 231, 216)');
});

test('nothing was complained of on the way', () => expect(house.faults).toEqual([]));
