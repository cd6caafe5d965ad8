/** Totals of the rows of a group, kept while they go by. */
import type { Summary } from '../design/saved-query.js';
import { Decimal, digitsOf, divide } from '../feel/value.js';
import { canTotal } from '../query/saved.js';
import type { Value } from '../fields/value.js';
import type { ReportColumn } from './band.js';

/** A column to be totalled, by its place in the rows. */
export interface Totalled {
  readonly column: ReportColumn;
  readonly place: number;
  readonly summary: Summary;
}

/** Of one column: how many values are filled, their sum, the smallest and the largest; numbers as such, dates as they travel. */
interface Tally {
  filled: number;
  sum: Decimal;
  end: Decimal | string | null;
}

const zero = new Decimal(0);

/** What the columns of one row add to totals: read once for all the groups that it belongs to. */
export type Adds = readonly (Decimal | string | null)[];
export const addsOf = (asked: readonly Totalled[], cells: readonly Value[]): Adds =>
  asked.map(({ column, place, summary }) => {
    const value = cells[place] ?? null;
    if (value === null || summary === 'count' || typeof value === 'object' || typeof value === 'boolean') return value === null ? null : '';
    return column.type === 'number' ? new Decimal(value) : String(value);
  });

export class Totals {
  rows = 0;
  private readonly tallies: readonly Tally[];

  constructor(private readonly asked: readonly Totalled[]) {
    this.tallies = asked.map(() => ({ filled: 0, sum: zero, end: null }));
  }

  add(adds: Adds): void {
    this.rows += 1;
    for (const [i, tally] of this.tallies.entries()) {
      const value = adds[i] ?? null;
      const summary = this.asked[i]?.summary;
      if (value === null) continue;
      tally.filled += 1;
      if (summary === 'smallest' || summary === 'largest') {
        if (tally.end === null || (summary === 'smallest' ? isBefore(value, tally.end) : isBefore(tally.end, value))) tally.end = value;
      } else if (typeof value !== 'string') tally.sum = tally.sum.plus(value);
    }
  }

  /** The exact value of the column at that place, as it travels; null where there is none to sum up. */
  of(index: number): string | null {
    const i = this.asked.findIndex((totalled) => totalled.place === index);
    const [asked, tally] = [this.asked[i], this.tallies[i]];
    if (asked === undefined || tally === undefined) throw new TypeError(`No total was kept of the column at ${index}`);
    if (!canTotal({ kind: asked.column.type }, asked.summary)) return null;
    switch (asked.summary) {
      case 'count':
        return String(tally.filled);
      case 'sum':
        return tally.filled === 0 ? null : digitsOf(tally.sum);
      case 'average': {
        const average = divide(tally.sum, new Decimal(tally.filled));
        return average === null ? null : digitsOf(average);
      }
      case 'smallest':
      case 'largest':
        return tally.end === null || typeof tally.end === 'string' ? tally.end : digitsOf(tally.end);
      default:
        return asked.summary satisfies never;
    }
  }
}

// Dates travel as year, month, day: their texts are in their order.
const isBefore = (a: Decimal | string, b: Decimal | string): boolean => (typeof a === 'string' || typeof b === 'string' ? String(a) < String(b) : a.lt(b));
