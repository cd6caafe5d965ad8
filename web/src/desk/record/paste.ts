import { parseValue, splitRows, type Field, type Typed } from '@bibliona/core';
import { typedOf } from './draft.js';
import { locale } from '../../state/locale.js';

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

/** What a pasted text is in a field: its value where it fits, else the text itself, so that its error shows. */
export function typedFromText(field: Field, text: string): Typed {
  const parsed = parseValue(field, text.trim(), locale());
  if (parsed.ok) return typedOf(field, parsed.value);
  return typeof typedOf(field, null) === 'string' ? text : null;
}
