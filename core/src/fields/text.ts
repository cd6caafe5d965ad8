import { z } from 'zod';
import { types } from '../feel/types.js';
import { wants } from '../feel/wants.js';
import { writtenText } from '../feel/write.js';
import { literal } from '../sql/sql.js';
import { standardLocale } from '../values/locale.js';
import { asIs, common, Default, identical, neverUnique, readsAlike, textOrNothing, type Column, type CommonPlan, type FieldKind } from './kind.js';
import { bad, good } from './value.js';

const shape = z.object({
  kind: z.literal('text'),
  ...common,
  /** Where it is unique: "Oak" and "OAK" are the same. */
  anyCase: z.literal(true).optional(),
  default: Default,
});
type Plan = z.infer<typeof shape>;
const longShape = z.object({ kind: z.literal('long_text'), ...neverUnique, default: Default });

/** What is wrong with a text of at most so many characters. */
function problemOf(value: unknown, most: number): string | null {
  if (typeof value !== 'string') return 'must be text';
  if (value.includes('\0')) return 'holds a character (NUL) that cannot be stored';
  if (!value.isWellFormed()) return 'holds half of a character; type it again';
  return value.length > most ? `is longer than ${standardLocale().count(most)} characters` : null;
}

const column: Column<CommonPlan> = {
  type: () => 'text',
  constant: (value) => literal(String(value)),
  rules: () => [],
  sortKey: (name) => name,
  sortType: 'text',
  sent: (name) => name,
  asText: (name) => name,
  fromText: (text) => text,
  takesEveryText: true,
  conversions: (_, __, after) => (after.kind === 'text' || after.kind === 'long_text' ? null : 'through text'),
};

const kindOfText = (most: number): Pick<FieldKind<CommonPlan>, 'digits' | 'value' | 'feel' | 'column' | 'cells'> => ({
  digits: () => null,
  value: {
    parse: (typed) => {
      const problem = problemOf(typed, most);
      return problem === null ? good(typed.trim() === '' ? null : typed) : bad(`The text ${problem}`);
    },
    print: textOrNothing,
    typed: textOrNothing,
    problem: (value) => problemOf(value, most),
    normal: asIs,
    same: identical,
    exported: asIs,
  },
  feel: {
    type: () => types.string,
    from: (value) => String(value),
    to: (computed) => (typeof computed === 'string' ? computed : null),
    literal: (value) => writtenText(String(value)),
    wanted: wants.text,
  },
  column,
  cells: {
    reader: () => (text) => {
      const problem = problemOf(text, most);
      return problem === null ? text : { problem };
    },
    ...readsAlike,
    reading: null,
    settingsFor: () => ({}),
  },
});

const oneLine = kindOfText(10_000);
export const text = {
  word: 'Text',
  description: 'one line of words',
  named: null,
  shape,
  traits: {
    align: 'left',
    formWidth: 6,
    listWidth: 180,
    rowWidth: 150,
    canBeUnique: true,
    canBeIndexed: true,
    searched: true,
    listed: true,
    caption: true,
    addsUp: false,
    words: true,
  },
  ...oneLine,
  column: { ...column, differs: (name: string, anyCase: boolean) => (anyCase ? `lower(${name})` : name) },
  cells: { ...oneLine.cells, key: (printed: string, field: Plan) => (field.anyCase === true ? printed.toLowerCase() : printed) },
  sample: {
    settings: [{}, { unique: true }, { unique: true, anyCase: true }],
    values: (fc) => fc.string({ unit: 'grapheme', minLength: 1, maxLength: 20 }).filter((each) => each.trim() !== '' && !each.includes('\0')),
  },
} as const satisfies FieldKind<Plan> & { readonly shape: z.ZodObject };

export const longText = {
  word: 'Long text',
  description: 'as many lines as needed',
  named: /\b(?:notes?|remarks?|description|comments?|details|instructions)\b/iu,
  shape: longShape,
  traits: {
    align: 'left',
    formWidth: 12,
    listWidth: 260,
    rowWidth: 220,
    canBeUnique: false,
    canBeIndexed: false,
    searched: true,
    listed: false,
    caption: false,
    addsUp: false,
    words: true,
  },
  ...kindOfText(1_000_000),
  sample: { settings: [{}], values: (fc) => fc.constantFrom('one line', 'two\nlines', '\ttab and "quotes", and \\ too', '   begins with blanks') },
} as const satisfies FieldKind<z.infer<typeof longShape>>;
