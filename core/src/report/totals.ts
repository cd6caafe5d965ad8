/** Totals of the rows of a group, kept while they go by. */
import type { Summary } from '../design/saved-query.js';
import { Decimal, digitsOf, divide } from '../expression/value.js';
import { canTotal } from '../query/saved.js';
import type { Value } from '../values/values.js';
import type { ReportColumn } from './bands.js';

/** Of one column: how many values are filled, their sum, the smallest and the largest. */
interface Tally {
  filled: number;
  sum: Decimal;
  smallest: string | null;
  largest: string | null;
}

const zero = new Decimal(0);

export class Totals {
  rows = 0;
  private readonly tallies: Tally[];

  /** Of the columns asked for, by their places in the rows. */
  constructor(private readonly asked: readonly { readonly column: ReportColumn; readonly place: number }[]) {
    this.tallies = asked.map(() => ({ filled: 0, sum: zero, smallest: null, largest: null }));
  }

  add(cells: readonly Value[]): void {
    this.rows += 1;
    this.asked.forEach(({ column, place }, i) => {
      const value = cells[place] ?? null;
      const tally = this.tallies[i];
      if (value === null || tally === undefined) return;
      tally.filled += 1;
      if (typeof value === 'object' || typeof value === 'boolean') return;
      const text = String(value);
      if (column.type === 'number') tally.sum = tally.sum.plus(text);
      if (tally.smallest === null || isBefore(column, text, tally.smallest)) tally.smallest = text;
      if (tally.largest === null || isBefore(column, tally.largest, text)) tally.largest = text;
    });
  }

  /** The exact value, as it travels; null where there is none to sum up. */
  of(place: number, summary: Summary): string | null {
    const i = this.asked.findIndex((one) => one.place === place);
    const [column, tally] = [this.asked[i]?.column, this.tallies[i]];
    if (column === undefined || tally === undefined) throw new TypeError(`No total was kept of the column at ${place}`);
    if (!canTotal({ kind: column.type }, summary)) return null;
    switch (summary) {
      case 'count':
        return String(tally.filled);
      case 'sum':
        return tally.filled === 0 ? null : digitsOf(tally.sum);
      case 'average': {
        const average = divide(tally.sum, new Decimal(tally.filled));
        return average === null ? null : digitsOf(average);
      }
      case 'smallest':
        return tally.smallest;
      case 'largest':
        return tally.largest;
      default:
        return summary satisfies never;
    }
  }
}

// Dates travel as year, month, day: their texts are in their order.
const isBefore = (column: ReportColumn, a: string, b: string): boolean => (column.type === 'number' ? new Decimal(a).lt(b) : a < b);
