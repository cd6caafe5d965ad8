import { applyChanges, contract, difference, emptyDesign, type AppDesign, type DesignChange, type FieldPlan, type OpenApp } from '@bibliona/core';
import fc from 'fast-check';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { forgetKept } from '../src/apps/upkeep.js';
import { emptyDatabase, field, honey, makeApp, readyMaker, saveKey, table, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let builder: Caller;
beforeAll(async () => {
  it = await testServer();
  builder = await it.person('Ada');
});
afterAll(() => it.close());

const change = (app: OpenApp, changes: readonly DesignChange[], acceptLoss = false): Promise<OpenApp> =>
  builder.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes, acceptLoss } });
const undo = (app: OpenApp, direction: 'undo' | 'redo' = 'undo', who = builder): Promise<OpenApp> =>
  who.call(contract.undoDesign, { params: { app: app.id }, body: { version: app.version, direction, acceptLoss: true } });
const values = async (app: OpenApp, tableId: string, fieldId: string): Promise<unknown[]> =>
  (await builder.call(contract.readPage, { params: { app: app.id, table: tableId } })).records.map((record) => record.values[fieldId] ?? null);
const add = (app: OpenApp, tableId: string, rows: readonly object[]): Promise<unknown> =>
  builder.call(contract.saveRecords, {
    params: { app: app.id },
    body: { key: saveKey(), writes: rows.map((row, i) => ({ kind: 'add', table: tableId, as: `n${i}`, values: row })) },
  });

describe('a change of design', () => {
  test('makes real columns, constraints and keys', async () => {
    const app = await makeApp(builder, 'Catalog', honey);
    const columns = await it.sql(
      `SELECT column_name, data_type, is_nullable FROM information_schema.columns WHERE table_schema = $1 AND table_name = 'hives' ORDER BY ordinal_position`,
      [`app_${app.id}`],
    );
    expect(columns).toContainEqual({ column_name: 'code', data_type: 'text', is_nullable: 'NO' });
    expect(columns).toContainEqual({ column_name: 'rent', data_type: 'numeric', is_nullable: 'YES' });
    expect(columns).toContainEqual({ column_name: 'apiary', data_type: 'bigint', is_nullable: 'YES' });
    const constraints = await it.sql<{ d: string }>(
      `SELECT pg_get_constraintdef(oid) AS d FROM pg_constraint WHERE conrelid = '"app_${app.id}".hives'::regclass`,
    );
    const all = constraints.map((constraint) => constraint.d).join('\n');
    expect(all).toMatch(/UNIQUE \(code\)/u);
    expect(all).toMatch(/FOREIGN KEY \(apiary\) REFERENCES .*apiaries\(id\)/u);
    expect(all).toMatch(/CHECK .*stores.*low/u);
  });

  test('of a part that somebody else has changed is refused with what they did, and nothing is half done', async () => {
    const app = await makeApp(builder, 'Stale', honey);
    await change(app, [{ kind: 'change_table', table: 'hives', name: 'Colonies' }]);
    const refused = await builder.refused(contract.changeDesign, {
      params: { app: app.id },
      body: { version: app.version, changes: [table('lots', 'Lots', []), { kind: 'change_table', table: 'hives', name: 'Boxes' }] },
    });
    expect(refused).toMatchObject({ status: 409, body: { code: 'stale_design' } });
    expect(refused.body.message).toContain('Renamed Hives to Colonies');
    expect((await builder.call(contract.openApp, { params: { app: app.id } })).design.tables.map((each) => each.name)).toEqual(['Apiaries', 'Colonies']);
    expect(await it.sql(`SELECT 1 FROM information_schema.tables WHERE table_schema = $1 AND table_name = 'lots'`, [`app_${app.id}`])).toEqual([]);
  });

  test('of another part than somebody else has changed is made on what is there now', async () => {
    const app = await makeApp(builder, 'Apart', honey);
    await change(app, [{ kind: 'change_table', table: 'hives', name: 'Colonies' }]);
    const { design } = await builder.call(contract.changeDesign, {
      params: { app: app.id },
      body: { version: app.version, changes: [table('lots', 'Lots', []), { kind: 'change_table', table: 'apiaries', name: 'Places' }] },
    });
    expect(design.tables.map((each) => each.name)).toEqual(['Places', 'Colonies', 'Lots']);
  });

  test('of names leaves tables and columns as they are called, and the views follow', async () => {
    const app = await makeApp(builder, 'Named', honey);
    await add(app, 'hives', [{ h_code: 'H-1', h_stores: 'low' }]);
    const views = `"app_${app.id}_views"`;
    const renamed = await change(app, [
      { kind: 'change_table', table: 'hives', name: 'Colonies' },
      { kind: 'change_field', table: 'hives', field: field('text', 'h_code', 'Box number') },
    ]);
    expect(await it.sql(`SELECT code FROM "app_${app.id}".hives`)).toEqual([{ code: 'H-1' }]);
    expect(await it.sql(`SELECT box_number, stores FROM ${views}.colonies`)).toEqual([{ box_number: 'H-1', stores: 'Low' }]);
    await expect(it.sql(`UPDATE ${views}.colonies SET box_number = 'x'`)).rejects.toThrow('colonies is read-only');
    await expect(it.sql(`DELETE FROM ${views}.colonies`)).rejects.toThrow('read-only');
    // Columns become others and tables go while views show them.
    const changed = await change(renamed, [
      { kind: 'change_field', table: 'hives', field: field('long_text', 'h_code', 'Box number') },
      { kind: 'change_field', table: 'hives', field: field('decimal', 'h_year', 'Queen year', { digits: 1 }) },
      { kind: 'remove_field', table: 'hives', field: 'h_rent' },
    ]);
    expect(Object.keys((await it.sql(`SELECT * FROM ${views}.colonies`))[0] as object)).not.toContain('rent');
    await change(changed, [{ kind: 'remove', part: 'table', id: 'hives' }], true);
    expect(await it.sql(`SELECT table_name FROM information_schema.views WHERE table_schema = $1`, [`app_${app.id}_views`])).toEqual([
      { table_name: 'apiaries' },
    ]);
  });

  test('that fails in the middle leaves tables, design and log as they were', async () => {
    const app = await makeApp(builder, 'Middle', honey);
    await add(app, 'hives', [
      { h_code: 'H-1', h_year: 1 },
      { h_code: 'H-2', h_year: 1 },
    ]);
    const { message } = (
      await builder.refused(contract.changeDesign, {
        params: { app: app.id },
        body: {
          version: app.version,
          changes: [table('lots', 'Lots', []), { kind: 'change_field', table: 'hives', field: field('whole', 'h_year', 'Queen year', { unique: true }) }],
        },
      })
    ).body;
    expect(message).toBe('1 value of Queen year appears in more than one record (“1”). Change those records first.');
    expect(await it.sql(`SELECT 1 FROM information_schema.tables WHERE table_schema = $1 AND table_name = 'lots'`, [`app_${app.id}`])).toEqual([]);
    expect((await builder.call(contract.designLog, { params: { app: app.id } })).entries).toHaveLength(2);
  });

  test('that loses values says which, asks, and undo brings them back', async () => {
    const app = await makeApp(builder, 'Loss', [table('hives', 'Hives', [field('text', 'h_code', 'Code'), field('text', 'h_age', 'Age')])]);
    await add(app, 'hives', [{ h_code: 'H-1', h_age: '3' }, { h_code: 'H-2', h_age: 'old' }, { h_code: 'H-3' }]);
    const toWhole: DesignChange = { kind: 'change_field', table: 'hives', field: field('whole', 'h_age', 'Age') };
    const refused = await builder.refused(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes: [toWhole] } });
    expect(refused.body).toMatchObject({ code: 'needs_consent' });
    expect(refused.body.message).toContain('1 value of Age does not fit the new kind and becomes empty: “old”');
    const { steps } = await builder.call(contract.previewChanges, { params: { app: app.id }, body: { version: app.version, changes: [toWhole] } });
    expect(steps.some((step) => step.effect === 'loses' && step.found?.includes('old') === true)).toBe(true);
    const converted = await change(app, [toWhole], true);
    expect(await values(converted, 'hives', 'h_age')).toEqual([3, null, null]);
    const back = await undo(converted);
    expect(await values(back, 'hives', 'h_age')).toEqual(['3', 'old', null]);
    expect(await values(await undo(back, 'redo'), 'hives', 'h_age')).toEqual([3, null, null]);
  });

  test('from a day to a moment and back goes by the clocks of the app', async () => {
    const made = await builder.call(contract.makeApp, { body: { name: 'Clocks', timeZone: 'Australia/Sydney' } });
    let app = await change(made, [table('visits', 'Visits', [field('date', 'v_day', 'Day')])]);
    await add(app, 'visits', [{ v_day: '2026-01-15' }, { v_day: '1950-01-15' }, {}]);
    const become = (kind: FieldPlan['kind']): DesignChange => ({ kind: 'change_field', table: 'visits', field: field(kind, 'v_day', 'Day') });
    app = await change(app, [become('date_and_time')], true);
    // Midnight in Sydney, eleven hours ahead; the language counts moments from 1970.
    expect(await values(app, 'visits', 'v_day')).toEqual(['2026-01-14T13:00:00Z', null, null]);
    app = await change(app, [become('date')], true);
    // What did not fit was kept aside, and is there again with the kind that it fits.
    expect(await values(app, 'visits', 'v_day')).toEqual(['2026-01-15', '1950-01-15', null]);
  });

  test('a unique field that became less comes back by its own values, and still refuses what would repeat', async () => {
    const moment = field('date_and_time', 'a_when', 'When', { unique: true });
    let app = await makeApp(builder, 'Moments', [table('things', 'Things', [moment])]);
    const moments = ['2026-05-14T08:30:00Z', '2026-05-14T18:30:00Z'];
    await add(
      app,
      'things',
      moments.map((a_when) => ({ a_when })),
    );
    app = await change(app, [{ kind: 'change_field', table: 'things', field: field('date', 'a_when', 'When') }], true);
    expect(await values(app, 'things', 'a_when')).toEqual(['2026-05-14', '2026-05-14']);
    app = await undo(app);
    expect(await values(app, 'things', 'a_when')).toEqual(moments);
    // What was entered since then counts as it is: two records of one day can't both be at its midnight.
    app = await change(app, [{ kind: 'change_field', table: 'things', field: field('date', 'a_when', 'When') }], true);
    await add(app, 'things', [{ a_when: '2026-06-01' }, { a_when: '2026-06-01' }]);
    const body = { version: app.version, direction: 'undo', acceptLoss: true };
    const refused = await builder.refused(contract.undoDesign, { params: { app: app.id }, body });
    expect(refused.body.message).toContain('1 value of When appears in more than one record');
  });

  test('a removed field and a removed table come back with their values, references and rules', async () => {
    const app = await makeApp(builder, 'Removed', honey);
    await add(app, 'apiaries', [{ a_name: 'Brackmoor' }]);
    await add(app, 'hives', [{ h_code: 'H-1', h_apiary: 1, h_year: 2024 }]);
    const without = await change(
      app,
      [
        { kind: 'remove_field', table: 'hives', field: 'h_year' },
        { kind: 'remove', part: 'table', id: 'apiaries' },
      ],
      true,
    );
    expect(without.design.relationships).toEqual([]);
    const back = await undo(without);
    expect(await values(back, 'hives', 'h_year')).toEqual([2024]);
    expect(await values(back, 'hives', 'h_apiary')).toEqual([{ id: 1, caption: 'Brackmoor' }]);
    const twice = await builder.refused(contract.saveRecords, {
      params: { app: app.id },
      body: { key: saveKey(), writes: [{ kind: 'add', table: 'apiaries', as: 'a', values: { a_name: 'Brackmoor' } }] },
    });
    expect(twice.body.issues[0]).toMatchObject({ field: 'a_name' });
    // The number of the next record goes on where it was.
    await add(back, 'apiaries', [{ a_name: 'Heron Mere' }]);
    expect((await builder.call(contract.readPage, { params: { app: app.id, table: 'apiaries' } })).records.map((record) => record.id)).toEqual([1, 3]);
  });

  test('a required field needs a default where records have none', async () => {
    const app = await makeApp(builder, 'Must', honey);
    await add(app, 'hives', [{ h_code: 'H-1' }]);
    const refused = await builder.refused(contract.changeDesign, {
      params: { app: app.id },
      body: { version: app.version, changes: [{ kind: 'add_field', table: 'hives', field: field('text', 'h_x', 'Colour', { required: true }) }] },
    });
    expect(refused.body.message).toContain('1 record of Hives would have no Colour');
    const done = await change(app, [{ kind: 'add_field', table: 'hives', field: field('text', 'h_x', 'Colour', { required: true, default: '"white"' }) }]);
    expect(await values(done, 'hives', 'h_x')).toEqual(['white']);
  });

  test('what was set aside is forgotten after 30 days', async () => {
    const app = await makeApp(builder, 'Forget', honey);
    await add(app, 'hives', [{ h_code: 'H-1', h_year: 7 }]);
    const without = await change(app, [{ kind: 'remove_field', table: 'hives', field: 'h_year' }], true);
    const kept = () => it.sql(`SELECT table_name FROM information_schema.tables WHERE table_schema = $1`, [`app_${app.id}_kept`]);
    await forgetKept(it.server.database, new Date(Date.now() + 29 * 86_400_000));
    expect(await kept()).toHaveLength(1);
    // A change that is under way may be taking it back.
    const changer = new pg.Client({ connectionString: it.url });
    await changer.connect();
    await changer.query('BEGIN');
    await changer.query('SELECT FROM bibliona.app WHERE id = $1 FOR NO KEY UPDATE', [app.id]);
    await forgetKept(it.server.database, new Date(Date.now() + 31 * 86_400_000));
    await changer.end();
    expect(await kept()).toHaveLength(1);
    await forgetKept(it.server.database, new Date(Date.now() + 31 * 86_400_000));
    expect(await kept()).toEqual([]);
    expect(await values(await undo(without), 'hives', 'h_year')).toEqual([null]);
  });
});

/** Random changes that can be made to a design one after the other; those it refuses are passed over. */
const names = ['Hives', 'Apiaries', 'Lots', 'Frames', 'Order lines'] as const;
const ids = ['t_a', 't_b', 't_c'] as const;
const fieldIds = ['f_1', 'f_2', 'f_3', 'f_4'] as const;
const plan = (tableId: string): fc.Arbitrary<FieldPlan> =>
  fc
    .record({
      kind: fc.constantFrom('text', 'formula', 'long_text', 'whole', 'decimal', 'date', 'yes_no', 'choice'),
      id: fc.constantFrom(...fieldIds),
      name: fc.constantFrom('Name', 'Code', 'Amount', 'Since', 'Kind'),
      required: fc.boolean(),
      unique: fc.boolean(),
      digits: fc.constantFrom(0, 2),
      more: fc.boolean(),
    })
    .map(({ kind, id, name, required, unique, digits, more }) => {
      // A formula comes and goes without a trace in the tables.
      if (kind === 'formula') return field(kind, `${tableId}_${id}`, name, { expression: '1 + 1', digits: null });
      const start = { text: '"x"', long_text: '"y"', whole: '1', decimal: '1', date: 'today()', yes_no: 'true', choice: '"A"' }[kind];
      return field(kind, `${tableId}_${id}`, name, {
        required,
        unique: unique && !['long_text', 'yes_no', 'choice'].includes(kind),
        default: required ? start : null,
        ...(kind === 'decimal' ? { digits } : {}),
        choices: [{ id: 'a', label: 'A' }, ...(more ? [{ id: 'b', label: 'B' }] : [])],
      });
    });
const anyChange: fc.Arbitrary<DesignChange> = fc.oneof(
  fc.record({ id: fc.constantFrom(...ids), name: fc.constantFrom(...names) }).map(({ id, name }) => table(id, name, [])),
  fc.constantFrom(...ids).map((id): DesignChange => ({ kind: 'remove', part: 'table', id: id })),
  fc.record({ id: fc.constantFrom(...ids), name: fc.constantFrom(...names) }).map(({ id, name }): DesignChange => ({ kind: 'change_table', table: id, name })),
  fc.constantFrom(...ids).chain((id) => plan(id).map((each): DesignChange => ({ kind: 'add_field', table: id, field: each }))),
  fc.constantFrom(...ids).chain((id) => plan(id).map((each): DesignChange => ({ kind: 'add_field', table: id, field: each }))),
  fc.constantFrom(...ids).chain((id) => plan(id).map((each): DesignChange => ({ kind: 'change_field', table: id, field: each }))),
  fc
    .record({ id: fc.constantFrom(...ids), one: fc.constantFrom(...fieldIds) })
    .map(({ id, one }): DesignChange => ({ kind: 'remove_field', table: id, field: `${id}_${one}` })),
  fc
    .record({ parent: fc.constantFrom(...ids), child: fc.constantFrom(...ids), when: fc.constantFrom('refuse', 'clear', 'remove') })
    .map(({ parent, child, when }): DesignChange => ({
      kind: 'add_relationship',
      id: `r_${parent}_${child}`,
      parent,
      child,
      fieldId: `f_${parent}_${child}`,
      fieldName: `To ${parent}`,
      childrenName: `From ${child}`,
      required: false,
      whenParentRemoved: when as 'clear',
    })),
);
const designs = (from: AppDesign, changes: readonly DesignChange[]): AppDesign =>
  changes.reduce((design, each) => {
    const result = applyChanges(design, [each]);
    return result.ok ? result.design : design;
  }, from);

test('random designs: A to B to A gives the catalog of A, and B is what B alone gives', async () => {
  const { url, drop } = await emptyDatabase();
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query('CREATE EXTENSION pg_trgm');
  const catalog = async (schema: string): Promise<unknown> => {
    const like = [schema];
    const columns = await client.query(
      `SELECT table_name, column_name, data_type, numeric_precision, numeric_scale, is_nullable, column_default, is_identity FROM information_schema.columns WHERE table_schema = $1 ORDER BY 1, 2`,
      like,
    );
    const constraints = await client.query(
      `SELECT conrelid::regclass::text AS t, conname, pg_get_constraintdef(oid) AS d FROM pg_constraint WHERE connamespace = $1::regnamespace ORDER BY 1, 2`,
      like,
    );
    const indexes = await client.query(`SELECT tablename, indexname, indexdef FROM pg_indexes WHERE schemaname = $1 ORDER BY 1, 2`, like);
    const sequences = await client.query(`SELECT sequencename FROM pg_sequences WHERE schemaname = $1 ORDER BY 1`, like);
    return JSON.parse(JSON.stringify([columns.rows, constraints.rows, indexes.rows, sequences.rows]).replaceAll(schema, 'S'));
  };
  let stamp = 0;
  const migrate = async (schema: string, from: AppDesign, to: AppDesign): Promise<void> => {
    const { steps } = difference(from, to, { schema, keptSchema: `${schema}_kept`, stamp: `v${(stamp += 1)}`, setAside: [], prepared: new Set() });
    // As the server does: the data is asked before anything is done.
    for (const step of steps) if (step.probe !== null) await client.query(step.probe.text);
    for (const step of steps) {
      for (const text of step.sql) {
        await client.query(text).catch((error: unknown) => {
          throw new Error(`${text}: ${String(error)}`);
        });
      }
    }
  };
  try {
    await fc.assert(
      fc.asyncProperty(
        fc.array(anyChange, { minLength: 2, maxLength: 14 }),
        fc.array(anyChange, { maxLength: 10 }),
        fc.array(anyChange, { maxLength: 14 }),
        async (first, then, other) => {
          const empty = emptyDesign('Random');
          const a = designs(empty, first);
          // B is sometimes reached from A, sometimes by itself, sharing only ids by chance.
          const b = then.length > 0 ? designs(a, then) : designs(empty, other);
          for (const schema of ['s1', 's2'])
            for (const name of [schema, `${schema}_kept`]) await client.query(`DROP SCHEMA IF EXISTS ${name} CASCADE; CREATE SCHEMA ${name}`);
          await migrate('s1', empty, a);
          const before = await catalog('s1');
          await migrate('s1', a, b);
          await migrate('s2', empty, b);
          expect(await catalog('s1')).toEqual(await catalog('s2'));
          await client.query('DROP SCHEMA s1_kept CASCADE; CREATE SCHEMA s1_kept');
          await migrate('s1', b, a);
          expect(await catalog('s1')).toEqual(before);
        },
      ),
      { numRuns: 120 },
    );
  } finally {
    await client.end();
    await drop();
  }
}, 180_000);

test.each([false, true])('random losses: undo restores every value of what was dropped; made ready: %s', { timeout: 180_000 }, async (isReady) => {
  const app = await makeApp(builder, 'Undo', honey);
  await add(
    app,
    'apiaries',
    Array.from({ length: 5 }, (_, i) => ({ a_name: `A ${i}`, a_height: i })),
  );
  await add(
    app,
    'hives',
    Array.from({ length: 30 }, (_, i) => ({
      h_code: `H-${i}`,
      h_year: i % 7 === 0 ? null : 2000 + i,
      h_rent: `${i}.25`,
      h_since: '2026-09-14',
      h_gentle: i % 2 === 0,
      h_stores: ['low', 'fair', 'full'][i % 3],
      h_notes: `n ${i}\nm`,
      h_apiary: (i % 5) + 1,
    })),
  );
  const maker = await readyMaker(it);
  const who = isReady ? maker.as(builder) : builder;
  const everything = async () =>
    Promise.all(
      ['apiaries', 'hives'].map(async (id) => (await who.call(contract.readPage, { params: { app: app.id, table: id }, query: { limit: 500 } })).records),
    );
  const before = await everything();
  const withoutField = (id: string): DesignChange => ({ kind: 'remove_field', table: 'hives', field: id });
  const losing: DesignChange[] = [
    ...['h_year', 'h_rent', 'h_since', 'h_gentle', 'h_stores', 'h_notes', 'h_apiary'].map(withoutField),
    { kind: 'remove', part: 'table', id: 'apiaries' },
    { kind: 'remove', part: 'table', id: 'hives' },
    { kind: 'change_field', table: 'hives', field: field('date', 'h_year', 'Queen year') },
    { kind: 'change_field', table: 'hives', field: field('whole', 'h_rent', 'Rent') },
    { kind: 'change_field', table: 'hives', field: field('choice', 'h_stores', 'Stores', { choices: [{ id: 'low', label: 'Low' }] }) },
    { kind: 'change_field', table: 'hives', field: field('yes_no', 'h_notes', 'Notes') },
  ];
  await fc.assert(
    fc.asyncProperty(fc.uniqueArray(fc.constantFrom(...losing), { minLength: 1, maxLength: 4 }), async (some) => {
      let now = await who.call(contract.openApp, { params: { app: app.id } });
      let made = 0;
      for (const each of some) {
        const answer = await who.send('POST', `/api/apps/${app.id}/changes`, { version: now.version, changes: [each], acceptLoss: true });
        if (answer.status !== 200) continue;
        now = answer.body as OpenApp;
        made += 1;
      }
      for (let i = 0; i < made; i += 1) now = await undo(now, 'undo', who);
      expect(await everything()).toEqual(before);
    }),
    { numRuns: 13 },
  );
  await maker.close();
});
