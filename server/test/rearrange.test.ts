/** Rearranging a design takes the values of records along: there, back by undo, and there again. */
import { contract, grantOf, type DesignChange, type OpenApp, type Rearrangement } from '@bibliona/core';
import fc from 'fast-check';
import { afterAll, afterEach, beforeAll, describe, expect, test } from 'vitest';
import { rearranging } from './rearranging.js';
import { field, honey, makeApp, readyMaker, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller & { id: number };
let maker: Awaited<ReturnType<typeof readyMaker>>;
/** Whether changes are made ready beside the work. */
let isReady = false;
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
  maker = await readyMaker(it);
});
afterEach(() => (isReady = false));
afterAll(async () => {
  await maker.close();
  await it.close();
});

const { told, rearrange, refusal, step, rows, save } = rearranging(
  () => it,
  () => (isReady ? maker.as(ada) : ada),
);

const yard: readonly DesignChange[] = [
  ...honey,
  { kind: 'add_field', table: 'hives', field: field('text', 'h_region', 'Region', { required: true }) },
  { kind: 'add_field', table: 'hives', field: field('text', 'h_warden', 'Warden') },
  { kind: 'add_field', table: 'hives', field: field('whole', 'h_rain', 'Rain') },
  { kind: 'add_field', table: 'hives', field: field('formula', 'h_wet', 'Wet', { expression: 'if Region = "North" then "wet" else "dry"' }) },
];
const hives: readonly (readonly [string, string, string | null, number | null])[] = [
  ['H-1', 'North', 'Bede', 900],
  ['H-2', 'north ', 'Bede', 900],
  ['H-3', 'North', 'Cuthbert', null],
  ['H-4', 'South', null, 500],
  ['H-5', 'South', 'Dunstan', 500],
];
const fill = (app: OpenApp): Promise<unknown> =>
  save(
    app,
    hives.map(([h_code, h_region, h_warden, h_rain], i) => ({
      kind: 'add' as const,
      table: 'hives',
      as: `h${i}`,
      values: { h_code, h_region, h_warden, h_rain },
    })),
  );
const byCode = 'SELECT code, region, warden, rain FROM ~.hives ORDER BY code';
const asEntered = hives.map(([code, region, warden, rain]) => ({ code, region, warden, rain }));
const plan: Extract<Rearrangement, { kind: 'field_to_table' }> = {
  kind: 'field_to_table',
  table: 'hives',
  field: 'h_region',
  made: { id: 'regions', name: 'Regions', form: 'form_regions', list: 'list_regions', nameField: 'r_name', nameLabel: 'Name' },
  relationship: { id: 'hives_of_region', field: 'h_region_ref', childrenName: 'Hives' },
  carried: [
    { field: 'h_warden', to: 'r_warden' },
    { field: 'h_rain', to: 'r_rain' },
  ],
};

describe('a text becomes a table', () => {
  test('with a record for each value, whatever its capitals and blanks, and what follows from it', async () => {
    const app = await makeApp(ada, 'Regions', yard);
    await fill(app);
    expect(await told(app, plan)).toEqual([
      '2 records of Regions are made: “North”, “South”.',
      '1 value is written in more than one way, with other capitals or blanks, and becomes one record: “North”.',
      '1 record of Hives has another Warden than most with the same Region, or no Region: “Cuthbert”. They show what most have. The old values are kept for 30 days. Undo restores them.',
      '1 record of Hives without a Warden shows that of its Region.',
      '1 record of Hives without a Rain shows that of its Region.',
    ]);
    const made = await rearrange(app, plan);
    expect(await rows(made, 'SELECT name, warden, rain FROM ~.regions ORDER BY name')).toEqual([
      { name: 'North', warden: 'Bede', rain: 900 },
      { name: 'South', warden: 'Dunstan', rain: 500 },
    ]);
    const [hive] = (await rows(made, `SELECT id::int FROM ~.hives WHERE code = 'H-3'`)) as { id: number }[];
    const { record } = await ada.call(contract.readRecord, { params: { app: app.id, table: 'hives', id: hive!.id } });
    // The formulas show what the region says.
    expect(record.values).toMatchObject({ h_region_ref: { caption: 'North' }, h_warden: 'Bede', h_rain: '900', h_wet: 'wet' });
    const design = made.design;
    expect(design.tables.find((table) => table.id === 'hives')?.fields.map((each) => [each.name, each.kind])).toEqual(
      expect.arrayContaining([
        ['Region', 'reference'],
        ['Warden', 'formula'],
        ['Rain', 'formula'],
      ]),
    );
    expect(design.tables.find((table) => table.id === 'hives')?.fields.find((each) => each.id === 'h_wet')).toMatchObject({
      expression: 'if Region.Name = "North" then "wet" else "dry"',
    });
    expect(design.lists.find((list) => list.table === 'hives')?.columns).toEqual(
      app.design.lists.find((list) => list.table === 'hives')?.columns.map((id) => (id === 'h_region' ? 'h_region_ref' : id)),
    );
    const { entries } = await ada.call(contract.designLog, { params: { app: app.id } });
    expect(entries[0]?.description).toBe('Made Region of Hives the table Regions');
  });

  test.each([false, true])('undo brings back every value as it was, and what has changed since; redo goes there again; made ready: %s', async (ready) => {
    isReady = ready;
    const app = await makeApp(ada, 'There and back', yard);
    await fill(app);
    const made = await rearrange(app, plan);
    const undone = await step(made, 'undo');
    expect(undone.design).toEqual(app.design);
    expect(await rows(undone, byCode)).toEqual(asEntered);
    const redone = await step(undone, 'redo');
    expect(redone.design).toEqual(made.design);
    const [north, south] = (await rows(redone, 'SELECT id::int, rev FROM ~.regions ORDER BY name')) as { id: number; rev: number }[];
    expect(await rows(redone, 'SELECT count(*)::int FROM ~.regions')).toEqual([{ count: 2 }]);
    // Meanwhile: a region is renamed, its warden changes, a hive moves, and one comes.
    await save(app, [
      { kind: 'change', table: 'regions', id: south!.id, rev: south!.rev, values: { r_name: 'Deep South', r_warden: 'Edith' } },
      { kind: 'add', table: 'hives', as: 'n', values: { h_code: 'H-6', h_region_ref: north!.id } },
    ]);
    const back = await step(redone, 'undo');
    expect(await rows(back, byCode)).toEqual([
      ...asEntered.slice(0, 3),
      // It had no warden, and has none.
      { code: 'H-4', region: 'Deep South', warden: null, rain: 500 },
      { code: 'H-5', region: 'Deep South', warden: 'Edith', rain: 500 },
      { code: 'H-6', region: 'North', warden: 'Bede', rain: 900 },
    ]);
    const again = await step(back, 'redo');
    expect(await rows(again, 'SELECT name, warden FROM ~.regions ORDER BY name')).toEqual([
      { name: 'Deep South', warden: 'Edith' },
      { name: 'North', warden: 'Bede' },
    ]);
    expect(await rows(again, 'SELECT code FROM ~.hives WHERE region_reference IS NULL')).toEqual([]);
  });

  test('whatever records say, undo leaves them as they were, and each refers to what it said', { timeout: 120_000 }, async () => {
    let app = await makeApp(ada, 'Any rows', [...yard, { kind: 'change_field', table: 'hives', field: field('text', 'h_region', 'Region') }]);
    const said = fc.record({
      region: fc.constantFrom(null, 'a', 'A', ' a', 'a  b', 'A B', 'é', "o'c", '0'),
      warden: fc.constantFrom(null, 'x', 'y'),
      rain: fc.constantFrom(null, 1, 2),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(said, { maxLength: 12 }), fc.boolean(), async (all, ready) => {
        isReady = ready;
        await rows(app, 'DELETE FROM ~.hives');
        for (const [i, { region, warden, rain }] of all.entries())
          await it.sql(`INSERT INTO "app_${app.id}".hives (code, region, warden, rain) VALUES ($1, $2, $3, $4)`, [
            String(i).padStart(2, '0'),
            region,
            warden,
            rain,
          ]);
        const made = await rearrange(app, plan);
        const folded = (text: string | null): string | null => text?.trim().replaceAll(/\s+/gu, ' ').toLowerCase() ?? null;
        const names = await rows(made, 'SELECT r.name FROM ~.hives AS h LEFT JOIN ~.regions AS r ON r.id = h.region_reference ORDER BY h.code');
        expect(names.map((row) => folded(row['name'] as string | null))).toEqual(all.map((row) => folded(row.region)));
        app = await step(made, 'undo');
        expect(await rows(app, 'SELECT region, warden, rain FROM ~.hives ORDER BY code')).toEqual(all);
      }),
      { numRuns: 25 },
    );
  });

  test('is refused where something needs it as it is, and says what', async () => {
    const app = await makeApp(ada, 'Needed', [...yard, { kind: 'add_field', table: 'hives', field: field('text', 'h_mark', 'Mark', { unique: true }) }]);
    expect(await refusal(app, { ...plan, field: 'h_rain', carried: [] })).toBe(
      'A table can be made of a text or a choice. Rain is neither, or a route moves it.',
    );
    expect(await refusal(app, { ...plan, carried: [{ field: 'h_mark', to: 'r_mark' }] })).toBe("Mark can't move: no two records have the same.");
    expect(await refusal(app, { ...plan, field: 'gone' })).toBe('This part of the app was removed in the meantime. Start again.');
    expect(await refusal(app, { ...plan, made: { ...plan.made, name: 'Hives' } })).toMatch(/Hives/u);
    const now = await ada.call(contract.openApp, { params: { app: app.id } });
    expect(now.design).toEqual(app.design);
  });

  test('roles that see all of its records see those of the new table; others are given nothing', async () => {
    const role = (id: string, condition: string): DesignChange => ({
      kind: 'put',
      part: 'role',
      value: {
        id,
        name: id,
        description: '',
        everything: false,
        menu: [],
        grants: [grantOf(`g_${id}`, 'hives', { change: true, condition, hidden: ['h_rain'] })],
      },
    });
    const app = await makeApp(ada, 'Roles', [...yard, role('all_hives', ''), role('some_hives', 'Warden = "Bede"')]);
    await fill(app);
    expect(await told(app, plan)).toContain(
      "The role some_hives can't see Regions, and no longer sees Region, Warden of Hives. Grant it to see Regions under Permissions if it should.",
    );
    const made = await rearrange(app, plan);
    const grants = (id: string) => made.design.roles.find((each) => each.id === id)?.grants.filter((grant) => grant.table === 'regions');
    expect(grants('all_hives')).toMatchObject([{ see: true, add: true, change: true, hidden: ['r_rain'], locked: ['r_name'] }]);
    expect(grants('some_hives')).toEqual([]);
  });
});

describe('fields move over a reference', () => {
  const apiaryOf: readonly DesignChange[] = [...honey, { kind: 'add_field', table: 'hives', field: field('text', 'h_town', 'Town', { required: true }) }];
  const towns: readonly (readonly [string, number | null, string])[] = [
    ['H-1', 1, 'Alder'],
    ['H-2', 1, 'Alder'],
    ['H-3', 1, 'Birch'],
    ['H-4', 2, 'Cedar'],
    ['H-5', null, 'Elm'],
  ];

  test('to the record that most agree on, and back', async () => {
    const app = await makeApp(ada, 'Towns', apiaryOf);
    const reference = app.design.relationships.find((relationship) => relationship.child === 'hives' && relationship.parent === 'apiaries');
    await save(app, [
      { kind: 'add', table: 'apiaries', as: 'a1', values: { a_name: 'Brackmoor' } },
      { kind: 'add', table: 'apiaries', as: 'a2', values: { a_name: 'Dunlin' } },
      ...towns.map(([h_code, apiary, h_town], i) => ({
        kind: 'add' as const,
        table: 'hives',
        as: `h${i}`,
        values: { h_code, h_town, [reference!.field]: apiary === null ? null : { added: `a${apiary}` } },
      })),
    ]);
    const move: Rearrangement = { kind: 'move_fields', relationship: reference!.id, carried: [{ field: 'h_town', to: 'a_town' }] };
    expect(await told(app, move)).toEqual([
      '2 records of Hives have another Town than most with the same Apiary, or no Apiary: “Birch”, “Elm”. They show what most have. The old values are kept for 30 days. Undo restores them.',
    ]);
    const moved = await rearrange(app, move);
    expect(await rows(moved, 'SELECT name, town FROM ~.apiaries ORDER BY name')).toEqual([
      { name: 'Brackmoor', town: 'Alder' },
      { name: 'Dunlin', town: 'Cedar' },
    ]);
    const undone = await step(moved, 'undo');
    expect(undone.design).toEqual(app.design);
    expect(await rows(undone, 'SELECT code, town FROM ~.hives ORDER BY code')).toEqual(towns.map(([code, , town]) => ({ code, town })));
  });
});

test('where fields go, nobody sees or changes more than before', async () => {
  const role = (id: string, grants: readonly object[]): DesignChange => ({
    kind: 'put',
    part: 'role',
    value: {
      id,
      name: id,
      description: '',
      everything: false,
      menu: [],
      grants: grants.map((grant, i) => ({ ...grantOf(`g_${id}_${i}`, 'hives'), ...grant })),
    },
  });
  const sites = { table: 'apiaries', change: true };
  const app = await makeApp(ada, 'Who sees', [
    ...honey,
    { kind: 'add_field', table: 'hives', field: field('text', 'h_town', 'Town') },
    role('only_sites', [sites]),
    role('hidden_town', [sites, { hidden: ['h_town'] }]),
    role('some_towns', [sites, { hidden: ['h_town'] }, { condition: 'Gentle' }]),
    role('reads_town', [sites, {}]),
    role('writes_town', [sites, { change: true }]),
    role('no_sites', [{}]),
  ]);
  const move: Rearrangement = { kind: 'move_fields', relationship: 'r_hives', carried: [{ field: 'h_town', to: 'a_town' }] };
  expect(await told(app, move)).toEqual([
    "The role no_sites can't see Apiaries, and no longer sees Town of Hives. Grant it to see Apiaries under Permissions if it should.",
  ]);
  const { design } = await rearrange(app, move);
  const aside = Object.fromEntries(
    design.roles.flatMap((each) => each.grants.filter((grant) => grant.table === 'apiaries').map((grant) => [each.id, [grant.hidden, grant.locked]])),
  );
  expect(aside).toEqual({
    only_sites: [['a_town'], []],
    hidden_town: [['a_town'], []],
    some_towns: [['a_town'], []],
    reads_town: [[], ['a_town']],
    writes_town: [[], []],
  });
});

describe('one parent or several', () => {
  test('a reference becomes pairs, and pairs a reference; each undo brings the other back', async () => {
    const app = await makeApp(ada, 'Several', honey);
    const reference = app.design.relationships.find((relationship) => relationship.child === 'hives' && relationship.parent === 'apiaries')!;
    await save(app, [
      { kind: 'add', table: 'apiaries', as: 'a1', values: { a_name: 'Brackmoor' } },
      { kind: 'add', table: 'apiaries', as: 'a2', values: { a_name: 'Dunlin' } },
      { kind: 'add', table: 'hives', as: 'h1', values: { h_code: 'H-1', [reference.field]: { added: 'a1' } } },
      { kind: 'add', table: 'hives', as: 'h2', values: { h_code: 'H-2' } },
    ]);
    const several = await rearrange(app, {
      kind: 'several_parents',
      relationship: reference.id,
      link: { id: 'pairs', form: 'form_pairs', list: 'list_pairs', together: 'pairs_together' },
      parent: { relationship: 'pairs_up', field: 'pair_up', shownAs: reference.childrenName },
      child: { relationship: 'pairs_down', field: 'pair_down', shownAs: 'Apiaries' },
    });
    const pairs = `SELECT h.code, a.name FROM ~.apiaries_of_hives AS p JOIN ~.hives AS h ON h.id = p.hives JOIN ~.apiaries AS a ON a.id = p.apiaries ORDER BY 1, 2`;
    expect(await rows(several, pairs)).toEqual([{ code: 'H-1', name: 'Brackmoor' }]);
    expect(several.design.relationships.map((relationship) => relationship.childrenName)).toEqual(expect.arrayContaining([reference.childrenName, 'Apiaries']));
    const undone = await step(several, 'undo');
    expect(undone.design).toEqual(app.design);
    expect(await rows(undone, 'SELECT h.code, a.name FROM ~.hives AS h LEFT JOIN ~.apiaries AS a ON a.id = h.apiary ORDER BY 1')).toEqual([
      { code: 'H-1', name: 'Brackmoor' },
      { code: 'H-2', name: null },
    ]);
    const again = await step(undone, 'redo');
    await it.sql(
      `INSERT INTO "app_${app.id}".apiaries_of_hives (hives, apiaries) SELECT h.id, a.id FROM "app_${app.id}".hives AS h, "app_${app.id}".apiaries AS a WHERE a.name = 'Dunlin'`,
    );
    const back: Rearrangement = {
      kind: 'one_parent',
      link: 'pairs',
      child: 'pairs_down',
      reference: { relationship: 'one_again', field: 'h_one', name: 'Apiary', childrenName: reference.childrenName },
    };
    expect(await told(again, back)).toEqual([
      '1 record of Hives has more than one of Apiaries and keeps the first. The others are kept for 30 days. Undo restores them.',
    ]);
    const one = await rearrange(again, back);
    expect(await rows(one, 'SELECT h.code, a.name FROM ~.hives AS h JOIN ~.apiaries AS a ON a.id = h.apiary ORDER BY 1')).toEqual([
      { code: 'H-1', name: 'Brackmoor' },
      { code: 'H-2', name: 'Dunlin' },
    ]);
    const pairsAgain = await step(one, 'undo');
    expect(await rows(pairsAgain, pairs)).toEqual([
      { code: 'H-1', name: 'Brackmoor' },
      { code: 'H-1', name: 'Dunlin' },
      { code: 'H-2', name: 'Dunlin' },
    ]);
  });
});
