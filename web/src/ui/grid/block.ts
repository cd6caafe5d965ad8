/** Several cells of a grid beside and below each other, which are copied, pasted and filled together. */
import { splitRows } from '@bibliona/core';
import type { Place } from './keys.js';

export interface Block {
  readonly top: number;
  readonly left: number;
  /** The last row and column of it. */
  readonly bottom: number;
  readonly right: number;
}

/** The block between two cells, whichever of its corners they are. */
export const blockBetween = (place: Place, other: Place): Block => ({
  top: Math.min(place.row, other.row),
  left: Math.min(place.column, other.column),
  bottom: Math.max(place.row, other.row),
  right: Math.max(place.column, other.column),
});

export const isOneCell = ({ top, left, bottom, right }: Block): boolean => top === bottom && left === right;

/**
 * Cells as text, as spreadsheets take and give them: tabs between the cells, a line for each row, and quotes around what
 * holds either of them (RFC 4180, with a tab for the comma).
 */
export const textOfCells = (rows: readonly (readonly string[])[]): string =>
  rows.map((cells) => cells.map((cell) => (/["\t\r\n]/u.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell)).join('\t')).join('\n');

/** Cells as spreadsheets put them on the clipboard, or null when it is a plain text for one input. */
export function pastedCells(text: string): readonly (readonly string[])[] | null {
  const trimmed = text.replace(/\r?\n$/u, '');
  if (!/[\t\n]/u.test(trimmed)) return null;
  try {
    return splitRows(trimmed, '\t');
  } catch {
    return null;
  }
}
