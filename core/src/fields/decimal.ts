import { z } from 'zod';
import { Decimal, digitsOf } from '../feel/value.js';
import { exactNumber, numberTraits } from './exact-number.js';
import { common, Default, type FieldKind } from './kind.js';

const shape = z.object({ kind: z.literal('decimal'), ...common, digits: z.number().int().min(0).max(12).default(2), default: Default });
type Plan = z.infer<typeof shape>;

const numbers = exactNumber<Plan>({
  digits: (field) => field.digits,
  moved: 0,
  marks: () => [],
  print: (digits, field, locale) => locale.number(digits, field.digits, true),
  takesShares: true,
  wanted: 'a number',
});

export const decimal = {
  word: 'Decimal',
  description: 'exact numbers: 12.50',
  named: /\b(?:amount|total|weight|kilograms?|kg|litres?|length|height|width|temperature|rate)\b/iu,
  shape,
  traits: numberTraits,
  ...numbers,
  cells: { ...numbers.cells, settingsFor: ({ digits }) => ({ digits }) },
  sample: {
    settings: [{}, { digits: 0 }, { digits: 5, unique: true }],
    values: (fc, field) =>
      fc.bigInt({ min: -(10n ** 12n), max: 10n ** 12n }).map((n) => digitsOf(new Decimal(n.toString()).div(new Decimal(10).pow(field.digits)))),
  },
} as const satisfies FieldKind<Plan>;
