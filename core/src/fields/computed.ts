/** Printing values that no field holds: what formulas and queries work out. */
import { readDuration } from '../feel/calendar.js';
import type { Locale } from '../values/locale.js';
import { movedPoint, roundedDigits } from '../values/numbers.js';
import { printDuration } from '../values/times.js';
import { minorDigits, type Unit } from '../values/units.js';
import type { Value } from './value.js';

const isoDate = /^\d{4}-\d\d-\d\d$/u;
const isoTime = /^\d\d:\d\d:\d\d$/u;
const isoDuration = /^-?P(?:\d+D)?(?:T(?:\d+[HMS])+)?$/u;
const canonicalNumber = /^-?\d+(\.\d+)?$/u;
/** How computed numbers are shown. */
export interface ShownNumber {
  /** Digits after the point; null: as many as there are. */
  readonly digits: number | null;
  /** What they count; null: nothing in particular. */
  readonly unit: Unit | null;
  /** Counted or summed up: a large one is printed with thousands separators, a year is not. */
  readonly isAmount?: boolean | undefined;
}

/** The same of a value whose type is known, and which is a number or not. */
export type TypedNumber = ShownNumber & { readonly type: string };

/** What a formula gives, by the look of it: dates, times and numbers as their fields print them, all else as it is. */
export function printComputed(value: Value, how: ShownNumber, locale: Locale): string {
  if (value === null || typeof value === 'object') return '';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  const text = String(value);
  if (isoDate.test(text)) return locale.date(text);
  if (isoTime.test(text)) return locale.clock(text);
  if (isoDuration.test(text)) return printLength(text);
  if (isoWall.test(text)) return printWall(text, locale);
  return canonicalNumber.test(text) ? printRounded(text, how, locale) : text;
}

function printRounded(text: string, { digits, unit, isAmount = false }: ShownNumber, locale: Locale): string {
  if (unit !== null) {
    // A share is shown with its point two places further on.
    const [least, places] = unit === '%' ? [0, 2] : [minorDigits(unit), 0];
    const shown = digits ?? Math.max(least, tellingDigits(movedPoint(text, places)));
    return locale.amount(roundedDigits(text, shown + places), unit, shown);
  }
  const rounded = roundedDigits(text, digits ?? tellingDigits(text));
  return locale.number(rounded, digits ?? 0, isAmount || rounded.includes('.') || (digits ?? 0) > 0);
}

/**
 * How many digits after the point are shown of a number whose digits nobody chose. A short one stays whole; a quotient,
 * which need not end, keeps two, and as many more as it takes to show three that are not leading zeros.
 */
function tellingDigits(canonical: string): number {
  const [whole = '', fraction = ''] = canonical.replace('-', '').split('.');
  if (fraction.length <= 4) return fraction.length;
  return /^0*$/u.test(whole) ? Math.max(2, /^0*/u.exec(fraction)![0].length + 3) : 2;
}

const isoWall = /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(?:\.\d+)?$/u;
/** A moment as the language writes it: on the clocks of the app. */
const printWall = (text: string, locale: Locale): string => `${locale.date(text.slice(0, 10))}, ${locale.clock(text.slice(11, 19))}`;

/** A duration of the language, which can have parts of a second. */
function printLength(text: string): string {
  const read = readDuration(text);
  return read?.kind === 'days and time duration' && read.ms % 1000 === 0 ? printDuration(read.ms / 1000) : text;
}

/** How a number of things is shown. */
export const countShown = { type: 'number', digits: 0, unit: null, isAmount: true } as const;

/** Prints a value whose type is known: numbers and dates as their fields print them. */
export function printTyped(how: TypedNumber, value: Value, locale: Locale): string {
  const { type } = how;
  if (value === null) return '';
  if (typeof value === 'object') return value.caption;
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  const text = String(value);
  if (type === 'date') return locale.date(text);
  if (type === 'time') return locale.clock(text);
  if (type === 'date and time') return printWall(text, locale);
  if (type === 'days and time duration') return printLength(text);
  return type === 'number' ? printRounded(text, how, locale) : text;
}
