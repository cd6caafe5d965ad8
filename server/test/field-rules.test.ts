import { contract, type DesignChange, type OpenApp, type StepAnswer, type Write } from '@bibliona/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { run, upload } from './importing.js';
import { field, makeApp, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

/** What a builder says of a field or a relationship holds for everybody, the builder among them, whatever is sent. */
let it: TestServer;
let ada: Caller & { id: number };
let app: OpenApp;
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
  app = await makeApp(ada, 'Queens', [
    table('queens', 'Queens', [field('text', 'q_mark', 'Mark', { fixed: true, placeholder: 'Such as B-12' }), field('text', 'q_note', 'Note')]),
    table('boxes', 'Boxes', [field('text', 'b_code', 'Code')]),
    {
      kind: 'add_relationship',
      id: 'r_mother',
      parent: 'queens',
      child: 'queens',
      fieldId: 'q_mother',
      fieldName: 'Mother',
      childrenName: 'Daughters',
      required: false,
      whenParentRemoved: 'refuse',
    },
    {
      kind: 'add_relationship',
      id: 'r_box',
      parent: 'boxes',
      child: 'queens',
      fieldId: 'q_box',
      fieldName: 'Box',
      childrenName: 'Queen',
      required: false,
      unique: true,
      whenParentRemoved: 'clear',
    },
  ]);
  await ada.call(contract.saveRecords, save({ kind: 'add', table: 'boxes', as: 'b', values: { b_code: 'Box 1' } }));
  await ada.call(contract.saveRecords, save({ kind: 'add', table: 'queens', as: 'q', values: { q_mark: 'B-1', q_box: 1 } }));
});
afterAll(() => it.close());

const save = (...writes: readonly Write[]) => ({ params: { app: app.id }, body: { key: saveKey(), writes } });
const rev = async (): Promise<number> => (await ada.call(contract.readRecord, { params: { app: app.id, table: 'queens', id: 1 } })).record.rev;
const change = async (values: Record<string, string | number | null>): Promise<Write> => ({ kind: 'change', table: 'queens', id: 1, rev: await rev(), values });
const messages = async (...writes: readonly Write[]): Promise<readonly (readonly [string | undefined, string])[]> =>
  (await ada.refused(contract.saveRecords, save(...writes))).body.issues.map((issue) => [issue.field, issue.message]);
/** The records that a change of the design is refused for. */
const hindering = (body: { readonly details: unknown }) =>
  (body.details as { readonly steps: readonly StepAnswer[] }).steps.filter((step) => step.blocks).flatMap((step) => step.records);
const redesign = async (...changes: readonly DesignChange[]): Promise<void> => {
  app = await ada.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes: [...changes] } });
};

test('a field that is fixed is filled once, and its record changes in all others', async () => {
  expect(await messages(await change({ q_mark: 'B-2', q_note: 'x' }))).toEqual([['q_mark', "Mark can't be changed once the record is saved"]]);
  await ada.call(contract.saveRecords, save(await change({ q_note: 'Calm' })));
  // An undo of the whole record brings it back as it was.
  const key = saveKey();
  await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key, writes: [{ kind: 'remove', table: 'queens', id: 1, rev: await rev() }] } });
  await ada.call(contract.takeBackSave, { params: { app: app.id, save: key }, body: { key: saveKey(), dry: false } });
  const { record } = await ada.call(contract.readRecord, { params: { app: app.id, table: 'queens', id: 1 } });
  expect(record.values).toMatchObject({ q_mark: 'B-1', q_note: 'Calm' });
  await redesign({ kind: 'change_field', table: 'queens', field: field('text', 'q_mark', 'Mark') });
  await ada.call(contract.saveRecords, save(await change({ q_mark: 'B-2' })));
});

test('no record is its own parent, until the builder allows it; and not again while one is', async () => {
  expect(await messages(await change({ q_mother: 1 }))).toEqual([['q_mother', "Mother can't be the record itself"]]);
  await redesign({ kind: 'change_relationship', relationship: 'r_mother', neverOwn: false });
  await ada.call(contract.saveRecords, save(await change({ q_mother: 1 })));
  const refused = await ada.refused(contract.changeDesign, {
    params: { app: app.id },
    body: { version: app.version, changes: [{ kind: 'change_relationship', relationship: 'r_mother', neverOwn: true }] },
  });
  expect(refused.body.message).toBe('In 1 record of Queens the Mother is the record itself. Change those first.');
  expect(hindering(refused.body)).toEqual([{ table: 'queens', id: 1, caption: 'B-2' }]);
  await ada.call(contract.saveRecords, save(await change({ q_mother: null })));
  await redesign({ kind: 'change_relationship', relationship: 'r_mother', neverOwn: true });
});

test('a table whose records refer to each other comes back with its rule', async () => {
  const removal: DesignChange = { kind: 'remove', part: 'table', id: 'queens' };
  app = await ada.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes: [removal], acceptLoss: true } });
  app = await ada.call(contract.undoDesign, { params: { app: app.id }, body: { version: app.version, direction: 'undo', acceptLoss: true } });
  expect(await messages(await change({ q_mother: 1 }))).toEqual([['q_mother', "Mother can't be the record itself"]]);
});

test('where each parent has one child, a second one is refused at its field', async () => {
  expect(await messages({ kind: 'add', table: 'queens', as: 'q', values: { q_mark: 'B-9', q_box: 1 } })).toEqual([
    ['q_box', 'Another record has this Box already'],
  ]);
});

test('a new field takes its place among the others, in the table, the form and the list', async () => {
  await redesign({ kind: 'add_field', table: 'boxes', field: field('text', 'b_last', 'Last') });
  await redesign({ kind: 'add_field', table: 'boxes', field: field('text', 'b_mid', 'Middle'), at: 1 });
  const order = ['b_code', 'b_mid', 'b_last'];
  expect(app.design.tables.find((each) => each.id === 'boxes')?.fields.map((each) => each.id)).toEqual(order);
  expect(app.design.lists.find((list) => list.table === 'boxes')?.columns).toEqual(order);
  expect(app.design.forms.find((form) => form.table === 'boxes')?.items.flatMap((item) => (item.kind === 'field' ? [item.field] : []))).toEqual(order);
});

test('records that hinder a rule are told, of equal values the last one, at most twenty', async () => {
  const many = Array.from({ length: 30 }, (_, i): Write => ({ kind: 'add', table: 'boxes', as: `b${i}`, values: { b_code: i % 2 === 0 ? 'Twin' : null } }));
  await ada.call(contract.saveRecords, save(...many));
  const refused = async (more: object) =>
    hindering(
      (
        await ada.refused(contract.changeDesign, {
          params: { app: app.id },
          body: { version: app.version, changes: [{ kind: 'change_field', table: 'boxes', field: field('text', 'b_code', 'Code', more) }] },
        })
      ).body,
    );
  const unique = await refused({ unique: true });
  expect(unique.map((each) => each.caption)).toEqual(['Twin']);
  const required = await refused({ required: true });
  expect(required).toHaveLength(15);
  expect(new Set(required.map((each) => each.table))).toEqual(new Set(['boxes']));
  const { records } = await ada.call(contract.readPage, { params: { app: app.id, table: 'boxes' }, query: { limit: 200 } });
  const last = records.filter((record) => record.values['b_code'] === 'Twin').map((record) => record.id);
  expect(unique[0]?.id).toBe(Math.max(...last));
  expect(required.map((each) => each.id)).toEqual(records.filter((record) => record.values['b_code'] === null).map((record) => record.id));
});

test('a text can be unique whatever the case of its letters: in forms, in files, and before it is switched on', async () => {
  await redesign({ kind: 'add_field', table: 'boxes', field: field('text', 'b_tag', 'Tag') });
  const box = (b_tag: string): Write => ({ kind: 'add', table: 'boxes', as: 'tag', values: { b_tag } });
  for (const tag of ['Oak', 'OAK', 'Ash']) await ada.call(contract.saveRecords, save(box(tag)));
  const rule = (more: object): DesignChange => ({ kind: 'change_field', table: 'boxes', field: field('text', 'b_tag', 'Tag', more) });
  await redesign(rule({ unique: true }));
  const { body } = await ada.refused(contract.changeDesign, {
    params: { app: app.id },
    body: { version: app.version, changes: [rule({ unique: true, anyCase: true })] },
  });
  expect(body.message).toContain('1 value of Tag appears in more than one record (“oak”)');
  const [told] = hindering(body);
  const open = await ada.call(contract.readRecord, { params: { app: app.id, table: 'boxes', id: told?.id ?? 0 } });
  await ada.call(contract.saveRecords, save({ kind: 'change', table: 'boxes', id: open.record.id, rev: open.record.rev, values: { b_tag: 'Elm' } }));
  await redesign(rule({ unique: true, anyCase: true }));
  expect(await messages(box('oAK'))).toEqual([['b_tag', 'Tag must be unique, and another record has oak already']]);
  const answer = await run(ada, app, await upload(ada, app, 'Boxes.csv', 'Tag\nelm\nYew\nYEW\n'), 'boxes');
  expect(answer.state).toBe('refused');
  expect(JSON.stringify(answer)).toMatch(/is in the table already.*is in line 3 already/u);
  await redesign(rule({}));
  await ada.call(contract.saveRecords, save(box('oAK')));
});

test('fields are unique together whatever the case of their letters, once the records allow it', async () => {
  const together = { id: 'u_colour', fields: ['c_hive', 'c_colour'] };
  await redesign(table('colours', 'Colours', [field('text', 'c_hive', 'Hive'), field('text', 'c_colour', 'Colour')]), {
    kind: 'change_table',
    table: 'colours',
    uniqueTogether: [together],
  });
  const add = (hive: string, colour: string): Write => ({ kind: 'add', table: 'colours', as: `${hive} ${colour}`, values: { c_hive: hive, c_colour: colour } });
  await ada.call(contract.saveRecords, save(add('Oak', 'Blue'), add('OAK', 'blue'), add('Oak', 'Green')));
  const anyCase: DesignChange = { kind: 'change_table', table: 'colours', uniqueTogether: [{ ...together, anyCase: true }] };
  const refused = await ada.refused(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes: [anyCase] } });
  expect(refused.body.message).toBe('1 value of Hive and Colour appears in more than one record (“["oak", "blue"]”). Change those records first.');
  expect(hindering(refused.body)).toMatchObject([{ table: 'colours', id: 2 }]);
  await ada.call(contract.saveRecords, save({ kind: 'remove', table: 'colours', id: 2, rev: 1 }));
  await redesign(anyCase);
  expect(await messages(add('oak', 'GREEN'))).toEqual([[undefined, 'Another record has the same Hive and Colour already']]);
  await redesign({ kind: 'change_table', table: 'colours', uniqueTogether: [together] });
  await ada.call(contract.saveRecords, save(add('oak', 'GREEN')));
});

test('a form begins with what the same person entered last, as far as they see it', async () => {
  await redesign(table('walks', 'Walks', [field('text', 'w_place', 'Place', { startsWithLast: true }), field('text', 'w_note', 'Note')]), {
    kind: 'put',
    part: 'role',
    value: {
      id: 'ro_walker',
      name: 'Walker',
      description: '',
      grants: ['see', 'add', 'change'].map((act, i) => ({ id: `g_${i}`, table: 'walks', act, condition: '', withheld: [] })),
      pages: [],
      startsAt: null,
    } as never,
  });
  const ben = await it.person('Ben Walker');
  await it.server.people.join(app.id, ben.id, 'member', ['ro_walker']);
  const last = async (who: Caller) => (await who.call(contract.readLast, { params: { app: app.id, table: 'walks' } })).values;
  expect(await last(ada)).toEqual({});
  await ada.call(contract.saveRecords, save({ kind: 'add', table: 'walks', as: 'a', values: { w_place: 'Mill lane', w_note: 'x' } }));
  await ada.call(contract.saveRecords, save({ kind: 'add', table: 'walks', as: 'a', values: { w_place: 'Moor', w_note: 'y' } }));
  expect(await last(ada)).toEqual({ w_place: 'Moor' });
  expect(await last(ben)).toEqual({});
});

test('an index by choice stands in the database, and a text that is too long for one is refused at its field', async () => {
  const long = Array.from({ length: 1500 }, (_, i) => String.fromCodePoint(0x4e00 + ((i * 7919) % 20_000))).join('');
  await redesign({ kind: 'change_field', table: 'boxes', field: field('text', 'b_code', 'Code', { indexed: true }) });
  expect(await messages({ kind: 'add', table: 'boxes', as: 'b', values: { b_code: long } })).toEqual([
    ['b_code', 'Code is too long: a text that is unique, indexed or sorted by has up to about 2,600 letters'],
  ]);
  await redesign({ kind: 'change_field', table: 'boxes', field: field('text', 'b_code', 'Code') });
  await ada.call(contract.saveRecords, save({ kind: 'add', table: 'boxes', as: 'b', values: { b_code: long } }));
  const refused = await ada.refused(contract.changeDesign, {
    params: { app: app.id },
    body: { version: app.version, changes: [{ kind: 'change_field', table: 'boxes', field: field('text', 'b_code', 'Code', { indexed: true }) }] },
  });
  expect(refused.body.message).toContain('Code');
});
