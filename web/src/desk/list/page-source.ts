/** Rows by their place in a list, from pages that only know what follows what. */
import type { Cursor, RecordAnswer } from '@bibliona/core';
import type { Block, RowSource } from '../../ui/grid/rows.js';

interface Page {
  readonly records: readonly RecordAnswer[];
  readonly next: Cursor | null;
}
interface Asked {
  readonly after?: string;
}
export interface PageReader {
  /** The first page, if it has come before the list. */
  readonly first?: Page | undefined;
  readonly page: (query: Asked & { readonly limit: number }) => Promise<Page>;
  /** The place so many rows further on. */
  readonly place: (query: Asked & { readonly skip: number }) => Promise<{ readonly skipped: number; readonly next: Cursor | null }>;
}

const longestSkip = 20_000;

/**
 * Reads rows `start` to `end`. It remembers the places where pages ended, so a block that was dropped is read again with one request.
 * A place that was never reached is skipped to from the nearest one that was.
 */
export function pageSource({ first, page, place }: PageReader): Pick<RowSource<RecordAnswer>, 'first' | 'read'> {
  const ends = new Map<number, Cursor | null>([[0, null]]);
  const from = (at: number): Asked => {
    const after = ends.get(at) ?? null;
    return after === null ? {} : { after: JSON.stringify(after) };
  };
  const blockOf = (start: number, { records, next }: Page): Block<RecordAnswer> => {
    if (next !== null) ends.set(start + records.length, next);
    return { rows: records, last: next === null ? start + records.length : undefined };
  };

  const read = async (start: number, end: number): Promise<Block<RecordAnswer>> => {
    let at = Math.max(...[...ends.keys()].filter((known) => known <= start));
    while (at < start) {
      const skip = Math.min(longestSkip, start - at);
      const { skipped, next } = await place({ ...from(at), skip });
      if (next === null || skipped < skip) return { rows: [], last: at + skipped };
      at += skipped;
      ends.set(at, next);
    }
    return blockOf(start, await page({ ...from(start), limit: end - start }));
  };
  return { read, ...(first === undefined ? {} : { first: blockOf(0, first) }) };
}
