/** Many changes of one save: made in one statement where that can be, with the outcome of one after another. */
import { contract, type OpenApp, type Write } from '@bibliona/core';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { field, honey, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller & { id: number };
let app: OpenApp;
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
  app = await makeApp(ada, 'Together', [
    ...honey,
    { kind: 'add_field', table: 'hives', field: field('several_choices', 'h_tags', 'Tags', { choices: ['calm', 'old'].map((id) => ({ id, label: id })) }) },
    { kind: 'add_field', table: 'hives', field: field('date_and_time', 'h_seen', 'Seen') },
    { kind: 'change_table', table: 'hives', checks: [{ id: 'k_year', condition: 'Queen year >= 2000', message: 'No queen is that old.' }] },
  ]);
  const writes: Write[] = ['Brackmoor', 'Heron Mere'].map((name, i) => ({ kind: 'add', table: 'apiaries', as: `a${i}`, values: { a_name: name } }));
  await save(...writes);
});
afterAll(() => it.close());

const save = (...writes: readonly Write[]) => ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
const refused = (...writes: readonly Write[]) => ada.refused(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });

let made = 0;
async function hives(count: number): Promise<number[]> {
  const writes = Array.from({ length: count }, (_, i): Write => ({
    kind: 'add',
    table: 'hives',
    as: `h${i}`,
    values: { h_code: `H-${(made += 1)}`, h_year: 2024 },
  }));
  return (await save(...writes)).records.map((record) => record.id);
}
const change = (id: number, values: Record<string, unknown>, rev = 1): Write => ({ kind: 'change', table: 'hives', id, rev, values }) as Write;
const history = async (ids: readonly number[]) =>
  it.sql<{ id: number; rev: number; before: unknown; after: unknown; place: number }>(
    `SELECT record_id::int AS id, rev, before, after, place FROM "app_${app.id}"._history WHERE table_id = 'hives' AND kind = 'change' AND record_id = ANY($1) ORDER BY id`,
    [ids],
  );
const stored = async (ids: readonly number[]) =>
  it.sql(`SELECT rev, queen_year, rent, since, gentle, stores, notes, apiary, tags, seen FROM "app_${app.id}".hives WHERE id = ANY($1) ORDER BY id`, [ids]);

test('each has its own line in the history, and the answer names each with its version', async () => {
  const ids = await hives(700);
  const { records } = await save(...ids.map((id, i) => change(id, { h_year: 2000 + (i % 20), h_notes: `No. ${i}` })));
  expect(records).toEqual(ids.map((id, write) => ({ write, table: 'hives', id, rev: 2 })));
  const lines = await history(ids);
  expect(lines).toHaveLength(700);
  expect(new Set(lines.map((line) => line.place)).size).toBe(700);
  expect(lines[650]).toMatchObject({ id: ids[650], rev: 2, before: { h_year: 2024, h_notes: null }, after: { h_year: 2010, h_notes: 'No. 650' } });
});

test('any values end as they do one by one, in the table and in the history', () =>
  fc.assert(
    fc.asyncProperty(
      fc.array(
        fc.record({
          h_year: fc.option(fc.integer({ min: 2000, max: 2030 })),
          h_rent: fc.option(fc.constantFrom('12.5', '0.01', '-7')),
          h_since: fc.option(fc.constantFrom('2024-02-29', '0001-01-01')),
          h_gentle: fc.option(fc.boolean()),
          h_stores: fc.option(fc.constantFrom('low', 'full')),
          h_notes: fc.option(fc.string({ unit: fc.constantFrom('a', '"', "'", '{', '}', ',', '\\', 'NULL', '\n', 'é') })),
          h_apiary: fc.option(fc.constantFrom(1, 2)),
          h_tags: fc.option(fc.constantFrom('calm', 'calm\nold')),
          h_seen: fc.option(fc.constantFrom('2026-09-14T08:30:00Z')),
        }),
        { minLength: 2, maxLength: 6 },
      ),
      async (rows) => {
        const [together, single] = [await hives(rows.length), await hives(rows.length)];
        await save(...together.map((id, i) => change(id, rows[i] ?? {})));
        for (const [i, id] of single.entries()) await save(change(id, rows[i] ?? {}));
        expect(await stored(together)).toEqual(await stored(single));
        const without = async (ids: readonly number[]) => (await history(ids)).map(({ rev, before, after }) => ({ rev, before, after }));
        expect(await without(together)).toEqual(await without(single));
      },
    ),
    { numRuns: 25 },
  ));

test('what one of them must not be is told at that write, and none is made', async () => {
  const ids = await hives(5);
  const at = (wrong: number, values: Record<string, unknown>): Write[] => ids.map((id, i) => change(id, i === wrong ? values : { h_year: 2025, h_apiary: 1 }));
  const nowhere = await refused(...at(3, { h_year: 2025, h_apiary: 99 }));
  expect(nowhere.body.issues).toMatchObject([{ write: 3, field: 'h_apiary' }]);
  const old = await refused(...at(2, { h_year: 1999, h_apiary: 1 }));
  expect(old.body.issues).toMatchObject([{ write: 2, message: 'No queen is that old.' }]);
  const [first = 0] = ids;
  await save(change(first, { h_notes: 'by someone else' }));
  const late = await refused(...ids.map((id) => change(id, { h_year: 2025 })));
  expect([late.status, late.body.code]).toEqual([409, 'conflict']);
  expect((await stored(ids)).map((row) => [row['rev'], Number(row['queen_year'])])).toEqual([[2, 2024], ...ids.slice(1).map(() => [1, 2024])]);
});

test('a record that is changed twice, and a unique value that goes from one to another, keep the order of the writes', async () => {
  const [a = 0, b = 0, c = 0] = await hives(3);
  const [first] = await it.sql<{ code: string }>(`SELECT code FROM "app_${app.id}".hives WHERE id = $1`, [a]);
  await save(change(a, { h_year: 2001 }), change(b, { h_year: 2002 }), change(a, { h_year: 2003 }, 2), change(c, { h_year: 2004 }));
  expect((await stored([a, b, c])).map((row) => [row['rev'], Number(row['queen_year'])])).toEqual([
    [3, 2003],
    [2, 2002],
    [2, 2004],
  ]);
  await save(change(a, { h_code: 'Moved' }, 3), change(b, { h_code: first?.code ?? '' }, 2));
  expect(await it.sql(`SELECT code FROM "app_${app.id}".hives WHERE id = ANY($1) ORDER BY id`, [[a, b]])).toEqual([{ code: 'Moved' }, { code: first?.code }]);
});

test('they are taken back together, each to what it was; a record that was changed since keeps all of them', async () => {
  const ids = await hives(600);
  const before = await stored(ids);
  const key = saveKey();
  const writes = ids.map((id, i) => change(id, { h_year: 2001, h_notes: i % 2 === 0 ? null : `x ${i}`, h_apiary: 1 + (i % 2) }));
  await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key, writes } });
  const takeBack = { params: { app: app.id, save: key }, body: { key: saveKey(), dry: false } };
  const { effects } = await ada.call(contract.takeBackSave, takeBack);
  expect(effects).toHaveLength(600);
  const values = (rows: readonly Record<string, unknown>[]) => rows.map(({ rev: _, ...row }) => row);
  expect(values(await stored(ids))).toEqual(values(before));
  const again = saveKey();
  await ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: again, writes: ids.map((id) => change(id, { h_year: 2002 }, 3)) } });
  await save(change(ids[400] ?? 0, { h_year: 2003 }, 4));
  const kept = await ada.refused(contract.takeBackSave, { params: { app: app.id, save: again }, body: { key: saveKey(), dry: false } });
  expect(kept.body.message).toContain('has been changed since.');
  expect(kept.body.message).toContain('H-');
  expect((await stored(ids)).filter((row) => Number(row['queen_year']) === 2002)).toHaveLength(599);
});
