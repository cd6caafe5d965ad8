/** What is saved as a file, no matter what it is made of. */
import type { Readable } from 'node:stream';
import { exportFormats, rightsOf, type ExportFormatName, type Person, type Table } from '@bibliona/core';
import type { Context } from 'koa';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { formatWriters, type ExportSheet } from './formats/index.js';

/** Rows that are written at once. */
export const pageOfRows = 1000;

/** @throws Refusal forbidden */
export function mustExport(app: OpenedApp, person: Person, table: Table): void {
  if (!rightsOf(app.design, person, table).export) throw new Refusal('forbidden', `You don't have permission to export records of ${table.name} as a file.`);
}

/** A name that every system takes for a file. */
export const fileNamed = (name: string, ending: string): string => `${name.replace(/[^\p{L}\p{N} ._-]/gu, ' ').trim() || 'records'}.${ending}`;

/** Sends rows as a file of this format, as they are read. */
export function sendAs(context: Context, format: ExportFormatName, sheet: ExportSheet): Readable {
  context.type = exportFormats[format].type;
  context.attachment(fileNamed(sheet.title, format));
  return formatWriters[format](sheet);
}
