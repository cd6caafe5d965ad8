import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { blockBetween, isOneCell, pastedCells, textOfCells } from './block.js';

describe('a block of cells', () => {
  test('is between two cells, whichever corner is the first', () => {
    const block = { top: 2, left: 1, bottom: 5, right: 3 };
    expect(blockBetween({ row: 2, column: 3 }, { row: 5, column: 1 })).toEqual(block);
    expect(blockBetween({ row: 5, column: 1 }, { row: 2, column: 3 })).toEqual(block);
    expect(isOneCell(block)).toBe(false);
    expect(isOneCell(blockBetween({ row: 2, column: 3 }, { row: 2, column: 3 }))).toBe(true);
  });

  test('comes back from the clipboard as it was, whatever is in its cells', () => {
    const cell = fc.string({ unit: fc.constantFrom('a', '"', '\t', '\n', ',', ' ', 'ä', "'") });
    const cells = fc
      .integer({ min: 2, max: 4 })
      .chain((width) => fc.array(fc.array(cell, { minLength: width, maxLength: width }), { minLength: 1, maxLength: 4 }));
    fc.assert(
      fc.property(cells, (rows) => {
        expect(pastedCells(textOfCells(rows))).toEqual(rows);
      }),
    );
  });
});

test('cells from a spreadsheet are told from a text', () => {
  expect(pastedCells('1\t2\r\n3\t4\r\n')).toEqual([
    ['1', '2'],
    ['3', '4'],
  ]);
  expect(pastedCells('just words')).toBeNull();
  expect(pastedCells('one line\n')).toBeNull();
});
