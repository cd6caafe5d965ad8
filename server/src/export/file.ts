/** What is saved as a file, no matter what it is made of. */
import type { Readable } from 'node:stream';
import { exportFormats, rightsOf, type ExportFormatName, type HttpRoute, type Person, type Table } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import type { z } from 'zod';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { formatWriters, type ExportSheet } from './formats/index.js';

/** Rows that are written at once. */
export const pageOfRows = 1000;

/** A file that is made as it is read. */
export interface FileInTheMaking {
  readonly name: string;
  readonly type: string;
  readonly content: Readable;
}

/** Told how many rows a file will have, and how many of them have been read; absent: nobody asks. */
export interface Watch {
  readonly rows: (count: number) => void;
  readonly read: (count: number) => void;
}

/** Begins to make the file that a route answers with. @throws Refusal */
export type FileMaker<R extends HttpRoute> = (
  database: DataSource,
  who: { readonly app: OpenedApp; readonly person: Person },
  asked: { readonly params: z.output<R['params']>; readonly query: z.output<R['query']> },
  watch?: Watch,
) => Promise<FileInTheMaking>;

/** @throws Refusal forbidden */
export function mustExport(app: OpenedApp, person: Person, table: Table): void {
  if (!rightsOf(app.design, person, table).export) throw new Refusal('forbidden', `You don't have permission to export records of ${table.name} as a file.`);
}

/** A name that every system takes for a file. */
export const fileNamed = (name: string, ending: string): string => `${name.replace(/[^\p{L}\p{N} ._-]/gu, ' ').trim() || 'records'}.${ending}`;

/** Rows as a file of this format, written as they are read. */
export const sheetFile = (format: ExportFormatName, sheet: ExportSheet): FileInTheMaking => ({
  name: fileNamed(sheet.title, format),
  type: exportFormats[format].type,
  content: formatWriters[format](sheet),
});
