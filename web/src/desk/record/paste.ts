import { parseValue, type Field, type Typed } from '@bibliona/core';
import { typedOf } from './draft.js';
import { locale } from '../../state/locale.js';

/** What a pasted text is in a field: its value where it fits, else the text itself, so that its error shows. */
export function typedFromText(field: Field, text: string): Typed {
  const parsed = parseValue(field, text.trim(), locale());
  if (parsed.ok) return typedOf(field, parsed.value);
  return typeof typedOf(field, null) === 'string' ? text : null;
}

/**
 * Undoes a paste into all rows, which are told apart by their keys: those that were pasted into are as before, those that came
 * with it go, and others stay as they are now.
 */
export function withoutPasted<R extends { readonly key: string }>(all: readonly R[], pasted: readonly R[]): (now: readonly R[]) => R[] {
  const was = new Map(all.map((row) => [row.key, row]));
  const into = new Set(pasted.map((row) => row.key));
  return (now) =>
    now.flatMap((row) => {
      const before = into.has(row.key) ? was.get(row.key) : row;
      return before === undefined ? [] : [before];
    });
}
