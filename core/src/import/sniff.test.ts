import { describe, expect, test } from 'vitest';
import { columnNames, sniffDelimiter, sniffEncoding, sniffHeading } from './sniff.js';

const bytes = (...values: number[]): Uint8Array => Uint8Array.from(values);
const utf16 = (text: string): Uint8Array => Uint8Array.from([...text].flatMap((letter) => [letter.charCodeAt(0), 0]));

describe('sniffEncoding', () => {
  test.each([
    ['UTF-16 with its mark', bytes(0xff, 0xfe, 0x61, 0), 'utf-16le'],
    ['UTF-16, big end first, with its mark', bytes(0xfe, 0xff, 0, 0x61), 'utf-16be'],
    ['UTF-16 without a mark', utf16('name,date\na,b\n'), 'utf-16le'],
    ['plain text', bytes(0x61, 0x2c, 0x62), 'utf-8'],
    ['UTF-8 with its mark', bytes(0xef, 0xbb, 0xbf, 0x61), 'utf-8'],
  ])('%s', (_, head, encoding) => expect(sniffEncoding(head)).toEqual({ kind: 'text', encoding }));
  test.each([
    ['a PDF', bytes(0x25, 0x50, 0x44, 0x46)],
    ['something with NULs', bytes(0x61, 0, 0, 0, 0x62, 0x63, 0x64, 0x65)],
  ])('%s is told apart', (_, head) => expect(sniffEncoding(head).kind).toBe('not_text'));
});

describe('sniffDelimiter', () => {
  test.each([
    ['a,b,c\n1,2,3\n', ','],
    ['a;b;c\n1,5;2,5;3\n', ';'],
    ['a\tb\n"x, y"\tz\n', '\t'],
    ['a|b\nc|d\n', '|'],
    ['only one column\nof words, some with commas\n', ','],
  ])('%j is parted by %j', (sample, delimiter) => expect(sniffDelimiter(sample)).toBe(delimiter));
});

describe('sniffHeading', () => {
  test.each([
    [
      'words over numbers',
      [
        ['Name', 'Mites'],
        ['H-1', '3'],
      ],
      true,
    ],
    [
      'a number in the first row',
      [
        ['H-1', '3'],
        ['H-2', '4'],
      ],
      false,
    ],
    [
      'a date in the first row',
      [
        ['H-1', '2026-09-14'],
        ['H-2', '2026-09-15'],
      ],
      false,
    ],
    [
      'values that come again',
      [
        ['Low', 'Moor'],
        ['Fair', 'Moor'],
        ['Low', 'Coast'],
      ],
      false,
    ],
    [
      'words over words',
      [
        ['Stores', 'Region'],
        ['Low', 'Moor'],
      ],
      true,
    ],
    ['one row of words alone: a heading without records', [['Name']], true],
    ['one row of values alone', [['H-1', '12']], false],
  ])('%s', (_, rows, expected) => expect(sniffHeading(rows)).toBe(expected));
});

test('columns are named whatever the heading says', () => {
  expect(columnNames(['Name', '', 'name', 'a\n"b"', ' '], 6)).toEqual(['Name', 'Column 2', 'name 2', 'a b', 'Column 5', 'Column 6']);
});
