import { contract, grantOf, type DesignChange, type OpenApp, type TakenBack, type Write } from '@bibliona/core';
import fc from 'fast-check';
import pg from 'pg';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { automation, change, checks, design, full, hive, remove } from './lent-hives.js';
import { field, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

/** A save is undone whole, or refused with nothing changed. */
let it: TestServer;
let builder: Caller & { readonly id: number };
let keeper: Caller & { readonly id: number };
let app: OpenApp;
beforeAll(async () => {
  it = await testServer();
  builder = await it.person('Ada Roke');
  keeper = await it.person('Bede Lunn');
});
afterAll(() => it.close());

beforeEach(async () => {
  app = await makeApp(builder, 'Undone', design);
  await it.server.people.join(app.id, keeper.id, 'member');
});

const save = async (who: Caller, ...writes: readonly Write[]): Promise<string> => {
  const key = saveKey();
  await who.call(contract.saveRecords, { params: { app: app.id }, body: { key, writes } });
  return key;
};
const asked = (key: string, dry = false) => ({ params: { app: app.id, save: key }, body: { key: saveKey(), dry } });
const takeBack = (who: Caller, key: string): Promise<TakenBack> => who.call(contract.takeBackSave, asked(key));
const refused = async (who: Caller, key: string): Promise<string> => {
  const before = await everything();
  const { body } = await who.refused(contract.takeBackSave, asked(key));
  expect(await everything()).toEqual(before);
  return body.message;
};
const redesign = async (...changes: readonly DesignChange[]): Promise<void> => {
  app = await builder.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes: [...changes] } });
};

const tables = ['apiaries', 'hives', 'visits', 'loans'];
/** All that is there, without what tells how often and when it was written. */
const everything = () =>
  Promise.all(tables.map((name) => it.sql(`SELECT to_jsonb(t) - 'rev' - 'updated_at' - 'updated_by' AS record FROM "app_${app.id}".${name} AS t ORDER BY id`)));
const history = (id: number, of = 'hives') => builder.call(contract.readHistory, { params: { app: app.id, table: of, id } });
const removed = (who: Caller, of = 'hives') => who.call(contract.readRemoved, { params: { app: app.id, table: of } });

describe('a record that was removed', () => {
  test('comes back with every value, its children, its number, and who made it when', async () => {
    await save(keeper, { kind: 'add', table: 'apiaries', as: 'a', values: { a_name: 'Brackmoor' } }, hive('H-1', { ...full, h_apiary: { added: 'a' } }));
    const rows = ['2026-09-01', '2026-09-14'].map((day, i): Write => ({ kind: 'add', table: 'visits', as: `v${i}`, values: { v_date: day, r_visits_up: 1 } }));
    await save(keeper, ...rows, { kind: 'add', table: 'loans', as: 'l', values: { l_what: 'Smoker', r_loans_up: 1 } });
    const before = await everything();
    const key = await save(builder, remove(1));
    expect((await everything()).map((rows) => rows.length)).toEqual([1, 0, 0, 1]);
    expect((await removed(builder)).removed).toMatchObject([
      { id: 1, person: 'Ada Roke', save: key, values: { h_code: 'H-1', h_rent: '12345678901234567890.1', h_apiary: { caption: 'Brackmoor' } } },
    ]);
    expect(await takeBack(builder, key)).toEqual({
      effects: [
        { kind: 'restore', table: 'hives', id: 1, caption: 'H-1' },
        { kind: 'change', table: 'loans', id: 1, caption: 'Smoker' },
        { kind: 'restore', table: 'visits', id: 2, caption: 'No. 2' },
        { kind: 'restore', table: 'visits', id: 1, caption: 'No. 1' },
      ],
      mails: false,
    });
    expect(await everything()).toEqual(before);
    expect((await history(1)).entries.map((entry) => [entry.kind, entry.person])).toEqual([
      ['restore', 'Ada Roke'],
      ['remove', 'Ada Roke'],
      ['add', 'Bede Lunn'],
    ]);
    expect((await removed(builder)).removed).toEqual([]);
    expect(await refused(builder, key)).toBe('H-1 (Hives) is there again already.');
  });

  test('can be changed, removed and brought back again', async () => {
    await save(builder, hive('H-1'));
    await takeBack(builder, await save(builder, remove(1)));
    await save(builder, change(1, { h_year: 2024 }, 3));
    const again = await save(builder, remove(1, 4));
    expect((await removed(builder)).removed).toHaveLength(1);
    await takeBack(builder, again);
    expect((await builder.call(contract.readRecord, { params: { app: app.id, table: 'hives', id: 1 } })).record).toMatchObject({
      rev: 6,
      values: { h_year: 2024 },
    });
  });

  test('stays away when its place is taken, or what it belongs to is gone', async () => {
    await save(builder, { kind: 'add', table: 'apiaries', as: 'a', values: { a_name: 'Brackmoor' } }, hive('H-1', { h_apiary: { added: 'a' } }));
    const [first, second] = [await save(builder, remove(1)), await save(builder, remove(1, 1, 'apiaries'))];
    expect(await refused(builder, first)).toBe("Apiary refers to a record that doesn't exist or that you don't have access to");
    await takeBack(builder, second);
    await save(builder, hive('H-1'));
    expect(await refused(builder, first)).toBe('Code must be unique, and another record has H-1 already');
  });

  test('comes back with the others of its save, or none of them does', async () => {
    await save(keeper, ...['H-1', 'H-2', 'H-3', 'H-4'].map((code) => hive(code)));
    const before = await everything();
    const ids = (await it.sql<{ id: number }>(`SELECT id::int FROM "app_${app.id}".hives ORDER BY id`)).map((row) => row.id);
    const key = await save(builder, ...ids.map((id) => remove(id)));
    expect((await takeBack(builder, key)).effects.map((effect) => [effect.kind, effect.caption])).toEqual(
      ['H-4', 'H-3', 'H-2', 'H-1'].map((code) => ['restore', code]),
    );
    expect(await everything()).toEqual(before);
    // One of them is there again, and is named; the others stay away.
    expect(await refused(builder, key)).toBe('H-4 (Hives) is there again already.');
    const again = await it.sql<{ id: number; rev: number }>(`SELECT id::int, rev FROM "app_${app.id}".hives ORDER BY id`);
    const gone = await save(builder, ...again.slice(0, 3).map(({ id, rev }): Write => ({ kind: 'remove', table: 'hives', id, rev })));
    await it.sql(`INSERT INTO "app_${app.id}".hives (id, code) VALUES (2, 'Another')`);
    expect(await refused(builder, gone)).toBe('Another (Hives) is there again already.');
  });

  test('comes back into a design that has changed: lost fields are left out, new ones start anew', async () => {
    await save(builder, hive('H-1', full));
    const key = await save(builder, remove(1));
    await redesign(
      { kind: 'remove_field', table: 'hives', field: 'h_notes' },
      { kind: 'add_field', table: 'hives', field: field('text', 'h_kind', 'Kind', { required: true, default: '"Buckfast"' }) },
    );
    await takeBack(builder, key);
    expect((await builder.call(contract.readRecord, { params: { app: app.id, table: 'hives', id: 1 } })).record.values).toMatchObject({
      h_code: 'H-1',
      h_rent: full.h_rent,
      h_kind: 'Buckfast',
    });
  });

  test('is told why it does not fit the design any more', async () => {
    await save(builder, hive('H-1', full));
    const key = await save(builder, remove(1));
    await redesign({ kind: 'add_field', table: 'hives', field: field('text', 'h_kind', 'Kind', { required: true }) });
    expect(await refused(builder, key)).toBe('It no longer fits the design: Kind is required.');
    await redesign(
      { kind: 'remove_field', table: 'hives', field: 'h_kind' },
      checks({ id: 'ck_gentle', condition: 'Gentle', message: 'Only gentle hives are kept.' }),
    );
    expect(await refused(builder, key)).toBe('Only gentle hives are kept.');
    await redesign(checks());
    await takeBack(builder, key);
  });
});

test('a child that someone adds while its parent is being removed goes with it by name, or not at all', async () => {
  await save(builder, hive('H-1'));
  const other = new pg.Client({ connectionString: it.url });
  await other.connect();
  await other.query('BEGIN');
  const visits = `"app_${app.id}".visits`;
  await other.query(`INSERT INTO ${visits} (date, hive, created_by, updated_by) VALUES ('2026-09-14', 1, 1, 1)`);
  const removing = save(builder, remove(1));
  const waits = async (): Promise<number> =>
    Number((await it.sql<{ n: string }>(`SELECT count(*) AS n FROM pg_stat_activity WHERE datname = current_database() AND wait_event_type = 'Lock'`))[0]?.n);
  await expect.poll(waits).toBeGreaterThan(0);
  await other.query('COMMIT');
  await other.end();
  await takeBack(builder, await removing);
  expect((await everything()).map((rows) => rows.length)).toEqual([0, 1, 1, 0]);
});

describe('what was added or changed', () => {
  test('is as it was before', async () => {
    await save(builder, hive('H-1', full));
    const before = await everything();
    const key = await save(builder, change(1, { h_year: 2025, h_rent: '1.50', h_notes: null }), hive('H-2'), {
      kind: 'add',
      table: 'visits',
      as: 'v',
      values: { v_date: '2026-09-14', r_visits_up: { added: 'H-2' } },
    });
    expect((await takeBack(builder, key)).effects.map(({ kind, caption }) => [kind, caption])).toEqual([
      ['remove', expect.any(String)],
      ['remove', 'H-2'],
      ['change', 'H-1'],
    ]);
    expect(await everything()).toEqual(before);
    expect((await history(1)).entries[0]?.changes.map(({ field: of, before: from, after: to }) => [of, from, to])).toEqual([
      ['h_year', 2025, 9007199254740991],
      ['h_rent', '1.5', '12345678901234567890.1'],
      ['h_notes', null, 'a\n"b" 🐝'],
    ]);
  });

  test('stays when the same fields have been changed since, and only then', async () => {
    await save(builder, hive('H-1'));
    const year = await save(builder, change(1, { h_year: 2025 }));
    const notes = await save(keeper, change(1, { h_notes: 'Strong' }, 2));
    await takeBack(builder, year);
    expect((await everything())[1]).toMatchObject([{ record: { queen_year: null, notes: 'Strong' } }]);
    await save(builder, change(1, { h_notes: 'Weak' }, 4));
    expect(await refused(keeper, notes)).toBe('H-1 (Hives) has been changed since.');
    const added = await save(builder, hive('H-2'));
    await save(builder, change(2, { h_year: 2026 }));
    expect(await refused(builder, added)).toBe('H-2 (Hives) has been changed since.');
  });

  test('stays when other records belong to it by now', async () => {
    const key = await save(builder, hive('H-1'));
    await save(builder, { kind: 'add', table: 'visits', as: 'v', values: { v_date: '2026-09-14', r_visits_up: 1 } });
    expect(await refused(builder, key)).toBe('Visits belong to H-1 (Hives) by now. Remove those first.');
  });

  test('and undoing can be undone', async () => {
    await save(builder, hive('H-1', full));
    const before = await everything();
    const undo = { ...asked(await save(builder, change(1, { h_year: 2025 }), hive('H-2'))) };
    const after = await everything();
    await builder.call(contract.takeBackSave, undo);
    expect(await everything()).toEqual(before);
    await takeBack(builder, undo.body.key);
    expect(await everything()).toEqual(after);
  });

  test('is told of first by a dry run, which does nothing', async () => {
    const key = await save(builder, hive('H-1'), hive('H-2'));
    const [before, lines] = [await everything(), await it.sql(`SELECT count(*) FROM "app_${app.id}"._history`)];
    const { effects } = await builder.call(contract.takeBackSave, asked(key, true));
    expect(effects.map((effect) => [effect.kind, effect.caption])).toEqual([
      ['remove', 'H-2'],
      ['remove', 'H-1'],
    ]);
    expect(await everything()).toEqual(before);
    expect(await it.sql(`SELECT count(*) FROM "app_${app.id}"._history`)).toEqual(lines);
  });

  test('is undone once when the request is sent twice', async () => {
    const request = asked(await save(builder, hive('H-1')));
    const [first, second] = [await builder.call(contract.takeBackSave, request), await builder.call(contract.takeBackSave, request)];
    expect(second.effects).toEqual(first.effects.map((effect) => ({ ...effect, caption: null })));
  });
});

test('any number of saves, undone from the last on, leave what was before each of them', async () => {
  const text = fc.constantFrom('Strong', 'Weak', '');
  const step = fc.record({
    writes: fc.array(
      fc.record({ kind: fc.constantFrom('add', 'change', 'remove', 'visit', 'loan'), pick: fc.nat(), year: fc.option(fc.nat(3000)), notes: text }),
      { minLength: 1, maxLength: 4 },
    ),
  });
  await fc.assert(
    fc.asyncProperty(fc.array(step, { minLength: 1, maxLength: 5 }), async (steps) => {
      app = await makeApp(builder, 'Any', design);
      const saved: { readonly key: string; readonly before: unknown }[] = [];
      let made = 0;
      for (const { writes } of steps) {
        const standing = await it.sql<{ id: number; rev: number }>(`SELECT id::int, rev FROM "app_${app.id}".hives ORDER BY id`);
        const taken = new Set<number>();
        const list = writes.flatMap(({ kind, pick, year, notes }): Write[] => {
          const code = `H-${(made += 1)}`;
          if (kind === 'add') return [hive(code, { ...(year === null ? {} : { h_year: year }), h_notes: notes })];
          const found = standing[pick % Math.max(standing.length, 1)];
          if (found === undefined || taken.has(found.id)) return [];
          if (kind === 'visit') return [{ kind: 'add', table: 'visits', as: code, values: { v_date: '2026-09-14', v_mites: year, r_visits_up: found.id } }];
          if (kind === 'loan') return [{ kind: 'add', table: 'loans', as: code, values: { l_what: code, r_loans_up: found.id } }];
          taken.add(found.id);
          return [kind === 'remove' ? remove(found.id, found.rev) : change(found.id, { h_year: year, h_notes: notes }, found.rev)];
        });
        if (list.length === 0) continue;
        const before = await everything();
        saved.push({ key: await save(builder, ...list), before });
      }
      for (const { key, before } of saved.reverse()) {
        await takeBack(builder, key);
        expect(await everything()).toEqual(before);
      }
    }),
    { numRuns: 15 },
  );
});

describe('what automations and routes did', () => {
  test('goes with the save that triggered it; a move is not undone', async () => {
    await redesign(
      { kind: 'put', part: 'automation', value: automation },
      {
        kind: 'put',
        part: 'route',
        value: {
          id: 'way',
          name: 'Way',
          description: '',
          section: '',
          table: 'hives',
          field: 'h_stores',
          statuses: [
            { choice: 'low', kind: 'start' },
            { choice: 'full', kind: 'done' },
          ],
          moves: [{ id: 'mo_fill', name: 'Fill', from: 'low', to: 'full', roles: [], guard: '', duty: 'should' }],
        },
      },
    );
    const before = await everything();
    const key = await save(keeper, hive('H-1', { h_notes: 'Weak' }));
    expect((await everything()).map((rows) => rows.length)).toEqual([0, 1, 0, 1]);
    expect((await takeBack(keeper, key)).effects.map((effect) => [effect.kind, effect.table])).toEqual([
      ['remove', 'loans'],
      ['remove', 'hives'],
    ]);
    expect(await everything()).toEqual(before);
    await save(builder, hive('H-2'));
    const moved = await save(builder, { kind: 'move', table: 'hives', id: 2, rev: 1, move: 'mo_fill' });
    expect(await refused(builder, moved)).toBe('H-2 (Hives) was moved along its route: its status changes by moves alone.');
  });
});

describe('a member', () => {
  // What goes with a hive, or stays without it.
  const along = [grantOf('g_visits', 'visits', { see: false, remove: true }), grantOf('g_loans', 'loans', { change: true })];
  const grants = (...list: readonly ReturnType<typeof grantOf>[]): DesignChange => ({
    kind: 'put',
    part: 'role',
    value: { id: 'keeping', name: 'Keeping', description: '', everything: false, menu: [], grants: [...list, ...along] },
  });
  const gentle = (more: object) => grantOf('g_hives', 'hives', { condition: 'Gentle', ...more });
  beforeEach(async () => {
    await redesign(grants(gentle({ add: true, change: true, remove: true, hidden: ['h_rent'] })));
    await it.server.people.join(app.id, keeper.id, 'member', ['keeping']);
  });

  test('takes back their own saves, and nobody else’s', async () => {
    const theirs = await save(builder, hive('H-1', { h_gentle: true, h_rent: '12.5' }));
    expect(await refused(keeper, theirs)).toBe('There is nothing here that you can undo.');
    expect(await refused(keeper, saveKey())).toBe('There is nothing here that you can undo.');
    const own = await save(keeper, remove(1));
    await takeBack(keeper, own);
    expect((await everything())[1]).toMatchObject([{ record: { code: 'H-1', rent: 12.5 } }]);
    const { entries } = await keeper.call(contract.readHistory, { params: { app: app.id, table: 'hives', id: 1 } });
    expect(entries.map((entry) => [entry.kind, entry.save !== null])).toEqual([
      ['restore', true],
      ['remove', true],
      ['add', false],
    ]);
  });

  test('is shown what they removed themselves, without what is hidden from them', async () => {
    await save(builder, hive('H-1', { h_gentle: true, h_rent: '12.5' }), hive('H-2', { h_gentle: true }));
    await save(builder, { kind: 'add', table: 'visits', as: 'v', values: { v_date: '2026-09-14', r_visits_up: 1 } });
    await save(builder, remove(2));
    await redesign(grants(gentle({ remove: true, hidden: ['h_rent'] })));
    await save(keeper, remove(1));
    const { removed: shown } = await removed(keeper);
    expect(shown.map((each) => [each.id, each.values['h_code']])).toEqual([[1, 'H-1']]);
    expect(Object.keys(shown[0]?.values ?? {})).not.toContain('h_rent');
    // The visit went along, and was never theirs to see.
    expect((await removed(keeper, 'visits')).removed).toEqual([]);
    expect((await removed(builder, 'visits')).removed).toHaveLength(1);
    const refusedFor = (of: string) => keeper.refused(contract.readRemoved, { params: { app: app.id, table: of } });
    expect((await refusedFor('apiaries')).status).toBe(403);
    expect((await refusedFor('none_such')).status).toBe(404);
  });

  test('needs the right that the opposite takes', async () => {
    const added = await save(keeper, hive('H-1', { h_gentle: true }));
    const changed = await save(keeper, change(1, { h_year: 2025 }));
    await redesign(grants(gentle({ change: true, remove: false, locked: ['h_year'] })));
    expect(await refused(keeper, changed)).toBe("You can't change Queen year");
    await redesign(grants(gentle({ change: true, remove: false })));
    await takeBack(keeper, changed);
    expect(await refused(keeper, added)).toBe("You can't remove records of Hives.");
    await redesign(grants(gentle({ remove: true })));
    const gone = await save(keeper, remove(1, 3));
    await redesign(grants(gentle({ remove: true, condition: 'Queen year > 2000' })));
    expect(await refused(keeper, gone)).toBe("You can't remove this record of Hives.");
    // Of two, one would be theirs to remove: neither comes back.
    await redesign(grants(gentle({ add: true, remove: true })));
    await save(keeper, hive('H-2', { h_gentle: true, h_year: 2025 }), hive('H-3', { h_gentle: true }));
    const both = await save(keeper, remove(2), remove(3));
    await redesign(grants(gentle({ remove: true, condition: 'Queen year > 2000' })));
    expect(await refused(keeper, both)).toBe("You can't remove these records of Hives.");
  });
});
