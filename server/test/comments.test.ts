import { contract, grantOf, type OpenApp } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { honey, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

/** What people say about records: who reads it, who is told, and whose it is. */
let it: TestServer;
let ada: Caller & { id: number };
let ben: Caller & { id: number };
let cora: Caller & { id: number };
let app: OpenApp;

beforeAll(async () => {
  it = await testServer();
  [ada, ben, cora] = [await it.person('Ada'), await it.person('Ben'), await it.person('Cora')];
  app = await makeApp(ada, 'Moor honey', [
    ...honey,
    {
      kind: 'put',
      part: 'role',
      value: {
        id: 'keeper',
        name: 'Keeper',
        description: '',
        everything: false,
        menu: [],
        grants: [grantOf('g_hives', 'hives', { condition: 'Code != "H-secret"', hidden: ['h_notes'] })],
      },
    },
  ]);
  await it.server.people.join(app.id, ben.id, 'member', ['keeper']);
  await it.server.people.join(app.id, cora.id, 'member', []);
  const rows = await it.sql<{ name: string; email: string }>('SELECT name, email FROM bibliona.person');
  addresses = Object.fromEntries(rows.map(({ name, email }) => [name, email]));
  const hive = (code: string) => ({ kind: 'add', table: 'hives', as: code, values: { h_code: code, h_notes: 'hidden words' } });
  await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes: [hive('H-1'), hive('H-secret')] } });
});
afterAll(() => it.close());

const at = (id: number, comment = '') => ({ params: { app: app.id, table: 'hives', id, comment } });
const say = async (who: Caller, id: number, text: string, tell: readonly string[] = []): Promise<string> => {
  const key = saveKey();
  await who.call(contract.addComment, { ...at(id), body: { key, text, tell } });
  return key;
};
const heard = async (who: Caller, id: number) =>
  (await who.call(contract.readComments, at(id))).comments.map((comment) => [comment.by, comment.text, comment.isOwn]);
let addresses: Readonly<Record<string, string>>;
const mailOf = (name: string): string => addresses[name] ?? '';
const mails = (): Promise<{ recipient: string; subject: string; body: string }[]> =>
  it.sql(`SELECT recipient, subject, body FROM bibliona.mail WHERE kind = 'comment' ORDER BY created_at`);

describe('comments', () => {
  test('are read and written by who sees the record, in the order in which they were said', async () => {
    await say(ada, 1, 'The queen is marked <b>blue</b>.');
    await say(ben, 1, 'I have seen her.');
    expect(await heard(ben, 1)).toEqual([
      ['Ada', 'The queen is marked <b>blue</b>.', false],
      ['Ben', 'I have seen her.', true],
    ]);
  });

  test('are nothing to who does not see the record', async () => {
    const id = await say(ada, 2, 'Between us.');
    for (const [who, record] of [
      [ben, 2],
      [cora, 1],
      [ada, 99],
    ] as const) {
      expect((await who.refused(contract.readComments, at(record))).status).toBe(404);
      expect((await who.refused(contract.addComment, { ...at(record), body: { key: saveKey(), text: 'x' } })).status).toBe(404);
      expect((await who.refused(contract.changeComment, { ...at(record, id), body: { text: 'x' } })).status).toBe(404);
      expect((await who.refused(contract.removeComment, at(record, id))).status).toBe(404);
    }
    expect(await heard(ada, 2)).toEqual([['Ada', 'Between us.', true]]);
    // By the address of a record that they do see they do not get at it either.
    expect((await ben.refused(contract.removeComment, at(1, id))).status).toBe(404);
    expect(await heard(ada, 2)).toEqual([['Ada', 'Between us.', true]]);
  });

  test('are one however often they are sent, and never somebody else’s', async () => {
    const key = await say(ben, 1, 'Once.', []);
    await ben.call(contract.addComment, { ...at(1), body: { key, text: 'Once.', tell: [] } });
    await ada.call(contract.addComment, { ...at(1), body: { key, text: 'Not mine.', tell: [mailOf('Ben')] } });
    expect((await heard(ada, 1)).slice(-1)).toEqual([['Ben', 'Once.', false]]);
    expect(await mails()).toEqual([]);
  });

  test('are changed by who wrote them, and removed by them or a builder', async () => {
    const own = await say(ben, 1, 'Wrnog.');
    await ben.call(contract.changeComment, { ...at(1, own), body: { text: 'Right.' } });
    const { comments } = await ada.call(contract.readComments, at(1));
    expect(comments.at(-1)).toMatchObject({ text: 'Right.', by: 'Ben' });
    expect(comments.at(-1)?.changedAt).not.toBeNull();
    expect((await ada.refused(contract.changeComment, { ...at(1, own), body: { text: 'Hers.' } })).status).toBe(404);
    const hers = await say(ada, 1, 'Hers.');
    expect((await ben.refused(contract.removeComment, at(1, hers))).status).toBe(404);
    await ada.call(contract.removeComment, at(1, own));
    await ada.call(contract.removeComment, at(1, hers));
    for (const text of ['', '  ', 'x'.repeat(5001)])
      expect((await ben.refused(contract.addComment, { ...at(1), body: { key: saveKey(), text } })).status).toBe(400);
  });
});

describe('people who are told', () => {
  test('get a mail with the words, the name of the record as they see it, and where it is', async () => {
    await say(ada, 1, 'Look at this.', [mailOf('Ben'), mailOf('Ada')]);
    const [mail, ...others] = await mails();
    expect(others).toEqual([]);
    expect(mail?.recipient).toBe(mailOf('Ben'));
    expect(mail?.subject).toBe('Ada wrote to you about H-1');
    expect(mail?.body).toContain('Look at this.');
    expect(mail?.body).toContain(`/desk/${app.id}/hives/1`);
    expect((await ada.call(contract.readComments, at(1))).comments.at(-1)?.told).toEqual(['Ben']);
    // Whoever administers the server sees no mail of an app.
    expect(JSON.stringify(await ada.call(contract.readServer))).not.toContain('Look at this.');
  });

  test('are people of the app who see the record; else nothing is said', async () => {
    const before = await heard(ada, 1);
    for (const tell of [mailOf('Cora'), 'nobody@example.org']) {
      const { status, body } = await ada.refused(contract.addComment, { ...at(1), body: { key: saveKey(), text: 'Psst.', tell: [mailOf('Ben'), tell] } });
      expect([status, body.issues[0]?.field]).toEqual([422, 'tell']);
    }
    expect(await heard(ada, 1)).toEqual(before);
    expect((await mails()).length).toBe(1);
  });

  test('are found by who can find people of the app; others tell those who have spoken there', async () => {
    expect(await ada.call(contract.readComments, at(1))).toMatchObject({ findsAnyone: true });
    const { findsAnyone, people } = await ben.call(contract.readComments, at(1));
    expect([findsAnyone, people]).toEqual([false, [{ name: 'Ada', mail: mailOf('Ada') }]]);
    await say(ben, 1, 'To you.', [mailOf('Ada')]);
    const refused = await ben.refused(contract.addComment, { ...at(1), body: { key: saveKey(), text: 'To you.', tell: [mailOf('Cora')] } });
    const unknown = await ben.refused(contract.addComment, { ...at(1), body: { key: saveKey(), text: 'To you.', tell: ['nobody@example.org'] } });
    // Whether somebody is of the app is not told.
    expect(refused.body.message.replace(mailOf('Cora'), '')).toBe(unknown.body.message.replace('nobody@example.org', ''));
  });
});
