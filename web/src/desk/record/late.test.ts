import { expect, test } from 'vitest';
import type { ChildDraft, RecordDraft } from './draft.js';
import { lateIn, rowsWith } from './late.js';

const row = (key: string, id: number | null, text: string): ChildDraft => ({ key, id, rev: 1, values: { f: text } });
const draft = (own: string, rows: readonly ChildDraft[]): RecordDraft => ({ own: { f: own }, children: { r: rows } });
/** The number that a row gets which is saved at a place. */
const idOf = (_: string, index: number): number => 100 + index;
/** The rows of the saved record's form, after what was done meanwhile has come into it. */
const rowsAfter = (saved: readonly ChildDraft[], now: readonly ChildDraft[]): unknown => {
  const late = lateIn(draft('a', now), draft('a', saved), idOf);
  const begun = saved.map((each, i) => ({ ...each, key: `again ${i}`, id: each.id ?? idOf('r', i) }));
  return (rowsWith(late, { r: begun })['r'] ?? begun).map(({ id, values }) => [id, values['f']]);
};

test('only what was typed meanwhile is late', () => {
  expect(lateIn(draft('b', []), draft('a', []), idOf).own).toEqual({ f: 'b' });
  expect(lateIn(draft('a', [row('1', 7, 'x')]), draft('a', [row('1', 7, 'x')]), idOf)).toEqual({ own: {}, rows: [], removed: {}, referred: {} });
});

test.each<[string, readonly ChildDraft[], readonly ChildDraft[], unknown]>([
  [
    'a row that was there',
    [row('1', 7, 'x'), row('2', 8, 'y')],
    [row('1', 7, 'x'), row('2', 8, 'yz')],
    [
      [7, 'x'],
      [8, 'yz'],
    ],
  ],
  [
    'a row that the save has just added',
    [row('1', 7, 'x'), row('2', null, 'y')],
    [row('1', 7, 'x'), row('2', null, 'yz')],
    [
      [7, 'x'],
      [101, 'yz'],
    ],
  ],
  [
    'a row that was begun meanwhile',
    [row('1', 7, 'x')],
    [row('1', 7, 'x'), row('2', null, 'new')],
    [
      [7, 'x'],
      [null, 'new'],
    ],
  ],
  ['a row that was removed meanwhile', [row('1', 7, 'x'), row('2', 8, 'y')], [row('2', 8, 'y')], [[8, 'y']]],
  ['a row that was added by the save and removed meanwhile', [row('1', 7, 'x'), row('2', null, 'y')], [row('1', 7, 'x')], [[7, 'x']]],
])('%s goes on into the form of the saved record', (_, saved, now, after) => expect(rowsAfter(saved, now)).toEqual(after));
