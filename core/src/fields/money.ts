import { z } from 'zod';
import { digitsOf, Decimal } from '../feel/value.js';
import { literal } from '../sql/sql.js';
import { Currency, currencyFor, currencyMarks, minorDigits } from '../values/units.js';
import { exactNumber, numberTraits } from './exact-number.js';
import { common, Default, type FieldKind } from './kind.js';

const shape = z.object({ kind: z.literal('money'), ...common, currency: Currency.default('EUR'), default: Default });
type Plan = z.infer<typeof shape>;

const digits = ({ currency }: Plan): number => minorDigits(currency);

const numbers = exactNumber<Plan>({
  digits,
  moved: 0,
  marks: (field) => currencyMarks(field.currency),
  print: (amount, field, locale) => locale.amount(amount, field.currency, digits(field)),
  wanted: 'an amount of money. Write it like 12.50',
});

/** Amounts of one currency, to its smallest coin. */
export const money = {
  word: 'Money',
  description: 'amounts of a currency: €12.50',
  named: /\b(?:price|cost|costs|fee|fees|rent|salary|wage|budget|deposit)\b|[€$£]/iu,
  shape,
  traits: numberTraits,
  ...numbers,
  column: {
    ...numbers.column!,
    conversions: (column, before, after, zone) =>
      after.kind === 'any_money'
        ? { expression: `trim_scale(${column})::text || ${literal(` ${before.currency}`)}`, canLose: false }
        : numbers.column!.conversions(column, before, after, zone),
  },
  cells: { ...numbers.cells, settingsFor: ({ unit, region }) => ({ currency: currencyFor(unit, region) }) },
  unit: (field) => field.currency,
  sample: {
    settings: [{}, { currency: 'JPY' }, { currency: 'KWD', unique: true }],
    values: (fc, field) =>
      fc.bigInt({ min: -(10n ** 12n), max: 10n ** 12n }).map((n) => digitsOf(new Decimal(n.toString()).div(new Decimal(10).pow(digits(field))))),
  },
} as const satisfies FieldKind<Plan>;
