import { contract, type OpenApp } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { honey, makeApp, password, saveKey, testServer, type Caller, type TestServer } from '../support.js';

/** Letting people in, what they become, looking as them, and why they see what they see. */
let it: TestServer;
let builder: Caller & { readonly id: number };
let app: OpenApp;
beforeAll(async () => {
  it = await testServer();
  builder = await it.person('Ada Roke');
  app = await makeApp(builder, 'People', [
    ...honey,
    { kind: 'put_tie', tie: { id: 'tie_home', name: 'Home', table: 'apiaries' } },
    {
      kind: 'put_role',
      role: {
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
const invite = (email: string, more: object = {}) =>
  builder.call(contract.invite, { params: params(), body: { email, role: 'member', roles: ['keeper'], ties: { tie_home: 1 }, ...more } });
const tokenOf = (link: string | null): string => link?.replace('/join/', '') ?? '';
const page = (who: Caller, headers: Record<string, string> = {}) => who.send('GET', `/api/apps/${app.id}/tables/hives/page`, undefined, headers);
const codes = (answer: { body: unknown }): string[] => (answer.body as { records: { values: { h_code: string } }[] }).records.map((one) => one.values.h_code);

describe('an invitation', () => {
  test('lets a new person in with the password they set, once', async () => {
    const { link } = await invite('bede.lunn@quillmoor.example');
    const token = tokenOf(link);
    const bede = it.caller();
    expect(await bede.call(contract.readInvitation, { params: { token } })).toEqual({ app: 'People', email: 'bede.lunn@quillmoor.example' });
    expect((await bede.refused(contract.acceptInvitation, { params: { token }, body: { name: 'Bede Lunn', password: 'short' } })).status).toBe(400);
    const accept = (who: Caller) => who.send('POST', `/api/invitations/${token}`, { name: 'Bede Lunn', password });
    // Sent twice at once it is taken once.
    const answers = await Promise.all([accept(bede), accept(it.caller())]);
    expect(answers.map((one) => one.status).sort()).toEqual([200, 404]);
    if (answers[0].status !== 200) await bede.call(contract.signIn, { body: { email: 'bede.lunn@quillmoor.example', password } });
    expect(codes(await page(bede))).toEqual(['H-1']);
    expect((await it.caller().refused(contract.acceptInvitation, { params: { token }, body: { name: 'Other', password } })).status).toBe(404);
    const { people, invitations } = await builder.call(contract.readPeople, { params: params() });
    expect(invitations).toEqual([]);
    expect(people.find((one) => one.name === 'Bede Lunn')).toMatchObject({
      role: 'member',
      roles: ['keeper'],
      ties: { tie_home: 1 },
      tiedTo: { tie_home: 'Brackmoor' },
    });
    expect(
      (await builder.refused(contract.invite, { params: params(), body: { email: 'bede.lunn@quillmoor.example', role: 'member', roles: [], ties: {} } }))
        .status,
    ).toBe(422);
  });
  test('is mailed with its link, which the log of mails does not keep', async () => {
    const { link } = await invite('finn.wick@quillmoor.example');
    const mails = async () => (await builder.call(contract.readMails, { params: params() })).mails.filter((mail) => mail.to === 'finn.wick@quillmoor.example');
    for (let i = 0; i < 200 && (await mails())[0]?.state !== 'sent'; i += 1) await new Promise((resolve) => setTimeout(resolve, 50));
    const [mail] = await mails();
    expect(mail).toMatchObject({ kind: 'invitation', state: 'sent', attempts: 1, doubtful: false, subject: 'You are invited to People' });
    const read = await builder.call(contract.readMail, { params: { ...params(), mail: mail?.id ?? '' } });
    expect(read.body).toBeNull();
    expect(read.arrived).toHaveLength(1);
    expect(read.arrived[0]).toMatchObject({ from: 'honey@quillmoor.example', to: ['finn.wick@quillmoor.example'] });
    expect(read.arrived[0]?.body).toContain(`${it.server.address}${link ?? ''}\n`);
    expect(JSON.stringify(await it.sql('SELECT * FROM bibliona.mail'))).not.toContain(tokenOf(link));
    await builder.call(contract.withdrawInvitation, { params: params(), body: { email: 'finn.wick@quillmoor.example' } });
  });
  test('of someone known lets them in at once', async () => {
    const known = await it.person('Cold Spring');
    expect((await invite('cold.spring@quillmoor.example')).link).toBeNull();
    expect(codes(await page(known))).toEqual(['H-1']);
  });
  test('is void when it is withdrawn, replaced or too old; the token itself is nowhere in the database', async () => {
    const first = tokenOf((await invite('edda.lunn@quillmoor.example')).link);
    const second = tokenOf((await invite('edda.lunn@quillmoor.example')).link);
    expect((await it.caller().refused(contract.readInvitation, { params: { token: first } })).status).toBe(404);
    expect(JSON.stringify(await it.sql('SELECT * FROM bibliona.invitation'))).not.toContain(second);
    await it.sql(`UPDATE bibliona.invitation SET expires_at = now() - interval '1 minute'`);
    expect((await it.caller().refused(contract.acceptInvitation, { params: { token: second }, body: { name: 'Edda', password } })).status).toBe(404);
    await builder.call(contract.withdrawInvitation, { params: params(), body: { email: 'edda.lunn@quillmoor.example' } });
    expect((await builder.call(contract.readPeople, { params: params() })).invitations).toEqual([]);
  });
});

describe('the people of an app', () => {
  test('change at once in what they may do', async () => {
    const person = await it.person('Gale Finch');
    await it.server.people.join(app.id, person.id, 'member', []);
    expect(codes(await page(person))).toEqual([]);
    await builder.call(contract.changePerson, { params: { ...params(), person: person.id }, body: { role: 'member', roles: ['team'], ties: {} } });
    expect(codes(await page(person))).toEqual(['H-1', 'H-2']);
    await builder.call(contract.removePerson, { params: { ...params(), person: person.id } });
    expect((await page(person)).status).toBe(404);
  });
  test('always hold somebody who can build it, and only its own roles', async () => {
    const asked = { params: { ...params(), person: builder.id }, body: { role: 'member', roles: ['team'], ties: {} } };
    expect((await builder.refused(contract.changePerson, asked)).body.message).toMatch(/^Somebody must be left/u);
    expect((await builder.refused(contract.removePerson, { params: asked.params })).body.message).toMatch(/^Somebody must be left/u);
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
      menu: [{ kind: 'list', table: 'hives' }],
    });
    expect(codes(await page(builder, { 'x-look-as': 'role:keeper' }))).toEqual([]);
    expect(codes(await page(builder, { 'x-look-as': 'role:team' }))).toEqual(['H-1', 'H-2']);
    const saved = await builder.send(
      'POST',
      `/api/apps/${app.id}/save`,
      { key: saveKey(), writes: [{ kind: 'add', table: 'hives', as: 'h', values: { h_code: 'H-9' } }] },
      { 'x-look-as': 'role:team' },
    );
    expect(saved).toMatchObject({ status: 403, body: { message: 'You are looking as someone else: nothing is saved meanwhile.' } });
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
