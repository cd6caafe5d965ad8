/** Values as the language computes with them in memory. Numbers are exact decimals, never floating point. */
import { Decimal as BaseDecimal } from 'decimal.js';

// Sums and products are exact at any length that the checker lets through (see `mostDigits` in check.ts).
export const Decimal = BaseDecimal.clone({ precision: 20_000, rounding: BaseDecimal.ROUND_HALF_EVEN, toExpNeg: -1e6, toExpPos: 1e6, maxE: 1e6, minE: -1e6 });
export type Decimal = InstanceType<typeof Decimal>;
// What need not end is rounded as decimal128 rounds: 34 digits, ties to even (DMN 1.5, 10.3.2.3.1).
const Decimal34 = BaseDecimal.clone({ precision: 34, rounding: BaseDecimal.ROUND_HALF_EVEN, maxE: 1e6, minE: -1e6 });

/** A day of the calendar, as days since 1 January 1970. */
export interface Day {
  readonly kind: 'date';
  readonly days: number;
}
/** A time of day, in milliseconds since midnight. */
export interface TimeOfDay {
  readonly kind: 'time';
  readonly ms: number;
}
/** An instant, in milliseconds since 1 January 1970 UTC; it is read and written in the time zone of the app. */
export interface Moment {
  readonly kind: 'date and time';
  readonly ms: number;
}
export interface Duration {
  readonly kind: 'days and time duration';
  readonly ms: number;
}
export interface Months {
  readonly kind: 'years and months duration';
  readonly months: number;
}
export interface Range {
  readonly kind: 'range';
  readonly low: Feel;
  readonly high: Feel;
  readonly lowIncluded: boolean;
  readonly highIncluded: boolean;
}
/** A record of a table: what is in it is asked of a `RecordSource`. */
export interface RecordValue {
  readonly kind: 'record';
  readonly table: string;
  /** Its id, or a name for one that is being entered. */
  readonly id: number | string;
}
export interface ContextValue {
  readonly kind: 'context';
  readonly entries: Readonly<Record<string, Feel>>;
}

export type Feel = null | boolean | string | Decimal | Day | TimeOfDay | Moment | Duration | Months | Range | RecordValue | ContextValue | readonly Feel[];

export const isList = (value: Feel): value is readonly Feel[] => Array.isArray(value);
export const isRecord = (value: Feel): value is RecordValue =>
  value !== null && typeof value === 'object' && !isList(value) && 'kind' in value && value.kind === 'record';
export const isNumber = (value: Feel): value is Decimal => Decimal.isDecimal(value);

const round34 = (value: BaseDecimal): Decimal => new Decimal(new Decimal34(0).plus(value));

export function divide(a: Decimal, b: Decimal): Decimal | null {
  return b.isZero() ? null : new Decimal(new Decimal34(0).plus(Decimal34.div(a, b)));
}
export const squareRoot = (value: Decimal): Decimal | null => (value.isNegative() && !value.isZero() ? null : new Decimal(Decimal34.sqrt(value)));
export const naturalLog = (value: Decimal): Decimal | null => (value.lte(0) ? null : new Decimal(Decimal34.ln(value)));
const largestExponent = 1000;
export const exponential = (value: Decimal): Decimal | null => (value.abs().gt(largestExponent) ? null : new Decimal(Decimal34.exp(value)));

const Working = BaseDecimal.clone({ precision: 60, rounding: BaseDecimal.ROUND_HALF_EVEN, maxE: 1e6, minE: -1e6 });
const largestPower = 9999;
const beyond = new Decimal('1e300');
const below = new Decimal('1e-300');
const inRange = (value: BaseDecimal): boolean => value.isZero() || (value.abs().lt(beyond) && value.abs().gt(below));

/**
 * `base ** exponent` for whole exponents up to ±9999, null for others and beyond 10^±300. By squaring,
 * each product rounded to 60 digits and the result to 34: the database does exactly the same steps.
 */
export function power(base: Decimal, exponent: Decimal): Decimal | null {
  if (!exponent.isInteger() || exponent.abs().gt(largestPower)) return null;
  if (exponent.isNegative() && base.isZero()) return null;
  let left = exponent.abs().toNumber();
  let factor: BaseDecimal = new Working(base).plus(0);
  let result: BaseDecimal = new Working(1);
  while (left > 0) {
    if (left % 2 === 1) result = Working.mul(result, factor);
    left = Math.floor(left / 2);
    if (left > 0) factor = Working.mul(factor, factor);
    if (!inRange(result) || !inRange(factor)) return null;
  }
  return exponent.isNegative() ? divide(new Decimal(1), round34(result)) : round34(result);
}

/** Canonical digits: no exponent, no needless zeros. */
export function digitsOf(value: Decimal): string {
  const text = value.toFixed();
  return text === '-0' ? '0' : text;
}

/** Order of two strings by code points (DMN leaves it open; PostgreSQL's "C" order is the same). */
function compareStrings(a: string, b: string): number {
  if (a === b) return 0;
  const [left, right] = [a[Symbol.iterator](), b[Symbol.iterator]()];
  for (;;) {
    const [one, other] = [left.next(), right.next()];
    if (one.done === true) return -1;
    if (other.done === true) return 1;
    const difference = (one.value.codePointAt(0) ?? 0) - (other.value.codePointAt(0) ?? 0);
    if (difference !== 0) return difference;
  }
}

/** Order of two values of the same ordered type. */
export function compare(a: Feel, b: Feel): number {
  if (typeof a === 'string' && typeof b === 'string') return compareStrings(a, b);
  if (isNumber(a) && isNumber(b)) return a.cmp(b);
  return amountOf(a) - amountOf(b);
}

function amountOf(value: Feel): number {
  if (value === null || typeof value !== 'object' || isList(value) || isNumber(value)) throw new TypeError('This value has no size');
  switch (value.kind) {
    case 'date':
      return value.days;
    case 'time':
    case 'date and time':
    case 'days and time duration':
      return value.ms;
    case 'years and months duration':
      return value.months;
    default:
      throw new TypeError(`A ${value.kind} has no size`);
  }
}

/** Equal values have equal names, and different ones of one type different names: for finding values in long lists. */
export function identityOf(value: Feel): string {
  if (isNumber(value)) return digitsOf(value);
  if (isList(value)) return JSON.stringify(value.map(identityOf));
  return JSON.stringify(value);
}

/** Equality of two values that are not null, of the same type. */
export function same(a: Feel, b: Feel): boolean {
  if (a === null || b === null) return a === b;
  if (isNumber(a) || isNumber(b)) return isNumber(a) && isNumber(b) && a.eq(b);
  if (isList(a) || isList(b)) return isList(a) && isList(b) && a.length === b.length && a.every((each, i) => same(each, b[i] ?? null));
  if (typeof a !== 'object' || typeof b !== 'object') return a === b;
  if (a.kind === 'record') return b.kind === 'record' && a.table === b.table && a.id === b.id;
  if (a.kind === 'context') return b.kind === 'context' && Object.entries(a.entries).every(([name, value]) => same(value, b.entries[name] ?? null));
  if (a.kind === 'range')
    return b.kind === 'range' && a.lowIncluded === b.lowIncluded && a.highIncluded === b.highIncluded && same(a.low, b.low) && same(a.high, b.high);
  return a.kind === b.kind && amountOf(a) === amountOf(b);
}
