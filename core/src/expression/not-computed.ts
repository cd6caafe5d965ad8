/** Why a value can't be computed here and now. */
import type { RecordValue } from '../feel/value.js';

/** Raised by a `RecordSource` that has not got what is asked of it yet. */
export class NotAtHand extends Error {
  constructor(readonly record: RecordValue) {
    super(`${record.table} ${record.id} is not at hand`);
  }
}

/** Raised when a value takes more than `mostSteps` to compute: lists within lists within lists. */
export class TooMuch extends Error {}
