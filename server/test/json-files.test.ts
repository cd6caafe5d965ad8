/** JSON that comes in. */
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { contract, type OpenApp } from '@bibliona/core';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { JsonEntries, NotJson, parseExactly, type JsonForm } from '../src/imports/formats/json-entries.js';
import { plainNumber } from '../src/imports/formats/plain-number.js';
import { rowsOf, withFile } from './file-rows.js';
import { records, run, upload } from './importing.js';
import { makeApp, testServer, type Caller, type TestServer } from './support.js';

/** The entries of a text that comes in chunks of a size, each with the name of its list. */
function entriesOf(text: string, form: JsonForm, size: number): [string, unknown][] {
  const found: [string, unknown][] = [];
  const entries = new JsonEntries(form, (list, entry) => found.push([list, JSON.parse(entry)]));
  const bytes = Buffer.from(text);
  for (let at = 0; at < bytes.length; at += size) entries.push(bytes.subarray(at, at + size));
  entries.finish();
  return found;
}

describe('entries are cut out of a text', () => {
  const sizes = fc.integer({ min: 1, max: 40 });
  const spaced = fc.constantFrom(undefined, 1, '\t');
  test('of one list, in chunks of any size, as JSON.parse has them', () =>
    fc.assert(
      fc.property(fc.array(fc.jsonValue()), sizes, spaced, (list, size, space) => {
        expect(entriesOf(JSON.stringify(list, null, space), 'list', size).map(([, value]) => value)).toEqual(JSON.parse(JSON.stringify(list)));
      }),
    ));
  test('of an object with lists, by the names of these', () =>
    fc.assert(
      fc.property(fc.dictionary(fc.string(), fc.oneof(fc.array(fc.jsonValue()), fc.jsonValue())), sizes, spaced, (lists, size, space) => {
        const expected = Object.entries(JSON.parse(JSON.stringify(lists)) as Record<string, unknown>).flatMap(([name, value]) =>
          Array.isArray(value) ? value.map((each): [string, unknown] => [name, each]) : [],
        );
        expect(entriesOf(JSON.stringify(lists, null, space), 'lists', size)).toEqual(expected);
      }),
    ));
  test('of one after another', () =>
    fc.assert(
      fc.property(fc.array(fc.dictionary(fc.string(), fc.jsonValue()), { minLength: 1 }), sizes, fc.constantFrom('\n', '', ' \r\n'), (all, size, between) => {
        const text = all.map((each) => JSON.stringify(each)).join(between);
        expect(entriesOf(text, 'lines', size).map(([, value]) => value)).toEqual(JSON.parse(JSON.stringify(all)));
      }),
    ));
  test.each<[string, JsonForm, string]>([
    ['breaks off', 'list', '[{"a":1},{"a"'],
    ['has no comma', 'list', '[{"a":1} {"a":2}]'],
    ['has a comma too many', 'list', '[{"a":1},]'],
    ['has two commas', 'list', '[1,,2]'],
    ['has words outside of it', 'list', 'x[1]'],
    ['has a bracket too many', 'list', '[1]]'],
    ['is closed by another bracket', 'list', '[1}'],
    ['is no list', 'list', '{"a":[]}'],
  ])('not of a text that %s', (_, form, text) => {
    expect(() => entriesOf(text, form, 3)).toThrow();
  });
  test('and tells faults of the brackets apart', () => expect(() => entriesOf('[1', 'list', 9)).toThrow(NotJson));
});

test.each([
  ['1', 1],
  ['12345678901234567890', '12345678901234567890'],
  ['0.1000000000000001', '0.1'],
  ['1.50', 1.5],
  ['-2E3', '-2000'],
  ['1e-7', '0.0000001'],
  ['"12345678901234567890 \\" 1e5"', '12345678901234567890 " 1e5'],
])('%s is kept to the digit', (text, value) => expect(parseExactly(text, plainNumber)).toEqual(value));

test('a mark of a zero in front, or quotes that are not there, do not become JSON by it', () => {
  for (const text of ['{"a":01e5}', '{a:1e5}', '[1e5,]']) expect(() => parseExactly(text, plainNumber)).toThrow();
});

describe('a file is read', () => {
  const hives = [
    {
      code: 'H-1',
      place: { site: 'Brackmoor', at: { row: 2 } },
      gentle: true,
      tags: ['calm', 'old'],
      frames: [
        { n: 1, bees: 0.75 },
        { n: 2, queen: true },
      ],
    },
    { code: 'H-2', weight: 12_345.678, place: null, frames: [] },
    { code: 'H-3', frames: [{ n: 7 }] },
  ];
  const bytes = Buffer.from(JSON.stringify(hives));

  test('with what is inside of an object as columns beside the others', async () => {
    expect(await rowsOf(bytes)).toEqual([
      ['code', 'place site', 'place at row', 'gentle', 'tags', 'weight', 'place'],
      ['H-1', 'Brackmoor', '2', 'yes', 'calm, old', '', ''],
      ['H-2', '', '', '', '', '12345.678', ''],
      ['H-3', '', '', '', '', '', ''],
    ]);
  });
  test('with the lists inside of its records as parts of their own, which know the record that they are in', async () => {
    expect(await withFile(bytes, async (start) => start.parts)).toEqual(['Records', 'frames']);
    expect(await rowsOf(bytes, { part: 'frames' })).toEqual([
      ['n', 'bees', 'Parent code', 'Parent place site', 'Parent place at row', 'Parent gentle', 'Parent tags', 'queen'],
      ['1', '0.75', 'H-1', 'Brackmoor', '2', 'yes', 'calm, old', ''],
      ['2', '', 'H-1', 'Brackmoor', '2', 'yes', 'calm, old', 'yes'],
      ['7', '', 'H-3', '', '', '', '', ''],
    ]);
  });
  test.each([
    ['one record per line', '{"a":1}\n{"a":2}\n'],
    ['a list, after a mark of the encoding', '\uFEFF [ {"a":1}, {"a":2} ]'],
    ['an object with one list and more beside it', '{"made":"now","rows":[{"a":1},{"a":2}],"more":{"x":[1,2,3]}}'],
  ])('from %s', async (_, text) => expect(await rowsOf(Buffer.from(text))).toEqual([['a'], ['1'], ['2']]));
});

describe('an import of JSON', () => {
  let it: TestServer;
  let ada: Caller & { id: number };
  let app: OpenApp;
  beforeAll(async () => {
    it = await testServer();
    ada = await it.person('Ada Roke');
    app = await makeApp(ada, 'JSON', []);
  });
  afterAll(() => it.close());

  test('takes a file that nobody here wrote, whatever it is called, to the last record and digit', async () => {
    const data = join(import.meta.dirname, '../../node_modules/vega-datasets/data');
    const text = await readFile(join(data, 'movies.json'));
    const answer = await upload(ada, app, 'Films.csv', text);
    expect(answer.survey).toMatchObject({ reading: { format: 'json' } });
    const films = JSON.parse(text.toString()) as Record<string, unknown>[];
    const columns = answer.survey?.columns.map((column) => column.name) ?? [];
    expect(columns).toEqual(Object.keys(films[0] ?? {}));
    const done = await run(ada, app, answer, null);
    expect(done).toMatchObject({ state: 'done', added: films.length });
    const [sum] = await it.sql<{ sum: string }>(`SELECT sum(us_gross)::text AS sum FROM "app_${app.id}".films`);
    expect(Number(sum?.sum)).toBe(films.reduce((all, film) => all + Number(film['US Gross'] ?? 0), 0));
    const shown = await records(ada, app, done.table);
    expect(shown[10]?.['IMDB Rating']).toBe(String(films[10]?.['IMDB Rating']));
  });

  test.each([
    ['breaks off', '[{"a":1},{"a":2},{"a"', 'The JSON of the file breaks off or has an error after 2 entries.'],
    ['has a fault', '[{"a":1},{a:2}]', 'The JSON of the file breaks off or has an error after 1 entry.'],
    ['has no list', '{"a":{"b":1}}', 'The file has no list of records.'],
    ['has one entry beyond all measure', `[{"a":"${'x'.repeat(40_000_000)}"}]`, 'Entry 1 of the file is larger than 32 MB.'],
    ['is deeper than anything', `[${'['.repeat(200_000)}${']'.repeat(200_000)}]`, 'The JSON of the file breaks off or has an error'],
  ])('that %s ends in a sentence', async (_, text, words) => {
    const answer = await upload(ada, app, 'x.json', text);
    expect(answer.state).toBe('failed');
    expect(answer.message).toContain(words);
  });

  test('complains of an entry by its place', async () => {
    const answer = await upload(ada, app, 'Films.json', '[{"Title":"A","US Gross":1},{"Title":"B","US Gross":"many"}]');
    const films = (await ada.call(contract.openApp, { params: { app: app.id } })).design.tables[0]?.id ?? '';
    const done = await run(ada, app, answer, films);
    expect(done.complaints).toEqual([{ line: 2, column: 'US Gross', value: 'many', reason: 'is not a number' }]);
  });
});
