import { contract, grantOf, type DesignChange, type Grant, type OpenApp, type Value } from '@bibliona/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { run, upload } from './importing.js';
import { field, makeApp, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

/** Fields that name people of the app, and fields that people sign: nobody can be named or signed for who has not been asked. */
const mails = { ada: 'ada.roke@quillmoor.example', bede: 'bede.lunn@quillmoor.example', cwen: 'cwen.hale@quillmoor.example' } as const;
const bedeValue = `Bede Lunn <${mails.bede}>`;
const path = 'M10 20L30 40L50 20';

let it: TestServer;
let [ada, bede, cwen]: (Caller & { id: number })[] = [];
let app: OpenApp;
const role = (id: string, grant: Partial<Grant>): DesignChange => ({
  kind: 'put',
  part: 'role',
  value: { id, name: id, description: '', everything: false, menu: [], grants: [grantOf(`g_${id}`, 'tasks', grant)] },
});

beforeAll(async () => {
  it = await testServer();
  [ada, bede, cwen] = [await it.person('Ada Roke'), await it.person('Bede Lunn'), await it.person('Cwen Hale')];
  await it.person('Dora Elm');
  app = await makeApp(ada, 'Tasks', [
    table('tasks', 'Tasks', [
      field('text', 't_what', 'What'),
      field('person', 't_who', 'Assigned to'),
      field('person', 't_from', 'Asked by', { default: 'me.Name + " <" + me.Mail + ">"' }),
      field('signature', 't_signed', 'Signed'),
      field('formula', 't_mine', 'Is mine', { expression: 'Assigned to.mail = me.Mail' }),
      field('formula', 't_says', 'Says', { expression: 'Signed.by + " signed for " + Assigned to' }),
    ]),
    role('works', { see: true, add: true, change: true, condition: 'Assigned to.mail = me.Mail or Assigned to = null' }),
    role('reads', { see: true }),
    role('blind', { see: true, add: true, change: true, hidden: ['t_who'], locked: ['t_from'] }),
    {
      kind: 'put',
      part: 'automation',
      value: {
        id: 'au_stranger',
        name: 'Names a stranger',
        description: '',
        isOn: true,
        table: 'tasks',
        on: 'changed',
        fields: ['t_what'],
        moves: [],
        condition: 'What = "for a stranger"',
        steps: [{ kind: 'change', id: 'st_1', values: [{ field: 't_who', itself: false, expression: '"dora.elm@quillmoor.example"' }] }],
      },
    } as unknown as DesignChange,
  ]);
  await it.server.people.join(app.id, bede.id, 'member', ['works']);
  await it.server.people.join(app.id, cwen.id, 'member', ['reads']);
});
afterAll(() => it.close());

const write = (values: Record<string, Value>, at?: { id: number; rev: number }) => ({
  params: { app: app.id },
  body: { key: saveKey(), writes: [at === undefined ? { kind: 'add', table: 'tasks', as: 'new', values } : { kind: 'change', table: 'tasks', ...at, values }] },
});
const saved = async (who: Caller | undefined, values: Record<string, Value>, at?: { id: number; rev: number }): Promise<{ id: number; rev: number }> => {
  const [record] = (await who!.call(contract.saveRecords, write(values, at))).records;
  return { id: record?.id ?? 0, rev: record?.rev ?? 0 };
};
const refused = async (who: Caller | undefined, values: Record<string, Value>, at?: { id: number; rev: number }): Promise<string> => {
  const { body } = await who!.refused(contract.saveRecords, write(values, at));
  return [body.message, ...body.issues.map((issue) => issue.message)].join(' ');
};
const read = async (who: Caller | undefined, id: number): Promise<Record<string, Value>> =>
  (await who!.call(contract.readRecord, { params: { app: app.id, table: 'tasks', id } })).record.values;

test('a new record names who adds it, and expressions know each person by name and mail address', async () => {
  const { id } = await saved(bede, { t_what: 'Look at H-4', t_who: bedeValue });
  expect(await read(bede, id)).toMatchObject({ t_from: bedeValue, t_who: bedeValue, t_mine: true });
  expect(await read(ada, id)).toMatchObject({ t_mine: false });
});

test('a grant hands a record to the person that it names, and to nobody else', async () => {
  const { id, rev } = await saved(ada, { t_what: 'Only for Bede', t_who: bedeValue });
  expect((await read(bede, id))['t_what']).toBe('Only for Bede');
  await saved(ada, { t_who: `Ada Roke <${mails.ada}>` }, { id, rev });
  expect((await bede!.refused(contract.readRecord, { params: { app: app.id, table: 'tasks', id } })).status).toBe(404);
});

test('only people of the app can be named, and by their own names', async () => {
  for (const value of ['Dora Elm <dora.elm@quillmoor.example>', 'dora.elm@quillmoor.example', 'Nobody <nobody@quillmoor.example>', `The Boss <${mails.bede}>`])
    expect(await refused(ada, { t_what: 'x', t_who: value })).toContain('is not one of the people of this app');
  expect(await refused(ada, { t_what: 'x', t_who: 'Bede' })).toContain('must be one of the people of this app');
  // The mail address alone is enough: whose it is is read with it.
  const { id } = await saved(ada, { t_who: mails.bede });
  expect((await read(ada, id))['t_who']).toBe(bedeValue);
});

test('an automation names nobody from outside either', async () => {
  const at = await saved(ada, { t_what: 'first' });
  expect(await refused(ada, { t_what: 'for a stranger' }, at)).toContain('is not one of the people of this app');
  expect((await read(ada, at.id))['t_what']).toBe('first');
});

test('a new name shows everywhere, and who has left stays where they were named', async () => {
  const at = await saved(ada, { t_what: 'Old', t_who: `Cwen Hale <${mails.cwen}>` });
  await it.sql(`UPDATE bibliona.person SET name = 'Cwen Roke' WHERE email = $1`, [mails.cwen]);
  expect((await read(ada, at.id))['t_who']).toBe(`Cwen Roke <${mails.cwen}>`);
  await it.sql('DELETE FROM bibliona.app_person WHERE app_id = $1 AND person_id = $2', [app.id, cwen!.id]);
  const after = await saved(ada, { t_what: 'Older', t_who: `Cwen Roke <${mails.cwen}>` }, at);
  expect((await read(ada, after.id))['t_who']).toBe(`Cwen Roke <${mails.cwen}>`);
  expect(await refused(ada, { t_who: `Cwen Roke <${mails.cwen}>` })).toContain('is not one of the people of this app');
  await it.server.people.join(app.id, cwen!.id, 'member', ['reads']);
});

test('only who can enter a person is told who works here', async () => {
  const people = async (who: Caller | undefined, text = '') =>
    (await who!.call(contract.lookUpPeople, { params: { app: app.id }, query: { text } })).people.map((person) => person.mail);
  expect(await people(ada)).toEqual(Object.values(mails));
  expect(await people(bede, 'LUNN')).toEqual([mails.bede]);
  expect((await cwen!.refused(contract.lookUpPeople, { params: { app: app.id } })).status).toBe(403);
  await it.server.people.join(app.id, cwen!.id, 'member', ['blind']);
  expect((await cwen!.refused(contract.lookUpPeople, { params: { app: app.id } })).status).toBe(403);
  await it.server.people.join(app.id, cwen!.id, 'member', ['reads']);
});

test('a file names people by name, by mail address or both, and each that is unknown is said', async () => {
  const good = await upload(ada!, app, 'Tasks.csv', `What,Assigned to\nimported a,bede lunn\nimported b,${mails.bede}\nimported c,${bedeValue}\n`);
  expect(await run(ada!, app, good, 'tasks')).toMatchObject({ state: 'done', added: 3 });
  const { records } = await ada!.call(contract.readPage, { params: { app: app.id, table: 'tasks' }, query: { search: 'imported' } });
  expect(records.map((record) => record.values['t_who'])).toEqual([bedeValue, bedeValue, bedeValue]);
  const bad = await upload(ada!, app, 'Tasks.csv', 'What,Assigned to\nimported d,Dora Elm\nimported e,dora.elm@quillmoor.example\n');
  const answer = await run(ada!, app, bad, 'tasks');
  expect(answer).toMatchObject({ state: 'refused', complaintCount: 2 });
  expect(JSON.stringify(answer.complaints)).toContain('is not one of the people of this app');
});

test('a signature says who drew it and when, whatever was sent of that', async () => {
  const { id, rev } = await saved(bede, { t_what: 'Signed', t_who: bedeValue, t_signed: path });
  const mine = String((await read(ada, id))['t_signed']).split('\n');
  expect(mine.slice(0, 2)).toEqual([path, 'Bede Lunn']);
  expect(Math.abs(Date.parse(mine[2] ?? '') - Date.now())).toBeLessThan(60_000);
  expect((await read(ada, id))['t_says']).toBe('Bede Lunn signed for Bede Lunn');
  await saved(bede, { t_signed: `${path}\nAda Roke\n2020-01-01T00:00:00Z` }, { id, rev });
  const again = String((await read(ada, id))['t_signed']).split('\n');
  expect(again[1]).toBe('Bede Lunn');
  expect(Date.parse(again[2] ?? '')).toBeGreaterThan(Date.parse('2026-01-01'));
});

test('nothing but strokes is taken for a signature', async () => {
  for (const drawn of ['M10 20" onload="alert(1)', 'M1 2C3 4 5 6 7 8', '<svg></svg>', `M0 0${'L1 1'.repeat(4000)}`, 'M1000 2'])
    expect(await refused(ada, { t_signed: drawn })).toContain('must be drawn');
});
