import { standardLocale, contract, parseValue, printValue, tableOf, type AppDesign, type OpenApp, type RecordAnswer, type Write } from '@bibliona/core';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { honey, makeApp, saveKey, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller & { id: number };
let bede: Caller & { id: number };
let app: OpenApp;
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
  bede = await it.person('Bede Lunn');
  app = await makeApp(ada, 'Records', honey);
  await it.server.people.join(app.id, bede.id, 'member');
});
afterAll(() => it.close());

const save = (who: Caller, writes: readonly Write[], key = saveKey()) => who.call(contract.saveRecords, { params: { app: app.id }, body: { key, writes } });
const refused = (who: Caller, writes: readonly object[]) => who.refused(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
const addHive = async (values: Record<string, string | number | boolean | null>): Promise<number> =>
  (await save(ada, [{ kind: 'add', table: 'hives', as: 'h', values }])).records[0]?.id ?? 0;
const open = (id: number, table = 'hives') => ada.call(contract.readRecord, { params: { app: app.id, table, id } });
const count = async (table: string): Promise<number> => Number((await it.sql<{ n: string }>(`SELECT count(*) AS n FROM "app_${app.id}"."${table}"`))[0]?.n);

describe('saving', () => {
  test('a record keeps every kind of value exactly, with who and when', async () => {
    const values = {
      h_code: 'K-1',
      h_year: 9007199254740991,
      h_rent: '12345678901234567890.1',
      h_since: '2024-02-29',
      h_gentle: false,
      h_stores: 'fair',
      h_notes: 'a\n"b" 🐝',
    };
    const id = await addHive(values);
    expect((await open(id)).record).toEqual({ id, rev: 1, values: { ...values, h_apiary: null } });
    expect(await it.sql(`SELECT created_by FROM "app_${app.id}".hives WHERE id = $1`, [id])).toEqual([{ created_by: ada.id }]);
  });

  test('a parent and its children come in one save, or none of them', async () => {
    const apiary: Write = { kind: 'add', table: 'apiaries', as: 'a', values: { a_name: 'Heron Mere' } };
    const hive = (code: string): Write => ({ kind: 'add', table: 'hives', as: code, values: { h_code: code, h_apiary: { added: 'a' } } });
    await save(ada, [apiary, hive('C-1'), hive('C-2')]);
    const before = [await count('apiaries'), await count('hives')];
    const answer = await refused(ada, [{ ...apiary, values: { a_name: 'Kiln Lane' } }, hive('C-3'), hive('C-1')]);
    expect(answer.status).toBe(422);
    expect(answer.body.issues).toEqual([{ write: 2, field: 'h_code', message: 'Code must be unique, and another record has C-1 already' }]);
    expect([await count('apiaries'), await count('hives')]).toEqual(before);
  });

  test('errors are at the write and field where they were made', async () => {
    const answer = await refused(ada, [{ kind: 'add', table: 'hives', as: 'h', values: { h_code: '', h_year: 1.5, h_stores: 'none', h_apiary: 999_999 } }]);
    expect(answer.body.issues.map((issue) => [issue.field, issue.message])).toEqual([
      ['h_code', 'Code is required'],
      ['h_year', 'Queen year must be a whole number'],
      ['h_stores', 'Stores must be one of: Low, Fair, Full'],
    ]);
    const gone = await refused(ada, [{ kind: 'add', table: 'hives', as: 'h', values: { h_code: 'G-1', h_apiary: 999_999 } }]);
    expect(gone.body.issues).toEqual([
      { write: 0, field: 'h_apiary', message: "Apiary refers to a record that doesn't exist or that you don't have access to" },
    ]);
  });

  test('the second person gets both versions and overwrites nothing', async () => {
    const id = await addHive({ h_code: 'V-1', h_year: 2024 });
    await save(bede, [{ kind: 'change', table: 'hives', id, rev: 1, values: { h_year: 2025 } }]);
    const answer = await refused(ada, [{ kind: 'change', table: 'hives', id, rev: 1, values: { h_year: 2026 } }]);
    expect(answer).toMatchObject({
      status: 409,
      body: { code: 'conflict', message: 'Bede Lunn changed this record at the same time.' },
    });
    expect(answer.body.details).toMatchObject([{ write: 0, by: 'Bede Lunn', current: { id, rev: 2, values: { h_year: 2025 } } }]);
    expect((await open(id)).record.values['h_year']).toBe(2025);
    await save(bede, [{ kind: 'remove', table: 'hives', id, rev: 2 }]);
    expect((await refused(ada, [{ kind: 'change', table: 'hives', id, rev: 1, values: { h_year: 1 } }])).body.details).toMatchObject([{ current: null }]);
  });

  test('sent twice is saved once, with the same answer', async () => {
    const key = saveKey();
    const writes: Write[] = [{ kind: 'add', table: 'hives', as: 'h', values: { h_code: 'I-1' } }];
    const [first, second] = [await save(ada, writes, key), await save(ada, writes, key)];
    expect(second).toEqual(first);
    const id = first.records[0]?.id ?? 0;
    const changeKey = saveKey();
    const change: Write[] = [{ kind: 'change', table: 'hives', id, rev: 1, values: { h_year: 3 } }];
    expect(await save(ada, change, changeKey)).toEqual(await save(ada, change, changeKey));
    expect((await open(id)).record.rev).toBe(2);
  });

  test('two saves at once never lose one of them', async () => {
    const id = await addHive({ h_code: 'R-1', h_year: 0 });
    const tries = await Promise.all(
      Array.from({ length: 8 }, (_, i) =>
        ada.send('POST', `/api/apps/${app.id}/save`, { key: saveKey(), writes: [{ kind: 'change', table: 'hives', id, rev: 1, values: { h_year: i } }] }),
      ),
    );
    expect(tries.filter((attempt) => attempt.status === 200)).toHaveLength(1);
    expect(tries.filter((attempt) => attempt.status === 409)).toHaveLength(7);
  });

  test('the history tells every change with both values', async () => {
    const id = await addHive({ h_code: 'Z-1', h_rent: '1.50' });
    await save(bede, [{ kind: 'change', table: 'hives', id, rev: 1, values: { h_rent: '2', h_stores: 'low' } }]);
    const { entries } = await ada.call(contract.readHistory, { params: { app: app.id, table: 'hives', id } });
    expect(entries.map((entry) => [entry.kind, entry.person])).toEqual([
      ['change', 'Bede Lunn'],
      ['add', 'Ada Roke'],
    ]);
    expect(entries[0]?.changes).toEqual([
      { field: 'h_rent', before: '1.5', after: '2', beforeHidden: false },
      { field: 'h_stores', before: null, after: 'low', beforeHidden: false },
    ]);
  });

  test('a record is read with its children, or without them', async () => {
    const { records } = await save(ada, [
      { kind: 'add', table: 'apiaries', as: 'a', values: { a_name: 'Fern Bank' } },
      { kind: 'add', table: 'hives', as: 'h', values: { h_code: 'F-1', h_apiary: { added: 'a' } } },
    ]);
    const read = async (query: Readonly<Record<string, string>>) =>
      (await ada.call(contract.readRecord, { params: { app: app.id, table: 'apiaries', id: records[0]?.id ?? 0 }, query })).children.map(
        (block) => block.records.length,
      );
    expect([await read({}), await read({ children: 'no' })]).toEqual([[1], []]);
  });

  test('the history of a parent tells what happened to its children while they were its own', async () => {
    const add = (as: string, table: string, values: Record<string, unknown>) => ({ kind: 'add' as const, table, as, values }) as Write;
    const { records } = await save(ada, [
      add('a', 'apiaries', { a_name: 'Gorse Top' }),
      add('b', 'apiaries', { a_name: 'Mill Lane' }),
      add('h', 'hives', { h_code: 'G-1', h_apiary: { added: 'a' } }),
      add('i', 'hives', { h_code: 'G-2', h_apiary: { added: 'a' } }),
    ]);
    const [gorse = 0, mill = 0, moved = 0, gone = 0] = records.map((record) => record.id);
    await save(bede, [{ kind: 'change', table: 'hives', id: moved, rev: 1, values: { h_rent: '2' } }]);
    await save(bede, [{ kind: 'change', table: 'hives', id: moved, rev: 2, values: { h_apiary: mill } }]);
    await save(bede, [{ kind: 'remove', table: 'hives', id: gone, rev: 1 }]);
    await save(bede, [{ kind: 'change', table: 'hives', id: moved, rev: 3, values: { h_rent: '3' } }]);
    const told = async (id: number) =>
      (await ada.call(contract.readHistory, { params: { app: app.id, table: 'apiaries', id } })).children.map((child) => [
        child.kind,
        child.caption,
        child.person,
      ]);
    // What left is told where it came to; what was removed where it was.
    expect(await told(gorse)).toEqual([['remove', 'G-2', 'Bede Lunn']]);
    expect(await told(mill)).toEqual([
      ['change', 'G-1', 'Bede Lunn'],
      ['change', 'G-1', 'Bede Lunn'],
    ]);
    await save(bede, [{ kind: 'change', table: 'hives', id: moved, rev: 4, values: { h_apiary: gorse } }]);
    expect((await told(gorse)).map(([kind]) => kind)).toEqual(['change', 'remove', 'change', 'change', 'add']);
  });

  test.each([
    ['refuse', 422, { hives: 1 }],
    ['clear', 200, { hives: 1, without: 1 }],
    ['remove', 200, { hives: 0 }],
  ] as const)('removing a parent does to its children what the relationship says: %s', async (when, status, left) => {
    const own = await makeApp(
      ada,
      `Removal ${when}`,
      honey.map((change) => (change.kind === 'add_relationship' ? { ...change, whenParentRemoved: when } : change)),
    );
    const send = (writes: readonly Write[]) => ada.send('POST', `/api/apps/${own.id}/save`, { key: saveKey(), writes });
    await send([
      { kind: 'add', table: 'apiaries', as: 'a', values: { a_name: 'A' } },
      { kind: 'add', table: 'hives', as: 'h', values: { h_code: 'H', h_apiary: { added: 'a' } } },
    ]);
    const answer = await send([{ kind: 'remove', table: 'apiaries', id: 1, rev: 1 }]);
    expect(answer.status).toBe(status);
    const hives = await it.sql<{ apiary: number | null }>(`SELECT apiary FROM "app_${own.id}".hives`);
    expect(hives).toHaveLength(left.hives);
    if ('without' in left) expect(hives[0]?.apiary).toBeNull();
    const history = await it.sql<{ kind: string }>(`SELECT kind FROM "app_${own.id}"._history WHERE table_id = 'hives' ORDER BY id`);
    expect(history.map((each) => each.kind)).toEqual({ refuse: ['add'], clear: ['add', 'change'], remove: ['add', 'remove'] }[when]);
  });
});

describe('lists', () => {
  let list: OpenApp;
  const rows: RecordAnswer[] = [];
  const path = (parts: object) => ({ params: { app: list.id, table: 'hives' }, query: parts as Record<string, string> });
  beforeAll(async () => {
    list = await makeApp(ada, 'Lists', honey);
    const names = ['Brackmoor', 'Heron Mere', 'Äpfel', 'apple 2', 'Apple 10', '50% off_x', 'back\\slash'];
    const send = (writes: readonly Write[]) => ada.call(contract.saveRecords, { params: { app: list.id }, body: { key: saveKey(), writes } });
    await send(names.map((name, i) => ({ kind: 'add', table: 'apiaries', as: `a${i}`, values: { a_name: name, a_height: i } })));
    const pick = <T>(from: readonly T[], i: number): T => from[i % from.length] as T;
    await send(
      Array.from({ length: 157 }, (_, i): Write => ({
        kind: 'add',
        table: 'hives',
        as: `h${i}`,
        values: {
          h_code: `${pick(['H', 'h', 'Ä', 'x'], i)}-${i}`,
          h_year: pick([null, 2024, 2025, 2024], i),
          h_rent: pick([null, '1.5', '-2', '10', '1.5'], i),
          h_since: pick([null, '2026-01-31', '2024-02-29'], i),
          h_gentle: pick([true, false, null], i),
          h_stores: pick(['full', null, 'low', 'fair'], i),
          h_notes: pick([null, 'calm bees', 'CALM'], i),
          h_apiary: pick([null, 1, 2, 3, 4, 5], i),
        },
      })),
    );
    const page = await ada.call(contract.readPage, path({ limit: 500 }));
    rows.push(...page.records);
    expect(rows).toHaveLength(157);
  });

  async function walk(query: object, limit: number): Promise<RecordAnswer[]> {
    const all: RecordAnswer[] = [];
    let after: object | null = null;
    for (let pages = 0; pages < 400; pages += 1) {
      const page: { records: RecordAnswer[]; next: object | null } = await ada.call(
        contract.readPage,
        path({ ...query, limit, ...(after === null ? {} : { after: JSON.stringify(after) }) }),
      );
      all.push(...page.records);
      if (page.next === null) return all;
      after = page.next;
    }
    throw new Error('the pages never end');
  }

  const fields = ['h_code', 'h_year', 'h_rent', 'h_since', 'h_gentle', 'h_stores', 'h_notes', 'h_apiary'];
  test('pages by key: each record once, in order, empty ones last, whatever is sorted and however long a page is', async () => {
    await fc.assert(
      fc.asyncProperty(fc.constantFrom(...fields), fc.constantFrom('up', 'down'), fc.integer({ min: 1, max: 60 }), async (sort, direction, limit) => {
        const all = await walk({ sort, direction }, limit);
        expect([...all].map((each) => each.id).sort((a, b) => a - b)).toEqual(rows.map((row) => row.id));
        const isEmpty = all.map((each) => each.values[sort] === null);
        expect(isEmpty.lastIndexOf(false)).toBeLessThan(isEmpty.includes(true) ? isEmpty.indexOf(true) : Infinity);
        const whole = await walk({ sort, direction }, 500);
        expect(all.map((each) => each.id)).toEqual(whole.map((each) => each.id));
        if (sort === 'h_year' || sort === 'h_rent') {
          const numbers = all.flatMap((each) => (each.values[sort] === null ? [] : [Number(each.values[sort])]));
          expect(numbers).toEqual([...numbers].sort((a, b) => (direction === 'up' ? a - b : b - a)));
        }
      }),
      { numRuns: 40 },
    );
  });

  test('words sort as people expect: digits as numbers, letters whatever their case or accent', async () => {
    const { records } = await ada.call(contract.readPage, { params: { app: list.id, table: 'apiaries' }, query: { sort: 'a_name' } });
    expect(records.map((record) => record.values['a_name'])).toEqual(['50% off_x', 'Äpfel', 'apple 2', 'Apple 10', 'back\\slash', 'Brackmoor', 'Heron Mere']);
  });

  test.each([
    [
      'calm',
      (recordAnswer: RecordAnswer) =>
        String(recordAnswer.values['h_notes'] ?? '')
          .toLowerCase()
          .includes('calm'),
    ],
    [
      'calm heron',
      (recordAnswer: RecordAnswer) =>
        String(recordAnswer.values['h_notes'] ?? '')
          .toLowerCase()
          .includes('calm') &&
        recordAnswer.values['h_apiary'] !== null &&
        (recordAnswer.values['h_apiary'] as { caption: string }).caption === 'Heron Mere',
    ],
    ['%', () => false],
    ['_', () => false],
    ['x-15', (recordAnswer: RecordAnswer) => String(recordAnswer.values['h_code']).toLowerCase().includes('x-15')],
    ['nothing is called so', () => false],
    ['a text that somebody pasted '.repeat(40), () => false],
  ])('searching %s finds what has every word, in the record or in what it refers to', async (search, holds) => {
    const found = await walk({ search }, 50);
    expect(found.map((each) => each.id)).toEqual(rows.filter(holds).map((row) => row.id));
    expect((await ada.call(contract.countPage, path({ search, exact: 'yes' }))).count).toBe(found.length);
  });

  test('previous and next walk the list as it is sorted and searched', async () => {
    const selection = { sort: 'h_stores', direction: 'down', search: 'calm' };
    const order = (await walk(selection, 500)).map((each) => each.id);
    for (const [i, id] of order.entries()) {
      expect(await ada.call(contract.readNeighbours, { params: { app: list.id, table: 'hives', id }, query: selection })).toEqual({
        previous: order[i - 1] ?? null,
        next: order[i + 1] ?? null,
      });
    }
    expect(order.length).toBeGreaterThan(50);
  });

  test('the statistics of a field are those of its records', async () => {
    const { fields: all, sampled } = await ada.call(contract.readStatistics, { params: { app: list.id, table: 'hives' } });
    expect(sampled).toBe(false);
    for (const each of all) {
      const filled = rows.map((row) => row.values[each.field]).filter((value) => value !== null);
      expect([each.rows, each.filled, each.distinct]).toEqual([157, filled.length, new Set(filled.map((value) => JSON.stringify(value))).size]);
      expect(each.spread.reduce((sum, n) => sum + n, 0)).toBe(
        each.distinct <= 16 || ['h_year', 'h_rent', 'h_since'].includes(each.field) ? filled.length : each.spread.length,
      );
    }
    expect(all.find((each) => each.field === 'h_rent')).toMatchObject({ low: '-2.00', high: '10.00' });
  });

  test('a reference is found by part of what a record is called, those first that begin so', async () => {
    const { records } = await ada.call(contract.lookUp, { params: { app: list.id, table: 'apiaries' }, query: { text: 'app' } });
    expect(records.map((record) => record.caption)).toEqual(['apple 2', 'Apple 10']);
    expect(
      (await ada.call(contract.lookUp, { params: { app: list.id, table: 'apiaries' }, query: { text: '%' } })).records.map((record) => record.caption),
    ).toEqual(['50% off_x']);
  });

  test('what is shown reads back as the value it shows', () => {
    const table = tableOf(list.design as AppDesign, 'hives');
    for (const field of table.fields.filter((each) => each.kind !== 'reference')) {
      for (const row of rows) {
        const value = row.values[field.id] ?? null;
        expect(parseValue(field, printValue(field, value, standardLocale()), standardLocale())).toEqual({ ok: true, value });
      }
    }
  });
});

test('the most frequent values of a text come first, however they are written, and no other field has such', async () => {
  const own = await makeApp(ada, 'Frequent', honey);
  const texts = ['fair', 'Fair', ' Fair ', 'low', null, '  ', 'full', 'Full'];
  const writes = texts.map((text, i) => ({ kind: 'add' as const, table: 'hives', as: `h${i}`, values: { h_code: `F-${i}`, h_notes: text } }));
  await ada.call(contract.saveRecords, { params: { app: own.id }, body: { key: saveKey(), writes } });
  const ask = (field: string) => ({ params: { app: own.id, table: 'hives', field } });
  expect(await ada.call(contract.readFrequent, ask('h_notes'))).toEqual({ values: ['Fair', 'full', 'low'], more: false });
  const { values, more } = await ada.call(contract.readFrequent, ask('h_code'));
  expect([values.length, more]).toEqual([8, false]);
  const many = Array.from({ length: 101 }, (_, i) => ({ kind: 'add' as const, table: 'hives', as: `m${i}`, values: { h_code: `M-${i}` } }));
  await ada.call(contract.saveRecords, { params: { app: own.id }, body: { key: saveKey(), writes: many } });
  expect(await ada.call(contract.readFrequent, ask('h_code'))).toMatchObject({ more: true });
  expect((await ada.refused(contract.readFrequent, ask('h_year'))).status).toBe(422);
});
