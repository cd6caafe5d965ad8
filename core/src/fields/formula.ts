import { z } from 'zod';
import { wants } from '../feel/wants.js';
import { Expression } from '../shapes/shapes.js';
import { Unit } from '../values/units.js';
import { printComputed } from './computed.js';
import { asIs, identical, neverUnique, textOrNothing, type FieldKind } from './kind.js';
import { bad, good } from './value.js';

const shape = z.object({
  kind: z.literal('formula'),
  ...neverUnique,
  required: z.literal(false).default(false),
  expression: Expression.min(1, 'needs an expression'),
  /** Numbers are shown with so many digits after the point; null: as many as there are. */
  digits: z.number().int().min(0).max(12).nullable().default(null),
  /** What its numbers count, where it is said otherwise than by its expression. */
  unit: Unit.nullable().default(null),
  default: z.null().default(null),
});

const cannot = "is calculated and can't be entered";

/** Computed whenever it is shown: there is no column that could be out of date. */
export const formula = {
  word: 'Formula',
  description: 'calculated from other values',
  named: null,
  shape,
  // Whether it is a number is only known from its expression.
  traits: {
    align: 'left',
    formWidth: 3,
    listWidth: 140,
    rowWidth: 120,
    canBeUnique: false,
    canBeIndexed: false,
    searched: false,
    listed: true,
    caption: false,
    addsUp: false,
    words: true,
  },
  digits: (field) => field.digits,
  unit: (field) => field.unit,
  value: {
    parse: (typed) => (typed.trim() === '' ? good(null) : bad(cannot)),
    print: (value, field, locale) => printComputed(value, field, locale),
    typed: textOrNothing,
    problem: () => cannot,
    normal: asIs,
    same: identical,
    exported: asIs,
  },
  feel: {
    type: () => null,
    from: (value) => value as string | boolean,
    to: () => null,
    literal: String,
    wanted: wants.text,
  },
  column: null,
  cells: { reader: null, key: (printed) => printed, value: () => null, reading: null, settingsFor: null },
  sample: { settings: [{ expression: '1' }, { expression: '1', digits: 2 }], values: (fc) => fc.constant(null) },
} as const satisfies FieldKind<z.infer<typeof shape>>;
