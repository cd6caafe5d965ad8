import { FieldPlan, type Field, type GroupAnswer, type RecordAnswer, type Route } from '@bibliona/core';
import { describe, expect, test } from 'vitest';
import { boardColumns, isIn, landing, type BoardColumn } from './board.js';

const plan = (more: object): Field => ({ ...FieldPlan.parse(more), column: 'x' });
const choices = [
  { id: 's_draft', label: 'Draft' },
  { id: 's_lab', label: 'In lab' },
  { id: 's_old', label: 'Old way', retired: true },
];
const status = plan({ kind: 'choice', id: 'status', name: 'Status', choices });
const group = (value: GroupAnswer['values'][number], count: number): GroupAnswer => ({ values: [value], count, sums: ['1.5'] });
const record = (value: RecordAnswer['values'][string]): RecordAnswer => ({ id: 7, rev: 3, values: { status: value, site: value } });
const route = {
  field: 'status',
  moves: [{ id: 'mo_send', name: 'Send', from: 's_draft', to: 's_lab' }],
} as unknown as Route;

describe('a board', () => {
  test('has a column for each choice that is offered, in its order, and one for what is empty', () => {
    const columns = boardColumns(status, [group('In lab', 4), group(null, 2)], 1);
    expect(columns.map(({ value, held, count, sums }) => [value, held, count, sums])).toEqual([
      ['Draft', 's_draft', 0, [null]],
      ['In lab', 's_lab', 4, ['1.5']],
      [null, null, 2, ['1.5']],
    ]);
    expect(boardColumns(status, [group('Old way', 1)], 0).map((column) => column.value)).toEqual(['Draft', 'In lab', 'Old way']);
  });

  test('has of other fields a column for each value', () => {
    const site = plan({ kind: 'reference', id: 'site', name: 'Site', relationship: 'r_site' });
    const [first] = boardColumns(site, [group({ id: 2, caption: 'Heron Mere' }, 3)], 0) as [BoardColumn];
    expect(isIn(first, record({ id: 2, caption: 'as it was called' }), 'site')).toBe(true);
    expect(isIn(first, record({ id: 3, caption: 'Heron Mere' }), 'site')).toBe(false);
    expect(landing('hives', site, undefined, record(null), first)).toEqual({
      ok: true,
      write: { kind: 'change', table: 'hives', id: 7, rev: 3, values: { site: 2 } },
    });
  });

  test('moves a record along its route, and says where no move leads', () => {
    const [draft, lab] = boardColumns(status, [], 0) as [BoardColumn, BoardColumn];
    expect(landing('lots', status, route, record('s_draft'), lab)).toEqual({
      ok: true,
      write: { kind: 'move', table: 'lots', id: 7, rev: 3, move: 'mo_send' },
    });
    expect(landing('lots', status, route, record('s_lab'), draft)).toEqual({ ok: false, why: 'No move leads from In lab to Draft.' });
  });

  test('does not empty what is required', () => {
    const required = plan({ kind: 'choice', id: 'status', name: 'Status', choices, required: true });
    const empty = boardColumns(required, [group(null, 1)], 0).at(-1) as BoardColumn;
    expect(landing('lots', required, undefined, record('s_draft'), empty)).toEqual({ ok: false, why: 'Status is required.' });
  });
});
