import { applyChanges, emptyDesign, type AppDesign, type Tile } from '@bibliona/core';
import { describe, expect, test } from 'vitest';
import { offersOf } from '../rows/row-sources.js';
import { freePlace, nameFor, placed, tileFrom, type Answers } from './tile-draft.js';

const common = { description: '', required: false, unique: false, default: null } as const;
const made = applyChanges(emptyDesign('Honey'), [
  {
    kind: 'add_table',
    id: 'harvests',
    name: 'Harvests',
    description: '',
    section: '',
    form: 'fm_h',
    list: 'l_h',
    fields: [
      { ...common, kind: 'date', id: 'h_date', name: 'Date' },
      { ...common, kind: 'decimal', digits: 1, id: 'h_kilos', name: 'Kilos' },
      { ...common, kind: 'text', id: 'h_place', name: 'Place' },
    ],
  },
]);
const design = (made as { readonly design: AppDesign }).design;
const place = { x: 0, y: 0, w: 3, h: 5 };
const answers: Answers = { name: '', kind: 'bars', source: { kind: 'table', id: 'harvests' }, summary: 'sum', of: 'h_kilos', per: 'h_place', step: 'month' };
let count = 0;
const newId = (prefix: string): string => `${prefix}_${(count += 1)}`;
const tile = (more: Partial<Answers>): Tile => tileFrom({ ...answers, ...more }, design, 'ti_one', place, newId);
const put = (each: Tile) =>
  applyChanges(design, [{ kind: 'put', part: 'dashboard', value: { id: 'da_one', name: 'One', description: '', section: '', tiles: [each] } }]);

describe('a tile', () => {
  test('is made whole from any answers', () => {
    for (const kind of ['figure', 'bars', 'line'] as const)
      for (const of of ['', 'h_kilos'])
        for (const per of ['h_place', 'h_date', 'h_kilos'])
          for (const step of ['day', 'month', 'year'] as const) expect([kind, of, per, put(tile({ kind, of, per, step })).ok]).toEqual([kind, of, per, true]);
  });
  test('takes dates together by months, and is called by what it shows', () => {
    const line = tile({ kind: 'line', per: 'h_date' });
    expect(line.source).toMatchObject({ columns: [{ expression: 'date(Date.year, Date.month, 1)' }, { expression: 'Kilos', summary: 'sum' }] });
    expect(nameFor({ ...answers, per: 'h_date' }, design)).toBe('Kilos by date');
    expect(nameFor({ ...answers, kind: 'figure', of: '' }, design)).toBe('Harvests');
    expect(offersOf(answers.source, design).map((offer) => offer.kind)).toEqual(['date', 'number', 'string']);
  });
});

describe('places', () => {
  const at = (id: string, x: number, y: number): Tile => ({ ...tile({}), id, place: { x, y, w: 3, h: 5 } });
  test('of new tiles are the first that are free, below the others when none is', () => {
    expect(freePlace([], 'figure')).toEqual({ x: 0, y: 0, w: 3, h: 5 });
    expect(freePlace([at('a1', 0, 0), at('a2', 6, 0)], 'figure')).toEqual({ x: 3, y: 0, w: 3, h: 5 });
    expect(freePlace([at('a1', 0, 0), at('a2', 3, 0), at('a3', 6, 0), at('a4', 9, 0)], 'line')).toEqual({ x: 0, y: 5, w: 8, h: 9 });
  });
  test('that stay as they are leave the dashboard as it is', () => {
    const dashboard = { id: 'da', name: 'One', description: '', section: '', tiles: [at('a1', 0, 0)] };
    expect(placed(dashboard, new Map([['a1', { x: 0, y: 0, w: 3, h: 5 }]]))).toBe(dashboard);
    expect(placed(dashboard, new Map([['a1', { x: 2, y: 0, w: 3, h: 5 }]])).tiles[0]?.place.x).toBe(2);
  });
});
