import { itemKey, type Form } from '@bibliona/core';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { editedItem, inColumns, movedItems, sideBySide, sizedItems, steppedItem, withItem, withoutItems, withText } from './form-draft.js';

const item = (field: string, width = 6) => ({ kind: 'field', field, width }) as const;
const form = (...fields: readonly string[]): Form => ({
  ...{ id: 'fm', table: 'hives', name: 'Hives', roles: [], isDefault: true },
  items: fields.map((field) => item(field)),
});
const keys = (each: Form): string => each.items.map(itemKey).join('');
const abcd = form(...'abcd');

describe('items of a form', () => {
  test.each([
    [['a'], 2, 'bacd'],
    [['a'], 0, 'abcd'],
    [['a'], 4, 'bcda'],
    [['d'], 0, 'dabc'],
    [['a', 'c'], 4, 'bdac'],
    [['b', 'd'], 1, 'abdc'],
  ])('%j moved before the item at place %i: %s', (moved, to, wanted) => {
    expect(keys(movedItems(abcd, new Set(moved), to))).toBe(wanted);
  });

  test.each([
    ['a', 1, 'bacd'],
    ['d', -1, 'abdc'],
    ['a', -1, 'abcd'],
    ['d', 1, 'abcd'],
    ['x', 1, 'abcd'],
  ] as const)('%s one step of %i: %s', (key, by, wanted) => expect(keys(steppedItem(abcd, key, by))).toBe(wanted));

  test('are put at a place, else at the end, and taken off', () => {
    expect(keys(withItem(abcd, item('x'), 1))).toBe('axbcd');
    expect(keys(withItem(abcd, item('x')))).toBe('abcdx');
    expect(keys(withoutItems(abcd, new Set(['a', 'd'])))).toBe('bc');
  });

  test('have a width between one and twelve columns; a heading has none', () => {
    const titled = withItem(abcd, { kind: 'heading', id: 'h', text: 'Title' });
    expect(sizedItems(titled, new Set(['a', 'h']), 99).items.map((each) => ('width' in each ? each.width : null))).toEqual([12, 6, 6, 6, null]);
    expect(sizedItems(titled, new Set(['b']), -3.4).items[1]).toMatchObject({ width: 1 });
  });

  test('moving loses none and doubles none', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.constantFrom(...'abcd')), fc.integer({ min: 0, max: 4 }), (moved, to) => {
        expect([...keys(movedItems(abcd, new Set(moved), to))].sort().join('')).toBe('abcd');
      }),
    );
  });
});

test('an empty text takes a setting away', () => {
  const labelled = withText(item('a'), 'label' as never, 'Code');
  expect(labelled).toEqual({ ...item('a'), label: 'Code' });
  expect(withText(labelled, 'label' as never, ' ')).toEqual(item('a'));
  expect(editedItem(abcd, labelled).items[0]).toEqual(labelled);
});

describe('fields side by side', () => {
  const words = { kind: 'text', id: 'words', text: 'Mind the smoker.', width: 12 } as const;
  const mixed: Form = { ...abcd, items: [...abcd.items, words] };
  test.each([1, 2, 3, 4])('%i: every field has its width, and nothing else has', (columns) => {
    const put = inColumns(mixed, columns);
    expect(sideBySide(put)).toBe(columns);
    expect(put.items.map((each) => ('width' in each ? each.width : null))).toEqual([...Array<number>(4).fill(12 / columns), 12]);
  });

  test('of different widths, or of one that leaves a gap, they are not said to be', () => {
    expect(sideBySide({ ...abcd, items: [item('a', 4), item('b', 6)] })).toBeNull();
    expect(sideBySide({ ...abcd, items: [item('a', 5)] })).toBeNull();
    expect(sideBySide({ ...abcd, items: [words] })).toBeNull();
  });
});
