import { contract, type OpenApp } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { honey, makeApp, password, saveKey, testServer, type Caller, type TestServer, mailedToken } from '../support.js';

/** Letting people in, what they become, looking as them, and why they see what they see. */
let it: TestServer;
let builder: Caller & { readonly id: number };
let app: OpenApp;
beforeAll(async () => {
  it = await testServer();
  builder = await it.person('Ada Roke');
  app = await makeApp(builder, 'People', [
    ...honey,
    { kind: 'put', part: 'tie', value: { id: 'tie_home', name: 'Home', table: 'apiaries' } },
    {
      kind: 'put',
      part: 'role',
      value: {
        id: 'keeper',
        name: 'Keeper',
        description: '',
        everything: false,
        menu: [],
        grants: [
          {
            id: 'g_own',
            table: 'hives',
            see: true,
            add: false,
            change: true,
            remove: false,
            export: false,
            condition: 'Apiary = me.Home',
            hidden: ['h_rent'],
            locked: [],
          },
          {
            id: 'g_old',
            table: 'hives',
            see: true,
            add: false,
            change: false,
            remove: false,
            export: false,
            condition: 'Queen year < 2000',
            hidden: [],
            locked: [],
          },
        ],
      },
    },
  ]);
  await builder.call(contract.saveRecords, {
    params: { app: app.id },
    body: {
      key: saveKey(),
      writes: [
        { kind: 'add', table: 'apiaries', as: 'a', values: { a_name: 'Brackmoor' } },
        { kind: 'add', table: 'hives', as: 'x', values: { h_code: 'H-1', h_apiary: { added: 'a' } } },
        { kind: 'add', table: 'hives', as: 'y', values: { h_code: 'H-2' } },
      ],
    },
  });
});
afterAll(() => it.close());
const params = () => ({ app: app.id });
const invite = async (email: string, more: object = {}): Promise<string> => {
  await builder.call(contract.invite, { params: params(), body: { email, role: 'member', roles: ['keeper'], ties: { tie_home: 1 }, ...more } });
  return mailedToken(it, email, 'join');
};
const page = (who: Caller, headers: Record<string, string> = {}) => who.send('GET', `/api/apps/${app.id}/tables/hives/page`, undefined, headers);
const codes = (answer: { body: unknown }): string[] =>
  (answer.body as { records: { values: { h_code: string } }[] }).records.map((record) => record.values.h_code);

describe('an invitation', () => {
  test('lets a new person in with the password they set, once', async () => {
    const token = await invite('bede.lunn@quillmoor.example');
    const bede = it.caller();
    expect(await bede.call(contract.readInvitation, { params: { token } })).toEqual({
      app: 'People',
      by: 'Ada Roke',
      email: 'bede.lunn@quillmoor.example',
      hasAccount: false,
    });
    expect((await bede.refused(contract.acceptInvitation, { params: { token }, body: { name: 'Bede Lunn', password: 'short' } })).status).toBe(400);
    await bede.call(contract.acceptInvitation, { params: { token }, body: { name: 'Bede Lunn', password } });
    expect(codes(await page(bede))).toEqual(['H-1']);
    expect((await it.caller().refused(contract.acceptInvitation, { params: { token }, body: { name: 'Other', password } })).status).toBe(404);
    const { people, invitations } = await builder.call(contract.readPeople, { params: params() });
    expect(invitations).toEqual([]);
    expect(people.find((person) => person.name === 'Bede Lunn')).toMatchObject({
      role: 'member',
      roles: ['keeper'],
      ties: { tie_home: 1 },
      tiedTo: { tie_home: 'Brackmoor' },
    });
    const again = { params: params(), body: { email: 'bede.lunn@quillmoor.example', role: 'member', roles: [], ties: {} } };
    expect((await builder.refused(contract.invite, again)).status).toBe(422);
  });
  test('tells its link to nobody but its reader: not to who invites, and not in the mails of the app', async () => {
    const token = await invite('finn.wick@quillmoor.example');
    const { mails, standIn } = await builder.call(contract.readMails, { params: params() });
    const mail = mails.find((each) => each.to === 'finn.wick@quillmoor.example');
    expect([standIn, mail]).toMatchObject([true, { kind: 'invitation', state: 'kept', attempts: 1, subject: 'Ada Roke invites you to People' }]);
    expect(await builder.call(contract.readMail, { params: { ...params(), mail: mail?.id ?? '' } })).toMatchObject({ body: null, arrived: [] });
    expect(JSON.stringify(await it.sql('SELECT * FROM bibliona.mail'))).not.toContain(token);
    await builder.call(contract.withdrawInvitation, { params: params(), body: { email: 'finn.wick@quillmoor.example' } });
  });
  test('of someone who has an account waits until they agree', async () => {
    const known = await it.person('Cold Spring');
    await invite('cold.spring@quillmoor.example');
    expect((await page(known)).status).toBe(404);
    const { invitations } = await known.call(contract.myInvitations);
    expect(invitations).toMatchObject([{ app: 'People', by: 'Ada Roke' }]);
    const other = await it.person('Other One');
    const answer = { params: { invitation: invitations[0]?.id ?? '' }, body: { join: true } };
    expect((await other.refused(contract.answerInvitation, answer)).status).toBe(404);
    await known.call(contract.answerInvitation, answer);
    expect(codes(await page(known))).toEqual(['H-1']);
    expect((await known.refused(contract.answerInvitation, answer)).status).toBe(404);
    // Declined it is gone; by its link it is joined by the account of its address alone.
    await invite('other.one@quillmoor.example');
    const mine = await other.call(contract.myInvitations);
    await other.call(contract.answerInvitation, { params: { invitation: mine.invitations[0]?.id ?? '' }, body: { join: false } });
    expect((await page(other)).status).toBe(404);
    const token = await invite('other.one@quillmoor.example');
    expect((await known.refused(contract.joinByLink, { params: { token } })).status).toBe(403);
    expect((await it.caller().refused(contract.acceptInvitation, { params: { token }, body: { name: 'Impostor', password } })).body.message).toContain(
      'Sign in',
    );
    await other.call(contract.joinByLink, { params: { token } });
    expect(codes(await page(other))).toEqual(['H-1']);
  });
  test('is void when it is withdrawn, replaced or too old; the token itself is nowhere in the database', async () => {
    const first = await invite('edda.lunn@quillmoor.example');
    const second = await invite('edda.lunn@quillmoor.example');
    expect((await it.caller().refused(contract.readInvitation, { params: { token: first } })).status).toBe(404);
    expect(JSON.stringify(await it.sql('SELECT * FROM bibliona.invitation'))).not.toContain(second);
    await it.sql(`UPDATE bibliona.invitation SET expires_at = now() - interval '1 minute'`);
    expect((await it.caller().refused(contract.acceptInvitation, { params: { token: second }, body: { name: 'Edda', password } })).status).toBe(404);
    await builder.call(contract.withdrawInvitation, { params: params(), body: { email: 'edda.lunn@quillmoor.example' } });
    expect((await builder.call(contract.readPeople, { params: params() })).invitations).toEqual([]);
  });
});

describe('the people of an app', () => {
  test('change at once in what they can do', async () => {
    const person = await it.person('Gale Finch');
    await it.server.people.join(app.id, person.id, 'member', []);
    expect(codes(await page(person))).toEqual([]);
    await builder.call(contract.changePerson, { params: { ...params(), person: person.id }, body: { role: 'member', roles: ['team'], ties: {} } });
    expect(codes(await page(person))).toEqual(['H-1', 'H-2']);
    await builder.call(contract.removePerson, { params: { ...params(), person: person.id } });
    expect((await page(person)).status).toBe(404);
    // Removing is undone with all that they were.
    await builder.call(contract.restorePerson, { params: { ...params(), person: person.id } });
    expect(codes(await page(person))).toEqual(['H-1', 'H-2']);
    expect((await builder.refused(contract.restorePerson, { params: { ...params(), person: person.id } })).status).toBe(404);
  });
  test('always hold somebody who can build it, and only its own roles', async () => {
    const asked = { params: { ...params(), person: builder.id }, body: { role: 'member', roles: ['team'], ties: {} } };
    expect((await builder.refused(contract.changePerson, asked)).body.message).toMatch(/^At least one builder must stay/u);
    expect((await builder.refused(contract.removePerson, { params: asked.params })).body.message).toMatch(/^At least one builder must stay/u);
    expect((await builder.call(contract.openApp, { params: params() })).role).toBe('builder');
    expect((await builder.refused(contract.changePerson, { ...asked, body: { role: 'builder', roles: ['none'], ties: {} } })).status).toBe(422);
  });
});

describe('looking as', () => {
  test('a role or a person shows what they see, and saves nothing', async () => {
    const person = await it.person('Hesper Lunn');
    await it.server.people.join(app.id, person.id, 'member', ['keeper'], { tie_home: 1 });
    expect(codes(await page(builder, { 'x-look-as': `person:${person.id}` }))).toEqual(['H-1']);
    const open = await builder.send('GET', `/api/apps/${app.id}`, undefined, { 'x-look-as': `person:${person.id}` });
    expect(open.body).toMatchObject({
      role: 'member',
      me: { Name: 'Hesper Lunn', Roles: ['Keeper'] },
      ties: { tie_home: 1 },
      menu: [{ kind: 'list', list: 'l_hives' }],
    });
    expect(codes(await page(builder, { 'x-look-as': 'role:keeper' }))).toEqual([]);
    expect(codes(await page(builder, { 'x-look-as': 'role:team' }))).toEqual(['H-1', 'H-2']);
    const saved = await builder.send(
      'POST',
      `/api/apps/${app.id}/save`,
      { key: saveKey(), writes: [{ kind: 'add', table: 'hives', as: 'h', values: { h_code: 'H-9' } }] },
      { 'x-look-as': 'role:team' },
    );
    expect(saved).toMatchObject({ status: 403, body: { message: 'You are looking as someone else, so nothing is saved.' } });
    for (const as of ['role:none', 'person:9999', 'x', 'person:abc', `role:${'x'.repeat(500)}`])
      expect((await page(builder, { 'x-look-as': as })).status).toBeGreaterThanOrEqual(400);
    expect((await page(person, { 'x-look-as': `person:${builder.id}` })).status).toBe(403);
    expect((await builder.send('GET', `/api/apps/${app.id}/people`, undefined, { 'x-look-as': 'role:team' })).status).toBe(403);
  });
});

test('why someone sees a record is answered grant by grant', async () => {
  const person = await it.person('Juniper Roke');
  await it.server.people.join(app.id, person.id, 'member', ['keeper'], { tie_home: 1 });
  const why = (id: number) => builder.call(contract.explainAccess, { params: { app: app.id, table: 'hives', id }, query: { person: person.id } });
  expect(await why(1)).toMatchObject({
    person: 'Juniper Roke',
    record: 'H-1',
    sees: true,
    changes: true,
    removes: false,
    grants: [
      { role: 'Keeper', condition: 'Apiary is my Home', holds: 'yes', allows: ['see', 'change'], hidden: ['Rent'] },
      { role: 'Keeper', condition: 'Queen year is less than 2000', holds: 'no' },
    ],
    hidden: ['Rent'],
  });
  expect(await why(2)).toMatchObject({ sees: false, changes: false, hidden: [] });
  await it.server.people.join(app.id, person.id, 'member', ['keeper'], {});
  expect((await why(1)).grants[0]?.holds).toBe('lacks_tie');
});

test('what someone can do with a record is told with it, where grants depend on what is in it', async () => {
  const person = await it.person('Rowan Wick');
  await it.server.people.join(app.id, person.id, 'member', ['keeper'], { tie_home: 1 });
  const open = (who: Caller, id: number) => who.call(contract.readRecord, { params: { app: app.id, table: 'hives', id } });
  const { record } = await open(builder, 2);
  const write = { kind: 'change', table: 'hives', id: 2, rev: record.rev, values: { h_year: 1999 } };
  await builder.call(contract.saveRecords, { params: params(), body: { key: saveKey(), writes: [write] } });
  // The first is of their own apiary; the second they see because it is old, and may not change.
  expect((await open(person, 1)).may).toEqual({ change: true, remove: false });
  expect((await open(person, 2)).may).toEqual({ change: false, remove: false });
  expect((await open(builder, 2)).may).toBeUndefined();
  const again = { key: saveKey(), writes: [{ ...write, rev: record.rev + 1, values: { h_year: 1998 } }] };
  expect((await person.refused(contract.saveRecords, { params: params(), body: again })).status).toBe(403);
});
