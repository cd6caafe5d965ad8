import { setTimeout as delay } from 'node:timers/promises';
import { contract, formFor, grantOf, leastFillTime, type AppDesign, type DesignChange, type Form, type OpenApp, type PublicForm } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { honey, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

/** Forms that anyone can fill in: what a visitor learns, what they can add, and what keeps programs out. */
let it: TestServer;
let ada: Caller & { id: number };
let visitor: Caller;
let app: OpenApp;

const items: Form['items'] = [
  { kind: 'field', field: 'h_code', width: 6 },
  { kind: 'field', field: 'h_year', width: 6, shownIf: 'Stores != null', requiredIf: 'Rent > 3' },
  { kind: 'field', field: 'h_stores', width: 6 },
  { kind: 'field', field: 'h_apiary', width: 6 },
  { kind: 'field', field: 'h_gentle', width: 6 },
];
const form = (id: string, more: Partial<PublicForm> = {}): DesignChange => ({
  kind: 'put',
  part: 'form',
  value: { id, table: 'hives', name: id, roles: [], isDefault: false, items, thanks: `Thanks for ${id}`, public: { role: 'guest', sites: [], ...more } },
});

beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada');
  visitor = it.caller();
  app = await makeApp(ada, 'Moor honey', [
    ...honey,
    {
      kind: 'put',
      part: 'role',
      value: {
        id: 'guest',
        name: 'Guest',
        description: 'secret words',
        everything: false,
        menu: [],
        // They see records here, and still none through the form.
        grants: [grantOf('g_hives', 'hives', { see: true, add: true, export: true, locked: ['h_gentle'], condition: 'Code != "secret code"' })],
      },
    },
    form('open'),
    form('asking', { question: { text: 'What do bees make?', answers: ['Honey', 'wax'] } }),
    form('three', { most: 3, closedText: 'Three are enough.' }),
    form('over', { closedFrom: '2026-01-01' }),
    form('framed', { sites: ['https://moor.example', 'http://shop.example:8080'] }),
    {
      kind: 'put',
      part: 'automation',
      value: {
        name: 'secret automation',
        description: '',
        section: '',
        id: 'au_note',
        isOn: true,
        table: 'hives',
        on: 'added',
        fields: [],
        moves: [],
        condition: 'Code = "H-auto"',
        steps: [{ kind: 'change', id: 'st_note', values: [{ field: 'h_notes', itself: false, expression: '"Seen"' }] }],
      },
    },
  ]);
});
afterAll(() => it.close());

const at = (name: string) => ({ params: { app: app.id, form: name } });
async function opened(name: string) {
  const answer = await visitor.call(contract.readPublicForm, at(name));
  if (answer.state !== 'open') throw new Error(`${name} is closed`);
  return answer;
}
/** Tickets that are old enough to be used. */
async function tickets(name: string, count: number): Promise<readonly string[]> {
  const all = await Promise.all(Array.from({ length: count }, async () => (await opened(name)).ticket));
  // By the clock that tickets are dated with: timers go by another one, and the two need not agree.
  const from = Date.now();
  while (Date.now() - from < leastFillTime) await delay(50);
  return all;
}
const body = (ticket: string, values: object, more: object = {}) => ({ ticket, values, ...more });
const hives = (): Promise<{ code: string; created_by: number; notes: string | null }[]> =>
  it.sql(`SELECT code, created_by, notes FROM "app_${app.id}".hives ORDER BY id`);

describe('what a visitor is given', () => {
  test('is the form, the fields that it asks for, and nothing else of the app', async () => {
    const { app: told, form: id } = await opened('open');
    const design = told.design as AppDesign;
    expect(id).toBe('open');
    expect(design.tables.map((table) => [table.id, table.fields.map((field) => field.id)])).toEqual([['hives', ['h_code', 'h_year', 'h_stores']]]);
    expect(formFor(design, 'hives').items.map((item) => ('field' in item ? item.field : item.kind))).toEqual(['h_code', 'h_year', 'h_stores']);
    expect(told.rights['hives']).toMatchObject({ see: false, add: true, change: false, remove: false, export: false });
    expect(told.menu).toEqual([]);
    const text = JSON.stringify(told);
    // Neither texts of the role and of automations nor fields that are named in a condition.
    for (const word of ['secret', 'Apiary', 'Apiaries', 'Rent', 'Notes', 'wax', 'asking']) expect(text, word).not.toContain(word);
  });

  test('is nothing where a form is not public, or is not there', async () => {
    const answers = await Promise.all(
      [
        [app.id, 'fm_hives'],
        [app.id, 'nothing'],
        ['no_such_app', 'open'],
      ].map(([id = '', name = '']) => visitor.refused(contract.readPublicForm, { params: { app: id, form: name } })),
    );
    expect(answers.map(({ status, body: said }) => [status, said.message])).toEqual(
      answers.map(() => [404, 'There is no form at this address, or it is no longer public.']),
    );
  });

  test('is a text where it is closed', async () => {
    expect(await visitor.call(contract.readPublicForm, at('over'))).toEqual({ state: 'closed', name: 'over', text: '' });
  });
});

describe('what a visitor sends', () => {
  test('is one record, however often it is sent, and passes the automations', async () => {
    const [ticket = ''] = await tickets('open', 1);
    const sent = { ...at('open'), body: body(ticket, { h_code: 'H-auto', h_stores: 'low' }) };
    const answers = await Promise.all([visitor.call(contract.sendPublicForm, sent), visitor.call(contract.sendPublicForm, sent)]);
    expect(answers).toEqual([{ thanks: 'Thanks for open' }, { thanks: 'Thanks for open' }]);
    expect(await hives()).toEqual([{ code: 'H-auto', created_by: 0, notes: 'Seen' }]);
    expect(await ada.call(contract.countPublicForm, at('open'))).toEqual({ sent: 1 });
    // Its number is not known beforehand: the one that came second can have taken the first.
    const [{ id } = { id: 0 }] = await it.sql<{ id: number }>(`SELECT id::int FROM "app_${app.id}".hives`);
    const { entries } = await ada.call(contract.readHistory, { params: { app: app.id, table: 'hives', id } });
    expect(entries.at(-1)).toMatchObject({ kind: 'add', person: 'Public form' });
  });

  test('is refused in words, and leaves nothing', async () => {
    const before = await hives();
    const [good = ''] = await tickets('open', 1);
    const { ticket: other } = await opened('asking');
    const { ticket: fresh } = await opened('open');
    const refused = async (sent: object, name = 'open') => {
      const { status, body: said } = await visitor.refused(contract.sendPublicForm, { ...at(name), body: sent });
      return [status, said.issues[0]?.field ?? null];
    };
    const values = { h_code: 'H-7' };
    expect(await refused(body(fresh, values))).toEqual([429, null]);
    expect(await refused(body(other, values))).toEqual([400, null]);
    expect(await refused(body(`${good}x`, values))).toEqual([400, null]);
    expect(await refused(body(good.replace(/\.\d+\./u, '.1.'), values))).toEqual([400, null]);
    expect(await refused(body(good, values, { unseen: 'https://spam.example' }))).toEqual([403, null]);
    for (const field of ['h_notes', 'h_apiary', 'h_gentle', 'h_nothing']) expect(await refused(body(good, { ...values, [field]: 'x' }))).toEqual([409, null]);
    expect(await refused(body(good, { h_year: 2024 }))).toEqual([422, 'h_code']);
    expect(await refused(body(good, { ...values, h_year: 'soon' }))).toEqual([422, 'h_year']);
    expect(await refused(body(good, { h_code: 'secret code' }))).toEqual([422, null]);
    expect(await hives()).toEqual(before);
    expect(await ada.call(contract.countPublicForm, at('open'))).toEqual({ sent: 1 });
    // The same page can be sent after it was mended.
    await visitor.call(contract.sendPublicForm, { ...at('open'), body: body(good, values) });
    expect((await hives()).length).toBe(before.length + 1);
  });

  test('needs the answer to the question, in whatever case', async () => {
    const [first = '', second = ''] = await tickets('asking', 2);
    const wrong = await visitor.refused(contract.sendPublicForm, { ...at('asking'), body: body(first, { h_code: 'Q-1' }, { answer: 'milk' }) });
    expect(wrong.body.issues).toEqual([{ field: 'answer', message: 'is not the answer' }]);
    await visitor.refused(contract.sendPublicForm, { ...at('asking'), body: body(first, { h_code: 'Q-1' }) });
    await visitor.call(contract.sendPublicForm, { ...at('asking'), body: body(first, { h_code: 'Q-1' }, { answer: ' HONEY' }) });
    await visitor.call(contract.sendPublicForm, { ...at('asking'), body: body(second, { h_code: 'Q-2' }, { answer: 'wax' }) });
  });

  test('is taken so often as the builder has said, by however many at once', async () => {
    const all = await tickets('three', 8);
    const answers = await Promise.all(
      all.map((ticket, i) => visitor.send('POST', visitor.path(contract.sendPublicForm, at('three').params), body(ticket, { h_code: `T-${i}` }))),
    );
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 200, 200, 403, 403, 403, 403, 403]);
    expect((await hives()).filter(({ code }) => code.startsWith('T-')).length).toBe(3);
    expect(await ada.call(contract.countPublicForm, at('three'))).toEqual({ sent: 3 });
    expect(await visitor.call(contract.readPublicForm, at('three'))).toEqual({ state: 'closed', name: 'three', text: 'Three are enough.' });
    // What was refused leaves no way in for later.
    const late = all[answers.findIndex(({ status }) => status === 403)] ?? '';
    await visitor.refused(contract.sendPublicForm, { ...at('three'), body: body(late, { h_code: 'T-late' }) });
    // What was taken is still one record when its answer was lost and it is sent again.
    const done = answers.findIndex(({ status }) => status === 200);
    await visitor.call(contract.sendPublicForm, { ...at('three'), body: body(all[done] ?? '', { h_code: `T-${done}` }) });
    expect(await ada.call(contract.countPublicForm, at('three'))).toEqual({ sent: 3 });
  });

  test('is slowed down from one place', async () => {
    const { ticket } = await opened('framed');
    const statuses: number[] = [];
    for (let i = 0; i < 62; i += 1)
      statuses.push((await visitor.send('POST', visitor.path(contract.sendPublicForm, at('framed').params), body(ticket, {}, { unseen: 'x' }))).status);
    expect(statuses.slice(-2)).toEqual([429, 429]);
  });
});

describe('who is behind it', () => {
  test('is nobody who can sign in, and nobody on the list of the server', async () => {
    expect((await visitor.send('POST', '/api/sign-in', { email: '', password: '' })).status).toBe(400);
    const { people } = await ada.call(contract.readServer);
    expect(people.map((person) => person.name)).toEqual(['Ada']);
    expect((await ada.send('POST', '/api/server/people/0', { isAdmin: true, mayMakeApps: true })).status).toBe(400);
  });

  test('is let in nowhere else', async () => {
    for (const path of ['', '/tables/hives/page', '/tables/hives/count', '/live', '/search?text=H'])
      expect((await visitor.send('GET', `/api/apps/${app.id}${path}`)).status).toBe(401);
    expect((await visitor.send('POST', `/api/apps/${app.id}/save`, { key: saveKey(), writes: [] })).status).toBe(401);
  });
});

describe('other sites', () => {
  test('show a form within their pages where its builder has named them', async () => {
    const policyOf = async (path: string): Promise<string | null> => (await visitor.send('GET', path)).headers.get('content-security-policy');
    const framed = await visitor.send('GET', `/public/${app.id}/framed`);
    expect(framed.headers.get('content-security-policy')).toContain('frame-ancestors https://moor.example http://shop.example:8080');
    expect(framed.headers.get('x-frame-options')).toBeNull();
    for (const path of [`/public/${app.id}/open`, `/public/${app.id}/nothing`, `/desk/${app.id}`, '/sign-in', `/public/${app.id}/framed/x`])
      expect(await policyOf(path), path).toContain("frame-ancestors 'none'");
  });

  test('are named by their address alone', async () => {
    const { version } = await ada.call(contract.openApp, { params: { app: app.id } });
    for (const site of ['moor.example', 'https://moor.example/x', "https://x; script-src 'unsafe-inline'", '*', 'javascript:alert(1)'])
      await ada.refused(contract.changeDesign, { params: { app: app.id }, body: { version, changes: [form('framed', { sites: [site] })], acceptLoss: false } });
  });
});

test('without its role it is for people of the app again', async () => {
  const { version } = await ada.call(contract.openApp, { params: { app: app.id } });
  const change = { kind: 'remove', part: 'role', id: 'guest' };
  await ada.call(contract.changeDesign, { params: { app: app.id }, body: { version, changes: [change], acceptLoss: true } });
  await visitor.refused(contract.readPublicForm, at('open'));
  const { design } = await ada.call(contract.openApp, { params: { app: app.id } });
  expect(design.forms.find((each) => each.id === 'open')?.public).toBeUndefined();
});
