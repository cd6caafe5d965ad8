import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { type Field } from '../design/design.js';
import { FieldPlan } from '../fields/kinds.js';
import { copyText, rowConverter, type CellColumn, type Complaint } from './convert.js';
import { byNumber } from './matching.js';
import { plainReading } from './survey.js';

const field = (more: object): Field => ({ ...FieldPlan.parse({ id: 'f_a', name: 'A', ...more }), column: 'a' });
const column = (more: object, rest: Partial<CellColumn> = {}): CellColumn => ({
  name: 'A',
  at: 0,
  field: field(more),
  reading: plainReading,
  captions: null,
  ...rest,
});

function converted(
  columns: readonly CellColumn[],
  rows: readonly (readonly string[])[],
  badCells: 'refuse' | 'empty' = 'refuse',
  taken = new Map<string, Set<string>>(),
  numbers: { name: string; at: number } | null = null,
  canAdd = true,
) {
  const complaints: Complaint[] = [];
  const convert = rowConverter({
    columns,
    find: numbers === null ? null : byNumber(numbers),
    canAdd,
    keepsEmpty: false,
    width: columns.length + (numbers === null ? 0 : 1),
    isGuarded: true,
    tail: '7\t7',
    badCells,
    taken,
    complain: (complaint) => complaints.push(complaint),
    emptied: () => undefined,
  });
  return { lines: rows.map((row, i) => convert(row, i + 2)), complaints };
}

describe('rows become COPY text', () => {
  test.each<[string, object, string, string]>([
    ['text is escaped', { kind: 'text' }, 'a\tb\\c\nd', 'a\\tb\\\\c\\nd'],
    ['text that looks like NULL stays text', { kind: 'text' }, '\\N', '\\\\N'],
    ['a number loses its marks', { kind: 'whole' }, '1,200', '1200'],
    ['an amount stays exact', { kind: 'decimal', digits: 9 }, '12345678901234567890.123456789', '12345678901234567890.123456789'],
    ['a percentage in a field of plain numbers', { kind: 'decimal', digits: 4 }, '12.5 %', '0.125'],
    ['a percentage in a percent field', { kind: 'percent', digits: 1 }, '12.5%', '0.125'],
    ['money loses its mark', { kind: 'money', currency: 'GBP' }, '-£1,200.50', '-1200.5'],
    ['a date becomes ISO', { kind: 'date' }, '14 Sep 2026', '2026-09-14'],
    ['a tick', { kind: 'yes_no' }, 'Yes', 't'],
    ['a choice becomes its id', { kind: 'choice', choices: [{ id: 'low', label: 'Low' }] }, 'LOW', 'low'],
    ['blank is empty', { kind: 'whole' }, '  ', '\\N'],
  ])('%s', (_, plan, cell, copy) => expect(converted([column(plan)], [[cell]]).lines).toEqual([`${copy}\t7\t7\n`]));

  test('a cell that does not fit is named with line, column, value and reason', () => {
    expect(converted([column({ kind: 'whole' })], [['1'], ['two']])).toEqual({
      lines: ['1\t7\t7\n', null],
      complaints: [{ line: 3, column: 'A', value: 'two', reason: 'is not a number' }],
    });
  });

  test('it may be left empty instead, unless the field is required', () => {
    expect(converted([column({ kind: 'whole' })], [['two']], 'empty').lines).toEqual(['\\N\t7\t7\n']);
    expect(converted([column({ kind: 'whole', required: true })], [['two']], 'empty').complaints[0]?.reason).toBe('is not a number, and A is required');
  });

  test('a required field complains of an empty cell, and of a short row', () => {
    expect(converted([column({ kind: 'text', required: true })], [[''], []]).complaints.map((complaint) => complaint.reason)).toEqual([
      'is empty, but required',
      'is empty, but required',
    ]);
  });

  test('a cell beyond the last column is a complaint only when it says something', () => {
    const { complaints } = converted(
      [column({ kind: 'text' })],
      [
        ['a', ''],
        ['b', 'c'],
      ],
    );
    expect(complaints).toEqual([{ line: 3, column: '(beyond the last column)', value: 'c', reason: 'the row has 2 cells, the heading 1' }]);
  });

  test('a unique field complains of what the file or the table has already, however it is written', () => {
    const { complaints } = converted(
      [column({ kind: 'decimal', digits: 2, unique: true })],
      [['1.50'], ['1.5'], ['2']],
      'refuse',
      new Map([['f_a', new Set(['2'])]]),
    );
    expect(complaints.map((complaint) => complaint.reason)).toEqual([
      'is in line 2 already, and it must be unique',
      'is in the table already, and it must be unique. Change matching records instead, or leave the row out',
    ]);
  });

  test('a reference is matched by what a record is called', () => {
    const captions = new Map<string, number | null>([
      ['h-1', 5],
      ['h-2', null],
    ]);
    const { lines, complaints } = converted([column({ kind: 'reference', relationship: 'r_a' }, { captions })], [['H-1'], ['H-2'], ['H-3']]);
    expect(lines[0]).toBe('5\t7\t7\n');
    expect(complaints.map((complaint) => complaint.reason)).toEqual(['is the name of more than one record', 'is the name of no record']);
  });

  test('a row that names a record by its number becomes the values of its fields', () => {
    const captions = new Map<string, number | null>([
      ['h-1', 5],
      ['h-2', null],
    ]);
    const columns = [
      column({ kind: 'whole', unique: true }),
      column({ kind: 'yes_no' }, { at: 1 }),
      column({ kind: 'reference', relationship: 'r_a' }, { at: 2, captions }),
    ];
    const rows = [
      ['7', 'yes', 'H-1', '12'],
      ['8', '', 'H-2', '13'],
      ['9', 'no', '', ''],
      ['', 'no', '', '12'],
      ['1', 'maybe', '', '14'],
      ['2', '', '', '1.5'],
    ];
    const { lines, complaints } = converted(columns, rows, 'empty', new Map([['f_a', new Set(['7'])]]), { name: 'Record number', at: 3 });
    expect(lines).toEqual([
      { kind: 'numbered', record: 12, line: 2, cells: [7, true, 5] },
      { kind: 'numbered', record: 13, line: 3, cells: [8, null, { caption: 'H-2', problem: 'is the name of more than one record' }] },
      '9\tf\t\\N\t7\t7\n',
      null,
      null,
      null,
    ]);
    expect(complaints.map((complaint) => `${complaint.line} ${complaint.column}: ${complaint.value} ${complaint.reason}`)).toEqual([
      '5 Record number: 12 is in line 2 already',
      '6 A: maybe is neither yes nor no',
      '7 Record number: 1.5 is not the number of a record',
    ]);
  });

  test('escaped text has neither tab nor line end, and reads back', () => {
    const back = (copy: string): string => copy.replace(/\\([\\tnr])/gu, (_, letter: string) => ({ '\\': '\\', t: '\t', n: '\n', r: '\r' })[letter] ?? '');
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom('a', '\\', '\t', '\n', '\r', 'N', 'é') }), (text) => {
        expect(copyText(text)).not.toMatch(/[\t\n\r]/u);
        expect(back(copyText(text))).toBe(text);
      }),
    );
  });
});
