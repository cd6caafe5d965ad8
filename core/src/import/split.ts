/** Cuts delimited text (RFC 4180, and what exports make of it) into rows, in chunks of any size. */

import { standardLocale } from '../values/locale.js';

export type Delimiter = ',' | ';' | '\t' | '|';
export const delimiters = [',', ';', '\t', '|'] as const satisfies readonly Delimiter[];

/** A row and the line of the file on which it begins, counted from 1. */
export type EmitRow = (cells: string[], line: number) => void;

// A quoted cell longer than this is a quote that somebody forgot to close, not a text.
const longestCell = 1_000_000;

/** Longer rows, or rows of more cells, are no rows of a table: the file is something else, or cut by the wrong mark. */
const [longestRow, mostCells] = [4_000_000, 20_000];

/** Raised when a row is longer than any row of a table. */
export class RowTooLong extends Error {
  constructor(readonly line: number) {
    super(
      `Line ${line} is longer than ${longestRow / 1_000_000} million characters or has more than ${standardLocale().count(mostCells)} cells. Check the separator and the quotes`,
    );
  }
}

/** Raised when a quote is opened and never closed. */
export class QuoteNeverClosed extends Error {
  constructor(readonly line: number) {
    super(`The quote that opens in line ${line} is never closed`);
  }
}

/**
 * Beyond RFC 4180: lines can end in CR LF, LF or CR, all in one file; a quote inside a cell that is not quoted is a
 * character like any other; a quote inside a quoted cell closes it only before a delimiter or the end of the line, so
 * that `"the "old" hive"` reads as it was meant; lines without any character are passed over.
 */
export class RowSplitter {
  private rest = '';
  private line = 1;
  private restFrom = 0;

  constructor(
    private readonly delimiter: Delimiter,
    private readonly onRow: EmitRow,
  ) {}

  private emit(cells: string[], line: number): void {
    if (cells.length > mostCells) throw new RowTooLong(line);
    this.onRow(cells, line);
  }

  /** @throws QuoteNeverClosed, RowTooLong */
  push(chunk: string): void {
    this.cut(this.rest + chunk, false);
  }

  /** @throws QuoteNeverClosed, RowTooLong */
  end(): void {
    this.cut(this.rest, true);
    this.rest = '';
  }

  private cut(text: string, isEnd: boolean): void {
    let at = 0;
    // What is already known to hold no line end is not searched again when a long row arrives in many chunks.
    let from = this.restFrom;
    // Searched once and again only when passed: looking for it line by line would read each chunk to its end every time.
    let quote = text.indexOf('"');
    for (;;) {
      const feed = this.lineEnd(text, Math.max(from, at), isEnd);
      if (quote >= 0 && quote < at) quote = text.indexOf('"', at);
      if (quote >= 0 && (feed < 0 || quote < feed)) {
        const next = this.quotedRow(text, at, isEnd);
        if (next < 0) break;
        at = next;
        from = next;
        continue;
      }
      if (feed < 0) break;
      if (feed > at) this.emit(text.slice(at, feed).split(this.delimiter), this.line);
      this.line += 1;
      at = text[feed] === '\r' && text[feed + 1] === '\n' ? feed + 2 : feed + 1;
    }
    this.rest = text.slice(at);
    if (this.rest.length > longestRow) throw new RowTooLong(this.line);
    this.restFrom = this.rest.includes('"') ? 0 : Math.max(0, this.rest.length - 1);
    if (isEnd && this.rest !== '') {
      this.emit(this.rest.split(this.delimiter), this.line);
      this.rest = '';
    }
  }

  /** The next LF or CR; a CR that ends the chunk waits, for its LF may come with the next one. */
  private lineEnd(text: string, at: number, isEnd: boolean): number {
    const feed = text.indexOf('\n', at);
    // The usual CR stands just before its LF, where looking costs nothing; the slice is one line, not the whole chunk.
    const line = feed < 0 ? text.slice(at) : text.slice(at, feed);
    const back = line.indexOf('\r');
    if (back < 0) return feed;
    return at + back === text.length - 1 && !isEnd ? -1 : at + back;
  }

  /** Reads one row that has quotes; the position after it, or -1 when the row is not whole yet. */
  private quotedRow(text: string, start: number, isEnd: boolean): number {
    const cells: string[] = [];
    const { delimiter } = this;
    let at = start;
    let lines = 0;
    for (;;) {
      if (text[at] === '"') {
        const close = this.closing(text, at + 1, isEnd);
        if (close < 0) {
          if (isEnd || text.length - at > longestCell) throw new QuoteNeverClosed(this.line + lines);
          return -1;
        }
        const inside = text.slice(at + 1, close);
        lines += inside.split(/\r\n|\r|\n/u).length - 1;
        cells.push(inside.includes('"') ? inside.replaceAll('""', '"') : inside);
        at = close + 1;
      } else {
        const end = this.plainEnd(text, at);
        cells.push(text.slice(at, end));
        at = end;
      }
      if (at >= text.length) {
        if (!isEnd) return -1;
        break;
      }
      if (text[at] === delimiter) {
        at += 1;
        continue;
      }
      if (text[at] === '\r' && at + 1 >= text.length && !isEnd) return -1;
      at += text[at] === '\r' && text[at + 1] === '\n' ? 2 : 1;
      break;
    }
    this.emit(cells, this.line);
    this.line += lines + 1;
    return at;
  }

  private plainEnd(text: string, at: number): number {
    let end = at;
    while (end < text.length && text[end] !== this.delimiter && text[end] !== '\n' && text[end] !== '\r') end += 1;
    return end;
  }

  /** The quote that closes a cell: the first that is neither doubled nor followed by more of the cell. */
  private closing(text: string, from: number, isEnd: boolean): number {
    let at = from;
    for (;;) {
      const quote = text.indexOf('"', at);
      if (quote < 0) return -1;
      const next = text[quote + 1];
      if (next === '"') {
        at = quote + 2;
        continue;
      }
      if (next === undefined) return isEnd ? quote : -1;
      if (next === this.delimiter || next === '\n' || next === '\r') return quote;
      at = quote + 1;
    }
  }
}

/** All rows of a text at once: for samples and tests. */
export function splitRows(text: string, delimiter: Delimiter): string[][] {
  const rows: string[][] = [];
  const splitter = new RowSplitter(delimiter, (cells) => rows.push(cells));
  splitter.push(text);
  splitter.end();
  return rows;
}
