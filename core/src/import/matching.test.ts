import { describe, expect, test } from 'vitest';
import { FieldPlan } from '../fields/kinds.js';
import type { CellColumn } from './convert.js';
import { byFields, byNumber, keyOf } from './matching.js';
import { columnNumber, rangeOf } from './reading.js';
import { plainReading } from './survey.js';

const column = (kind: string, at: number): CellColumn => ({
  name: `C${at}`,
  at,
  field: { ...FieldPlan.parse({ id: `f_${at}`, name: `F${at}`, kind, ...(kind === 'decimal' ? { digits: 2 } : {}) }), column: 'c' },
  reading: plainReading,
  captions: null,
});

describe('records are found', () => {
  test('by their numbers, each once', () => {
    const find = byNumber({ name: 'No.', at: 1 });
    expect([find(['', ' 12 '], 2), find(['', ''], 3), find([''], 4)]).toEqual([12, null, null]);
    expect(find(['', '12'], 5)).toMatchObject({ column: 'No.', value: '12', problem: 'is in line 2 already' });
    expect(find(['', '0'], 6)).toMatchObject({ problem: 'is not the number of a record' });
  });

  const columns = [column('text', 0), column('decimal', 1)];
  const index = new Map([
    [keyOf(columns, ['Brackmoor', '1.50'], true) ?? '', 7],
    [keyOf(columns, ['Heron Mere', null], true) ?? '', 8],
    [keyOf(columns, ['Two', '1'], true) ?? '', null],
  ]);
  test.each<[string, readonly string[], unknown]>([
    ['however a value is written', ['Brackmoor', '1.5'], 7],
    ['whatever the case of letters and the blanks', ['  brackmoor', ' 1.500 '], 7],
    ['by what is empty too', ['heron   mere', ''], 8],
    ['none, where a value differs', ['Brackmoor', '1.6'], null],
    ['none by nothing', ['', ' '], null],
    ['not with a cell that cannot be read', ['Brackmoor', 'much'], 'unreadable'],
  ])('%s', (_, cells, found) => expect(byFields(columns, index, { isLoose: true, isGuarded: false })(cells, 2)).toEqual(found));
  test('not where several have the same', () =>
    expect(byFields(columns, index, { isLoose: true, isGuarded: false })(['two', '1'], 2)).toMatchObject({
      value: 'two · 1',
      problem: 'matches more than one record',
    }));
  test('strictly where that is wanted, without the mark in front of a calculation', () => {
    const strict = new Map([[keyOf([column('text', 0)], ['=A'], false) ?? '', 3]]);
    const find = byFields([column('text', 0)], strict, { isLoose: false, isGuarded: true });
    expect([find(["'=A"], 2), find(['=a'], 3)]).toEqual([3, null]);
  });
});

describe('cells of a sheet', () => {
  test.each([
    ['A', 1],
    ['Z', 26],
    ['aa', 27],
    ['XFD', 16_384],
  ])('%s is column %i', (letters, number) => expect(columnNumber(letters)).toBe(number));
  test.each([
    ['', { firstRow: 1, lastRow: Infinity, firstColumn: 1, lastColumn: Infinity }],
    ['B3:F200', { firstRow: 3, lastRow: 200, firstColumn: 2, lastColumn: 6 }],
    ['F200:B3', { firstRow: 3, lastRow: 200, firstColumn: 2, lastColumn: 6 }],
    ['b:c', { firstRow: 1, lastRow: Infinity, firstColumn: 2, lastColumn: 3 }],
    ['9:3', { firstRow: 3, lastRow: 9, firstColumn: 1, lastColumn: Infinity }],
  ])('%j is a range', (text, range) => expect(rangeOf(text)).toEqual(range));
});
