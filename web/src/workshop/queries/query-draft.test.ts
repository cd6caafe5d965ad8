import type { SavedQuery } from '@bibliona/core';
import { describe, expect, test } from 'vitest';
import {
  arrangedAs,
  directionWords,
  editColumn,
  filteredBy,
  freeName,
  groupsOf,
  movedColumn,
  orderedBy,
  valuesOf,
  withColumn,
  withoutColumn,
} from './query-draft.js';

const column = (id: string, summary: SavedQuery['columns'][number]['summary'] = null): SavedQuery['columns'][number] => ({
  id,
  name: id.toUpperCase(),
  expression: id,
  summary,
  digits: null,
});
const query: SavedQuery = {
  id: 'q_one',
  name: 'One',
  description: '',
  section: '',
  table: 'hives',
  condition: '',
  columns: [column('aa'), column('bb'), column('cc', 'sum')],
  order: [{ column: 'bb', direction: 'up' }],
  limit: null,
};
const ids = ({ columns }: SavedQuery): string[] => columns.map((each) => each.id);

describe('columns', () => {
  test('get a name that is free, within what a name may be long', () => {
    expect(freeName('Aa', query.columns)).toBe('Aa 2');
    expect(freeName('x'.repeat(90), [])).toHaveLength(56);
    expect(withColumn(query, { ...column('dd'), name: 'bb' }).columns.at(-1)?.name).toBe('bb 2');
  });
  test('move by one place and stay at the ends', () => {
    expect(ids(movedColumn(query, 'aa', 1))).toEqual(['bb', 'aa', 'cc']);
    expect(movedColumn(query, 'aa', -1)).toBe(query);
    expect(movedColumn(query, 'cc', 1)).toBe(query);
  });
  test('that are left out order nothing now', () => {
    expect(withoutColumn(query, 'bb')).toMatchObject({ columns: [{ id: 'aa' }, { id: 'cc' }], order: [] });
  });
  test('that are left out arrange nothing now', () => {
    const board = arrangedAs(query, { kind: 'board', by: 'bb' });
    expect(withoutColumn(board, 'aa').arrangement).toEqual({ kind: 'board', by: 'bb' });
    expect('arrangement' in withoutColumn(board, 'bb')).toBe(false);
    const timeline = arrangedAs(query, { kind: 'timeline', from: 'aa', to: 'bb', lane: 'cc' });
    expect(withoutColumn(timeline, 'bb').arrangement).toEqual({ kind: 'timeline', from: 'aa', lane: 'cc' });
    expect('arrangement' in arrangedAs(board, { kind: 'grid' })).toBe(false);
  });
  test('that are left out filter nothing now; where none is chosen the query decides', () => {
    const filtered = filteredBy(query, ['bb', 'cc']);
    expect(withoutColumn(filtered, 'bb').quickFilters).toEqual(['cc']);
    expect(withoutColumn(withoutColumn(filtered, 'bb'), 'cc')).not.toHaveProperty('quickFilters');
  });
  test('are groups or sums as soon as one summarises, else values', () => {
    expect(groupsOf(query).map((group) => group.id)).toEqual(['aa', 'bb']);
    expect(valuesOf(query).map((value) => value.id)).toEqual(['cc']);
    const plain = editColumn(query, 'cc', { summary: null });
    expect([groupsOf(plain), ids({ ...plain, columns: valuesOf(plain) })]).toEqual([[], ['aa', 'bb', 'cc']]);
  });
});

test('a heading orders by its column: down, up, and no longer', () => {
  const down = orderedBy(query, 'aa');
  expect(down.order).toEqual([
    { column: 'aa', direction: 'down' },
    { column: 'bb', direction: 'up' },
  ]);
  const up = orderedBy(down, 'aa');
  expect(up.order[0]).toEqual({ column: 'aa', direction: 'up' });
  expect(orderedBy(up, 'aa').order).toEqual(query.order);
});

test('orders are said in the words of what is ordered', () => {
  expect(directionWords({ kind: 'number' }, 'down')).toBe('largest first');
  expect(directionWords({ kind: 'date' }, 'up')).toBe('earliest first');
  expect(directionWords(null, 'up')).toBe('from A to Z');
});
