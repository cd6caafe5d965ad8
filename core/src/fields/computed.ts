/** Printing values that no field holds: what formulas and queries work out. */
import type { Locale } from '../values/locale.js';
import { roundedDigits } from '../values/numbers.js';
import type { Value } from './value.js';

const isoDate = /^\d{4}-\d\d-\d\d$/u;
const canonicalNumber = /^-?\d+(\.\d+)?$/u;
/** What a formula gives, by the look of it: dates and numbers as their fields print them, all else as it is. */
export function printComputed(value: Value, digits: number | null, locale: Locale): string {
  if (value === null || typeof value === 'object') return '';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  const text = String(value);
  if (isoDate.test(text)) return locale.date(text);
  return canonicalNumber.test(text) ? printRounded(text, digits, locale) : text;
}

function printRounded(text: string, digits: number | null, locale: Locale): string {
  const rounded = roundedDigits(text, digits ?? tellingDigits(text));
  return locale.number(rounded, digits ?? 0, rounded.includes('.') || (digits ?? 0) > 0);
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

/** Prints a value whose type is known: numbers and dates as their fields print them. */
export function printTyped(type: string, digits: number | null, value: Value, locale: Locale): string {
  if (value === null) return '';
  if (typeof value === 'object') return value.caption;
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  const text = String(value);
  if (type === 'date') return locale.date(text);
  return type === 'number' ? printRounded(text, digits, locale) : text;
}
