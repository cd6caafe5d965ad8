/** How a file is read: what it is, and what a person can say about it. */
import { z } from 'zod';
import { encodings } from './sniff.js';
import { delimiters } from './split.js';

interface FileFormat {
  /** What a person can choose about a file of this format. */
  readonly asks: readonly ('delimiter' | 'encoding' | 'heading' | 'skip' | 'part' | 'range')[];
  /** What one part of the file is called, where it has several. */
  readonly part: string;
  /** What rows are counted in. */
  readonly unit: string;
  /** Numbers are numbers and no words that have to be read: a mark in them can only begin the fraction. */
  readonly isTyped: boolean;
  /** Texts that look like a calculation have a mark in front, so that spreadsheets don't calculate. */
  readonly isGuarded: boolean;
}

/** The formats of files that an import reads. What is in a file decides which it is; its name does not. */
export const fileFormats = {
  text: { asks: ['delimiter', 'encoding', 'heading', 'skip'], part: '', unit: 'Line', isTyped: false, isGuarded: true },
  workbook: { asks: ['part', 'range', 'heading', 'skip'], part: 'Sheet', unit: 'Row', isTyped: true, isGuarded: false },
  json: { asks: ['part'], part: 'List', unit: 'Entry', isTyped: true, isGuarded: false },
} as const satisfies Record<string, FileFormat>;
export type FileFormatName = keyof typeof fileFormats;

const formatNames = Object.keys(fileFormats) as [FileFormatName, ...FileFormatName[]];
export const fileFormatOf = (name: FileFormatName): FileFormat => fileFormats[name];

/** Cells of a sheet as spreadsheets name them: `B3:F200`, whole columns `B:F`, whole rows `3:200`; empty: all of them. */
const CellRange = z
  .string()
  .max(40)
  .regex(/^(?:[A-Za-z]{1,3}\d{1,7}:[A-Za-z]{1,3}\d{1,7}|[A-Za-z]{1,3}:[A-Za-z]{1,3}|\d{1,7}:\d{1,7})?$/u, 'Enter the range as B3:F200, B:F or 3:200.');

const shape = {
  format: z.enum(formatNames),
  encoding: z.enum(encodings),
  delimiter: z.enum(delimiters),
  heading: z.boolean(),
  /** Rows that name the columns, one above the other. */
  headingRows: z.number().int().min(1).max(3),
  /** Rows above the heading or the first record, such as a title: they are left out. */
  skip: z.number().int().min(0).max(100),
  /** Which sheet of a workbook, or which list of a JSON file. */
  part: z.string().max(200),
  range: CellRange,
};
// Plans from before a file had formats say nothing of them.
export const FileReading = z.object({
  ...shape,
  format: shape.format.default('text'),
  headingRows: shape.headingRows.default(1),
  skip: shape.skip.default(0),
  part: shape.part.default(''),
  range: shape.range.default(''),
});
export type FileReading = z.infer<typeof FileReading>;

/** What a person says about a file; the rest is as it was. */
export const ReadingChoice = z.object(shape).omit({ format: true }).partial();
export type ReadingChoice = Partial<FileReading>;

export interface Range {
  /** All from 1; the last column or row can be infinite. */
  readonly firstRow: number;
  readonly lastRow: number;
  readonly firstColumn: number;
  readonly lastColumn: number;
}

/** The number of a column of a sheet: A is 1, Z is 26, AA is 27. */
export function columnNumber(letters: string): number {
  let sum = 0;
  for (let i = 0; i < letters.length; i += 1) sum = sum * 26 + (letters.charCodeAt(i) & 31);
  return sum;
}

/** The rows and columns that a range names; its corners can stand in any order. */
export function rangeOf(text: string): Range {
  const [, a = '', b = '', c = '', d = ''] = /^([A-Za-z]*)(\d*):([A-Za-z]*)(\d*)$/u.exec(text.trim()) ?? [];
  const between = (each: number, other: number): readonly [number, number] => (each === 0 ? [1, Infinity] : [Math.min(each, other), Math.max(each, other)]);
  const [firstColumn, lastColumn] = between(columnNumber(a), columnNumber(c));
  const [firstRow, lastRow] = between(Number(b), Number(d));
  return { firstRow, lastRow, firstColumn, lastColumn };
}
