/** Records as bars over time: what is in view, and where the bars lie. Days are texts of the form 2026-09-14; ends are whole days too. */
import { later, monthOf, monthsLater, weekOf } from './month.js';

/** How much is in view. */
export const timeSpans = { month: 'Month', quarter: 'Quarter', year: 'Year' } as const;
export type TimeSpan = keyof typeof timeSpans;

export interface View {
  readonly from: string;
  /** The day after the last. */
  readonly before: string;
  /** Where lines are drawn: days, weeks or months. */
  readonly ticks: readonly string[];
}

const msOfDay = 86_400_000;
/** How many days come from one day to another. */
export const daysBetween = (from: string, to: string): number => Math.round((Date.parse(to) - Date.parse(from)) / msOfDay);

const months: Readonly<Record<TimeSpan, number>> = { month: 1, quarter: 3, year: 12 };

/** The month, quarter or year of a day. `firstDay`: with which a week begins, 1 is Monday. */
export function viewOf(span: TimeSpan, on: string, firstDay: number): View {
  const length = months[span];
  const from = monthsLater(`${on.slice(0, 4)}-01-01`, Math.floor((Number(on.slice(5, 7)) - 1) / length) * length);
  const before = monthsLater(from, length);
  const ticks: string[] = [];
  const first = span === 'quarter' ? (weekOf(from, firstDay)[0] ?? from) : from;
  const next = (day: string): string => (span === 'month' ? later(day, 1) : span === 'quarter' ? later(day, 7) : monthsLater(day, 1));
  for (let day = first; day < before; day = next(day)) if (day >= from) ticks.push(day);
  return { from, before, ticks };
}

/** The same so many views on. */
export const viewLater = (span: TimeSpan, on: string, by: number): string => monthsLater(monthOf(on), months[span] * by);

export interface Bar<T> {
  readonly of: T;
  readonly start: string;
  /** Its last day; never before its start. */
  readonly end: string;
  /** In parts of the width in view, from 0 to 1. */
  readonly left: number;
  readonly width: number;
  /** Its name ends where it ends, because there is no room for it to begin where it begins. */
  readonly isNamedBefore: boolean;
  /** Bars that overlap, or whose names do, lie below each other. */
  readonly row: number;
}

/**
 * The bars of a lane that are in view, the earliest first, each in the first row that is free.
 * @param nameWidth of the name of a bar, in the same parts
 */
export function barsIn<T>(
  view: View,
  spans: readonly { readonly of: T; readonly start: string; readonly end: string | null }[],
  nameWidth: (of: T) => number,
): readonly Bar<T>[] {
  const days = daysBetween(view.from, view.before);
  const rows: (readonly [from: number, to: number])[][] = [];
  return spans
    .map(({ of, start, end }) => ({ of, start, end: end === null || end < start ? start : end }))
    .filter(({ start, end }) => start < view.before && end >= view.from)
    .sort((each, other) => (each.start < other.start ? -1 : each.start > other.start ? 1 : 0))
    .map(({ of, start, end }) => {
      const [first, last] = [start < view.from ? view.from : start, end >= view.before ? later(view.before, -1) : end];
      const [left, width] = [daysBetween(view.from, first) / days, (daysBetween(first, last) + 1) / days];
      const needed = Math.max(width, nameWidth(of));
      const isNamedBefore = left + needed > 1;
      const [from, to] = isNamedBefore ? [left + width - needed, left + width] : [left, left + needed];
      const isFree = (taken: (typeof rows)[number]): boolean => taken.every(([begins, ends]) => to <= begins || from >= ends);
      const found = rows.findIndex(isFree);
      const row = found < 0 ? rows.length : found;
      (rows[row] ??= []).push([from, to]);
      return { of, start, end, left, width, isNamedBefore, row };
    });
}
