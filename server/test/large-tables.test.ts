/** A change of a large table leaves its indexes to be made once others can go on with it. */
import { contract, indexesOf, storedPart, type DesignChange, type OpenApp } from '@bibliona/core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { rearranging } from './rearranging.js';
import { field, honey, makeApp, testServer, type Caller, type TestServer } from './support.js';

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

test('values move to another table, and back', async () => {
  const app = await filled('Moved');
  const table = { id: 'years', name: 'Years', form: 'form_years', list: 'list_years', nameField: 'y_name', nameLabel: 'Name' };
  const relationship = { id: 'hives_of_year', field: 'h_year_ref', childrenName: 'Hives' };
  const over = await rearrange(app, { kind: 'field_to_table', table: 'hives', field: 'h_code', made: table, relationship, carried: [] });
  await expect.poll(() => missing(over), { timeout: 30_000 }).toEqual([]);
  const back = await step(over, 'undo');
  await expect.poll(() => missing(back), { timeout: 30_000 }).toEqual([]);
});
