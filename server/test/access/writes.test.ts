import { contract, grantOf, type DesignChange, type Grant, type OpenApp, type Write } from '@bibliona/core';
import { Client } from 'pg';
import { afterAll, beforeAll, beforeEach, describe, expect, test, vi } from 'vitest';
import { honey, makeApp, saveKey, testServer, type Caller, type TestServer } from '../support.js';

/** What grants say of single records and fields, on every way of writing, over HTTP. */
let it: TestServer;
let builder: Caller;
let keeper: Caller & { readonly id: number };
let app: OpenApp;

const role = (id: string, grants: readonly Grant[]): DesignChange => ({
  kind: 'put',
  part: 'role',
  value: { id, name: id, description: '', everything: false, menu: [], grants },
});
const save = (who: Caller, ...writes: readonly Write[]) => who.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
const refused = (who: Caller, ...writes: readonly Write[]) => who.refused(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
const add = (values: Record<string, string | number | boolean | null>): Write => ({ kind: 'add', table: 'hives', as: 'h', values });
const change = (id: number, values: Record<string, string | number | boolean | null>, rev = 1): Write => ({ kind: 'change', table: 'hives', id, rev, values });
const all = () => it.sql(`SELECT * FROM "app_${app.id}".hives ORDER BY id`);

beforeAll(async () => {
  it = await testServer();
  builder = await it.person('Ada Roke');
  keeper = await it.person('Bede Lunn');
});
afterAll(() => it.close());
/** Hives 1 and 2 are in the keeper's apiary (1), hive 3 in another (2), hive 4 in none. */
beforeEach(async () => {
  app = await makeApp(builder, 'Grants', [
    ...honey,
    { kind: 'put', part: 'tie', value: { id: 'tie_home', name: 'Home', table: 'apiaries' } },
    role('own', [
      grantOf('g_own', 'hives', { add: true, change: true, remove: true, condition: 'Apiary = me.Home', locked: ['h_rent'], hidden: ['h_gentle'] }),
      grantOf('g_all', 'hives', { condition: 'Code != "H-4"', hidden: ['h_gentle'] }),
      grantOf('g_home', 'apiaries', { condition: 'Name = me.Home.Name' }),
    ]),
  ]);
  await it.server.people.join(app.id, keeper.id, 'member', ['own'], { tie_home: 1 });
  await save(
    builder,
    { kind: 'add', table: 'apiaries', as: 'a', values: { a_name: 'Brackmoor' } },
    { kind: 'add', table: 'apiaries', as: 'b', values: { a_name: 'Heron Mere' } },
    ...['H-1', 'H-2', 'H-3', 'H-4'].map((code, i): Write => ({
      kind: 'add',
      table: 'hives',
      as: code,
      values: { h_code: code, h_rent: '10', h_gentle: true, ...(i === 3 ? {} : { h_apiary: { added: i < 2 ? 'a' : 'b' } }) },
    })),
  );
});

describe('the history of a parent', () => {
  test('tells of children in sight, and nothing of those that were removed', async () => {
    await save(builder, change(4, { h_apiary: 1 }));
    await save(builder, change(1, { h_gentle: false, h_rent: '11' }));
    await save(builder, { kind: 'remove', table: 'hives', id: 2, rev: 1 });
    const told = async (who: Caller) =>
      (await who.call(contract.readHistory, { params: { app: app.id, table: 'apiaries', id: 1 } })).children.map((child) => [
        child.kind,
        child.record,
        child.changes.map((each) => each.field).filter((field) => field === 'h_gentle' || field === 'h_rent'),
      ]);
    expect(await told(builder)).toEqual([
      ['remove', 2, []],
      ['change', 1, ['h_rent', 'h_gentle']],
      ['change', 4, []],
      ['add', 1, ['h_rent', 'h_gentle']],
    ]);
    // Hive 4 came into the keeper's sight when it came here. Whether hives are gentle is hidden from them.
    expect(await told(keeper)).toEqual([
      ['change', 1, ['h_rent']],
      ['change', 4, []],
      ['add', 1, ['h_rent']],
    ]);
  });
});

describe('a member with a grant for what they created', () => {
  test('sees, changes and exports their own records, and the history of those alone', async () => {
    await builder.call(contract.changeDesign, {
      params: { app: app.id },
      body: {
        version: app.version,
        changes: [
          role('own', [grantOf('g_mine', 'hives', { add: true, change: true, remove: true, condition: 'created by me()' }), grantOf('g_home', 'apiaries')]),
        ],
      },
    });
    const { records: saved } = await save(keeper, add({ h_code: 'H-9' }));
    const id = saved[0]?.id ?? 0;
    const seen = await keeper.call(contract.readPage, { params: { app: app.id, table: 'hives' }, query: {} });
    expect(seen.records.map((record) => record.id)).toEqual([id]);
    await save(keeper, change(id, { h_year: 2024 }));
    expect((await keeper.call(contract.readHistory, { params: { app: app.id, table: 'hives', id } })).entries.map((entry) => entry.kind)).toEqual([
      'change',
      'add',
    ]);
    expect((await refused(keeper, change(1, { h_year: 2024 }))).status).toBe(409);
    // What nobody created is not theirs, wherever it is asked.
    await it.sql(`UPDATE "app_${app.id}".hives SET created_by = NULL WHERE id = 1`);
    expect((await keeper.call(contract.readHistory, { params: { app: app.id, table: 'apiaries', id: 1 } })).children).toEqual([]);
    // A unique value of a record out of sight is not told by a record that they can add.
    expect((await refused(keeper, add({ h_code: 'H-9' }))).body.issues).toMatchObject([{ field: 'h_code' }]);
  });
});

describe('a member with a grant for some records', () => {
  test('changes those, and no others', async () => {
    await save(keeper, change(1, { h_year: 2024 }));
    expect((await refused(keeper, change(3, { h_year: 2024 }))).body).toMatchObject({ code: 'forbidden', message: "You can't change this record of Hives." });
    expect((await all()).map((each) => each['queen_year'])).toEqual([2024, null, null, null]);
  });
  test('is told of a record out of sight what is told of one that is gone', async () => {
    const [hidden, gone] = [await refused(keeper, change(4, { h_year: 1 })), await refused(keeper, change(99, { h_year: 1 }))];
    expect(hidden.status).toBe(409);
    expect(hidden.body).toEqual(gone.body);
    expect((await keeper.refused(contract.readRecord, { params: { app: app.id, table: 'hives', id: 4 } })).status).toBe(404);
    expect((await keeper.refused(contract.readHistory, { params: { app: app.id, table: 'hives', id: 4 } })).status).toBe(404);
  });
  test('cannot move a record out of, or into, what is theirs', async () => {
    expect((await refused(keeper, change(1, { h_apiary: null }))).body.issues).toMatchObject([
      { write: 0, message: 'You would lose access to this record of Hives if you saved this change.' },
    ]);
    await refused(keeper, change(3, { h_apiary: 1 }));
    expect((await all()).map((each) => each['apiary'])).toEqual([1, 1, 2, null]);
  });
  test("cannot refer to what they can't see, as if it were not there", async () => {
    const [unseen, none] = [await refused(keeper, add({ h_code: 'H-9', h_apiary: 2 })), await refused(keeper, add({ h_code: 'H-9', h_apiary: 99 }))];
    expect(unseen.body).toEqual(none.body);
    expect(unseen.body.issues).toEqual([
      { write: 0, field: 'h_apiary', message: "Apiary refers to a record that doesn't exist or that you don't have access to" },
    ]);
  });
  test('adds what is theirs afterwards, with the fields that are theirs', async () => {
    await save(keeper, add({ h_code: 'H-9', h_apiary: 1 }));
    expect((await refused(keeper, add({ h_code: 'H-10' }))).body.message).toBe("You don't have permission to add this record to Hives.");
    expect((await refused(keeper, add({ h_code: 'H-10', h_apiary: 1, h_rent: '5' }))).body.issues).toEqual([
      { write: 0, field: 'h_rent', message: "You can't fill in Rent" },
    ]);
    expect(await all()).toHaveLength(5);
  });
  test('never changes a locked or hidden field', async () => {
    for (const values of [{ h_rent: '5' }, { h_gentle: null }])
      expect((await refused(keeper, change(1, values))).body.issues[0]?.message).toMatch(/^You can't change /u);
    expect((await all())[0]).toMatchObject({ rent: '10.00', gentle: true });
  });
  test('removes those, and no others; a save is done whole or not at all', async () => {
    const remove = (id: number): Write => ({ kind: 'remove', table: 'hives', id, rev: 1 });
    await refused(keeper, remove(1), remove(3));
    expect(await all()).toHaveLength(4);
    await save(keeper, remove(1));
    expect((await refused(keeper, { kind: 'remove', table: 'apiaries', id: 1, rev: 1 })).status).toBe(403);
    expect((await refused(keeper, { kind: 'add', table: 'apiaries', as: 'x', values: { a_name: 'New' } })).body.message).toBe(
      "You can't add records of Apiaries.",
    );
  });
  test('reads of the history what is theirs to see', async () => {
    await save(builder, change(1, { h_gentle: false, h_apiary: 2 }));
    const history = async (who: Caller) =>
      (await who.call(contract.readHistory, { params: { app: app.id, table: 'hives', id: 1 } })).entries.flatMap((entry) => entry.changes);
    expect((await history(builder)).map((each) => each.field)).toContain('h_gentle');
    const theirs = await history(keeper);
    expect(theirs.map((their) => their.field)).not.toContain('h_gentle');
    expect(theirs.find((their) => their.field === 'h_apiary')).toMatchObject({ before: { caption: 'Brackmoor' }, after: null });
  });
  test('hears from the app what they can do at all', async () => {
    const open = await keeper.call(contract.openApp, { params: { app: app.id } });
    expect(open.rights['hives']).toEqual({
      see: true,
      add: true,
      change: true,
      remove: true,
      export: false,
      // A hidden field is not told of at all.
      hidden: [],
      locked: ['h_rent'],
      partial: [],
    });
    expect(JSON.stringify(open)).not.toContain('h_gentle');
    expect(open.rights['apiaries']).toMatchObject({ see: true, add: false });
    expect(open).toMatchObject({ undo: null, redo: null });
  });
});

test('without the tie nothing is theirs, though empty references equal no tie', async () => {
  await it.server.people.join(app.id, keeper.id, 'member', ['own'], {});
  const { records } = await keeper.call(contract.readPage, { params: { app: app.id, table: 'hives' } });
  expect(records.map((record) => record.values['h_code'])).toEqual(['H-1', 'H-2', 'H-3']);
  expect((await refused(keeper, change(1, { h_year: 2024 }))).status).toBe(403);
});

test('without a role there is an app, and nothing in it', async () => {
  await it.server.people.join(app.id, keeper.id, 'member', []);
  expect((await keeper.call(contract.readPage, { params: { app: app.id, table: 'hives' } })).records).toEqual([]);
  expect((await keeper.call(contract.countRecords, { params: { app: app.id } })).counts).toEqual({ apiaries: 0, hives: 0 });
  expect((await keeper.call(contract.searchRecords, { params: { app: app.id }, query: { text: 'H-1' } })).found).toEqual([]);
  expect((await refused(keeper, add({ h_code: 'H-9' }))).status).toBe(403);
});

describe('a save of many records', () => {
  /** How many statements the database is sent while something is done. */
  async function statements(work: () => Promise<unknown>): Promise<number> {
    const asked = vi.spyOn(Client.prototype, 'query');
    try {
      await work();
      return asked.mock.calls.length;
    } finally {
      asked.mockRestore();
    }
  }

  test('asks about grants once for all of them, and not of each record', async () => {
    const hives = (from: number, count: number): Write[] =>
      Array.from({ length: count }, (_, i) => ({ kind: 'add', table: 'hives', as: `n${i}`, values: { h_code: `N-${from + i}`, h_apiary: 1 } }));
    const own = (ids: readonly number[], rev: number): Write[] => ids.map((id) => change(id, { h_code: `C-${id}-${rev}`, h_apiary: 1 }, rev));
    await save(keeper, ...hives(0, 2));
    const few = await statements(() => save(keeper, ...hives(10, 2)));
    const many = await statements(() => save(keeper, ...hives(20, 40)));
    expect(many - few).toBeLessThan(2 * 38);
    const ids = (await all()).map((each) => Number(each['id'])).filter((id) => id > 6);
    const fewChanged = await statements(() => save(keeper, ...own(ids.slice(0, 2), 1)));
    const manyChanged = await statements(() => save(keeper, ...own(ids.slice(2, 42), 1)));
    expect(manyChanged - fewChanged).toBeLessThan(2 * 38);
  });

  test('asks one by one where a grant looks at other records of the table', async () => {
    const crowded = grantOf('g_own', 'hives', { add: true, change: true, condition: 'count(Apiary.Hives[Rent > 15]) = 0' });
    await builder.call(contract.changeDesign, {
      params: { app: app.id },
      body: { version: app.version, changes: [role('own', [crowded, grantOf('g_home', 'apiaries')])] },
    });
    const { status, body } = await refused(keeper, change(1, { h_rent: '20' }), change(2, { h_code: 'H-9' }));
    expect([status, body.code]).toEqual([409, 'conflict']);
    expect((await all()).map((each) => each['code'])).toEqual(['H-1', 'H-2', 'H-3', 'H-4']);
  });

  test('tells of a value that is taken only to anyone who can write the record, in the middle of a save too', async () => {
    const taken = await refused(keeper, change(1, { h_code: 'H-8' }), change(2, { h_code: 'H-3' }));
    expect(taken.body.issues).toMatchObject([{ write: 1, field: 'h_code' }]);
    const away = await refused(keeper, change(1, { h_code: 'H-8' }), change(2, { h_code: 'H-3', h_apiary: null }));
    expect(away.body.issues).toMatchObject([{ write: 1 }]);
    expect(away.body.message).toContain('lose access');
  });
});
