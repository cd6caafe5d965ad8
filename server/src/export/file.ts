/** What is saved as a file, no matter what it is made of. */
import { Readable } from 'node:stream';
import { rightsOf, type Person, type Table } from '@bibliona/core';
import type { Context } from 'koa';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';

// Tells spreadsheets that the text is UTF-8.
export const byteOrderMark = '\uFEFF';
/** Rows that are written at once. */
export const pageOfRows = 1000;

/** @throws Refusal forbidden */
export function mustExport(app: OpenedApp, person: Person, table: Table): void {
  if (!rightsOf(app.design, person, table).export) throw new Refusal('forbidden', `You don't have permission to export records of ${table.name} as a file.`);
}

/** A name that every system takes for a file. */
export const fileNamed = (name: string, ending: string): string => `${name.replace(/[^\p{L}\p{N} ._-]/gu, ' ').trim() || 'records'}.${ending}`;

export function send(context: Context, name: string, lines: AsyncIterable<string>): Readable {
  context.type = 'text/csv; charset=utf-8';
  context.attachment(fileNamed(name, 'csv'));
  return Readable.from(lines);
}
