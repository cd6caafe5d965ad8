/** Columns that the language sees otherwise than they are stored. */
import { digitsOf, isNumber, type Feel } from './value.js';

/** How the language sees a bare column, and how the column is compared as it is stored: only then is its index used. */
export interface Stored {
  /** The value of the column as the language sees it. */
  readonly seen: (column: string) => string;
  /** A constant of the language in the terms of the column, with its type in SQL; null when there is none. */
  readonly constant: (value: Feel, isEquality: boolean) => { readonly value: string; readonly type: string } | null;
  /** Whether its smallest and largest value are those of the language too. */
  readonly isOrdered: boolean;
}

/** A whole number is stored as a bigint; only compared as one is its index used. */
export const storedWhole: Stored = {
  seen: (column) => `${column}::numeric`,
  constant: (value) => (isNumber(value) && value.isInteger() && value.abs().lt(9e18) ? { value: digitsOf(value), type: 'bigint' } : null),
  isOrdered: true,
};
