import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { delimiters, QuoteNeverClosed, RowSplitter, splitRows } from './split.js';

function inChunks(text: string, sizes: readonly number[]): { rows: string[][]; lines: number[] } {
  const [rows, lines]: [string[][], number[]] = [[], []];
  const splitter = new RowSplitter(',', (cells, line) => {
    rows.push(cells);
    lines.push(line);
  });
  for (let at = 0, i = 0; at < text.length; i += 1) {
    const size = Math.max(1, sizes[i % sizes.length] ?? 1);
    splitter.push(text.slice(at, at + size));
    at += size;
  }
  splitter.end();
  return { rows, lines };
}

describe('splitRows', () => {
  test.each<[string, string, string[][]]>([
    [
      'plain rows',
      'a,b\nc,d\n',
      [
        ['a', 'b'],
        ['c', 'd'],
      ],
    ],
    [
      'no end of line at the end',
      'a,b\nc,d',
      [
        ['a', 'b'],
        ['c', 'd'],
      ],
    ],
    [
      'mixed line ends',
      'a,b\r\nc,d\re,f\ng,h',
      [
        ['a', 'b'],
        ['c', 'd'],
        ['e', 'f'],
        ['g', 'h'],
      ],
    ],
    [
      'a quoted line end and delimiter',
      '"a\nb","c,d"\ne,f',
      [
        ['a\nb', 'c,d'],
        ['e', 'f'],
      ],
    ],
    ['a doubled quote', '"a ""b"" c",d', [['a "b" c', 'd']]],
    [
      'a quote inside a bare cell',
      'a 5" pipe,b\nc,d',
      [
        ['a 5" pipe', 'b'],
        ['c', 'd'],
      ],
    ],
    ['a quote inside a quoted cell', '"the "old" hive",b', [['the "old" hive', 'b']]],
    [
      'blank lines',
      '\n\na,b\n\nc,d\n\n',
      [
        ['a', 'b'],
        ['c', 'd'],
      ],
    ],
    [
      'empty cells',
      ',,\n"",""',
      [
        ['', '', ''],
        ['', ''],
      ],
    ],
    ['a quoted cell at the end', 'a,"b"\n"c"', [['a', 'b'], ['c']]],
    [
      'a row that ends with an empty cell after a quoted one',
      '"a",\nb,',
      [
        ['a', ''],
        ['b', ''],
      ],
    ],
  ])('%s', (_, text, rows) => expect(splitRows(text, ',')).toEqual(rows));

  test('a quote that is never closed is named with its line', () => {
    expect(() => splitRows('a,b\nc,"d\ne,f\n', ',')).toThrow(new QuoteNeverClosed(2));
  });

  test('lines are counted through quoted line ends and blank lines', () => {
    expect(inChunks('a\n\n"b\r\nc",d\ne\n', [3]).lines).toEqual([1, 3, 5]);
  });

  const cell = fc.string({ unit: fc.constantFrom('a', 'é', ',', ';', '"', '\n', '\r', '\r\n', ' ', '\t', '🐝'), maxLength: 8 });
  const quoted = (text: string, delimiter: string): string =>
    text === '' || text.includes(delimiter) || /["\r\n]/u.test(text) ? `"${text.replaceAll('"', '""')}"` : text;

  test('what was written by RFC 4180 reads back, in chunks of any size', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(cell, { minLength: 1, maxLength: 5 }), { minLength: 1, maxLength: 8 }),
        fc.constantFrom('\n', '\r\n', '\r'),
        fc.array(fc.integer({ min: 1, max: 7 }), { minLength: 1 }),
        (rows, end, sizes) => {
          const text = rows.map((row) => row.map((each) => quoted(each, ',')).join(',') + end).join('');
          expect(inChunks(text, sizes).rows).toEqual(rows);
        },
      ),
      { numRuns: 500 },
    );
  });

  test('any text at all ends in rows or in the one named error, the same in chunks as at once', () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom('a', ',', '"', '\n', '\r', ';'), maxLength: 40 }), fc.integer({ min: 1, max: 5 }), (text, size) => {
        const attempt = (read: () => string[][]): unknown => {
          try {
            return read();
          } catch (error) {
            expect(error).toBeInstanceOf(QuoteNeverClosed);
            return 'never closed';
          }
        };
        expect(attempt(() => inChunks(text, [size]).rows)).toEqual(attempt(() => splitRows(text, ',')));
      }),
      { numRuns: 1000 },
    );
  });

  test('every delimiter cuts', () => {
    for (const delimiter of delimiters) expect(splitRows(`a${delimiter}b`, delimiter)).toEqual([['a', 'b']]);
    expect(delimiters.length).toBeGreaterThan(3);
  });
});
