import { contract, grantOf, type DesignChange, type Grant, type OpenApp, type Route } from '@bibliona/core';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { field, makeApp, saveKey, table, testServer, type Caller, type TestServer } from '../support.js';

/** Saves that write one record several times, and saves that race: what a rule refuses alone it refuses in company. */
let it: TestServer;
let builder: Caller;
let lab: Caller & { readonly id: number };
let keeper: Caller & { readonly id: number };
let app: OpenApp;

const role = (id: string, grants: readonly Grant[]): DesignChange => ({
  kind: 'put',
  part: 'role',
  value: { id, name: id, description: '', everything: false, menu: [], grants },
});
const move = (id: string, from: string, to: string, guard = '') => ({ id, name: id, from, to, roles: ['lab'], guard, duty: 'should' as const });
const route: Route = {
  id: 'way',
  name: 'Way',
  description: '',
  section: '',
  table: 'lots',
  field: 'l_status',
  statuses: [{ choice: 'in_lab', kind: 'start' }],
  moves: [move('hold', 'in_lab', 'on_hold'), move('back', 'on_hold', 'in_lab'), move('release', 'in_lab', 'released', 'count(Tests) >= 3')],
};
const labels = ['in_lab', 'on_hold', 'released'].map((id) => ({ id, label: id }));
const design: readonly DesignChange[] = [
  table('lots', 'Lots', [
    field('text', 'uu_key', 'Key', { unique: true }),
    field('text', 'uu', 'Mark', { unique: true }),
    field('text', 'l_owner', 'Owner'),
    field('choice', 'l_status', 'Status', { choices: labels }),
  ]),
  table('tests', 'Tests', [field('text', 't_what', 'What')]),
  {
    kind: 'add_relationship',
    id: 'r_tests',
    parent: 'lots',
    child: 'tests',
    fieldId: 't_lot',
    fieldName: 'Lot',
    childrenName: 'Tests',
    required: false,
    whenParentRemoved: 'refuse',
  },
  role('lab', [grantOf('g_lab', 'lots', { change: true }), grantOf('g_tests', 'tests', { add: true })]),
  role('keeper', [grantOf('g_keeper', 'lots', { add: true, change: true, remove: true, condition: 'Owner = "Bede"' })]),
  { kind: 'put', part: 'route', value: route },
  { kind: 'change_table', table: 'lots', checks: [{ id: 'ck_few', condition: 'count(Tests) <= 3', message: 'A lot has at most three tests.' }] },
];

const body = (...writes: readonly object[]) => ({ params: { app: app.id }, body: { key: saveKey(), writes } });
const save = (who: Caller, ...writes: readonly object[]) => who.call(contract.saveRecords, body(...writes));
const refused = async (who: Caller, ...writes: readonly object[]) => (await who.refused(contract.saveRecords, body(...writes))).body;
const lot = (values: object, as = 'x') => ({ kind: 'add', table: 'lots', as, values });
const change = (rev: number, values: object = {}, id = 1) => ({ kind: 'change', table: 'lots', id, rev, values });
const go = (name: string, rev: number, id = 1) => ({ kind: 'move', table: 'lots', id, rev, move: name });
const stored = () => it.sql(`SELECT id, owner, status, rev FROM "app_${app.id}".lots ORDER BY id`);

beforeAll(async () => {
  it = await testServer();
  [builder, lab, keeper] = [await it.person('Ada Roke'), await it.person('Lena Foss'), await it.person('Bede Lunn')];
});
afterAll(() => it.close());
beforeEach(async () => {
  app = await makeApp(builder, 'One save', design);
  await it.server.people.join(app.id, lab.id, 'member', ['lab']);
  await it.server.people.join(app.id, keeper.id, 'member', ['keeper']);
  await save(builder, lot({ uu_key: 'K-1', uu: 'M-1', l_owner: 'Bede' }));
});

describe('a guard', () => {
  test('is asked of the record as the writes before it in the same save left it', async () => {
    const says = "“release” isn't possible yet: its condition is not met.";
    expect((await refused(lab, go('release', 1))).message).toBe(says);
    expect((await refused(lab, go('hold', 1), go('back', 2), go('release', 3))).message).toBe(says);
    expect((await refused(lab, change(1), go('release', 2))).message).toBe(says);
    expect(await stored()).toMatchObject([{ status: 'in_lab', rev: 1 }]);
  });
  test('and the status that a move starts from hold for every move of a save', async () => {
    expect((await refused(lab, go('hold', 1), go('release', 2))).message).toBe('“release” starts from in_lab, but this record is at on_hold.');
    expect((await refused(builder, change(1), go('back', 2))).message).toContain('starts from on_hold');
    // The number of a record that is added in the same save can be guessed.
    expect((await refused(builder, lot({}), go('release', 1, 2))).message).toContain("isn't possible yet");
    expect(await stored()).toHaveLength(1);
  });
  test('opens for a save that does all that it asks before', async () => {
    const tests = [1, 2, 3].map((n) => ({ kind: 'add', table: 'tests', as: `t${n}`, values: { t_what: 'Water', t_lot: 1 } }));
    expect((await refused(lab, go('release', 1), ...tests)).message).toContain("isn't possible yet");
    await save(lab, ...tests, go('hold', 1), go('back', 2), go('release', 3));
    expect(await stored()).toMatchObject([{ status: 'released', rev: 4 }]);
  });
  test('and nobody moves a record on that was changed meanwhile', async () => {
    await save(builder, change(1, { l_owner: 'Cara' }));
    expect((await refused(lab, go('hold', 1))).code).toBe('conflict');
  });
});

describe('a grant', () => {
  test('is asked again of a record that a save has changed before', async () => {
    // Out of what is theirs and removed from there; and out and back again.
    expect((await refused(keeper, change(1, { l_owner: 'Cara' }), { kind: 'remove', table: 'lots', id: 1, rev: 2 })).message).toContain('lose access');
    expect((await refused(keeper, change(1, { l_owner: 'Cara' }), change(2, { l_owner: 'Bede' }))).message).toContain('lose access');
    expect(await stored()).toMatchObject([{ owner: 'Bede', rev: 1 }]);
    await save(keeper, change(1, { uu: 'M-9' }), change(2, { uu: 'M-8' }));
    await save(keeper, change(3), { kind: 'remove', table: 'lots', id: 1, rev: 4 });
    expect(await stored()).toEqual([]);
  });
  test("decides before a unique value does: nobody learns of values that they can't write", async () => {
    const taken = await refused(keeper, lot({ uu: 'M-1', l_owner: 'Cara' }));
    const free = await refused(keeper, lot({ uu: 'M-2', l_owner: 'Cara' }));
    expect(taken).toEqual(free);
    expect(taken.message).toBe("You don't have permission to add this record to Lots.");
    await save(builder, lot({ uu: 'M-3', l_owner: 'Cara' }));
    const [moved, other] = [await refused(keeper, change(1, { uu: 'M-3', l_owner: 'Cara' })), await refused(keeper, change(1, { uu: 'M-4', l_owner: 'Cara' }))];
    expect(moved).toEqual(other);
    // Of a record that they can add they are told.
    expect((await refused(keeper, lot({ uu: 'M-1', l_owner: 'Bede' }))).issues[0]).toMatchObject({ field: 'uu' });
  });
  test('on children is not asked for when there are none, and those out of sight are not counted', async () => {
    await save(keeper, lot({ l_owner: 'Bede' }));
    await save(keeper, { kind: 'remove', table: 'lots', id: 2, rev: 1 });
    await save(builder, { kind: 'add', table: 'tests', as: 't', values: { t_lot: 1 } }, { kind: 'add', table: 'tests', as: 'u', values: { t_lot: 1 } });
    const { message } = await refused(keeper, { kind: 'remove', table: 'lots', id: 1, rev: 1 });
    expect(message).toBe("Some Tests that you can't see belong to this record. Ask someone who can see them to move or delete them first.");
    expect((await refused(builder, { kind: 'remove', table: 'lots', id: 1, rev: 1 })).message).toContain('2 Tests belong to this record.');
  });
});

test('a message about a unique value names its field, also where ids begin alike', async () => {
  const issues = async (values: object) => (await refused(builder, lot(values))).issues;
  expect(await issues({ uu_key: 'K-1' })).toMatchObject([{ field: 'uu_key', message: 'Key must be unique, and another record has K-1 already' }]);
  expect(await issues({ uu: 'M-1' })).toMatchObject([{ field: 'uu', message: 'Mark must be unique, and another record has M-1 already' }]);
});

test('a key serves one save: the same save again is answered, another one is refused', async () => {
  const asked = { key: saveKey(), writes: [lot({ uu: 'M-5' })] };
  const send = (writes: readonly object[]) => builder.send('POST', `/api/apps/${app.id}/save`, { key: asked.key, writes });
  const first = await send(asked.writes);
  expect((await send(asked.writes)).body).toEqual(first.body);
  for (const other of [[lot({ uu: 'M-6' })], [...asked.writes, lot({})], [change(1, { uu: 'M-7' })]]) {
    const answer = await send(other);
    expect([answer.status, (answer.body as { message: string }).message]).toEqual([
      400,
      'Something else was saved under this key. Nothing was saved now. Load the page again.',
    ]);
  }
  expect(await stored()).toHaveLength(2);
});

test('a check over children holds when they are added at once', async () => {
  for (let round = 0; round < 5; round += 1) {
    const parent = (await save(builder, lot({ uu: `R-${round}` }))).records[0]?.id ?? 0;
    const answers = await Promise.all(
      Array.from({ length: 12 }, () =>
        builder.send('POST', `/api/apps/${app.id}/save`, {
          key: saveKey(),
          writes: [{ kind: 'add', table: 'tests', as: 't', values: { t_lot: parent } }],
        }),
      ),
    );
    expect(answers.map((answer) => answer.status).sort()).toEqual([200, 200, 200, ...Array.from({ length: 9 }, () => 422)]);
  }
});

test('saves that hold the same records in opposite orders are both made', async () => {
  for (let n = 2; n <= 9; n += 1) await save(builder, lot({}));
  const revs = async () => new Map((await stored()).map((row) => [Number(row['id']), Number(row['rev'])]));
  const now = await revs();
  const ids = [...now.keys()];
  const writes = (order: readonly number[], plus: number) => order.map((id) => change((now.get(id) ?? 0) + plus, { l_owner: 'Bede' }, id));
  const answers = await Promise.all([
    builder.send('POST', `/api/apps/${app.id}/save`, { key: saveKey(), writes: writes(ids, 0) }),
    builder.send('POST', `/api/apps/${app.id}/save`, { key: saveKey(), writes: writes([...ids].reverse(), 0) }),
  ]);
  expect(answers.map((answer) => answer.status).sort()).toEqual([200, 409]);
});

test('the history tells nothing of the time when a record was out of sight', async () => {
  await save(builder, lot({ uu: 'S-1', l_owner: 'Secret Buyer' }));
  await save(builder, change(1, { uu: 'S-2' }, 2));
  await save(builder, change(2, { uu: 'S-3', l_owner: 'Bede' }, 2));
  await save(keeper, change(3, { uu: 'S-4' }, 2));
  const { entries } = await keeper.call(contract.readHistory, { params: { app: app.id, table: 'lots', id: 2 } });
  expect(entries.map((entry) => entry.changes.map((each) => [each.field, each.before, each.after, each.beforeHidden]))).toEqual([
    [['uu', 'S-3', 'S-4', false]],
    [
      ['uu', null, 'S-3', true],
      ['l_owner', null, 'Bede', true],
    ],
  ]);
  expect((await builder.call(contract.readHistory, { params: { app: app.id, table: 'lots', id: 2 } })).entries).toHaveLength(4);
});
