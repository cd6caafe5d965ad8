/** Several records in one cell, by what they are called. */
import type { CaptionIndex } from '../fields/kind.js';

export interface NamedInCell {
  readonly ids: readonly number[];
  /** Names of no record, or of more than one. */
  readonly misfits: readonly { readonly name: string; readonly problem: string }[];
}

/** So many separators can be within one name. */
const mostWithin = 12;

/**
 * Reads names that are separated by commas, semicolons or line breaks. What a record is called can have those in it: the longest
 * part that is a name counts.
 */
export function namesIn(cell: string, captions: CaptionIndex): NamedInCell {
  const ids = new Set<number>();
  const misfits: { name: string; problem: string }[] = [];
  // Names and what separates them, in turn.
  const parts = cell.split(/([,;\n])/u);
  const partsTo = (from: number, end: number): string => parts.slice(from, end).join('').trim();
  const found = (name: string) => captions.get(name.toLowerCase());
  for (let at = 0; at < parts.length;) {
    let end = Math.min(parts.length, at + 2 * mostWithin + 1);
    while (end > at + 1 && found(partsTo(at, end)) === undefined) end -= 2;
    const name = partsTo(at, end);
    const id = found(name);
    if (typeof id === 'number') ids.add(id);
    else if (name !== '') misfits.push({ name, problem: id === null ? 'names more than one record' : 'is not the name of a record' });
    at = end + 1;
  }
  return { ids: [...ids], misfits };
}
