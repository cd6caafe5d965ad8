import { contract, grantOf, type OpenApp } from '@bibliona/core';
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { startServer } from '../src/index.js';
import { field, makeApp, saveKey, table, testConfig, testServer, type Caller, type TestServer } from './support.js';

/** What a picker finds while one types: the same as if every record were looked at, whatever its records are called by. */
let it: TestServer;
let ada: Caller & { id: number };
let bede: Caller & { id: number };
let app: OpenApp;
const captions = [
  'Code',
  'Code + " · " + Site.Name',
  'Site.Name + " · " + Code',
  '"H-" + Code',
  'Code + Note',
  'string join([Code, Note, Site.Name], " / ")',
  'string(Queens) + " " + Code',
  'Queens',
  'string(Queens) + " in " + Site.Name',
  'Note',
  '',
] as const;
const texts = [
  '',
  'a',
  'ab',
  'Marsh',
  'mar',
  'marsh oak',
  'OAK',
  'h-0',
  'H-',
  '12',
  '1',
  '·',
  '%',
  '_a',
  '\\',
  'oak%',
  "o'k",
  'no. 7',
  '7',
  'zzz',
  'x 100%',
  'ä',
];

beforeAll(async () => {
  it = await testServer();
  [ada, bede] = [await it.person('Ada Roke'), await it.person('Bede Lunn')];
  app = await makeApp(ada, 'Picks', [
    table('sites', 'Sites', [field('text', 's_name', 'Name')]),
    table('hives', 'Hives', [field('text', 'h_code', 'Code'), field('text', 'h_note', 'Note'), field('whole', 'h_queens', 'Queens')]),
    table('visits', 'Visits', [field('text', 'v_note', 'Note')]),
    ...(['sites hives Site', 'hives visits Hive'] as const).map((words) => {
      const [parent = '', child = '', name = ''] = words.split(' ');
      return {
        kind: 'add_relationship' as const,
        id: `r_${child}`,
        parent,
        child,
        fieldId: `${child}_up`,
        fieldName: name,
        childrenName: child,
        required: false,
        whenParentRemoved: 'refuse' as const,
      };
    }),
    {
      kind: 'put',
      part: 'role',
      value: {
        id: 'r_some',
        name: 'Some',
        description: '',
        everything: false,
        menu: [],
        grants: [grantOf('g_h', 'hives', { condition: 'Queens != 2', hidden: ['h_note'] }), grantOf('g_s', 'sites', { condition: 'Name != "Marsh"' })],
      },
    },
  ]);
  await it.server.people.join(app.id, bede.id, 'member', ['r_some']);
  const add = (of: string, n: number, values: object) => ({ kind: 'add', table: of, as: `n${n}`, values });
  const save = (writes: readonly object[]) => ada.call(contract.saveRecords, { params: { app: app.id }, body: { key: saveKey(), writes } });
  await save(['Marsh', 'Old oak', "O'Kell 12", 'ÄCKER'].map((s_name, n) => add('sites', n, { s_name })));
  const codes = ['oak', 'OAK 2', 'Marsh hive', 'h-01', 'H-0', '100%', 'x_a', 'a\\b', "o'k", 'äb', 'no. 7', '12', null];
  await save(
    Array.from({ length: 120 }, (_, n) =>
      add('hives', n, {
        h_code: codes[n % codes.length] === null ? null : `${codes[n % codes.length] ?? ''}${n > 60 ? ` ${n}` : ''}`,
        h_note: n % 3 === 0 ? `Near the ${n % 2 === 0 ? 'oak' : 'marsh'} %` : null,
        h_queens: n % 4,
        hives_up: n % 5 === 0 ? null : (n % 4) + 1,
      }),
    ),
  );
});
afterAll(() => it.close());

const lookUp = async (who: Caller, text: string) => (await who.call(contract.lookUp, { params: { app: app.id, table: 'hives' }, query: { text } })).records;
/** The same, by looking at each record that the person sees. */
async function expected(all: readonly { readonly id: number; readonly caption: string }[], text: string) {
  const words = text
    .toLowerCase()
    .split(/\s+/u)
    .filter((word) => word !== '');
  const sorted = await it.sql<{ caption: string }>(`SELECT c AS caption FROM unnest($1::text[]) AS c GROUP BY c ORDER BY c`, [all.map((each) => each.caption)]);
  const rank = new Map(sorted.map((row, i) => [row.caption, i]));
  const isFirst = (caption: string): number => (caption.toLowerCase().startsWith(text.trim().toLowerCase()) ? 0 : 1);
  return all
    .filter((each) => words.every((word) => each.caption.toLowerCase().includes(word)))
    .sort((a, b) => isFirst(a.caption) - isFirst(b.caption) || (rank.get(a.caption) ?? 0) - (rank.get(b.caption) ?? 0) || a.id - b.id);
}

test.each(captions)('records that are called %j', async (caption) => {
  app = await ada.call(contract.changeDesign, {
    params: { app: app.id },
    body: { version: app.version, changes: [{ kind: 'change_table', table: 'hives', caption }] },
  });
  for (const who of [ada, bede]) {
    const page = await who.call(contract.readPage, { params: { app: app.id, table: 'hives' }, query: { limit: 200 } });
    const all: { id: number; caption: string }[] = [];
    for (const { id } of page.records)
      all.push({ id, caption: (await who.call(contract.readRecord, { params: { app: app.id, table: 'hives', id } })).caption });
    for (const text of texts) {
      const wanted = await expected(all, text);
      const found = await lookUp(who, text);
      expect(found.length, text).toBe(Math.min(30, wanted.length));
      if (text !== '') expect(found, text).toEqual(wanted.slice(0, 30));
      else for (const each of found) expect(all).toContainEqual(each);
    }
  }
});

test('only tables whose records are picked have an index on what they are called, and an app without it finds as well', async () => {
  const indexes = async () =>
    (await it.sql<{ name: string }>(`SELECT indexname AS name FROM pg_indexes WHERE indexname LIKE '%_begins' ORDER BY 1`)).map((row) => row.name);
  const caption = async (text: string) => {
    app = await ada.call(contract.changeDesign, {
      params: { app: app.id },
      body: { version: app.version, changes: [{ kind: 'change_table', table: 'hives', caption: text }] },
    });
  };
  await caption('Code');
  expect(await indexes()).toEqual(['hives_begins', 'sites_begins']);
  // An app that was made before there were such indexes.
  await it.sql(`DROP INDEX "app_${app.id}".hives_begins`);
  expect((await lookUp(ada, 'oak')).length).toBeGreaterThan(0);
  await caption('Note');
  expect(await indexes()).toEqual(['hives_begins', 'sites_begins']);
  await caption('Queens');
  expect(await indexes()).toEqual(['hives_begins', 'sites_begins']);
  await caption('Site.Name + " " + Code');
  expect(await indexes()).toEqual(['sites_begins']);
});

test('fields beside what a record is called are shown and searched, as far as the person sees them', async () => {
  const change = { kind: 'change_table', table: 'hives', caption: 'Code', shownWith: ['h_note', 'h_queens'] };
  app = await ada.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes: [change] } });
  const found = await lookUp(ada, 'near');
  expect(found).toHaveLength(30);
  expect(found.every((each) => /^Near the/u.test(String(each.values?.['h_note'])) && typeof each.values?.['h_queens'] === 'number')).toBe(true);
  // One word from the name, the other from beside it.
  expect((await lookUp(ada, 'oak marsh')).length).toBeGreaterThan(0);
  // To him notes are hidden: they are neither shown nor found by.
  expect(await lookUp(bede, 'near')).toEqual([]);
  const [first] = await lookUp(bede, 'oak');
  expect(Object.keys(first?.values ?? {})).toEqual(['h_queens']);
  // A field that goes is no longer shown.
  app = await ada.call(contract.changeDesign, {
    params: { app: app.id },
    body: { version: app.version, changes: [{ kind: 'remove_field', table: 'hives', field: 'h_note' }], acceptLoss: true },
  });
  expect((await lookUp(ada, 'oak'))[0]?.values).toEqual({ h_queens: expect.any(Number) as number });
});

test('a server that starts makes the indexes that an app lacks, and drops what is of no use', async () => {
  const at = `"app_${app.id}"`;
  await it.sql(`CREATE INDEX hives_called ON ${at}.hives (id)`);
  await it.sql(`DROP INDEX ${at}.sites_begins`);
  const server = await startServer(testConfig(it.url, it.files));
  const names = async () =>
    (await it.sql<{ name: string }>(`SELECT indexname AS name FROM pg_indexes WHERE indexname ~ '_(called|begins)$' ORDER BY 1`)).map((row) => row.name);
  await expect.poll(names, { timeout: 10_000 }).toEqual(['hives_begins', 'sites_begins']);
  await server.close();
  // One that waits for somebody's transaction does not keep a server from stopping, and is made by the next.
  await it.sql(`DROP INDEX ${at}.sites_begins`);
  const client = new pg.Client({ connectionString: it.url });
  await client.connect();
  await client.query(`BEGIN; UPDATE ${at}.sites SET rev = rev`);
  const waiting = await startServer(testConfig(it.url, it.files));
  await expect
    .poll(async () => (await it.sql(`SELECT FROM pg_stat_activity WHERE query LIKE 'CREATE INDEX CONCURRENTLY%' AND wait_event_type = 'Lock'`)).length)
    .toBe(1);
  const began = performance.now();
  await waiting.close();
  expect(performance.now() - began).toBeLessThan(5000);
  await client.query('ROLLBACK');
  await client.end();
  const next = await startServer(testConfig(it.url, it.files));
  await expect.poll(names, { timeout: 10_000 }).toEqual(['hives_begins', 'sites_begins']);
  const invalid = async () => (await it.sql(`SELECT FROM pg_index WHERE NOT indisvalid`)).length;
  await expect.poll(invalid, { timeout: 10_000 }).toBe(0);
  await next.close();
});
