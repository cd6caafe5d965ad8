import { z } from 'zod';
import { types } from '../feel/types.js';
import { Decimal, digitsOf, isNumber } from '../feel/value.js';
import { wants } from '../feel/wants.js';
import { literal, numericType } from '../sql/sql.js';
import { parseNumber } from '../values/numbers.js';
import { common, Default, identical, type FieldKind } from './kind.js';
import { bad, good } from './value.js';
import { largestWhole } from './whole.js';

const shape = z.object({ kind: z.literal('decimal'), ...common, digits: z.number().int().min(0).max(12).default(2), default: Default });

const longestWhole = 26;

function problemOf(value: unknown, digits: number): string | null {
  if (typeof value !== 'string' || !/^-?\d+(\.\d+)?$/u.test(value)) return 'must be a number';
  const [before = '', after = ''] = value.replace('-', '').split('.');
  if (before.replace(/^0+/u, '').length > longestWhole) return `has more than ${longestWhole} digits before the point`;
  return after.replace(/0+$/u, '').length > digits
    ? digits === 0
      ? 'must have no digits after the point'
      : `has more than ${digits} digits after the point`
    : null;
}

// It admits only what the cast accepts, so the CASE around it never raises an error on data.
const pattern = (digits: number): string => `^\\s*[-+]?[0-9]{1,${longestWhole}}(\\.[0-9]{0,${digits}}0*)?\\s*$`;

export const decimal = {
  word: 'Decimal',
  description: 'exact amounts: 12.50',
  named: /\b(?:price|amount|cost|fee|rent|total|weight|kilograms?|kg|litres?|length|height|width|temperature|rate|salary|discount|percent)\b|[%€$£]/iu,
  shape,
  traits: {
    align: 'right',
    formWidth: 3,
    listWidth: 120,
    rowWidth: 112,
    canBeUnique: true,
    searched: false,
    listed: true,
    caption: false,
    addsUp: true,
    words: false,
  },
  digits: (field) => field.digits,
  value: {
    parse: (typed, field, locale) => {
      const number = locale.readNumber(typed);
      if (number === null) return typed.trim() === '' ? good(null) : bad(`"${typed.trim()}" is not a number`);
      const problem = problemOf(number, field.digits);
      return problem === null ? good(number) : bad(`${typed.trim()} ${problem}`);
    },
    print: (value, field, locale) => (value === null ? '' : locale.number(String(value), field.digits, true)),
    typed: (value, field, locale) => (value === null ? '' : locale.plainNumber(String(value), field.digits)),
    problem: (value, field) => problemOf(value, field.digits),
    normal: (value) => (typeof value === 'string' ? (parseNumber(value) ?? value) : value),
    same: identical,
    exported: (value) => value,
  },
  feel: {
    type: () => types.number,
    from: (value) => (value === '' ? null : new Decimal(value as number | string)),
    to: (computed, field) => (isNumber(computed) ? digitsOf(computed.toDecimalPlaces(field.digits, Decimal.ROUND_HALF_EVEN)) : null),
    literal: String,
    wanted: wants.number,
  },
  column: {
    type: (field) => numericType(field.digits),
    constant: (value) => `${literal(String(value))}::numeric`,
    rules: () => [],
    sortKey: (column) => column,
    sortType: 'numeric',
    sent: (column) => `trim_scale(${column})::text`,
    asText: (column) => `trim_scale(${column})::text`,
    fromText: (text, field) => `CASE WHEN ${text} ~ ${literal(pattern(field.digits))} THEN (${text})::numeric::${numericType(field.digits)} END`,
    takesEveryText: false,
    conversions: (column, before, after) => {
      if (after.kind === 'whole')
        return { expression: `CASE WHEN ${column} = trunc(${column}) AND abs(${column}) <= ${largestWhole} THEN ${column}::bigint END`, canLose: true };
      if (after.kind !== 'decimal') return 'through text';
      const { digits } = after as z.infer<typeof shape>;
      if (digits === before.digits) return null;
      if (digits > before.digits) return { expression: `${column}::${numericType(digits)}`, canLose: false };
      return { expression: `CASE WHEN ${column} = round(${column}, ${digits}) THEN ${column}::${numericType(digits)} END`, canLose: true };
    },
  },
  cells: {
    reader: (field, reading) => {
      const quick = new RegExp(`^-?\\d{1,20}${field.digits > 0 ? `(\\.\\d{1,${field.digits}})?` : ''}$`, 'u');
      return (text) => {
        if (reading.numbers === 'point' && quick.test(text)) return text;
        const digits = parseNumber(text, reading.numbers);
        if (digits === null) return { problem: 'is not a number' };
        const problem = problemOf(digits, field.digits);
        return problem === null ? digits : { problem };
      };
    },
    key: (printed) => parseNumber(printed) ?? printed,
    value: (printed) => printed,
    reading: 'numbers',
    settingsFor: ({ digits }) => ({ digits }),
  },
  sample: {
    settings: [{}, { digits: 0 }, { digits: 5, unique: true }],
    values: (fc, field) =>
      fc.bigInt({ min: -(10n ** 12n), max: 10n ** 12n }).map((n) => digitsOf(new Decimal(n.toString()).div(new Decimal(10).pow(field.digits)))),
  },
} as const satisfies FieldKind<z.infer<typeof shape>>;
