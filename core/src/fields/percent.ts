import { z } from 'zod';
import { digitsOf, Decimal } from '../feel/value.js';
import { exactNumber, numberTraits } from './exact-number.js';
import { common, Default, type FieldKind } from './kind.js';

const shape = z.object({ kind: z.literal('percent'), ...common, digits: z.number().int().min(0).max(10).default(0), default: Default });
type Plan = z.infer<typeof shape>;

const numbers = exactNumber<Plan>({
  digits: (field) => field.digits,
  moved: 2,
  marks: () => ['%'],
  print: (share, field, locale) => locale.amount(share, '%', field.digits),
  wanted: 'a share in percent. Write it like 12.5',
});

/** Shares of a whole. 12.5 % is 0.125 in the database and in expressions, and 12.5 wherever people or files write it. */
export const percent = {
  word: 'Percent',
  description: 'a share of a whole: 12.5%',
  named: /\b(?:percent|percentage|discount|share|vat|humidity)\b|%/iu,
  shape,
  traits: { ...numberTraits, addsUp: false, listWidth: 96 },
  ...numbers,
  cells: { ...numbers.cells, settingsFor: ({ digits }) => ({ digits: Math.min(digits, 10) }) },
  unit: () => '%',
  sample: {
    settings: [{}, { digits: 2, unique: true }],
    values: (fc, field) => fc.integer({ min: -100_000, max: 100_000 }).map((n) => digitsOf(new Decimal(n).div(new Decimal(10).pow(field.digits + 2)))),
  },
} as const satisfies FieldKind<Plan>;
