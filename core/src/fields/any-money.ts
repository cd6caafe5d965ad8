/** Amounts of money that each have their own currency. A value is an amount and a code of ISO 4217: `12.5 EUR`. */
import { z } from 'zod';
import { types } from '../feel/types.js';
import { Decimal, digitsOf } from '../feel/value.js';
import { literal, numericType } from '../sql/sql.js';
import { parseNumber } from '../values/numbers.js';
import { allCurrencies, Currency, currencyFor, currencyMarks, majorCurrencies, minorDigits } from '../values/units.js';
import { numberTraits } from './exact-number.js';
import { common, Default, type FieldKind } from './kind.js';
import { readText } from './read-text.js';
import { bad, good, type Value } from './value.js';

const shape = z.object({
  kind: z.literal('any_money'),
  ...common,
  /** Of amounts that are entered without one. */
  currency: Currency.default('EUR'),
  default: Default,
});
type Plan = z.infer<typeof shape>;

const longest = 26;
interface Amount {
  readonly amount: string;
  readonly currency: string;
}
const stored = new RegExp(`^(-?\\d{1,${longest}}(?:\\.\\d+)?) ([A-Z]{3})$`, 'u');
/** The parts of a value; null where it is none. */
function amountIn(value: unknown): Amount | null {
  const [, amount, currency] = typeof value === 'string' ? (stored.exec(value) ?? []) : [];
  return amount === undefined || currency === undefined ? null : { amount, currency };
}

/** A value of its parts; null where the currency has no such amounts. */
function valueAs(amount: string, currency: string): string | null {
  const [whole = '', fraction = ''] = amount.replace('-', '').split('.');
  if (whole.length > longest || fraction.replace(/0+$/u, '').length > minorDigits(currency)) return null;
  return `${digitsOf(new Decimal(amount))} ${currency}`;
}

const code = /^([a-z]{3})(?![a-z])\s*(.*)$|^(.*?)\s*(?<![a-z])([a-z]{3})$/iu;
/** Digits and the currency that is written beside them: by its code, or by a mark, which means that of the field where it could be. */
function apart(typed: string, { currency }: Plan): { readonly digits: string; readonly currency: string } | null {
  const text = typed.trim();
  const [, before, after, ahead, behind] = code.exec(text) ?? [];
  const named = (before ?? behind)?.toUpperCase();
  if (named !== undefined) return Currency.safeParse(named).success ? { digits: after ?? ahead ?? '', currency: named } : null;
  if (/^[-+−]?[\d.,\s'’]+$/u.test(text)) return { digits: text, currency };
  for (const each of [currency, ...majorCurrencies])
    for (const mark of currencyMarks(each)) {
      const sign = /^[-+−]/u.exec(text)?.[0] ?? '';
      const rest = text.slice(sign.length).trim();
      if (rest.startsWith(mark)) return { digits: sign + rest.slice(mark.length).trim(), currency: each };
      if (rest.endsWith(mark)) return { digits: sign + rest.slice(0, -mark.length).trim(), currency: each };
    }
  return null;
}

const wanted = 'an amount of money. Write it like 12.50 EUR';

function read(typed: string, field: Plan, numberIn: (digits: string) => string | null): string | null {
  const parts = apart(typed, field);
  const number = parts === null ? null : numberIn(parts.digits);
  return parts === null || number === null ? null : valueAs(number, parts.currency);
}

const base = readText<Plan>({
  wanted,
  read: (typed, field) => read(typed, field, (digits) => parseNumber(digits)),
  isStored: (text) => {
    const parts = amountIn(text);
    return parts !== null && Currency.safeParse(parts.currency).success && valueAs(parts.amount, parts.currency) !== null;
  },
  parts: {
    amount: { type: types.number, from: (value) => new Decimal(amountIn(value)?.amount ?? 0), sql: (column) => amountSql(column) },
    currency: { type: types.string, from: (value) => amountIn(value)?.currency ?? null, sql: (column) => `split_part(${column}, ' ', 2)` },
  },
  fromText: (text, { currency }) => {
    const number = `substring(${text} COLLATE "C" FROM '^\\s*([-+]?[0-9]{1,${longest}}(?:[.][0-9]{1,20})?)\\s*(?:[A-Za-z]{3})?\\s*$')`;
    const named = `COALESCE(upper(substring(${text} COLLATE "C" FROM '([A-Za-z]{3})\\s*$')), ${literal(currency)})`;
    const places = [...new Set(allCurrencies().map(minorDigits))].map(
      (digits) =>
        `WHEN ${named} IN (${allCurrencies()
          .filter((each) => minorDigits(each) === digits)
          .map(literal)
          .join(', ')}) THEN ${digits}`,
    );
    const fits = `scale(trim_scale(${number}::numeric)) <= (CASE ${places.join(' ')} END)`;
    return `CASE WHEN ${number} IS NOT NULL AND ${fits} THEN trim_scale(${number}::numeric)::text || ' ' || ${named} END`;
  },
});
const amountSql = (column: string): string => `split_part(${column}, ' ', 1)::numeric`;
const textIn = (value: Value): string => (typeof value === 'string' ? value : '');

/** Amounts of several currencies in one field. Nothing adds them up unasked: a query or a formula does so over `.amount`. */
export const anyMoney = {
  word: 'Money in any currency',
  description: 'an amount with its currency: 12.50 USD',
  named: null,
  shape,
  traits: { ...numberTraits, listWidth: 140, addsUp: false, words: true },
  ...base,
  value: {
    ...base.value,
    parse: (typed, field, locale) => {
      if (typed.trim() === '') return good(null);
      const value = read(typed, field, locale.readNumber);
      return value === null ? bad(`"${typed.trim().slice(0, 80)}" is not ${wanted}`) : good(value);
    },
    print: (value, _, locale) => {
      const parts = amountIn(value);
      // By its code: a mark such as $ is that of several currencies.
      return parts === null ? textIn(value) : `${locale.number(parts.amount, minorDigits(parts.currency), true)} ${parts.currency}`;
    },
    typed: (value, _, locale) => {
      const parts = amountIn(value);
      return parts === null ? textIn(value) : `${locale.plainNumber(parts.amount, minorDigits(parts.currency))} ${parts.currency}`;
    },
    normal: (value) => {
      const parts = amountIn(value);
      return parts === null ? value : (valueAs(parts.amount, parts.currency) ?? value);
    },
    exported: (value) => value,
  },
  column: {
    ...base.column!,
    sortKey: amountSql,
    sortType: 'numeric',
    conversions: (column, before, after) => {
      if (after.kind === before.kind || after.kind === 'text' || after.kind === 'long_text') return null;
      if (after.kind !== 'money') return 'through text';
      const { currency } = after as typeof after & { readonly currency: string };
      const amount = `${amountSql(column)}::${numericType(minorDigits(currency))}`;
      return { expression: `CASE WHEN split_part(${column}, ' ', 2) = ${literal(currency)} THEN ${amount} END`, canLose: true };
    },
  },
  cells: {
    ...base.cells,
    reader: (field, reading) => (text) => read(text, field, (digits) => parseNumber(digits, reading.numbers)) ?? { problem: `is not ${wanted}` },
    reading: 'numbers',
    settingsFor: ({ unit, region }) => ({ currency: currencyFor(unit, region) }),
  },
  sample: {
    settings: [{}, { currency: 'USD', unique: true }],
    values: (fc) =>
      fc
        .tuple(fc.bigInt({ min: -(10n ** 12n), max: 10n ** 12n }), fc.constantFrom('EUR', 'USD', 'JPY', 'KWD', 'CHF'))
        .map(([n, currency]) => `${digitsOf(new Decimal(n.toString()).div(new Decimal(10).pow(minorDigits(currency))))} ${currency}`),
  },
} as const satisfies FieldKind<Plan>;
