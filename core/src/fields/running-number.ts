import { z } from 'zod';
import { types } from '../feel/types.js';
import { wants } from '../feel/wants.js';
import { writtenText } from '../feel/write.js';
import { literal } from '../sql/sql.js';
import { asIs, common, identical, readsAlike, textOrNothing, type FieldKind } from './kind.js';
import { bad, good } from './value.js';

const longest = 60;
/** A pattern has one place for the number: as many zeros in braces as it has digits at least. */
const digitsInBraces = /\{0+\}/gu;
const Pattern = z
  .string()
  .trim()
  .min(1)
  .max(40)
  .refine((pattern) => pattern.match(digitsInBraces)?.length === 1, 'needs one place for the number, like {000}')
  .refine((pattern) => !/[{}]/u.test(pattern.replace(digitsInBraces, '').replace(/\{year\}/gu, '')), 'can have {year} and {000} in braces, and nothing else')
  .refine((pattern) => !/\p{C}/u.test(pattern), 'has a character that cannot be shown');

const shape = z.object({
  kind: z.literal('running_number'),
  ...common,
  // Every record has one as soon as it is saved, and no two have the same.
  required: z.literal(false).default(false),
  unique: z
    .boolean()
    .default(true)
    .transform(() => true as const),
  pattern: Pattern.default('{0}'),
  start: z.number().int().min(0).max(1_000_000_000).default(1),
  step: z.number().int().min(1).max(1000).default(1),
  /** Whether it begins again each year; then the year has to be in the pattern. */
  yearly: z.boolean().default(false),
  default: z.null().default(null),
});
type Plan = z.infer<typeof shape>;

/** A number as the pattern writes it. */
export const writtenNumber = ({ pattern }: Pick<Plan, 'pattern'>, number: number, year: number): string =>
  pattern.replace(/\{year\}/gu, String(year)).replace(digitsInBraces, (zeros) => String(number).padStart(zeros.length - 2, '0'));

const problemOf = (value: unknown): string | null =>
  typeof value !== 'string' || value.trim() !== value || value === ''
    ? 'must be a number of this kind'
    : value.length > longest || /\p{C}/u.test(value)
      ? `must have up to ${longest} characters that can be shown`
      : null;

/**
 * Numbers that the database gives, each once: "L-2026-0042". A number is given when its record is saved, and goes with it: a
 * record that is deleted leaves a gap, and a save that fails leaves none. Numbers that a file brings along are kept, and the next
 * one follows the largest.
 */
export const runningNumber = {
  word: 'Running number',
  description: 'given by itself: L-2026-0042',
  named: null,
  shape,
  traits: {
    align: 'left',
    formWidth: 3,
    listWidth: 120,
    rowWidth: 120,
    canBeUnique: false,
    canBeIndexed: true,
    searched: true,
    listed: true,
    caption: false,
    addsUp: false,
    words: true,
  },
  problems: (field) =>
    field.yearly && !field.pattern.includes('{year}')
      ? [{ code: 'broken' as const, problem: `${field.name} begins again each year, so its pattern needs {year}: two records would have the same number` }]
      : [],
  isGiven: true,
  digits: () => null,
  value: {
    parse: (typed) => {
      const text = typed.trim();
      if (text === '') return good(null);
      const problem = problemOf(text);
      return problem === null ? good(text) : bad(problem);
    },
    print: textOrNothing,
    typed: textOrNothing,
    problem: problemOf,
    normal: asIs,
    same: identical,
    exported: asIs,
  },
  feel: {
    type: () => types.string,
    from: (value) => String(value),
    to: (computed) => (typeof computed === 'string' && problemOf(computed) === null ? computed : null),
    literal: (value) => writtenText(String(value)),
    wanted: wants.text,
  },
  column: {
    type: () => 'text',
    constant: (value) => literal(String(value)),
    rules: () => [],
    // The tenth comes after the ninth, however many digits the pattern has.
    sortKey: (column) => `lpad(${column}, ${longest}, '0')`,
    sortType: 'text',
    sent: (column) => column,
    numbered: (field) => [field.pattern, String(field.start), String(field.step), field.yearly ? 'yearly' : ''],
    asText: (column) => column,
    fromText: (text) => `CASE WHEN length(trim(${text})) BETWEEN 1 AND ${longest} AND ${text} !~ '[[:cntrl:]]' THEN trim(${text}) END`,
    takesEveryText: false,
    conversions: (_, __, after) => (after.kind === 'running_number' || after.kind === 'text' || after.kind === 'long_text' ? null : 'through text'),
  },
  cells: {
    reader: () => (text) => {
      const problem = problemOf(text.trim());
      return problem === null ? text.trim() : { problem };
    },
    ...readsAlike,
    reading: null,
    settingsFor: null,
  },
  sample: {
    settings: [{}, { pattern: 'L-{year}-{0000}', yearly: true }],
    values: (fc) => fc.integer({ min: 1, max: 99_999 }).map((n) => `L-2026-${String(n).padStart(4, '0')}`),
  },
} as const satisfies FieldKind<Plan>;
