import { z } from 'zod';
import { storedWhole } from '../feel/stored.js';
import { types } from '../feel/types.js';
import { Decimal, isNumber } from '../feel/value.js';
import { wants } from '../feel/wants.js';
import { literal, numericType } from '../sql/sql.js';
import { standardLocale } from '../values/locale.js';
import { parseNumber } from '../values/numbers.js';
import { asIs, common, Default, identical, type FieldKind } from './kind.js';
import { bad, good } from './value.js';

const shape = z.object({ kind: z.literal('whole'), ...common, default: Default });

/** Largest whole number that a browser and JSON carry exactly; the database holds whole numbers within the same range. */
export const largestWhole = Number.MAX_SAFE_INTEGER;

// It admits only what the cast accepts, so the CASE around it never raises an error on data.
const pattern = '^\\s*[-+]?[0-9]{1,18}(\\.0*)?\\s*$';
const quick = /^-?(?:0|[1-9]\d{0,14})$/u;

export const whole = {
  word: 'Whole number',
  description: 'counts: 0, 12, 300',
  named: /^(?:number|count|quantity) of .*$|\b(?:number|count|quantity|pieces|capacity|age|year|how many)\b/iu,
  shape,
  traits: {
    align: 'right',
    formWidth: 3,
    listWidth: 110,
    rowWidth: 112,
    canBeUnique: true,
    canBeIndexed: true,
    searched: false,
    listed: true,
    caption: false,
    addsUp: false,
    words: false,
  },
  digits: () => 0,
  value: {
    parse: (typed, _, locale) => {
      const number = locale.readNumber(typed);
      if (number === null) return typed.trim() === '' ? good(null) : bad(`"${typed.trim()}" is not a number`);
      if (/\.\d*[1-9]/u.test(number)) return bad(`${typed.trim()} is not a whole number`);
      const parsed = Number(number.split('.')[0]);
      return Number.isSafeInteger(parsed) ? good(parsed === 0 ? 0 : parsed) : bad(`${typed.trim()} is too large; the largest is ${locale.count(largestWhole)}`);
    },
    print: (value, _, locale) => (value === null ? '' : locale.number(String(value))),
    typed: (value, _, locale) => (value === null ? '' : locale.plainNumber(String(value))),
    problem: (value) =>
      typeof value !== 'number' || !Number.isInteger(value)
        ? 'must be a whole number'
        : Number.isSafeInteger(value)
          ? null
          : `is beyond ${standardLocale().count(largestWhole)}`,
    normal: asIs,
    same: identical,
    exported: asIs,
  },
  feel: {
    type: () => types.number,
    from: (value) => (value === '' ? null : new Decimal(value as number | string)),
    to: (computed) => (isNumber(computed) && computed.isInteger() && computed.abs().lte(largestWhole) ? computed.toNumber() : null),
    literal: String,
    wanted: wants.number,
  },
  column: {
    type: () => 'bigint',
    constant: String,
    rules: (_, column) => [{ name: 'range', check: `${column} BETWEEN -${largestWhole} AND ${largestWhole}`, reason: null }],
    sortKey: (column) => column,
    sortType: 'bigint',
    sent: (column) => column,
    stored: () => storedWhole,
    asText: (column) => `${column}::text`,
    fromText: (text) =>
      `CASE WHEN ${text} ~ ${literal(pattern)} THEN CASE WHEN abs((${text})::numeric) <= ${largestWhole} THEN (${text})::numeric::bigint END END`,
    takesEveryText: false,
    conversions: (column, _, after) =>
      after.kind === 'whole'
        ? null
        : after.kind === 'decimal'
          ? { expression: `${column}::${numericType((after as { digits?: number }).digits ?? 0)}`, canLose: false }
          : 'through text',
  },
  cells: {
    reader: (_, reading) => (text) => {
      if (reading.numbers === 'point' && quick.test(text)) return text;
      const digits = parseNumber(text, reading.numbers);
      if (digits === null) return { problem: 'is not a number' };
      if (digits.includes('.')) return { problem: 'is not a whole number' };
      return Math.abs(Number(digits)) > largestWhole ? { problem: 'is too large' } : digits;
    },
    key: (printed) => printed,
    value: Number,
    reading: 'numbers',
    settingsFor: () => ({}),
  },
  sample: { settings: [{}, { unique: true }], values: (fc) => fc.maxSafeInteger() },
} as const satisfies FieldKind<z.infer<typeof shape>>;
