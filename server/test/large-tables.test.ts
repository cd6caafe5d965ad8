/** A change of a large table is made ready while others work with it, and leaves its indexes to be made later. */
import { contract, indexesOf, storedPart, type DesignChange, type OpenApp, type Rearrangement } from '@bibliona/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { rearranging } from './rearranging.js';
import { field, honey, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller & { id: number };
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
});
afterAll(() => it.close());

const { rearrange, step, rows } = rearranging(
  () => it,
  () => ada,
);

/** As many hives as make their table large: each has notes of 1,500 characters. */
const filled = async (name: string): Promise<OpenApp> => {
  const app = await makeApp(ada, name, honey);
  await rows(
    app,
    `INSERT INTO ~.hives (id, rev, code, queen_year, notes) OVERRIDING SYSTEM VALUE SELECT n, 1, 'H-' || n, 2000 + n % 25, repeat('note', 375) FROM generate_series(1, 14000) AS n`,
  );
  await rows(app, `SELECT setval('~.hives_ids', 14000)`);
  return app;
};
const change = (app: OpenApp, changes: readonly DesignChange[]): Promise<OpenApp> =>
  ada.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes, acceptLoss: true } });
const becomes = (kind: 'whole' | 'decimal'): DesignChange => ({
  kind: 'change_field',
  table: 'hives',
  field: field(kind, 'h_year', 'Queen year', kind === 'decimal' ? { digits: 1 } : {}),
});
/** The names of the indexes that are ready. */
const made = async (app: OpenApp): Promise<readonly string[]> =>
  (
    await it.sql<{ name: string }>(
      `SELECT c.relname AS name FROM pg_index AS i JOIN pg_class AS c ON c.oid = i.indexrelid WHERE i.indisvalid AND NOT i.indisunique AND c.relnamespace = (SELECT oid FROM pg_namespace WHERE nspname = $1) AND c.relname NOT LIKE '\\_%'`,
      [`app_${app.id}`],
    )
  )
    .map(({ name }) => name)
    .sort();
const wanted = (app: OpenApp): readonly string[] => indexesOf(storedPart(app.design as never), `app_${app.id}`).map(({ name }) => name);
const missing = async (app: OpenApp): Promise<readonly string[]> => {
  const there = await made(app);
  return wanted(app).filter((name) => !there.includes(name));
};

test('the kind of a field changes, and all indexes are there a little later', async () => {
  const app = await filled('Large');
  expect(await missing(app)).toEqual([]);
  expect(wanted(app)).toContain('hives_search');
  const decimal = await change(app, [becomes('decimal')]);
  expect(await rows(decimal, `SELECT queen_year FROM ~.hives WHERE id = 25`)).toEqual([{ queen_year: '2000.0' }]);
  await expect.poll(() => missing(decimal), { timeout: 30_000 }).toEqual([]);
  // One change after the other does not wait for the indexes of the first.
  const again = await change(await change(decimal, [becomes('whole')]), [becomes('decimal')]);
  await expect.poll(() => missing(again), { timeout: 30_000 }).toEqual([]);
  const back = await step(again, 'undo');
  await expect.poll(() => missing(back), { timeout: 30_000 }).toEqual([]);
  expect(await rows(back, `SELECT queen_year FROM ~.hives WHERE id = 25`)).toEqual([{ queen_year: 2000 }]);
});

test('a field comes to a large table, whose search looks through it once its index is there', async () => {
  const app = await filled('More words');
  const more = await change(app, [{ kind: 'add_field', table: 'hives', field: field('text', 'h_more', 'More') }]);
  await expect.poll(() => missing(more), { timeout: 30_000 }).toEqual([]);
});

test('values move to another table, and back', async () => {
  const app = await filled('Moved');
  const table = { id: 'years', name: 'Years', form: 'form_years', list: 'list_years', nameField: 'y_name', nameLabel: 'Name' };
  const relationship = { id: 'hives_of_year', field: 'h_year_ref', childrenName: 'Hives' };
  const over = await rearrange(app, { kind: 'field_to_table', table: 'hives', field: 'h_code', made: table, relationship, carried: [] });
  await expect.poll(() => missing(over), { timeout: 30_000 }).toEqual([]);
  const back = await step(over, 'undo');
  await expect.poll(() => missing(back), { timeout: 30_000 }).toEqual([]);
});

/** What was made ready for a change and is still there. */
const leftOver = (app: OpenApp): Promise<readonly unknown[]> =>
  it.sql(
    `SELECT proname AS name FROM pg_proc WHERE proname LIKE '\\_\\_next%' UNION ALL
     SELECT table_name || '.' || column_name FROM information_schema.columns WHERE table_schema LIKE $1 AND (table_name LIKE '\\_\\_next%' OR column_name LIKE '\\_\\_next%')`,
    [`app_${app.id}%`],
  );
const codesBecomeTable: Rearrangement = {
  kind: 'field_to_table',
  table: 'hives',
  field: 'h_code',
  made: { id: 'codes', name: 'Codes', form: 'form_codes', list: 'list_codes', nameField: 'c_name', nameLabel: 'Name' },
  relationship: { id: 'hives_of_code', field: 'h_code_ref', childrenName: 'Hives' },
  carried: [],
};

test('people save while a change is made ready, and what they save goes along', async () => {
  const app = await filled('Busy');
  let isOver = false;
  const asked = rearrange(app, codesBecomeTable).finally(() => (isOver = true));
  const saved = new Map<number, string>();
  for (let n = 1; !isOver; n += 1) {
    // One with a code that no other has, one that another had until now, and one that is new.
    const codes = [`New ${n}`, `h-${n}`, `Added ${n}`];
    const answer = await ada.send('POST', ada.path(contract.saveRecords, { app: app.id }), {
      key: saveKey(),
      writes: [
        { kind: 'change', table: 'hives', id: n, rev: 1, values: { h_code: codes[0] } },
        { kind: 'change', table: 'hives', id: 14_000 - n, rev: 1, values: { h_code: codes[1] } },
        { kind: 'add', table: 'hives', as: 'a', values: { h_code: codes[2] } },
      ],
    });
    // The last can come after the change, when hives have no code any more.
    if (answer.status !== 200) break;
    const [, , added] = contract.saveRecords.answer.parse(answer.body).records;
    for (const [i, id] of [n, 14_000 - n, added?.id ?? 0].entries()) saved.set(id, codes[i] ?? '');
  }
  const made = await asked;
  expect(saved.size).toBeGreaterThan(9);
  const now = await rows(made, 'SELECT h.id::int, c.name FROM ~.hives AS h LEFT JOIN ~.codes AS c ON c.id = h.code_reference');
  const names = new Map(now.map((row) => [row['id'] as number, row['name']]));
  // A text that differs from another in its capitals alone becomes the same record, called as either.
  const folded = (name: unknown): string => String(name).toLowerCase();
  expect([...saved].filter(([id, code]) => folded(names.get(id)) !== folded(code))).toEqual([]);
  expect([...names].filter(([id, name]) => !saved.has(id) && name !== `H-${id}`)).toEqual([]);
  expect(await leftOver(made)).toEqual([]);
  const back = await step(made, 'undo');
  const codes = new Map((await rows(back, 'SELECT id::int, code FROM ~.hives')).map((row) => [row['id'] as number, row['code']]));
  expect([...saved].filter(([id, code]) => folded(codes.get(id)) !== folded(code))).toEqual([]);
  expect(codes.size).toBe(names.size);
  expect(await leftOver(back)).toEqual([]);
});

test('of several pairs one becomes the reference, while people add pairs and remove some', async () => {
  const side = (table: string, id: string) => ({ table, relationship: `p_${id}`, shownAs: `Paired ${id}`, field: `f_${id}`, fieldName: id });
  const app = await change(await filled('Paired'), [
    {
      kind: 'add_link',
      id: 'pairs',
      name: 'Pairs',
      form: 'fm_pairs',
      list: 'l_pairs',
      together: 'tg_pairs',
      sides: [side('apiaries', 'place'), side('hives', 'hive')],
    },
  ]);
  await rows(app, `INSERT INTO ~.apiaries (name) SELECT 'Place ' || n FROM generate_series(1, 4) AS n`);
  // Two pairs for hives with an even number, one for the others, and none for the last hundred.
  await rows(app, 'INSERT INTO ~.pairs (hive, place) SELECT n, 1 + n % 2 FROM generate_series(1, 13900) AS n');
  await rows(app, 'INSERT INTO ~.pairs (hive, place) SELECT n, 3 FROM generate_series(2, 13900, 2) AS n');
  let isOver = false;
  const reference = { relationship: 'r_one', field: 'h_one', name: 'Place', childrenName: 'Kept here' };
  const asked = rearrange(app, { kind: 'one_parent', link: 'pairs', child: 'p_hive', reference }).finally(() => (isOver = true));
  const changed = new Map<number, number | null>();
  for (let n = 1; !isOver; n += 1) {
    // The first pair of one goes, and one of the last hundred gets a pair.
    const [hive, empty] = [n, 13_900 + (n % 100) + 1];
    const answer = await ada.send('POST', ada.path(contract.saveRecords, { app: app.id }), {
      key: saveKey(),
      writes: [
        { kind: 'remove', table: 'pairs', id: hive, rev: 1 },
        ...(changed.has(empty) ? [] : [{ kind: 'add', table: 'pairs', as: 'a', values: { f_hive: empty, f_place: 4 } }]),
      ],
    });
    // The last can come after the change, when there are no pairs any more.
    if (answer.status !== 200) break;
    changed.set(hive, hive % 2 === 0 ? 3 : null).set(empty, 4);
  }
  const one = await asked;
  expect(changed.size).toBeGreaterThan(3);
  const parent = (id: number): number | null => (changed.has(id) ? (changed.get(id) ?? null) : id > 13_900 ? null : 1 + (id % 2));
  const found = await rows(one, 'SELECT id::int, place::int AS parent FROM ~.hives');
  expect(found).toHaveLength(14_000);
  expect(found.filter((row) => row['parent'] !== parent(row['id'] as number))).toEqual([]);
  expect(await leftOver(one)).toEqual([]);
  const back = await step(one, 'undo');
  const pairs = await rows(back, 'SELECT hive::int, array_agg(place::int ORDER BY place) AS places FROM ~.pairs GROUP BY 1');
  const places = new Map(pairs.map((row) => [row['hive'] as number, row['places'] as number[]]));
  const expected = (id: number): number[] => [...new Set([parent(id), id % 2 === 0 && id <= 13_900 ? 3 : null])].flatMap((each) => each ?? []).sort();
  expect(found.map((row) => row['id'] as number).filter((id) => String(places.get(id) ?? []) !== String(expected(id)))).toEqual([]);
  expect(await leftOver(back)).toEqual([]);
});

test('a change is stopped while it is made ready, and leaves nothing', async () => {
  const app = await filled('Stopped');
  // As if there were so many records that making them ready takes long.
  await rows(
    app,
    `CREATE FUNCTION ~.slowly() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN IF current_query() LIKE '%SKIP LOCKED%' THEN PERFORM pg_sleep(60); END IF; RETURN NULL; END $$`,
  );
  await rows(app, 'CREATE TRIGGER slowly AFTER UPDATE ON ~.hives FOR EACH STATEMENT EXECUTE FUNCTION ~.slowly()');
  const params = { app: app.id };
  const asked = ada.send('POST', ada.path(contract.changeDesign, params), { version: app.version, changes: [becomes('decimal')] }, { 'x-tab': 'one' });
  const underWay = async () => (await ada.call(contract.readChangeUnderWay, { params, query: { tab: 'one' } })).underWay;
  await expect.poll(underWay, { interval: 20 }).toMatchObject({ isMine: true, doing: 'preparing' });
  await ada.call(contract.stopChange, { params, body: { tab: 'one' } });
  expect((await asked).body).toMatchObject({ message: 'The change was stopped. Nothing was changed.' });
  expect(await leftOver(app)).toEqual([]);
  expect(await rows(app, 'SELECT queen_year FROM ~.hives WHERE id = 25')).toEqual([{ queen_year: 2000 }]);
  await rows(app, 'DROP FUNCTION ~.slowly() CASCADE');
  // The next one goes as if it were the first.
  expect(await rows(await change(app, [becomes('decimal')]), 'SELECT queen_year FROM ~.hives WHERE id = 25')).toEqual([{ queen_year: '2000.0' }]);
});
