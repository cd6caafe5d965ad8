/** Numbers that are kept to the last digit, however they are shown: decimals, money, shares in percent. */
import { types } from '../feel/types.js';
import { Decimal, digitsOf, isNumber } from '../feel/value.js';
import { wants } from '../feel/wants.js';
import { literal, numericType } from '../sql/sql.js';
import type { Locale } from '../values/locale.js';
import { movedPoint, parseNumber } from '../values/numbers.js';
import { identical, type CommonPlan, type FieldKind } from './kind.js';
import { bad, good } from './value.js';
import { largestWhole } from './whole.js';

export interface NumberForm<F> {
  /** Digits after the point as people see them. */
  readonly digits: (field: F) => number;
  /** How many places further to the left the point of the stored number is than people see it: 2 for percent. */
  readonly moved: number;
  /** What people may write beside the digits, in capital or small letters; their order is that in which they are looked for. */
  readonly marks: (field: F) => readonly string[];
  /** Set when a file can give the number as a percentage: 12 % is 0.12. */
  readonly takesShares?: true;
  readonly print: (digits: string, field: F, locale: Locale) => string;
  /** What a number that is none should be. */
  readonly wanted: string;
}

const longestWhole = 26;

/** What is wrong with canonical digits that should have at most so many places. */
function problemOf(value: unknown, digits: number): string | null {
  if (typeof value !== 'string' || !/^-?\d+(\.\d+)?$/u.test(value)) return 'must be a number';
  const [before = '', after = ''] = value.replace('-', '').split('.');
  if (before.replace(/^0+/u, '').length > longestWhole) return `has more than ${longestWhole} digits before the point`;
  return after.replace(/0+$/u, '').length > digits
    ? digits === 0
      ? 'must have no digits after the point'
      : `has more than ${digits} ${digits === 1 ? 'digit' : 'digits'} after the point`
    : null;
}

// It admits only what the cast accepts, so the CASE around it never raises an error on data.
const pattern = (digits: number): string => `^\\s*[-+]?[0-9]{1,${longestWhole}}(\\.[0-9]{0,${digits}}0*)?\\s*$`;

/** A mark before or after the digits, after the sign that \1 is, as a pattern for JavaScript and PostgreSQL alike; null: there is none. */
function endsOf(marks: readonly string[]): string | null {
  if (marks.length === 0) return null;
  const any = marks.map((mark) => mark.replace(/[.*+?^${}()|[\]\\]/gu, '\\$&')).join('|');
  return `^(\\s*[-+−]?)\\s*(?:${any})\\s*|\\s*(?:${any})\\s*$`;
}

export function exactNumber<F extends CommonPlan>(form: NumberForm<F>): Pick<FieldKind<F>, 'digits' | 'value' | 'feel' | 'column' | 'cells'> {
  const { digits, moved } = form;
  const places = (field: F): number => digits(field) + moved;
  /** Takes the marks off. */
  const cleaner = (field: F): ((typed: string) => string) => {
    const ends = endsOf(form.marks(field));
    if (ends === null) return (typed) => typed;
    const pattern = new RegExp(ends, 'giu');
    return (typed) => typed.replace(pattern, (_, sign: string | undefined) => sign ?? '');
  };
  const seen = (canonical: string): string => (moved === 0 ? canonical : movedPoint(canonical, moved));
  const stored = (canonical: string): string => (moved === 0 ? canonical : movedPoint(canonical, -moved));
  const asText = (column: string): string => `trim_scale(${moved === 0 ? column : `${column} * 1e${moved}`})::text`;
  const type = (field: F): string => numericType(places(field));
  return {
    digits,
    value: {
      parse: (typed, field, locale) => {
        const number = locale.readNumber(cleaner(field)(typed));
        if (number === null) return typed.trim() === '' ? good(null) : bad(`"${typed.trim()}" is not ${form.wanted}`);
        const problem = problemOf(number, digits(field));
        return problem === null ? good(stored(number)) : bad(`${typed.trim()} ${problem}`);
      },
      print: (value, field, locale) => (value === null ? '' : form.print(String(value), field, locale)),
      // The history can hold what was there before a field became a number.
      typed: (value, field, locale) =>
        value === null ? '' : problemOf(value, places(field)) === 'must be a number' ? String(value) : locale.plainNumber(seen(String(value)), digits(field)),
      problem: (value, field) => problemOf(value, places(field)),
      normal: (value) => (typeof value === 'string' ? (parseNumber(value) ?? value) : value),
      same: identical,
      exported: (value) => (typeof value === 'string' ? seen(value) : value),
    },
    feel: {
      type: () => types.number,
      from: (value) => (value === '' ? null : new Decimal(value as number | string)),
      to: (computed, field) => (isNumber(computed) ? digitsOf(computed.toDecimalPlaces(places(field), Decimal.ROUND_HALF_EVEN)) : null),
      literal: String,
      wanted: wants.number,
    },
    column: {
      type,
      constant: (value) => `${literal(String(value))}::numeric`,
      rules: () => [],
      sortKey: (column) => column,
      sortType: 'numeric',
      sent: (column) => `trim_scale(${column})::text`,
      asText,
      fromText: (text, field) => {
        const ends = endsOf(form.marks(field));
        const bare = ends === null ? text : `regexp_replace(${text}, ${literal(ends)}, '\\1', 'gi')`;
        return `CASE WHEN ${bare} ~ ${literal(pattern(digits(field)))} THEN ((${bare})::numeric${moved === 0 ? '' : ` / 1e${moved}`})::${type(field)} END`;
      },
      takesEveryText: false,
      conversions: (column, before, after) => {
        if (after.kind === 'whole' && moved === 0)
          return { expression: `CASE WHEN ${column} = trunc(${column}) AND abs(${column}) <= ${largestWhole} THEN ${column}::bigint END`, canLose: true };
        if (after.kind !== before.kind) return 'through text';
        const [now, then] = [places(before), places(after as F)];
        if (then === now) return null;
        if (then > now) return { expression: `${column}::${numericType(then)}`, canLose: false };
        return { expression: `CASE WHEN ${column} = round(${column}, ${then}) THEN ${column}::${numericType(then)} END`, canLose: true };
      },
    },
    cells: {
      reader: (field, reading) => {
        const most = digits(field);
        const clean = cleaner(field);
        const quick = new RegExp(`^-?\\d{1,20}${most > 0 ? `(\\.\\d{1,${most}})?` : ''}$`, 'u');
        return (text) => {
          if (moved === 0 && reading.numbers === 'point' && quick.test(text)) return text;
          const share = form.takesShares === undefined ? null : /^(.*\d)\s*%$/u.exec(text);
          const read = parseNumber(share?.[1] ?? clean(text), reading.numbers);
          const number = share === null || read === null ? read : movedPoint(read, -2);
          if (number === null) return { problem: `is not ${form.wanted}` };
          const problem = problemOf(number, most);
          return problem === null ? stored(number) : { problem };
        };
      },
      key: (printed) => parseNumber(printed) ?? printed,
      value: (printed) => printed,
      reading: 'numbers',
      settingsFor: null,
    },
  };
}

/** How wide such a field is, and what it takes part in. */
export const numberTraits = {
  align: 'right',
  formWidth: 3,
  listWidth: 120,
  rowWidth: 112,
  canBeUnique: true,
  canBeIndexed: true,
  searched: false,
  listed: true,
  caption: false,
  addsUp: true,
  words: false,
} as const;
