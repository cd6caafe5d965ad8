/** Values as comma-separated text (RFC 4180), as spreadsheets read it and as an import takes it in again. */
import type { Table } from '../design/design.js';
import type { Value } from '../fields/value.js';

// Spreadsheet programs calculate a text that begins with one of these signs. A text that begins with apostrophes and then
// such a sign gets one more, because an import takes one away.
const likeACalculation = /^'*[=+\-@\t\r]/u;

/** A cell as it was before it was written so that no program calculates with it. */
export const withoutGuard = (cell: string): string => (cell.startsWith("'") && likeACalculation.test(cell) ? cell.slice(1) : cell);

/** The heading of the column with the numbers that records have in the app: no field of the table has this name. */
export function recordHeading(table: Table): string {
  const isTaken = (name: string): boolean => table.fields.some((field) => field.name.toLowerCase() === name.toLowerCase());
  let heading = 'Record number';
  for (let n = 2; isTaken(heading); n += 1) heading = `Record number ${n}`;
  return heading;
}

function cellText(value: Value, isText: boolean): string {
  if (value === null) return '';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  const text = typeof value === 'object' ? value.caption : String(value);
  return isText && likeACalculation.test(text) ? `'${text}` : text;
}

/** One line with its end. What is a number or a date stands as it travels; `isText` tells which cells are words. */
export function csvLine(cells: readonly Value[], isText: (index: number) => boolean = () => false): string {
  const written = cells.map((cell, i) => {
    const text = cellText(cell, isText(i));
    return /[",\r\n]/u.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
  });
  return `${written.join(',')}\r\n`;
}
