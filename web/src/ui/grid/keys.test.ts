import { expect, test } from 'vitest';
import { beforeEditor, beginOf, endOf, isSign, stepOf, type BeforeEditor } from './keys.js';

const plain = { ctrlKey: false, metaKey: false, altKey: false, shiftKey: false };
const extent = { rows: 50, columns: 6, page: 10 };

test.each([
  ['ArrowDown', {}, [4, 2], [5, 2]],
  ['ArrowUp', {}, [0, 2], [-1, 2]],
  ['ArrowUp', {}, [-1, 2], [-1, 2]],
  ['ArrowDown', {}, [-1, 2], [0, 2]],
  ['ArrowDown', {}, [49, 2], [49, 2]],
  ['ArrowRight', {}, [4, 5], [4, 5]],
  ['ArrowLeft', {}, [4, 1], [4, 0]],
  ['Home', {}, [4, 3], [4, 0]],
  ['End', {}, [4, 3], [4, 5]],
  ['Home', { ctrlKey: true }, [4, 3], [0, 3]],
  ['End', { metaKey: true }, [4, 3], [49, 3]],
  ['ArrowDown', { ctrlKey: true }, [4, 3], [49, 3]],
  ['ArrowUp', { ctrlKey: true }, [4, 3], [0, 3]],
  ['Tab', {}, [4, 3], [4, 4]],
  ['Tab', { shiftKey: true }, [4, 3], [4, 2]],
  ['PageDown', {}, [45, 3], [49, 3]],
  ['PageUp', {}, [5, 3], [0, 3]],
] as const)('%s %o leads from %o to %o', (key, held, [row, column], [toRow, toColumn]) => {
  expect(stepOf({ row, column }, { ...plain, key, ...held }, extent)).toEqual({ row: toRow, column: toColumn });
});

test('Tab leaves the grid at either end of a row', () => {
  expect(stepOf({ row: 3, column: 5 }, { ...plain, key: 'Tab' }, extent)).toBeNull();
  expect(stepOf({ row: 3, column: 0 }, { ...plain, key: 'Tab', shiftKey: true }, extent)).toBeNull();
});

test('other keys lead nowhere', () => {
  expect(stepOf({ row: 0, column: 0 }, { ...plain, key: 'a' }, extent)).toBeNull();
  expect(stepOf({ row: 0, column: 0 }, { ...plain, key: 'ArrowUp', altKey: true }, extent)).toBeNull();
});

test('Enter and Tab end the editing of a cell, and go on from it', () => {
  expect([endOf({ key: 'Enter', shiftKey: false }), endOf({ key: 'Enter', shiftKey: true })]).toEqual([
    { row: 1, column: 0 },
    { row: -1, column: 0 },
  ]);
  expect([endOf({ key: 'Tab', shiftKey: true }), endOf({ key: 'a', shiftKey: false })]).toEqual([{ row: 0, column: -1 }, null]);
});

test('a key that writes a sign is told from one that does something', () => {
  expect(isSign({ ...plain, key: 'é' })).toBe(true);
  expect(isSign({ ...plain, key: 'F2' })).toBe(false);
  expect(isSign({ ...plain, key: 'c', ctrlKey: true })).toBe(false);
  // Some keyboards write signs such as @ with both.
  expect(isSign({ ...plain, key: '@', ctrlKey: true, altKey: true })).toBe(true);
});

test('a key begins to edit a cell with its value, with nothing, or with the sign itself', () => {
  const begins = ['Enter', 'F2', 'Delete', 'Backspace', '7', 'ArrowUp'].map((key) => beginOf({ ...plain, key }));
  expect(begins).toEqual([null, null, '', '', '7', undefined]);
});

test('keys that come before the editor of a cell are kept for it', () => {
  const cell: BeforeEditor = { text: null };
  const after = (now: BeforeEditor, key: string) => beforeEditor(now, { ...plain, key });
  expect(after(cell, '4')).toEqual({ text: '4' });
  expect(after({ text: '4' }, '2')).toEqual({ text: '42' });
  expect(after({ text: '42' }, 'Enter')).toEqual({ text: '42', ends: { row: 1, column: 0 } });
  // Its value is selected: a sign takes its place, unless the end of it was gone to before.
  expect(after({ text: null, added: '' }, '2')).toEqual({ text: null, added: '2' });
  expect([after(cell, 'End'), after({ text: '4' }, 'End')]).toEqual([{ text: null, added: '' }, { text: '4' }]);
  // What comes after the end of it is for the cells that follow.
  const left = { text: '42', ends: { row: 1, column: 0 } };
  expect(after(left, 'Escape')).toEqual({ ...left, after: [{ ...plain, key: 'Escape' }] });
  expect(after(cell, 'Escape')).toBeNull();
  expect(after(cell, 'ArrowUp')).toBeUndefined();
});
