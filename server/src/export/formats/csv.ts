import { Readable } from 'node:stream';
import { csvLine } from '@bibliona/core';
import type { ExportSheet, FormatWriter } from './format.js';

// Tells spreadsheets that the text is UTF-8.
const byteOrderMark = '\uFEFF';

export const csv: FormatWriter = (sheet) => Readable.from(lines(sheet));

async function* lines({ columns, pages }: ExportSheet): AsyncGenerator<string> {
  yield (
    byteOrderMark +
    csvLine(
      columns.map((column) => column.name),
      () => true,
    )
  );
  const isWords = (index: number): boolean => columns[index]?.isWords === true;
  for await (const rows of pages) yield rows.map((row) => csvLine(row, isWords)).join('');
}
