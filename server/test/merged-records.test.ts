/** What belongs to the records of a table goes along with them when it is merged into another one: files, signatures, numbers, and their past. */
import {
  contract,
  filesAs,
  filesIn,
  proposedMerge,
  type AppDesign,
  type DesignChange,
  type HeldFile,
  type OpenApp,
  type Rearrangement,
  type Value,
} from '@bibliona/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { run, upload } from './importing.js';
import { rearranging } from './rearranging.js';
import { field, makeApp, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller & { id: number };
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
});
afterAll(() => it.close());
const { told, rearrange, step, rows, save } = rearranging(
  () => it,
  () => ada,
);

const pdf = Buffer.from('%PDF-1.4\n1 0 obj <</Type /Catalog>> endobj\ntrailer <</Root 1 0 R>>\n%%EOF\n');
const stroke = 'M10 20L30 40';
const yard: readonly DesignChange[] = [
  table('keepers', 'Keepers', [field('text', 'k_name', 'Name', { required: true })]),
  table('helpers', 'Helpers', [
    field('text', 'h_name', 'Name', { required: true }),
    field('text', 'h_phone', 'Phone'),
    field('running_number', 'h_number', 'Number', { pattern: 'H-{00}', start: 1, step: 1, yearly: false, unique: true }),
    field('file', 'h_papers', 'Papers'),
    field('signature', 'h_signed', 'Signed'),
  ]),
  table('visits', 'Visits', [field('text', 'v_about', 'About')]),
  {
    kind: 'add_relationship',
    id: 'r_visits',
    parent: 'helpers',
    child: 'visits',
    fieldId: 'v_helper',
    fieldName: 'Helper',
    childrenName: 'Visits',
    required: false,
    whenParentRemoved: 'refuse',
  },
];
const planFor = (app: { readonly design: unknown }): Extract<Rearrangement, { kind: 'merge_tables' }> => {
  let made = 0;
  return proposedMerge(app.design as AppDesign, 'helpers', 'keepers', (kind) => `m_${kind}${(made += 1)}`);
};

const add = (of: string, as: string, values: object) => ({ kind: 'add', table: of, as, values });
const change = (of: string, { id, rev }: { id: number; rev: number }, values: object) => ({ kind: 'change', table: of, id, rev, values });
const historyOf = async (app: OpenApp, of: string, id: number) => (await ada.call(contract.readHistory, { params: { app: app.id, table: of, id } })).entries;
/** Each line as its kind, and what it says of some fields. */
const said = async (app: OpenApp, of: string, id: number, ...fields: readonly string[]): Promise<unknown[]> =>
  (await historyOf(app, of, id)).map((entry) => [
    entry.kind,
    ...entry.changes.filter((each) => fields.includes(each.field)).map((each): [Value, Value] => [each.before, each.after]),
  ]);
const valuesOf = async (app: OpenApp, of: string, id: number) => (await ada.call(contract.readRecord, { params: { app: app.id, table: of, id } })).record;
const found = async (app: OpenApp, of: string, name: string): Promise<{ id: number; rev: number }> => {
  const [row] = await rows(app, `SELECT id::int, rev FROM ~.${of} WHERE name = '${name}'`);
  return row as { id: number; rev: number };
};

/** Helpers: two from a file, and Edith, who was changed after she was added; Oswin was removed. */
async function made(name: string) {
  const app = await makeApp(ada, name, yard);
  await run(ada, app, await upload(ada, app, 'Helpers.csv', 'Name\nDunstan\nFrith\n'), 'helpers');
  const sent = await ada.send('POST', ada.path(contract.uploadFile, { app: app.id }, { name: 'Licence.pdf' }), pdf, {
    'content-type': 'application/octet-stream',
  });
  const held = sent.body as HeldFile;
  const { records } = await save(app, [
    add('helpers', 'edith', { h_name: 'Edith', h_phone: '1', h_papers: filesAs([held]), h_signed: stroke }),
    add('helpers', 'oswin', { h_name: 'Oswin' }),
    add('visits', 'swarm', { v_about: 'Swarm', v_helper: { added: 'edith' } }),
  ]);
  const [edith, oswin] = [records[0]!, records[1]!];
  const changing = saveKey();
  await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: changing, writes: [change('helpers', edith, { h_phone: '2' })] as never } });
  await save(app, [{ kind: 'remove', table: 'helpers', id: oswin.id, rev: oswin.rev }]);
  return { app, edith, held, changing };
}

test('files, signatures and numbers go along', async () => {
  const { app, edith, held } = await made('Belongings');
  const was = await valuesOf(app, 'helpers', edith.id);
  expect(await told(app, planFor(app))).toEqual([
    '3 records of Helpers become records of Keepers.',
    'Number becomes a text: its numbers stay, and new records get none.',
    '1 removed record of Helpers can’t be restored after the merge. Undo the merge first to restore it.',
  ]);
  const merged = await rearrange(app, planFor(app));
  const there = await found(merged, 'keepers', 'Edith');
  const names = new Map(merged.design.tables.find((each) => each.id === 'keepers')?.fields.map((each) => [each.name, each.id]));
  const is = await valuesOf(merged, 'keepers', there.id);
  for (const [id, fieldName] of [
    ['h_number', 'Number'],
    ['h_papers', 'Papers'],
    ['h_signed', 'Signed'],
  ] as const)
    expect(is.values[names.get(fieldName) ?? '']).toEqual(was.values[id]);
  expect(filesIn(is.values[names.get('Papers') ?? ''])).toEqual([held]);
  const file = await fetch(
    `${it.server.address}${ada.path(contract.readFile, { app: app.id, table: 'keepers', id: there.id, field: names.get('Papers') ?? '', hash: held.hash }, { as: 'whole' })}`,
    { headers: { cookie: ada.cookie } },
  );
  expect(Buffer.from(await file.arrayBuffer()).equals(pdf)).toBe(true);
  await save(merged, [add('keepers', 'n', { k_name: 'Hilda' })]);
  expect(await rows(merged, `SELECT name, number FROM ~.keepers ORDER BY id`)).toEqual([
    { name: 'Dunstan', number: 'H-01' },
    { name: 'Frith', number: 'H-02' },
    { name: 'Edith', number: 'H-03' },
    { name: 'Hilda', number: null },
  ]);
  const { field: mark } = planFor(app).mark;
  await save(merged, [add('keepers', 'm', { k_name: 'Ida', [mark]: 'helpers' })]);
  const back = await step(merged, 'undo');
  expect((await valuesOf(back, 'helpers', edith.id)).values).toEqual(was.values);
  // One that came since is given the next number.
  expect(await rows(back, `SELECT name, number FROM ~.helpers ORDER BY id`)).toEqual([
    { name: 'Dunstan', number: 'H-01' },
    { name: 'Frith', number: 'H-02' },
    { name: 'Edith', number: 'H-03' },
    { name: 'Ida', number: 'H-05' },
  ]);
});

test('a record keeps its history in the other table, its saves can be undone there, and undoing the merge brings all of it back', async () => {
  const { app, edith, changing } = await made('Pasts');
  const { id: dunstan } = await found(app, 'helpers', 'Dunstan');
  const before = {
    edith: await historyOf(app, 'helpers', edith.id),
    dunstan: await historyOf(app, 'helpers', dunstan),
    visit: await historyOf(app, 'visits', 1),
    removed: (await ada.call(contract.readRemoved, { params: { app: app.id, table: 'helpers' } })).removed,
  };
  expect([before.dunstan.map((each) => each.kind), before.removed.length]).toEqual([['import'], 1]);

  const merged = await rearrange(app, planFor(app));
  const there = await found(merged, 'keepers', 'Edith');
  const phone = planFor(app).carried.find((each) => each.field === 'h_phone')?.to ?? '';
  const { field: by } = planFor(app).children[0]!;
  expect(there.rev).toBe(2);
  expect(await said(merged, 'keepers', there.id, 'k_name', planFor(app).mark.field, phone)).toEqual([
    ['change', ['1', '2']],
    ['add', [null, 'Edith'], [null, 'helpers'], [null, '1']],
  ]);
  expect(await said(merged, 'keepers', (await found(merged, 'keepers', 'Frith')).id)).toEqual([['import']]);
  // The visit has said all along that it was hers.
  expect(await said(merged, 'visits', 1, by)).toEqual([['add', [null, { id: there.id, caption: 'Edith' }]]]);
  await ada.call(contract.takeBackSave, { params: { app: app.id, save: changing }, body: { key: saveKey(), dry: false } });
  expect((await valuesOf(merged, 'keepers', there.id)).values[phone]).toBe('1');

  const back = await step(merged, 'undo');
  const after = await historyOf(back, 'helpers', edith.id);
  expect(after[0]).toMatchObject({ kind: 'change', changes: [{ field: 'h_phone', before: '2', after: '1' }] });
  expect(after.slice(1)).toEqual(before.edith);
  expect(await historyOf(back, 'helpers', dunstan)).toEqual(before.dunstan);
  expect(await historyOf(back, 'visits', 1)).toEqual(before.visit);
  const { removed } = await ada.call(contract.readRemoved, { params: { app: app.id, table: 'helpers' } });
  expect(removed).toEqual(before.removed);
  expect((await valuesOf(back, 'helpers', edith.id)).rev).toBe(3);
  // Nothing of it stays in the other table.
  expect(await rows(back, `SELECT count(*)::int AS n FROM ~._history WHERE table_id = 'keepers'`)).toEqual([{ n: 0 }]);
});

test('each record keeps to its own past where both tables were filled from files', async () => {
  const { app } = await made('Two files');
  await run(ada, app, await upload(ada, app, 'Keepers.csv', 'Name\nBede\n'), 'keepers');
  const bede = await found(app, 'keepers', 'Bede');
  const was = await historyOf(app, 'keepers', bede.id);
  const merged = await rearrange(app, planFor(app));
  expect(await historyOf(merged, 'keepers', bede.id)).toEqual(was);
  const back = await step(merged, 'undo');
  expect(await historyOf(back, 'keepers', bede.id)).toEqual(was);
  expect(await said(back, 'helpers', (await found(back, 'helpers', 'Frith')).id)).toEqual([['import']]);
});
