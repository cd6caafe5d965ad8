/**
 * The kinds of value: one row per kind, with everything that differs between them. A new kind is a new row here and in
 * the tables of the same keys elsewhere (inputs in the web, columns in the database), and the compiler names each.
 */
import { largestWhole, type Choice, type Field, type FieldKind, type FieldPlan } from '../design/design.js';
import { parseDate, printDate } from './dates.js';
import { parseNumber, printNumber, roundedDigits } from './numbers.js';

/** A reference as read: which record, and what it is called. Written back as its id alone. */
export interface ReferenceValue {
  readonly id: number;
  readonly caption: string;
}
/**
 * text, long text, choice (its id), date (ISO) and decimal (canonical digits, never a float) are strings; whole numbers
 * are numbers within ±(2^53 - 1); yes/no is a boolean; null is empty.
 */
export type Value = string | number | boolean | ReferenceValue | null;

export type Parsed = { readonly ok: true; readonly value: Value } | { readonly ok: false; readonly problem: string };

export interface KindRow {
  /** What a builder calls it. */
  readonly name: string;
  readonly says: string;
  /** Reads what a person typed or pasted. Empty text is null for every kind. */
  readonly parse: (text: string, field: FieldPlan) => Parsed;
  /** How a value stands on screen and paper. */
  readonly print: (value: Value, field: FieldPlan) => string;
  /** What is wrong with a value that arrives as JSON, or null. Null values are fine here: `required` is another matter. */
  readonly problem: (value: unknown, field: FieldPlan) => string | null;
  readonly alignRight: boolean;
}

const good = (value: Value): Parsed => ({ ok: true, value });
const bad = (problem: string): Parsed => ({ ok: false, problem });

const longestText = 10_000;
const longestLongText = 1_000_000;

function textProblem(value: unknown, most: number): string | null {
  if (typeof value !== 'string') return 'must be text';
  if (value.includes('\0')) return 'holds a character (NUL) that cannot be stored';
  if (!value.isWellFormed()) return 'holds half of a character; type it again';
  return value.length > most ? `is longer than ${printNumber(String(most))} characters` : null;
}

const choicesOf = (field: FieldPlan): readonly Choice[] => (field.kind === 'choice' ? field.choices : []);
const digitsOf = (field: FieldPlan): number => (field.kind === 'decimal' ? field.digits : 0);

function decimalProblem(value: unknown, digits: number): string | null {
  if (typeof value !== 'string' || !/^-?\d+(\.\d+)?$/u.test(value)) return 'must be a number';
  const [whole = '', fraction = ''] = value.replace('-', '').split('.');
  if (whole.replace(/^0+/u, '').length > 26) return 'has more than 26 digits before the point';
  return fraction.replace(/0+$/u, '').length > digits
    ? digits === 0
      ? 'must have no digits after the point'
      : `has more than ${digits} digits after the point`
    : null;
}

const text = (name: string, says: string, most: number): KindRow => ({
  name,
  says,
  parse: (typed) => {
    const problem = textProblem(typed, most);
    return problem === null ? good(typed === '' ? null : typed) : bad(problem);
  },
  print: (value) => (value === null ? '' : String(value)),
  problem: (value) => textProblem(value, most),
  alignRight: false,
});

export const kinds = {
  text: text('Text', 'one line of words', longestText),
  long_text: text('Long text', 'as many lines as needed', longestLongText),
  whole: {
    name: 'Whole number',
    says: 'counts: 0, 12, 300',
    parse: (typed) => {
      const number = parseNumber(typed);
      if (number === null) return typed.trim() === '' ? good(null) : bad(`"${typed.trim()}" is not a number`);
      if (/\.\d*[1-9]/u.test(number)) return bad(`${typed.trim()} is not a whole number`);
      const whole = Number(number.split('.')[0]);
      return Number.isSafeInteger(whole)
        ? good(whole === 0 ? 0 : whole)
        : bad(`${typed.trim()} is too large; the largest is ${printNumber(String(largestWhole))}`);
    },
    print: (value) => (value === null ? '' : printNumber(String(value))),
    problem: (value) =>
      typeof value !== 'number' || !Number.isInteger(value)
        ? 'must be a whole number'
        : Number.isSafeInteger(value)
          ? null
          : `is beyond ${printNumber(String(largestWhole))}`,
    alignRight: true,
  },
  decimal: {
    name: 'Decimal',
    says: 'exact amounts: 12.50',
    parse: (typed, field) => {
      const number = parseNumber(typed);
      if (number === null) return typed.trim() === '' ? good(null) : bad(`"${typed.trim()}" is not a number`);
      const problem = decimalProblem(number, digitsOf(field));
      return problem === null ? good(number) : bad(`${typed.trim()} ${problem}`);
    },
    print: (value, field) => (value === null ? '' : printNumber(String(value), digitsOf(field))),
    problem: (value, field) => decimalProblem(value, digitsOf(field)),
    alignRight: true,
  },
  date: {
    name: 'Date',
    says: 'a day of the calendar',
    parse: (typed) => {
      if (typed.trim() === '') return good(null);
      const date = parseDate(typed);
      return date === null ? bad(`"${typed.trim()}" is not a date; write it like 14 Sep 2026 or 14/9/2026`) : good(date);
    },
    print: (value) => (typeof value === 'string' ? printDate(value) : ''),
    problem: (value) => (typeof value === 'string' && parseDate(value, 'ymd') === value ? null : 'must be a date between the years 1 and 9999'),
    alignRight: false,
  },
  yes_no: {
    name: 'Yes/no',
    says: 'a tick: yes, no',
    parse: (typed) => {
      const word = typed.trim().toLowerCase();
      if (word === '') return good(null);
      if (['yes', 'y', 'true', '1', 'x'].includes(word)) return good(true);
      if (['no', 'n', 'false', '0'].includes(word)) return good(false);
      return bad(`"${typed.trim()}" is neither yes nor no`);
    },
    print: (value) => (value === null ? '' : value === true ? 'yes' : 'no'),
    problem: (value) => (typeof value === 'boolean' ? null : 'must be yes or no'),
    alignRight: false,
  },
  choice: {
    name: 'One choice',
    says: 'one of a few words',
    parse: (typed, field) => {
      const word = typed.trim().toLowerCase();
      if (word === '') return good(null);
      const choice = choicesOf(field).find((one) => one.label.toLowerCase() === word) ?? choicesOf(field).find((one) => one.id === word);
      return choice === undefined
        ? bad(
            `"${typed.trim()}" is none of: ${choicesOf(field)
              .map((one) => one.label)
              .join(', ')}`,
          )
        : good(choice.id);
    },
    print: (value, field) => (value === null ? '' : (choicesOf(field).find((one) => one.id === value)?.label ?? String(value))),
    problem: (value, field) =>
      choicesOf(field).some((one) => one.id === value)
        ? null
        : `must be one of: ${choicesOf(field)
            .map((one) => one.label)
            .join(', ')}`,
    alignRight: false,
  },
  reference: {
    name: 'Reference',
    says: 'a record of another table',
    // A reference is picked, or matched by caption on import, where the other table's records are at hand.
    parse: (typed) => (typed.trim() === '' ? good(null) : bad('must be picked from the records')),
    print: (value) => (typeof value === 'object' && value !== null ? value.caption : value === null ? '' : String(value)),
    problem: (value) => (typeof value === 'number' && Number.isSafeInteger(value) && value > 0 ? null : 'must be one of the records'),
    alignRight: false,
  },
  formula: {
    name: 'Formula',
    says: 'worked out from other values',
    parse: (typed) => (typed.trim() === '' ? good(null) : bad('is worked out and cannot be entered')),
    print: (value, field) => printComputed(value, field.kind === 'formula' ? field.digits : null),
    problem: () => 'is worked out and cannot be entered',
    // What a formula gives is only known from its expression: columns of numbers are told by their type.
    alignRight: false,
  },
} satisfies Record<FieldKind, KindRow> as Record<FieldKind, KindRow>;

const isoDate = /^\d{4}-\d\d-\d\d$/u;
const canonicalNumber = /^-?\d+(\.\d+)?$/u;
/** What a formula gives, by the look of it: dates and numbers as their fields print them, all else as it is. */
function printComputed(value: Value, digits: number | null): string {
  if (value === null || typeof value === 'object') return '';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  const text = String(value);
  if (isoDate.test(text)) return printDate(text);
  return canonicalNumber.test(text) ? printRounded(text, digits) : text;
}

function printRounded(text: string, digits: number | null): string {
  return printNumber(roundedDigits(text, digits ?? tellingDigits(text)), digits ?? 0);
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

/** A value of an expression, of which the type is known: numbers and dates as their fields print them. */
export function printTyped(type: string, digits: number | null, value: Value): string {
  if (value === null) return '';
  if (typeof value === 'object') return value.caption;
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  const text = String(value);
  if (type === 'date') return printDate(text);
  return type === 'number' ? printRounded(text, digits) : text;
}

export const printValue = (field: Field, value: Value): string => kinds[field.kind].print(value, field);
export const parseValue = (field: FieldPlan, typed: string): Parsed => kinds[field.kind].parse(typed, field);
