/** What every format of files has to offer, so that the rest of an import knows rows of cells alone. */
import type { FileReading, ReadingChoice } from '@bibliona/core';

/** Raised when the file is not what an import can read; the message is for the person who chose the file. */
export class FileUnreadable extends Error {}

/** Called after each part of the file with the rows in it and how much has gone through (0 to 1); the next part waits for it. */
export type OnRows = (rows: readonly string[][], lines: readonly number[], part: number) => Promise<void>;

/** What is in a file before any heading or title has been looked for. */
export interface FileStart {
  readonly reading: Pick<FileReading, 'format' | 'encoding' | 'delimiter' | 'part' | 'range'>;
  /** The sheets of a workbook, or the lists of a JSON file; none where a file has one part only. */
  readonly parts: readonly string[];
  /** Goes through the rows, each with the line on which it begins. @throws FileUnreadable */
  readonly rows: (onRows: OnRows) => Promise<void>;
  /** How many cells of a column the file formats as money, of those read so far, and the currency; null: none, or several currencies. */
  readonly amountsIn?: (column: number) => { readonly currency: string; readonly cells: number } | null;
  /** Whether the first row names the columns and how many rows do so; null: the rows themselves have to tell. */
  readonly headingAt: (line: number) => { readonly heading: boolean; readonly headingRows: number } | null;
  /** How to begin again after an error of the first attempt; null: the error stands. */
  readonly again?: (error: unknown) => Promise<FileStart | null>;
}

export interface FormatReader {
  /** Whether the first bytes are of this format. */
  readonly isOne: (head: Buffer) => boolean;
  /** @throws FileUnreadable */
  readonly begin: (file: { readonly path: string; readonly size: number; readonly head: Buffer }, wanted: ReadingChoice) => Promise<FileStart>;
}

/** So much of a file is read at once, and so much of it is looked at to tell what it is. */
export const chunkSize = 256 * 1024;

/** A cell longer than this, in characters, is a fault of the file. */
export const longestCell = 1_000_000;
