/** Which record a row of a file is about: by the number that the record has, or by what some of its fields say. */
import { z } from 'zod';
import { withoutGuard } from '../export/csv.js';
import { kindOf } from '../fields/kinds.js';
import { Id } from '../shapes/shapes.js';
import type { CellColumn } from './convert.js';

/** What happens with rows: `add`: each adds a record; `update`: only records that match are changed; `both`; `replace`: also, records that no row matches are removed. */
export const rowModes = ['add', 'both', 'update', 'replace'] as const;

export const Matching = z.object({
  mode: z.enum(rowModes),
  /** Fields that a row and its record have in common, where no column has record numbers. */
  by: z.array(Id).max(8),
  /** Whether capital letters and blanks make no difference. */
  isLoose: z.boolean(),
});
export type Matching = z.infer<typeof Matching>;

/** Where rows name no records, each adds one; where they name them by number, others are added. */
export const plainMatching: Matching = { mode: 'both', by: [], isLoose: true };

/** The record of a row: `null` where there is none, a problem where it can't be told; `unreadable`: a cell that it is matched by has a fault of its own. */
export type RecordFinder = (cells: readonly string[], line: number) => number | null | FinderProblem | 'unreadable';
export interface FinderProblem {
  /** Heading of the column. */
  readonly column: string;
  readonly value: string;
  readonly problem: string;
}

/** Finds records by their numbers; no number: the row has no record. Each can be named once. */
export function byNumber({ name, at }: { readonly name: string; readonly at: number }): RecordFinder {
  const seen = new Map<number, number>();
  return (cells, line) => {
    const value = (cells[at] ?? '').trim();
    if (value === '') return null;
    if (!/^[1-9]\d{0,14}$/u.test(value)) return { column: name, value, problem: 'is not the number of a record' };
    const record = Number(value);
    const first = seen.get(record);
    if (first !== undefined) return { column: name, value, problem: `is in line ${first} already` };
    seen.set(record, line);
    return record;
  };
}

/** Records by what the fields say that rows are matched by: `null` where several say the same. */
export type KeyIndex = ReadonlyMap<string, number | null>;

const loose = (text: string): string => text.trim().replace(/\s+/gu, ' ').toLowerCase();

/** One text for values that count as the same; null when all are empty: nothing is matched by nothing. */
export function keyOf(columns: readonly Pick<CellColumn, 'field'>[], printed: readonly (string | null)[], isLoose: boolean): string | null {
  if (printed.every((each) => each === null)) return null;
  const parts = columns.map(({ field }, i) => {
    const found = printed[i] ?? null;
    const key = found === null ? null : kindOf(field).cells.key(found, field);
    return key === null || !isLoose ? key : loose(key);
  });
  return JSON.stringify(parts);
}

/** Finds records by the values of some columns. Two rows can't be about the same record, nor add the same one twice. */
export function byFields(
  columns: readonly CellColumn[],
  index: KeyIndex,
  { isLoose, isGuarded }: { readonly isLoose: boolean; readonly isGuarded: boolean },
): RecordFinder {
  const readers = columns.map(({ field, reading, captions }) => kindOf(field).cells.reader?.(field, reading, captions));
  const seen = new Map<string, number>();
  const [first] = columns;
  return (cells, line) => {
    const texts = columns.map(({ at }) => (isGuarded ? withoutGuard(cells[at] ?? '') : (cells[at] ?? '')));
    const printed: (string | null)[] = [];
    for (const [i, text] of texts.entries()) {
      if (text.trim() === '') {
        printed.push(null);
        continue;
      }
      const read = readers[i]?.(text);
      if (typeof read !== 'string') return 'unreadable';
      printed.push(read);
    }
    const key = keyOf(columns, printed, isLoose);
    if (key === null) return null;
    const problem = (text: string): FinderProblem => ({ column: first?.name ?? '', value: texts.join(' · '), problem: text });
    const before = seen.get(key);
    if (before !== undefined) return problem(`is in line ${before} already, and rows are matched by it`);
    seen.set(key, line);
    const record = index.get(key);
    return record === null ? problem('matches more than one record') : (record ?? null);
  };
}
