import { describe, expect, test } from 'vitest';
import { tableOf } from '../design/read.js';
import { designOf, field, related, table } from '../design/sample.js';
import { compileCount, compilePage } from '../query/compile.js';
import { queryOf } from '../query/query.js';
import { grantedRows, mayDesign, permit, restrict, type Person } from './access.js';

const person = (role: Person['role']): Person => ({ id: 1, name: 'Ada', mail: 'ada@quillmoor.example', role });
const design = designOf([
  table('apiaries', 'Apiaries', [field({ kind: 'text', id: 'f_a', name: 'Name' })]),
  table('hives', 'Hives', [field({ kind: 'text', id: 'f_h', name: 'Code' })]),
  related('apiaries', 'hives', 'Apiary', 'Hives'),
]);
const hives = tableOf(design, 'hives');

describe('who is nothing to an app', () => {
  test('is granted no record and no permit', () => {
    for (const action of ['see', 'add', 'change', 'remove'] as const) expect(grantedRows(person(null), hives, action)).toEqual({ kind: 'none' });
    for (const action of ['add', 'change', 'remove'] as const) expect(permit(person(null), hives, action)).toBeNull();
    expect(mayDesign(person(null))).toBe(false);
    expect(mayDesign(person('member'))).toBe(false);
  });

  test('every table that a statement reads is closed to them: the rows, the records referred to, the search', () => {
    const query = queryOf('hives', { columns: ['f_h', 'hives_up'], where: { kind: 'search', text: 'moor' }, sort: { field: 'hives_up', direction: 'up' } });
    const { text } = compilePage(restrict(query, design, person(null), 0), design, 'app_x');
    const references = text.match(/FROM "app_x"\."\w+" AS \w+/gu) ?? [];
    expect(references.length).toBeGreaterThan(3);
    for (const reference of references) {
      const after = text.slice(text.indexOf(reference) + reference.length);
      expect(after.slice(0, 200)).toMatch(/WHERE.*false/u);
    }
    // Each join goes through a subselect that is closed, never to the table itself.
    expect(text).not.toMatch(/JOIN "app_x"/u);
  });
});

test('values never become part of the text', () => {
  const hostile = `'; DROP TABLE hives; --`;
  const query = queryOf('hives', {
    where: {
      kind: 'all',
      of: [
        { kind: 'search', text: hostile },
        { kind: 'equals', field: 'f_h', value: hostile },
      ],
    },
  });
  const { text, params } = compileCount([restrict(query, design, person('builder'), 0), design, 'app_x'], 10);
  expect(text).not.toContain('DROP');
  expect(JSON.stringify(params)).toContain('DROP');
});
