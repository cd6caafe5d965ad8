import { useState } from 'react';
import type { FormRow } from './form-values.js';

/** Something done to the rows of a form that can be undone until the record is saved. */
interface RowChange {
  readonly message: string;
  /** The rows without it. What was typed in others since stays. */
  readonly without: (now: readonly FormRow[]) => FormRow[];
}

/** Keeps the last change of the rows. @param base what the form is compared with: a save replaces that, and ends the undo */
export function useRowUndo(base: unknown) {
  const [kept, setKept] = useState<(RowChange & { readonly base: unknown }) | null>(null);
  return {
    /** What can be undone; null: nothing. */
    change: kept?.base === base ? (kept as RowChange) : null,
    keep: (change: RowChange): void => setKept({ ...change, base }),
    forget: (): void => setKept(null),
  };
}
