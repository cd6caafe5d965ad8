/** Values as comma-separated text (RFC 4180), as spreadsheets read it and as an import takes it in again. */
import type { Value } from '../values/values.js';

// Programs that open such a file take a text that begins so for a calculation, and carry it out.
const likeACalculation = /^[=+\-@\t\r]/u;

/** A cell as it was before it was written so that no program calculates with it. */
export const withoutGuard = (cell: string): string => (cell.startsWith("'") && likeACalculation.test(cell.slice(1)) ? cell.slice(1) : cell);

function cellText(value: Value, isText: boolean): string {
  if (value === null) return '';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  const text = typeof value === 'object' ? value.caption : String(value);
  return isText && likeACalculation.test(text) ? `'${text}` : text;
}

/** One line with its end. What is a number or a date stands as it travels; `isText` tells which cells are words. */
export function csvLine(cells: readonly Value[], isText: (place: number) => boolean = () => false): string {
  const written = cells.map((cell, i) => {
    const text = cellText(cell, isText(i));
    return /[",\r\n]/u.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
  });
  return `${written.join(',')}\r\n`;
}
