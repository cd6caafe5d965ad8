import { printTyped, type TileAnswer, type Value } from '@bibliona/core';
import { locale } from '../../state/locale.js';

export type Series = Extract<TileAnswer, { kind: 'series' }>;
export type Point = Series['points'][number];

const monthStart = /^\d{4}-\d\d-01$/u;
const yearStart = /^\d{4}-01-01$/u;

/** The length of the steps in which days go on, when each begins a month or a year; null for other days, and for what is no day. */
export function stepOf({ label, points }: Pick<Series, 'label' | 'points'>): 'month' | 'year' | null {
  const days = points.flatMap((point) => (label.type === 'date' && typeof point.label === 'string' ? [point.label] : []));
  if (days.length < 2) return null;
  return days.every((day) => yearStart.test(day)) ? 'year' : days.every((day) => monthStart.test(day)) ? 'month' : null;
}

/** The points in their steps, those of steps without any record among them, so that a line does not lead over them. */
export function withGaps(series: Pick<Series, 'label' | 'points'>): readonly Point[] {
  const step = stepOf(series);
  if (step === null) return series.points;
  const all: Point[] = [];
  for (const point of series.points) {
    const before = all.at(-1)?.label;
    // A date far off is not worth more steps than that.
    for (let day = next(before, step), n = 0; day !== null && day < String(point.label) && n < 400; day = next(day, step), n += 1)
      all.push({ label: day, value: null });
    all.push(point);
  }
  return all;
}

function next(day: Value | undefined, step: 'month' | 'year'): string | null {
  if (typeof day !== 'string') return null;
  const date = new Date(`${day}T00:00:00Z`);
  date.setUTCMonth(date.getUTCMonth() + (step === 'month' ? 1 : 12));
  return date.toISOString().slice(0, 10);
}

/** How points are called: days by their date; when each begins a month or a year, by that alone. */
export function labelWords(series: Pick<Series, 'label' | 'points'>): (value: Value) => string {
  const { label } = series;
  const step = stepOf(series);
  return (value) => {
    if (value === null) return 'empty';
    if (step !== null && typeof value === 'string') return step === 'year' ? value.slice(0, 4) : locale().month(value);
    return printTyped(label, value, locale());
  };
}

type Shown = Parameters<typeof printTyped>[0];
/** A number as a tile says it. */
export const amountWords = (how: Shown, value: string | null): string => (value === null ? 'none' : printTyped(how, value, locale()));

/** Where a point is on an axis of time or number; null when its label is neither. */
export function positionOf(type: string, value: Value): number | null {
  if (value === null || typeof value === 'object' || typeof value === 'boolean') return null;
  const position = type === 'date' ? Date.parse(`${String(value)}T00:00:00Z`) : type === 'number' ? Number(value) : Number.NaN;
  return Number.isFinite(position) ? position : null;
}
