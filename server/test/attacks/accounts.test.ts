import { contract, type OpenApp } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { mailedToken, makeApp, password, testServer, type Caller, type TestServer } from '../support.js';

/** Accounts of others, passwords by trial, and rights that nobody gave. */
let it: TestServer;
let admin: Caller & { readonly id: number };
let app: OpenApp;
beforeAll(async () => {
  it = await testServer({ everyoneMakesApps: false, appsPerPerson: 2, trustedProxies: 1 });
  admin = await it.person('Ada Roke');
  app = await makeApp(admin, 'Accounts', []);
});
afterAll(() => it.close());

const invite = (who: Caller, to: OpenApp, email: string) =>
  who.call(contract.invite, { params: { app: to.id }, body: { email, role: 'member', roles: ['team'], ties: {} } });
const trySignIn = (email: string, tried: string, from: string, who = it.caller()) =>
  who.send('POST', '/api/sign-in', { email, password: tried }, { 'x-forwarded-for': from });

describe('an address of somebody else', () => {
  test('gets no account from who invites it: the link is only in its own mail, and administrators see it where no relay is set up', async () => {
    const answer = await invite(admin, app, 'victim@quillmoor.example');
    expect(answer).toEqual({ goesOut: false });
    const token = await mailedToken(it, 'victim@quillmoor.example', 'join');
    const shop = await it.person('Shop Keeper');
    await it.server.people.join(app.id, shop.id, 'builder');
    for (const path of ['people', 'mails']) expect(JSON.stringify((await shop.send('GET', `/api/apps/${app.id}/${path}`)).body)).not.toContain(token);
    expect((await shop.refused(contract.readServer)).status).toBe(403);
    const { mails } = await admin.call(contract.readServer);
    expect(mails.find((mail) => mail.mail.to === 'victim@quillmoor.example')?.text).toContain(`/join/${token}`);
  });
  test('is answered alike whether it has an account or not, by invitations and by resets', async () => {
    await it.person('Known One');
    const [known, unknown] = [await invite(admin, app, 'known.one@quillmoor.example'), await invite(admin, app, 'unknown.one@quillmoor.example')];
    expect(known).toEqual(unknown);
    const { people, invitations } = await admin.call(contract.readPeople, { params: { app: app.id } });
    expect(people.map((person) => person.name)).not.toContain('Known One');
    expect(invitations.map((invitation) => invitation.email)).toEqual(expect.arrayContaining(['known.one@quillmoor.example', 'unknown.one@quillmoor.example']));
    const resets = await Promise.all(
      ['known.one', 'nobody.at.all'].map((name) => it.caller().send('POST', '/api/resets', { email: `${name}@quillmoor.example` })),
    );
    expect(resets[0]?.body).toEqual(resets[1]?.body);
  });
  test('that never proved itself is shown no invitations', async () => {
    const old = await it.person('Old Account');
    await it.sql('UPDATE bibliona.person SET proved_at = NULL WHERE id = $1', [old.id]);
    await invite(admin, app, 'old.account@quillmoor.example');
    expect((await old.call(contract.myInvitations)).invitations).toEqual([]);
    const rows = await it.sql<{ id: string }>(`SELECT id FROM bibliona.invitation WHERE email = 'old.account@quillmoor.example'`);
    expect((await old.refused(contract.answerInvitation, { params: { invitation: rows[0]?.id ?? '' }, body: { join: true } })).status).toBe(404);
    // The mailed link proves it.
    await old.call(contract.joinByLink, { params: { token: await mailedToken(it, 'old.account@quillmoor.example', 'join') } });
    expect((await old.call(contract.listApps)).apps).toHaveLength(1);
  });
  test('is not mailed without limit', async () => {
    const statuses: number[] = [];
    for (let n = 0; n < 7; n += 1)
      statuses.push(
        (await admin.send('POST', `/api/apps/${app.id}/invitations`, { email: 'often@quillmoor.example', role: 'member', roles: [], ties: {} })).status,
      );
    expect(statuses).toEqual([200, 200, 200, 200, 200, 429, 429]);
  });
});

describe('an invitation accepted many times at once', () => {
  test('makes one account, one member and no standstill', async () => {
    await invite(admin, app, 'rush@quillmoor.example');
    const token = await mailedToken(it, 'rush@quillmoor.example', 'join');
    const answers = await Promise.all(Array.from({ length: 14 }, () => it.caller().send('POST', `/api/invitations/${token}`, { name: 'Rush', password })));
    expect(answers.filter((answer) => answer.status === 200)).toHaveLength(1);
    expect(answers.filter((answer) => answer.status >= 500)).toEqual([]);
    expect(await it.sql(`SELECT FROM bibliona.person WHERE email = 'rush@quillmoor.example'`)).toHaveLength(1);
  });
  test('for two apps makes one account that is in one of them, and can still join the other', async () => {
    const other = await makeApp(admin, 'Second', []);
    await invite(admin, app, 'both@quillmoor.example');
    const first = await mailedToken(it, 'both@quillmoor.example', 'join');
    await invite(admin, other, 'both@quillmoor.example');
    const second = await mailedToken(it, 'both@quillmoor.example', 'join');
    const callers = [it.caller(), it.caller()];
    const answers = await Promise.all(callers.map((who, i) => who.send('POST', `/api/invitations/${i === 0 ? first : second}`, { name: 'Both', password })));
    expect(answers.map((answer) => answer.status).sort()).toEqual([200, 422]);
    const who = callers[answers.findIndex((answer) => answer.status === 200)];
    await who?.call(contract.joinByLink, { params: { token: answers[0]?.status === 200 ? second : first } });
    expect((await who?.call(contract.listApps))?.apps).toHaveLength(2);
  });
});

describe('a password by trial', () => {
  test('is not tried more often by sending tries at once, or by naming another address each time', async () => {
    await it.person('Piet Marlow');
    const email = 'piet.marlow@quillmoor.example';
    // Our own proxy wrote the last address. Anyone can write the addresses before it.
    const answers = await Promise.all(Array.from({ length: 40 }, (_, n) => trySignIn(email, 'wrong password', `10.0.0.${n}, 192.0.2.7`)));
    expect(answers.filter((answer) => answer.status === 401)).toHaveLength(8);
    expect(answers.filter((answer) => answer.status === 429)).toHaveLength(32);
    expect((await trySignIn(email, password, '192.0.2.7')).status).toBe(429);
    // From elsewhere they still sign in.
    expect((await trySignIn(email, password, '192.0.2.8')).status).toBe(200);
  });
  test('does not lock out a browser in which the person was signed in before, nor others at the same address', async () => {
    const known = await it.person('Orla Fennick');
    const email = 'orla.fennick@quillmoor.example';
    const mine = it.caller();
    const signed = await trySignIn(email, password, '192.0.2.20', mine);
    const device =
      signed.headers
        .getSetCookie()
        .find((each) => each.startsWith('bibliona_device='))
        ?.split(';')[0] ?? '';
    await Promise.all(Array.from({ length: 120 }, (_, n) => trySignIn(email, 'wrong password', `192.0.2.${30 + (n % 100)}`)));
    for (let n = 0; n < 70; n += 1) await trySignIn(`guess.${n}@quillmoor.example`, 'wrong password', '192.0.2.20');
    expect((await trySignIn(email, password, '192.0.2.99')).status).toBe(429);
    const here = await it.caller().send('POST', '/api/sign-in', { email, password }, { 'x-forwarded-for': '192.0.2.20', cookie: device });
    expect(here.status).toBe(200);
    expect((await trySignIn('ada.roke@quillmoor.example', password, '192.0.2.20')).status).toBe(200);
    // The sign of one browser opens no other account's limit.
    const other = await it
      .caller()
      .send('POST', '/api/sign-in', { email: 'piet.marlow@quillmoor.example', password }, { 'x-forwarded-for': '192.0.2.7', cookie: device });
    expect(other.status).toBe(429);
    expect(known.id).toBeGreaterThan(0);
  });
});

describe('a password', () => {
  test('is changed by who knows it: every session ends, and this browser gets a new one', async () => {
    const person = await it.person('Gale Finch');
    const elsewhere = it.caller();
    await elsewhere.call(contract.signIn, { body: { email: 'gale.finch@quillmoor.example', password } });
    const wrong = await person.refused(contract.changePassword, { body: { current: 'not the password', password: 'another long password' } });
    expect(wrong.body.issues).toEqual([{ path: 'current', message: 'is wrong' }]);
    const before = person.cookie;
    await person.call(contract.changePassword, { body: { current: password, password: 'another long password' } });
    expect((await person.call(contract.whoAmI)).person).toMatchObject({ name: 'Gale Finch' });
    expect((await elsewhere.call(contract.whoAmI)).person).toBeNull();
    expect(person.cookie).not.toBe(before);
    expect((await trySignIn('gale.finch@quillmoor.example', password, '192.0.2.40')).status).toBe(401);
  });
  test('that is forgotten is set by a mailed link that works once and ends every session', async () => {
    const person = await it.person('Hesper Lunn');
    const email = 'hesper.lunn@quillmoor.example';
    await it.caller().call(contract.askReset, { body: { email } });
    const token = await mailedToken(it, email, 'reset');
    expect(await it.caller().call(contract.readReset, { params: { token } })).toEqual({ email });
    expect(JSON.stringify(await it.sql('SELECT * FROM bibliona.reset'))).not.toContain(token);
    const reset = () => it.caller().send('POST', `/api/resets/${token}`, { password: 'quite another password' });
    const answers = await Promise.all([reset(), reset(), reset()]);
    expect(answers.map((answer) => answer.status).sort()).toEqual([200, 404, 404]);
    expect((await person.call(contract.whoAmI)).person).toBeNull();
    expect((await trySignIn(email, 'quite another password', '192.0.2.41')).status).toBe(200);
    for (let n = 0; n < 2; n += 1) await it.caller().call(contract.askReset, { body: { email } });
    expect((await it.caller().refused(contract.askReset, { body: { email } })).status).toBe(429);
    // A link is made after the answer, which so takes the same time for an address that nobody has.
    await expect.poll(async () => (await it.sql('SELECT FROM bibliona.reset WHERE person_id = $1', [person.id])).length).toBe(2);
    await it.sql(`UPDATE bibliona.reset SET expires_at = now() - interval '1 minute'`);
    expect((await it.caller().refused(contract.readReset, { params: { token: await mailedToken(it, email, 'reset') } })).status).toBe(404);
  });
  test('change or not, other sessions are listed and ended', async () => {
    const person = await it.person('Juniper Roke');
    const phone = it.caller();
    await phone.send('POST', '/api/sign-in', { email: 'juniper.roke@quillmoor.example', password }, { 'user-agent': 'Mozilla/5.0 (iPhone) Safari/604.1' });
    const { sessions } = await person.call(contract.readSessions);
    expect(sessions.map((session) => [session.browser, session.isThis])).toEqual(expect.arrayContaining([['Safari on iOS', false]]));
    expect(sessions.filter((session) => session.isThis)).toHaveLength(1);
    const other = await it.person('Someone Else');
    const theirs = sessions.find((session) => !session.isThis)?.id ?? '';
    await other.call(contract.endSessions, { body: { session: theirs } });
    expect((await phone.call(contract.whoAmI)).person).not.toBeNull();
    await person.call(contract.endSessions, { body: { session: 'others' } });
    expect((await phone.call(contract.whoAmI)).person).toBeNull();
    expect((await person.call(contract.readSessions)).sessions).toHaveLength(1);
  });
});

describe('rights of people', () => {
  test('making apps is allowed by an administrator, up to a number, also when asked at once', async () => {
    const person = await it.person('Mira Voss');
    expect((await person.refused(contract.makeApp, { body: { name: 'No' } })).status).toBe(403);
    await admin.call(contract.changeServerPerson, { params: { person: person.id }, body: { isAdmin: false, mayMakeApps: true } });
    const made = await Promise.all(Array.from({ length: 5 }, (_, n) => person.send('POST', '/api/apps', { name: `App ${n}` })));
    expect(made.map((answer) => answer.status).sort()).toEqual([200, 200, 422, 422, 422]);
  });
  test('an administrator stays, no matter who is demoted', async () => {
    const answers = await Promise.all([admin.id].map((id) => admin.send('POST', `/api/server/people/${id}`, { isAdmin: false, mayMakeApps: true })));
    expect(answers.map((answer) => answer.status)).toEqual([422]);
    expect((await admin.refused(contract.changeServerPerson, { params: { person: 9999 }, body: { isAdmin: false, mayMakeApps: false } })).status).toBe(404);
  });
  test('two builders who demote each other at once: one of them stays a builder, and what each was told is so', async () => {
    const [each, other] = [await it.person('Builder One'), await it.person('Builder Two')];
    for (let round = 0; round < 6; round += 1) {
      for (const builder of [each, other]) await it.server.people.join(app.id, builder.id, 'builder');
      await it.sql(`DELETE FROM bibliona.app_person WHERE app_id = $1 AND person_id <> ALL($2)`, [app.id, [each.id, other.id]]);
      const demote = (who: Caller, id: number) => who.send('POST', `/api/apps/${app.id}/people/${id}`, { role: 'member', roles: [], ties: {} });
      const answers = await Promise.all([demote(each, other.id), demote(other, each.id)]);
      const rows = await it.sql<{ id: number; role: string }>(`SELECT person_id::integer AS id, role FROM bibliona.app_person WHERE app_id = $1`, [app.id]);
      const roleOf = (id: number) => rows.find((row) => row.id === id)?.role;
      expect(answers.map((answer) => answer.status).sort()).not.toEqual([200, 200]);
      expect([roleOf(other.id) === 'member', roleOf(each.id) === 'member']).toEqual(answers.map((answer) => answer.status === 200));
    }
  });
});
