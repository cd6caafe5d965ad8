/** What every format of exported files has to offer. */
import type { Readable } from 'node:stream';
import type { Value } from '@bibliona/core';

export interface ExportColumn {
  readonly name: string;
  /** The kind of its values in expressions, such as `date`; null where they are only shown. */
  readonly type: string | null;
  /** Whether its values are words, with which a spreadsheet could calculate. */
  readonly isWords: boolean;
  /** Whether it is there for the way back, and not to be read. */
  readonly isHidden?: boolean;
}

export interface ExportSheet {
  /** What the rows are called. */
  readonly title: string;
  readonly columns: readonly ExportColumn[];
  /** Rows as they are read, several at once. */
  readonly pages: AsyncIterable<readonly ExportRow[]>;
  /** On whose clocks times are shown where a cell has no zone. */
  readonly zone: string;
}
export type ExportRow = readonly Value[];

export type FormatWriter = (sheet: ExportSheet) => Readable;

/** A value as text; a record by what it is called. */
export const cellText = (value: Value): string =>
  value === null ? '' : typeof value === 'boolean' ? (value ? 'yes' : 'no') : typeof value === 'object' ? value.caption : String(value);
