/** Rows by their place in a list, from pages that only know what follows what. */
import type { Cursor, RecordAnswer } from '@bibliona/core';

interface Page {
  readonly records: readonly RecordAnswer[];
  readonly next: Cursor | null;
}
export type ReadPage = (query: { readonly limit: number; readonly after?: string }) => Promise<Page>;

const longestStep = 500;

export interface Block {
  readonly rows: RecordAnswer[];
  /** How many rows there are, once the end has been seen. */
  readonly last: number | undefined;
}

/**
 * The function that reads rows `start` to `end`. Places where a page ended are remembered, so that a block that was let
 * go is read again at once; a place never reached before is walked to in long steps from the nearest one that was.
 */
export function pageSource(readPage: ReadPage): (start: number, end: number) => Promise<Block> {
  const ends = new Map<number, Cursor | null>([[0, null]]);

  async function read(from: number, limit: number): Promise<Page> {
    const after = ends.get(from) ?? null;
    const page = await readPage({ limit, ...(after === null ? {} : { after: JSON.stringify(after) }) });
    if (page.next !== null) ends.set(from + page.records.length, page.next);
    return page;
  }

  return async (start, end) => {
    let at = Math.max(...[...ends.keys()].filter((place) => place <= start));
    while (at < start) {
      const page = await read(at, Math.min(longestStep, start - at));
      at += page.records.length;
      if (page.next === null) return { rows: [], last: at };
    }
    const page = await read(start, end - start);
    return { rows: [...page.records], last: page.next === null ? start + page.records.length : undefined };
  };
}
