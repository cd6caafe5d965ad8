import { describe, expect, test } from 'vitest';
import { type Table } from '../design/design.js';
import { FieldPlan } from '../fields/kinds.js';
import { checkRecord, stored } from './check.js';

const field = (more: object) => ({ ...FieldPlan.parse(more), column: 'x' });
const table: Table = {
  id: 't_h',
  name: 'Hives',
  slug: 'hives',
  description: '',
  section: '',
  caption: '',
  checks: [],
  uniqueTogether: [],
  isLink: false,
  fields: [
    field({ kind: 'text', id: 'f_code', name: 'Code', required: true }),
    field({ kind: 'whole', id: 'f_year', name: 'Queen year' }),
    field({ kind: 'decimal', id: 'f_rent', name: 'Rent' }),
  ],
};

describe('checkRecord', () => {
  test('asks every field of a new record', () => expect(checkRecord(table, {}, true)).toEqual([{ field: 'f_code', message: 'Code is required' }]));
  test('asks only the given fields of a change', () => expect(checkRecord(table, { f_year: 2026 }, false)).toEqual([]));
  test('does not let blanks stand for a value', () =>
    expect(checkRecord(table, { f_code: '  ' }, false)).toEqual([{ field: 'f_code', message: 'Code is required' }]));
  test('names each value that does not fit', () => {
    expect(checkRecord(table, { f_code: 'H', f_year: 'x', f_rent: 1.5 }, true).map((recordIssue) => recordIssue.message)).toEqual([
      'Queen year must be a whole number',
      'Rent must be a number',
    ]);
  });
  test('names fields that are not there', () =>
    expect(checkRecord(table, { f_code: 'H', f_bees: 1 }, true)[0]?.message).toBe('There is no field "f_bees" in Hives'));
});

test('what is stored is canonical', () => {
  const [code, , rent] = table.fields;
  if (code === undefined || rent === undefined) throw new Error('the sample table is broken');
  expect(stored(code, '  ')).toBeNull();
  expect(stored(code, ' a ')).toBe(' a ');
  expect(stored(rent, '1.50')).toBe('1.5');
});
