import { describe, expect, test } from 'vitest';
import { restrict, type Person } from '../access/access.js';
import { designOf, field, related, table } from '../parts/sample.js';
import { compileCount, compilePage, compileStatistics } from './compile.js';
import { compileLookup } from './lookup.js';
import { queryOf, type Query } from './query.js';

const ada: Person = { id: 1, name: 'Ada', mail: 'ada@quillmoor.example', role: 'member', roles: ['team'], ties: {} };
const design = designOf([
  table('apiaries', 'Apiaries', [field({ kind: 'text', id: 'a_name', name: 'Name' })]),
  table('hives', 'Hives', [
    field({ kind: 'text', id: 'h_code', name: 'Code', required: true }),
    field({ kind: 'date', id: 'h_since', name: 'Since' }),
    field({
      kind: 'choice',
      id: 'h_stores',
      name: 'Stores',
      choices: [
        { id: 'low', label: 'Low' },
        { id: 'full', label: 'Full' },
      ],
    }),
  ]),
  related('apiaries', 'hives', 'Apiary', 'Hives', true),
]);
const source = (parts: Partial<Query>) => [restrict(queryOf('hives', parts), design, ada, 0), design, 'app_x'] as const;
const page = (parts: Partial<Query>) => compilePage(...source(parts));
const ranges = (text: string): number => text.split('UNION ALL').length;

describe('a page', () => {
  test('is never reached by counting rows from the start', () => {
    for (const sort of ['h_code', 'h_since', 'h_stores', 'hives_up'])
      expect(page({ sort: { field: sort, direction: 'up' }, after: { value: null, id: 5 } }).text).not.toMatch(/OFFSET/u);
  });

  test('of a field that is always filled is one range of its index', () => {
    const { text, params } = page({ sort: { field: 'h_code', direction: 'up' }, after: { value: 'H-5', id: 9 }, limit: 20 });
    expect(ranges(text)).toBe(1);
    expect(text).toContain('t."code" >= $1::text AND (t."code" > $1::text OR t.id > $2::bigint)');
    expect(params).toEqual(['H-5', 9, 20]);
  });

  test('of a field that may be empty ends with the empty ones, in both directions', () => {
    for (const direction of ['up', 'down'] as const) {
      const { text } = page({ sort: { field: 'h_since', direction } });
      expect(text.indexOf('"since" IS NOT NULL')).toBeLessThan(text.indexOf('"since" IS NULL'));
      expect(text).toContain(direction === 'up' ? 't."since" ASC' : 't."since" DESC');
    }
  });

  test('that begins among the empty ones does not read the filled ones again', () => {
    const { text } = page({ sort: { field: 'h_since', direction: 'up' }, after: { value: null, id: 7 } });
    expect(ranges(text)).toBe(1);
    expect(text).toContain('t."since" IS NULL AND t.id > ');
  });

  test('walked backwards turns the order and begins with the empty ones', () => {
    const { text } = page({ sort: { field: 'h_since', direction: 'up' }, backwards: true });
    expect(text.indexOf('"since" IS NULL')).toBeLessThan(text.indexOf('"since" IS NOT NULL'));
    expect(text).toContain('t."since" DESC, t.id DESC');
  });

  test('sorts choices as the builder ordered them and references by what they are called', () => {
    expect(page({ sort: { field: 'h_stores', direction: 'up' } }).text).toContain(`array_position(ARRAY['low', 'full']::text[], t."stores")`);
    expect(page({ sort: { field: 'hives_up', direction: 'up' } }).text).toMatch(
      /\(SELECT COALESCE\(NULLIF\(r\d+\."name", ''\), 'No\. ' \|\| r\d+\.id::text\)/u,
    );
  });

  test('names what a record refers to, after the page was cut', () => {
    const { text } = page({ columns: ['h_code', 'hives_up'] });
    expect(text.indexOf('LIMIT')).toBeLessThan(text.indexOf('LEFT JOIN "app_x"."apiaries"'));
  });
});

describe('a search', () => {
  const search = (text: string) => compileCount(source({ where: { kind: 'search', text } }), null);
  test('asks for every word, in the record or in what it refers to', () => {
    const { text, params } = search('heron  mere');
    expect(params).toEqual(['%heron%', '%mere%']);
    expect(text.match(/ILIKE \$1/gu)).toHaveLength(2);
  });
  test.each([
    ['50%', '%50\\%%'],
    ['a_b', '%a\\_b%'],
    ['a\\b', '%a\\\\b%'],
  ])('takes %s for itself, not for a pattern', (text, pattern) => expect(search(text).params).toContain(pattern));
  test('for digits also means the record of that number', () => expect(search('12').params).toEqual(['%12%', '12']));
  test('for nothing finds everything', () => expect(search('  ').text).toMatch(/WHERE true$/u));
});

test('a count goes no further than it is asked to', () => {
  expect(compileCount(source({}), 10_001)).toMatchObject({ params: [10_001], text: expect.stringContaining('LIMIT $1::integer') as string });
  expect(compileCount(source({}), null).text).not.toContain('LIMIT');
});

test('a lookup puts those first whose name begins with the text', () => {
  const { text, params } = compileLookup(source({ limit: 30 }), 'h-1');
  expect(params.at(-2)).toBe('h-1%');
  expect(text).toContain(`ORDER BY caption ILIKE $${params.length - 1} DESC, caption, id LIMIT $${params.length}`);
});

test('statistics of a long table read the same sample for every field', () => {
  expect(compileStatistics(source({}), 'h_since', 16, 2.5).text).toContain('TABLESAMPLE SYSTEM ($1::real) REPEATABLE (1)');
  expect(compileStatistics(source({}), 'h_since', 16, null).text).not.toContain('TABLESAMPLE');
});
