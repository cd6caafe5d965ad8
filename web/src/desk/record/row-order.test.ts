import { expect, test } from 'vitest';
import type { Field } from '@bibliona/core';
import { nextPlace, placedAt, placesOf } from './row-order.js';

const place = {
  kind: 'whole',
  id: 'place',
  name: 'Place',
  description: '',
  column: 'place',
  required: false,
  unique: false,
  default: null,
} as unknown as Field;
const rows = (...numbers: readonly string[]) => numbers.map((number) => ({ values: { place: number } }));

test.each<readonly [string, readonly string[], readonly number[]]>([
  ['keep the numbers that they have', ['30', '10', '20'], [10, 20, 30]],
  ['are numbered from 1 where some have none', ['5', '', '7'], [1, 2, 3]],
  ['are numbered from 1 where two have the same', ['4', '4'], [1, 2]],
  ['are numbered from 1 where one can not be read', ['4', 'first'], [1, 2]],
  ['are none', [], []],
])('rows that are moved %s', (_, numbers, expected) => expect(placesOf(rows(...numbers), place)).toEqual(expected));

test('a new row comes after all others', () => {
  expect([nextPlace(rows('3', '12', ''), place), nextPlace([], place)]).toEqual([13, 1]);
});

test('a row that is not begun is not begun at another place either', () => {
  expect(placedAt({ values: { place: '1', code: 'a' } }, place, 4)).toEqual({ values: { place: '4', code: 'a' } });
  expect(placedAt({ values: { place: '1' }, begun: { place: '1' } }, place, 4)).toEqual({ values: { place: '4' }, begun: { place: '4' } });
});
