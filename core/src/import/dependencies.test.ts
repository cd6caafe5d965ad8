import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { CodedColumn, Dependencies, folded, grouped, measure } from './dependencies.js';

const coded = (cells: readonly string[]): CodedColumn => {
  const column = new CodedColumn();
  for (const cell of cells) column.see(cell);
  return column;
};

/** How few rows must change so that each name has one value: found by trying every value for every name. */
function fewest(rows: readonly (readonly [name: string, value: string])[]): number {
  const names = new Set(rows.map(([name]) => folded(name)));
  let sum = 0;
  for (const name of names) {
    const values = rows.filter((row) => folded(row[0]) === name).map(([, value]) => value.trim());
    const tries = name === '' ? [''] : values;
    sum += Math.min(...tries.map((kept) => values.filter((value) => value !== kept).length));
  }
  return sum;
}

const cells = fc.constantFrom('', 'a', 'A', ' a', 'b', 'b  c', 'B c', 'd');

test('the rows that differ are as few as trying every value finds', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(cells, cells), { minLength: 1, maxLength: 30 }), (rows) => {
      const [names, values] = [coded(rows.map(([name]) => name)), coded(rows.map(([, value]) => value))];
      expect(measure(grouped(names), values, Infinity).differing).toBe(fewest(rows));
    }),
  );
});

test('rows of one name are beside each other, and the nameless ones are first', () => {
  fc.assert(
    fc.property(fc.array(cells, { minLength: 1, maxLength: 30 }), (column) => {
      const { rows, starts } = grouped(coded(column));
      expect([...rows].sort((a, b) => a - b)).toEqual(column.map((_, i) => i));
      const parts = starts.map((start, i) => [...rows.subarray(start, starts[i + 1] ?? rows.length)].map((row) => folded(column[row] ?? '')));
      expect(parts[0]?.every((name) => name === '')).toBe(true);
      expect(parts.slice(1).map((part) => new Set(part).size)).toEqual(parts.slice(1).map(() => 1));
      expect(new Set(parts.flatMap((part) => part.slice(0, 1))).size).toBe(new Set(column.map(folded)).size);
    }),
  );
});

describe('what follows from what', () => {
  const rows = Array.from({ length: 60 }, (_, i) => [
    `H-${i % 12}`,
    `Site ${i % 4}`,
    ['Moor', 'Coast', 'Moor', 'Valley'][i % 4] as string,
    String((i * 7) % 5),
  ]);
  const followers = (kinds: readonly ('text' | 'date' | 'decimal')[], of: readonly (readonly string[])[] = rows): string[] => {
    const found = new Dependencies(
      kinds.map((_, at) => coded(of.map((row) => row[at] ?? ''))),
      kinds,
    );
    return kinds.flatMap((_, key) => kinds.flatMap((__, column) => (found.follows(column, key) ? [`${key}→${column}`] : [])));
  };

  test('is what repeats often enough not to be chance', () => {
    expect(followers(['text', 'text', 'text', 'text'])).toEqual(['0→1', '0→2', '1→2']);
    expect(followers(['text', 'text', 'text', 'text'], rows.slice(0, 8))).toEqual([]);
  });
  test('is nothing that follows from a day or an amount', () => {
    expect(followers(['date', 'decimal', 'text', 'text'])).toEqual([]);
  });
  test('lets a slip pass, and not two values that are both common', () => {
    const slipped = rows.map((row, i) => (i === 9 ? row.with(2, 'Cosat') : row));
    expect(followers(['text', 'text', 'text', 'text'], slipped)).toContain('1→2');
    const torn = rows.map((row, i) => (i % 8 === 1 ? row.with(2, 'Inland') : row));
    expect(followers(['text', 'text', 'text', 'text'], torn)).not.toContain('1→2');
  });
  test('is not asked of prose, nor of what is the same everywhere', () => {
    const prose = rows.map((row) => [row[0] ?? '', `${row[1]} ${'so it goes '.repeat(30)}`, 'UK', row[3] ?? '']);
    expect(followers(['text', 'text', 'text', 'text'], prose)).toEqual([]);
  });
});
