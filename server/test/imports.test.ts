import { randomUUID } from 'node:crypto';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { contract, type ColumnPlan, type DesignChange } from '@bibliona/core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { importParams, opened, records, run, settled, upload } from './importing.js';
import { ImportsService } from '../src/imports/imports.js';
import { startServer } from '../src/index.js';
import { field, honey, makeApp, saveKey, table, testConfig, testServer, type Caller, type TestServer } from './support.js';

let it: TestServer;
let ada: Caller & { id: number };
beforeAll(async () => {
  it = await testServer();
  ada = await it.person('Ada Roke');
});
afterAll(() => it.close());

describe('how a file is written', () => {
  const rows = 'Name;Größe\nHäuser;3\nÖl;4\n';
  const le = (text: string): Uint8Array => Buffer.from(text, 'utf16le');
  test.each<[string, Uint8Array, string]>([
    ['UTF-8', Buffer.from(rows), 'utf-8'],
    ['UTF-8 with its mark', Buffer.concat([Buffer.from([0xef, 0xbb, 0xbf]), Buffer.from(rows)]), 'utf-8'],
    ['UTF-16 with its mark', Buffer.concat([Buffer.from([0xff, 0xfe]), le(rows)]), 'utf-16le'],
    ['UTF-16, big end first', Buffer.concat([Buffer.from([0xfe, 0xff]), Buffer.from(le(rows)).swap16()]), 'utf-16be'],
    ['Windows-1252', Buffer.from(rows, 'latin1'), 'windows-1252'],
  ])('%s is told and read', async (_, bytes, encoding) => {
    const app = await makeApp(ada, 'Encodings', []);
    const answer = await upload(ada, app, 'Sizes.csv', bytes);
    expect(answer.survey?.reading).toMatchObject({ format: 'text', encoding, delimiter: ';', heading: true, skip: 0 });
    const done = await run(ada, app, answer, null);
    expect(done).toMatchObject({ state: 'done', added: 2 });
    expect(await records(ada, app, done.table)).toEqual([
      { Name: 'Häuser', Größe: 3 },
      { Name: 'Öl', Größe: 4 },
    ]);
  });

  test('a Windows-1252 letter far into a file that began as UTF-8 turns the whole reading', async () => {
    const app = await makeApp(ada, 'Late', []);
    const bytes = Buffer.concat([Buffer.from(`Name\n${'plain words\n'.repeat(60_000)}`), Buffer.from('Öl\n', 'latin1')]);
    const answer = await upload(ada, app, 'Late.csv', bytes);
    expect(answer.survey?.reading.encoding).toBe('windows-1252');
    expect(answer.survey?.rows).toBe(60_001);
  });

  test.each([
    ['an empty file', Buffer.from([]), 'empty'],
    ['only blank lines', Buffer.from('\n\n\n'), 'no rows'],
    ['a quote that is never closed', Buffer.from('a,b\n1,"x\n2,y\n'), 'The quote that opens in line 2 is never closed'],
  ])('%s is refused in words', async (_, bytes, words) => {
    const app = await makeApp(ada, 'Unreadable', []);
    const answer = await upload(ada, app, 'x.csv', bytes);
    expect(answer.state).toBe('failed');
    expect(answer.message).toContain(words);
  });

  test('a person can say otherwise', async () => {
    const app = await makeApp(ada, 'Otherwise', []);
    const answer = await upload(ada, app, 'x.csv', 'Low,Moor\nFair,Coast\n');
    expect(answer.survey?.reading.heading).toBe(true);
    await ada.call(contract.surveyImport, { params: importParams(app, answer.id), body: { reading: { heading: false } } });
    const again = await settled(ada, app, answer.id);
    expect(again.survey).toMatchObject({ rows: 2, reading: { heading: false }, columns: [{ name: 'Column 1' }, { name: 'Column 2' }] });
  });
});

test('times, durations and addresses come in as people write them, moments on the clocks of the app', async () => {
  const made = await ada.call(contract.makeApp, { body: { name: 'Clocks', timeZone: 'Australia/Sydney' } });
  const fields = [
    field('date_and_time', 'm_when', 'When'),
    field('time', 'm_at', 'At'),
    field('duration', 'm_took', 'Took'),
    field('mail_address', 'm_mail', 'Mail'),
    field('web_address', 'm_web', 'Web'),
  ];
  const app = await ada.call(contract.changeDesign, { params: { app: made.id }, body: { version: 1, changes: [table('meetings', 'Meetings', fields)] } });
  const answer = await upload(
    ada,
    app,
    'meetings.csv',
    'When,At,Took,Mail,Web\n15/01/2026 09:30,9.30 pm,90 min,Ada@EXAMPLE.org,www.example.org/x\n2026-01-15T00:00:00Z,21:05,1:30,<b@example.org>,\n',
  );
  await run(ada, app, answer, 'meetings');
  expect(await records(ada, app, 'meetings')).toEqual([
    { When: '2026-01-14T22:30:00Z', At: '21:30:00', Took: 5400, Mail: 'Ada@example.org', Web: 'https://www.example.org/x' },
    { When: '2026-01-15T00:00:00Z', At: '21:05:00', Took: 5400, Mail: 'b@example.org', Web: null },
  ]);
  const bad = await upload(ada, app, 'bad.csv', 'When,At,Took,Mail,Web\nsoon,25:00,long,ada,javascript:alert(1)\n');
  const refused = await run(ada, app, bad, 'meetings');
  expect(JSON.stringify(refused)).toMatch(/is not a date and time.*is not a time of day.*is not a duration.*is not a mail address.*is not a web address/u);
});

describe('real files', () => {
  const data = join(import.meta.dirname, '../../node_modules/vega-datasets/data');
  test.each([
    ['airports.csv', 3376, { iata: 'text', name: 'text', city: 'text', state: 'text', country: 'choice', latitude: 'decimal', longitude: 'decimal' }],
    ['seattle-weather.csv', 1461, { date: 'date', precipitation: 'decimal', temp_max: 'decimal', temp_min: 'decimal', wind: 'decimal', weather: 'choice' }],
    ['stocks.csv', 560, { symbol: 'choice', date: 'date', price: 'decimal' }],
  ])('%s comes in with the right kinds and every row', async (name, rows, kinds) => {
    const app = await makeApp(ada, name, []);
    const answer = await upload(ada, app, name, await readFile(join(data, name)));
    expect(Object.fromEntries(answer.survey?.columns.map((column) => [column.name, column.kind]) ?? [])).toEqual(kinds);
    const done = await run(ada, app, answer, null);
    expect(done).toMatchObject({ state: 'done', added: rows });
    expect(await ada.call(contract.countPage, { params: { app: app.id, table: done.table ?? '' }, query: { exact: 'yes' } })).toEqual({
      count: rows,
      atLeast: false,
    });
  });

  test('stocks.csv keeps every value', async () => {
    const app = await makeApp(ada, 'Stocks', []);
    const text = await readFile(join(data, 'stocks.csv'), 'utf8');
    const done = await run(ada, app, await upload(ada, app, 'stocks.csv', text), null);
    const lines = text
      .trim()
      .split(/\r?\n/u)
      .slice(1, 501)
      .map((line) => line.split(','));
    const all = await records(ada, app, done.table);
    expect(all.map((each) => Number(each['price']))).toEqual(lines.map((line) => Number(line[2])));
    expect(all[0]).toMatchObject({ symbol: 'msft', date: '2000-01-01', price: '39.81' });
  });
});

/** A file with every awkwardness of exports, and what each cell of it is. */
const awkward = [
  '\ufeffName,,Name,Height,Seen,Sold,Shipped,Note',
  'Heather,a,x,"1,234",14/9/2026,9/14/2026,2026/9/14,"two\nlines"\r',
  '',
  'Lime,b,y,12,3/10/2026,10/31/2026,2026/10/3,5" jar\r',
  '   ,,,,,,,',
  'Clover,c,z,"2,000",31/12/2026,12/31/2026,2026/12/31,"say ""hi"" to ""us"""',
  'Short',
].join('\n');

describe('an awkward file', () => {
  test('ends in a result: mixed line ends, blank and short lines, stray quotes, three date orders, headings twice and none', async () => {
    const app = await makeApp(ada, 'Awkward', []);
    const answer = await upload(ada, app, 'Awkward.csv', awkward);
    expect(answer.survey?.columns.map((column) => [column.name, column.kind, column.reading.dates])).toEqual(
      [
        ['Name', 'text', 'dmy'],
        ['Column 2', 'text', 'dmy'],
        ['Name 2', 'text', 'dmy'],
        ['Height', 'whole', 'dmy'],
        ['Seen', 'date', 'dmy'],
        ['Sold', 'date', 'mdy'],
        ['Shipped', 'date', 'ymd'],
        ['Note', 'text', 'dmy'],
      ].map((each) => (each[0] === 'Note' ? ['Note', 'long_text', 'dmy'] : each)),
    );
    const done = await run(ada, app, answer, null);
    expect(done).toMatchObject({ state: 'done', added: 4 });
    expect(await records(ada, app, done.table)).toEqual([
      { Name: 'Heather', 'Column 2': 'a', 'Name 2': 'x', Height: 1234, Seen: '2026-09-14', Sold: '2026-09-14', Shipped: '2026-09-14', Note: 'two\nlines' },
      { Name: 'Lime', 'Column 2': 'b', 'Name 2': 'y', Height: 12, Seen: '2026-10-03', Sold: '2026-10-31', Shipped: '2026-10-03', Note: '5" jar' },
      { Name: 'Clover', 'Column 2': 'c', 'Name 2': 'z', Height: 2000, Seen: '2026-12-31', Sold: '2026-12-31', Shipped: '2026-12-31', Note: 'say "hi" to "us"' },
      { Name: 'Short', 'Column 2': null, 'Name 2': null, Height: null, Seen: null, Sold: null, Shipped: null, Note: null },
    ]);
  });

  test('or in a list of exact complaints, and nothing comes in', async () => {
    const app = await makeApp(ada, 'Complaints', [
      table('honey', 'Honey', [
        field('text', 'y_name', 'Name', { required: true, unique: true }),
        field('whole', 'y_height', 'Height'),
        field('date', 'y_seen', 'Seen'),
      ]),
    ]);
    await ada.call(contract.saveRecords, {
      params: { app: app.id },
      body: { key: saveKey(), writes: [{ kind: 'add', table: 'honey', as: 'a', values: { y_name: 'Heather' } }] },
    });
    const file = 'Name,Height,Seen\nLime,12,2026-09-14\n\nHeather,1.5,2026-02-30\r\nLime,many,soon,more\n,3,\n';
    const answer = await upload(ada, app, 'Honey.csv', file);
    const refused = await run(ada, app, answer, 'honey');
    expect(refused).toMatchObject({ state: 'refused', complaintCount: 8 });
    expect(refused.complaints.map((complaint) => `${complaint.line} ${complaint.column}: ${complaint.value} ${complaint.reason}`)).toEqual([
      '4 Name: Heather is in the table already, and it must be unique. Change matching records instead, or leave the row out',
      '4 Height: 1.5 is not a whole number',
      '4 Seen: 2026-02-30 is not a date written day first',
      '5 (beyond the last column): more the row has 4 cells, the heading 3',
      '5 Name: Lime is in line 2 already, and it must be unique',
      '5 Height: many is not a number',
      '5 Seen: soon is not a date written day first',
      '6 Name:  is empty, but required',
    ]);
    expect(await records(ada, app, 'honey')).toHaveLength(1);
    const fixed = await upload(ada, app, 'Honey.csv', 'Name,Height,Seen\nLime,12,2026-09-14\nClover,x,soon\n');
    expect(await run(ada, app, fixed, 'honey', { badCells: 'empty' })).toMatchObject({ state: 'done', added: 2 });
    expect((await records(ada, app, 'honey'))[2]).toEqual({ Name: 'Clover', Height: null, Seen: null });
  });
});

describe('into a table', () => {
  test('columns go to fields of the same name, references are matched, a missing field is made right there', async () => {
    const app = await makeApp(ada, 'Into', honey);
    await ada.call(contract.saveRecords, {
      params: { app: app.id },
      body: { key: saveKey(), writes: [{ kind: 'add', table: 'apiaries', as: 'a', values: { a_name: 'Brackmoor' } }] },
    });
    const done = await run(ada, app, await upload(ada, app, 'Hives.csv', 'code,Apiary,Colour\nH-1,brackmoor,blue\nH-2,,red\n'), 'hives');
    expect(done).toMatchObject({ state: 'done', added: 2 });
    const [first, second] = await records(ada, app, 'hives');
    expect(first).toMatchObject({ Code: 'H-1', Apiary: { id: 1, caption: 'Brackmoor' }, Colour: 'blue' });
    expect(second).toMatchObject({ Apiary: null, Colour: 'red' });
    // The design change and the rows are one transaction, and records tell that they came with a file.
    expect((await opened(ada, app)).undo).toBe('Added Colour to Hives');
    expect((await ada.call(contract.readHistory, { params: { app: app.id, table: 'hives', id: 1 } })).entries).toMatchObject([
      { kind: 'import', person: 'Ada Roke' },
    ]);
  });

  test('a refused import leaves no field, no row and no version behind', async () => {
    const app = await makeApp(ada, 'Whole', honey);
    const refused = await run(ada, app, await upload(ada, app, 'Hives.csv', 'Code,Queen year,Colour\nH-1,2024,blue\nH-1,x,red\n'), 'hives');
    expect(refused).toMatchObject({ state: 'refused', complaintCount: 2 });
    expect((await opened(ada, app)).version).toBe(app.version);
    expect(await records(ada, app, 'hives')).toEqual([]);
  });

  test('a required field without a column is said before any row is read', async () => {
    const app = await makeApp(ada, 'Needs', honey);
    const failed = await run(ada, app, await upload(ada, app, 'Hives.csv', 'Queen year\n2024\n'), 'hives');
    expect(failed).toMatchObject({ state: 'failed', message: 'Code is required. Choose a column for it.' });
  });

  test('a plan against an older design is carried out where the change since leaves it room, else refused', async () => {
    const app = await makeApp(ada, 'Older', honey);
    const [first, second] = [await upload(ada, app, 'Hives.csv', 'Code,Colour\nH-1,blue\n'), await upload(ada, app, 'Hives.csv', 'Code,Weight\nH-2,12\n')];
    const changes: readonly DesignChange[] = [
      { kind: 'rename_app', name: 'Newer' },
      { kind: 'add_field', table: 'hives', field: field('text', 'h_colour', 'Colour') },
    ];
    await ada.call(contract.changeDesign, { params: { app: app.id }, body: { version: app.version, changes } });
    const reading = { numbers: 'point', dates: 'dmy' } as const;
    const columns: ColumnPlan[] = [
      { kind: 'field', field: 'h_code', reading, missing: 'complain' },
      { kind: 'new', field: field('text', 'h_other', 'Colour'), reading },
    ];
    const failed = await run(ada, app, first, 'hives', { version: app.version, columns: () => columns });
    expect(failed).toMatchObject({ state: 'failed', message: 'There is already a field called "Colour" in Hives. Choose another name.' });
    expect(await run(ada, app, second, 'hives', { version: app.version })).toMatchObject({ state: 'done' });
  });
});

describe('what a person meets', () => {
  test('what was decided survives a refusal, and cells left empty are named', async () => {
    const app = await makeApp(ada, 'Decided', honey);
    const file = await upload(ada, app, 'Hives.csv', 'Code,Queen year,Colour\nH-1,2024,blue\nH-2,soon,red\nH-3,2023,\n');
    const skip = (columns: ColumnPlan[]): ColumnPlan[] => columns.map((column, i) => (i === 2 ? { kind: 'skip' } : column));
    const refused = await run(ada, app, file, 'hives', { columns: skip });
    expect(refused).toMatchObject({ state: 'refused', complaintCount: 1, plan: { columns: [{}, {}, { kind: 'skip' }], badCells: 'refuse' } });
    const done = await run(ada, app, refused, 'hives', { columns: skip, badCells: 'empty' });
    expect(done).toMatchObject({
      state: 'done',
      added: 3,
      emptiedCount: 1,
      emptied: [{ line: 3, column: 'Queen year', value: 'soon', reason: 'is not a number' }],
    });
  });
  test('a single wrong byte names its line and leaves the file UTF-8', async () => {
    const app = await makeApp(ada, 'Bytes', []);
    const good = Buffer.from('Name,Place\nHäuser,Öl\nÄste,Übel\n');
    const wrong = await upload(ada, app, 'Wrong.csv', Buffer.concat([good, Buffer.from([0x62, 0xe9, 0x65, 0x0a])]));
    expect(wrong).toMatchObject({ state: 'failed', message: 'Line 4 holds a byte that is not UTF-8. Correct it in the file, or choose another encoding.' });
    const old = await upload(ada, app, 'Old.csv', Buffer.from([0x4e, 0x0a, 0xe9, 0x74, 0xe9, 0x0a, 0xfc, 0x0a]));
    expect(old.survey?.reading.encoding).toBe('windows-1252');
  });
  test('titles above the table are found, or chosen, and a heading without rows is a heading', async () => {
    const app = await makeApp(ada, 'Titles', []);
    const titled = await upload(ada, app, 'Titled.csv', 'Hives of the season\n"As of 1 May"\nCode,Year,Stores\nH-1,2024,low\nH-2,2025,full\n');
    expect(titled.survey).toMatchObject({ rows: 2, reading: { heading: true, skip: 2 }, columns: [{ name: 'Code' }, { name: 'Year' }, { name: 'Stores' }] });
    const done = await run(ada, app, titled, null);
    expect(done).toMatchObject({ state: 'done', added: 2 });
    await ada.call(contract.surveyImport, {
      params: importParams(app, (await upload(ada, app, 'Other.csv', 'a\nb,c\n1,2\n')).id),
      body: { reading: { skip: 1 } },
    });
    const empty = await upload(ada, app, 'Empty.csv', 'Code,Year,Stores\n');
    expect(empty.survey).toMatchObject({ rows: 0, reading: { heading: true } });
  });
  test('a cell or a row beyond all measure ends in a sentence soon', async () => {
    const app = await makeApp(ada, 'Large', []);
    for (const bytes of [Buffer.alloc(60_000_000, ','), Buffer.alloc(60_000_000, 'x'), Buffer.concat([Buffer.from('"'), Buffer.alloc(60_000_000, 'x')])]) {
      const began = performance.now();
      const answer = await upload(ada, app, 'Large.csv', bytes);
      expect(answer.state).toBe('failed');
      expect(answer.message).toMatch(/longer than|never closed/u);
      expect(performance.now() - began).toBeLessThan(10_000);
    }
  });
});

describe('the rules of the table', () => {
  test('fields without a column start as in a form, and rows that do not meet a check keep the whole file out', async () => {
    const app = await makeApp(ada, 'Ruled', [
      ...honey,
      { kind: 'add_field', table: 'hives', field: field('text', 'h_by', 'Entered by', { required: true, default: 'me.Name + "\\t✓"' }) },
      { kind: 'add_field', table: 'hives', field: field('whole', 'h_boxes', 'Boxes', { default: '1 + 1' }) },
      { kind: 'add_field', table: 'hives', field: field('formula', 'h_double', 'Double', { expression: 'Boxes * 2', digits: null }) },
      { kind: 'change_table', table: 'hives', checks: [{ id: 'k_year', condition: 'Queen year >= 2000', message: 'No queen is that old.' }] },
    ]);
    const refused = await run(ada, app, await upload(ada, app, 'Hives.csv', 'Code,Queen year\nH-1,2024\nH-2,1999\nH-3,1998\n'), 'hives');
    expect(refused).toMatchObject({ state: 'failed', message: '2 rows do not meet the checks of Hives: No queen is that old. Lines 3, 4.' });
    expect(await records(ada, app, 'hives')).toEqual([]);
    expect(await run(ada, app, await upload(ada, app, 'Hives.csv', 'Code,Queen year\nH-1,2024\nH-2,\n'), 'hives')).toMatchObject({ state: 'done', added: 2 });
    expect(await records(ada, app, 'hives')).toMatchObject([
      { Code: 'H-1', 'Entered by': 'Ada Roke\t✓', Boxes: 2, Double: '4' },
      { Code: 'H-2', 'Entered by': 'Ada Roke\t✓' },
    ]);
    const forced = await run(ada, app, await upload(ada, app, 'Hives.csv', 'Code,Double\nH-3,4\n'), 'hives', {
      columns: (columns) =>
        columns.map((column, at) =>
          at === 1 ? { kind: 'field', field: 'h_double', reading: { numbers: 'point', dates: 'ymd' }, missing: 'complain' } : column,
        ),
    });
    expect(forced).toMatchObject({ state: 'failed', message: 'Double is calculated, so no column can go into it.' });
  });
});

describe('stopping', () => {
  const long = `Name,Number\n${Array.from({ length: 400_000 }, (_, i) => `row ${i},${i}`).join('\n')}\n`;

  test('a running import stops and leaves nothing; others are answered while it runs', async () => {
    const app = await makeApp(ada, 'Stop', [table('many', 'Many', [field('text', 'm_name', 'Name'), field('whole', 'm_number', 'Number')])]);
    const answer = await upload(ada, app, 'Many.csv', long);
    const started = run(ada, app, answer, 'many');
    for (;;) {
      const now = await ada.call(contract.readImport, { params: importParams(app, answer.id) });
      if (now.state === 'running' && now.progress > 0) break;
      if (now.state === 'done') throw new Error('the import was faster than the test');
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
    await ada.call(contract.cancelImport, { params: importParams(app, answer.id) });
    expect((await started).state).toBe('cancelled');
    await new Promise((resolve) => setTimeout(resolve, 1500));
    expect(await records(ada, app, 'many')).toEqual([]);
    // The same file can be imported afterwards. Other requests are answered while it runs.
    const again = run(ada, app, answer, 'many');
    const times: number[] = [];
    let isDone = false;
    void again.then(() => (isDone = true));
    while (!isDone) {
      const from = performance.now();
      await ada.call(contract.listApps);
      times.push(performance.now() - from);
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
    expect(await again).toMatchObject({ state: 'done', added: 400_000 });
    times.sort((a, b) => a - b);
    // The budget is 100 ms at the 99th of 100; on a busy test machine only a wait of another order is a failure.
    expect(times[Math.floor(times.length * 0.95)]).toBeLessThan(400);
    expect(times.length).toBeGreaterThan(10);
  });
});

test('a server with a folder of its own leaves the files of others alone; one that shares the folder may work on them', async () => {
  const app = await makeApp(ada, 'Folders', []);
  const elsewhere = await mkdtemp(join(tmpdir(), 'bibliona-test-'));
  const others = [await startServer(testConfig(it.url, elsewhere)), await startServer(testConfig(it.url, it.files))];
  try {
    const answers = await Promise.all(Array.from({ length: 12 }, (_, i) => upload(ada, app, `Pots ${i}.csv`, `Pot,Litres\nSmall,${i}\n`)));
    expect(answers.map(({ state, message }) => [state, message])).toEqual(answers.map(() => ['read', null]));
  } finally {
    for (const other of others) await other.close();
    await rm(elsewhere, { recursive: true });
  }
});

test('an import of somebody who builds the app no longer, when its turn comes, adds nothing', async () => {
  const app = await makeApp(ada, 'No longer', honey);
  const bede = await it.person('Bede Lunn');
  const service = new ImportsService(it.server.database, { url: it.url, files: it.files, onEnded: () => undefined, onAhead: () => undefined });
  const id = randomUUID();
  await it.sql(`INSERT INTO bibliona.import (id, app_id, person_id, file_name, state, facts) VALUES ($1, $2, $3, 'late.csv', 'running', '{}')`, [
    id,
    app.id,
    bede.id,
  ]);
  await service.jobs[1]?.run({ kind: 'run', job: { id, appId: app.id, person: { id: bede.id } } }, 1);
  const answer = await ada.call(contract.readImport, { params: importParams(app, id) });
  expect([answer.state, answer.message]).toEqual(['failed', 'The person who started this import no longer builds this app. Nothing was added.']);
});
