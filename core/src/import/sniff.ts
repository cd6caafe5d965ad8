/** Tells from the first bytes and rows of a file how it is written. */
import { parseDate } from '../values/dates.js';
import { parseNumber } from '../values/numbers.js';
import { delimiters, splitRows, type Delimiter } from './split.js';

/** Labels of the WHATWG Encoding Standard. */
export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';
export const encodings = ['utf-8', 'utf-16le', 'utf-16be', 'windows-1252'] as const satisfies readonly Encoding[];

export type FileSort = { readonly kind: 'text'; readonly encoding: Encoding } | { readonly kind: 'not_text'; readonly problem: string };

const startsWith = (bytes: Uint8Array, ...head: number[]): boolean => head.every((byte, i) => bytes[i] === byte);

/**
 * UTF-8 is assumed until a byte says otherwise: a reader that meets one that is not UTF-8 reads again as
 * windows-1252, in which every byte means something.
 */
export function sniffEncoding(head: Uint8Array): FileSort {
  if (startsWith(head, 0x25, 0x50, 0x44, 0x46)) return { kind: 'not_text', problem: 'This is a PDF. Ask for the rows as CSV.' };
  if (startsWith(head, 0xff, 0xfe)) return { kind: 'text', encoding: 'utf-16le' };
  if (startsWith(head, 0xfe, 0xff)) return { kind: 'text', encoding: 'utf-16be' };
  let [even, odd] = [0, 0];
  for (let i = 0; i < head.length; i += 1) if (head[i] === 0) i % 2 === 0 ? (even += 1) : (odd += 1);
  const half = head.length / 2;
  if (odd > half * 0.3 && even < half * 0.05) return { kind: 'text', encoding: 'utf-16le' };
  if (even > half * 0.3 && odd < half * 0.05) return { kind: 'text', encoding: 'utf-16be' };
  if (even + odd > 0) return { kind: 'not_text', problem: 'This file is not text. Save the rows as CSV.' };
  return { kind: 'text', encoding: 'utf-8' };
}

/** The delimiter that cuts most rows of the sample into the same number of cells, and more than one. */
export function sniffDelimiter(sample: string): Delimiter {
  let best: { delimiter: Delimiter; score: number } = { delimiter: ',', score: 0 };
  for (const delimiter of delimiters) {
    let rows: string[][];
    try {
      rows = splitRows(sample, delimiter).slice(0, 100);
    } catch {
      continue; // A quote that the sample leaves open says nothing for this delimiter.
    }
    const counts = new Map<number, number>();
    for (const row of rows) counts.set(row.length, (counts.get(row.length) ?? 0) + 1);
    const [cells, times] = [...counts].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0] ?? [1, 0];
    const score = cells < 2 ? 0 : (times / rows.length) * (1 + cells / 1000);
    if (score > best.score) best = { delimiter, score };
  }
  return best.delimiter;
}

/** How many rows are above the table, such as a title and its date: rows of one cell above rows of several. */
export function sniffTitles(rows: readonly (readonly string[])[]): number {
  const filled = rows.map((row) => row.filter((cell) => cell.trim() !== '').length);
  const usual = [...filled].sort((a, b) => a - b)[Math.floor(filled.length / 2)] ?? 0;
  if (usual < 3) return 0;
  const first = filled.findIndex((cells) => cells > 1);
  return first < 1 || first > 20 ? 0 : first;
}

/** Whether the first row names the columns: names are words, and no two of them the same unless the file is careless. */
export function sniffHeading(rows: readonly (readonly string[])[]): boolean {
  const [first, ...others] = rows;
  if (first === undefined) return false;
  const filled = first.filter((cell) => cell.trim() !== '');
  if (filled.length === 0) return false;
  if (filled.some((cell) => isValue(cell))) return false;
  // A file of one row of words is a heading without records.
  if (others.length === 0) return true;
  // All words: a heading unless one of its words turns up below it in the same column, as values do.
  return !first.some((cell, i) => cell.trim() !== '' && others.some((row) => row[i] === cell));
}

const isValue = (cell: string): boolean => parseNumber(cell) !== null || parseNumber(cell, 'comma') !== null || (/\d/u.test(cell) && parseDate(cell) !== null);

/** A name for every column: headings as they are, empty ones by their place, repeated ones with a number. */
export function columnNames(heading: readonly string[] | null, columns: number): string[] {
  const used = new Set<string>();
  return Array.from({ length: columns }, (_, i) => {
    const wanted =
      (heading?.[i] ?? '')
        .replace(/[\p{C}"\s]+/gu, ' ')
        .trim()
        .slice(0, 55) || `Column ${i + 1}`;
    let name = wanted;
    for (let n = 2; used.has(name.toLowerCase()); n += 1) name = `${wanted} ${n}`;
    used.add(name.toLowerCase());
    return name;
  });
}
