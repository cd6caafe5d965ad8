import { expect, test } from 'vitest';
import type { Arrangement } from '../design/arrangement.js';
import { arrangementOf } from './arranged.js';

const columns = [
  { id: 'code', type: 'string' },
  { id: 'day', type: 'date' },
  { id: 'at', type: 'date and time' },
  { id: 'kind', type: 'choice' },
  { id: 'hours', type: 'number' },
];
const shown = (arrangement?: Arrangement): string =>
  arrangementOf(
    {
      id: 'q_one',
      name: 'One',
      description: '',
      section: '',
      table: 'hives',
      condition: '',
      columns: [],
      order: [],
      limit: null,
      ...(arrangement && { arrangement }),
    },
    columns,
  ).kind;

test('rows are in a grid where the query says nothing else, or a column doesn’t fit', () => {
  expect(shown()).toBe('grid');
  for (const fits of [
    { kind: 'cards' },
    { kind: 'board', by: 'kind' },
    { kind: 'calendar', day: 'at' },
    { kind: 'timeline', from: 'day', to: 'at', lane: 'code' },
    { kind: 'chart', by: 'day', sum: 'hours' },
    { kind: 'chart', by: 'code' },
    { kind: 'map', place: 'code' },
  ] as const)
    expect(shown(fits)).toBe(fits.kind);
  for (const unfit of [
    { kind: 'board', by: 'hours' },
    { kind: 'board', by: 'gone' },
    { kind: 'calendar', day: 'kind' },
    { kind: 'timeline', from: 'day', to: 'hours' },
    { kind: 'timeline', from: 'day', lane: 'at' },
    { kind: 'chart', by: 'kind', sum: 'code' },
    { kind: 'map', place: 'day' },
  ] as const)
    expect(shown(unfit)).toBe('grid');
});
