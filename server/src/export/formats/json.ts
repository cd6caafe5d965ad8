import { Readable } from 'node:stream';
import type { Value } from '@bibliona/core';
import type { ExportColumn, ExportSheet, FormatWriter } from './format.js';

/** One list of objects (RFC 8259), one in each line. */
export const json: FormatWriter = (sheet) => Readable.from(entries(sheet));

async function* entries({ columns, pages }: ExportSheet): AsyncGenerator<string> {
  const keys = columns.map((column) => JSON.stringify(column.name));
  let before = '[\n';
  for await (const rows of pages) {
    let part = '';
    for (const row of rows) {
      part += `${before}{${columns.map((column, at) => `${keys[at]}:${written(row[at] ?? null, column)}`).join(',')}}`;
      before = ',\n';
    }
    if (part !== '') yield part;
  }
  yield before === '[\n' ? '[]\n' : '\n]\n';
}

// Exact numbers travel as text and are numbers here: JSON itself sets no limit to their digits.
const isNumber = /^-?(?:0|[1-9]\d*)(?:\.\d+)?$/u;

function written(cell: Value, { type }: ExportColumn): string {
  if (typeof cell === 'string' && type === 'number' && isNumber.test(cell)) return cell;
  return JSON.stringify(typeof cell === 'object' && cell !== null ? cell.caption : cell);
}
