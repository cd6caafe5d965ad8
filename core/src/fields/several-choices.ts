import { z } from 'zod';
import { listOf, type Type } from '../feel/types.js';
import { isList, type Feel } from '../feel/value.js';
import { wants } from '../feel/wants.js';
import { literal } from '../sql/sql.js';
import { Choice, choiceNow, choiceProblems, labelOf, readChoice } from './choice.js';
import { identical, neverUnique, readsAlike, textOrNothing, type FieldKind, type Misfit } from './kind.js';
import { bad, good, type Value } from './value.js';

const shape = z.object({
  kind: z.literal('several_choices'),
  ...neverUnique,
  choices: z.array(Choice).min(1, 'needs at least one choice').max(200).readonly(),
  default: z.null().default(null),
});
type Plan = z.infer<typeof shape>;

/** The ids of a value, which has a line for each. */
export const idsIn = (value: unknown): readonly string[] => (typeof value === 'string' && value !== '' ? value.split('\n') : []);
/** Each once, in the order in which the builder wrote the choices. */
export function idsAs(ids: readonly string[], { choices }: Pick<Plan, 'choices'>): string | null {
  const chosen = choices.filter((choice) => ids.includes(choice.id)).map((choice) => choice.id);
  return chosen.length === 0 ? null : chosen.join('\n');
}

const printed = (value: Value, field: Plan, between: string): string =>
  idsIn(value)
    .map((id) => labelOf(field, id) ?? id)
    .join(between);

/** Reads several choices from a text. Returns the first piece that is no choice, if there is one. */
function read(typed: string, field: Plan): readonly Choice[] | string {
  const whole = readChoice(typed, field);
  if (whole !== undefined) return [whole];
  const found: Choice[] = [];
  for (const piece of typed.split(/[;\n]/u).filter((each) => each.trim() !== '')) {
    const single = readChoice(piece, field);
    // A label can have a comma in it: only what is none by itself is taken apart.
    const parts =
      single === undefined
        ? piece
            .split(',')
            .filter((part) => part.trim() !== '')
            .map((part) => readChoice(part, field) ?? part.trim())
        : [single];
    const odd = parts.find((part) => typeof part === 'string');
    if (odd !== undefined) return odd;
    found.push(...(parts as Choice[]));
  }
  return found;
}

const array = (texts: readonly string[]): string => `ARRAY[${texts.map(literal).join(', ')}]::text[]`;
const ids = (field: Plan): string => array(field.choices.map((choice) => choice.id));
const labels = (field: Plan): string => array(field.choices.map((choice) => choice.label));

/** Any number of a few words. Expressions see the list of their labels, which is empty where there is none. */
export const severalChoices = {
  word: 'Several choices',
  description: 'any number of a few words',
  named: null,
  shape,
  traits: {
    align: 'left',
    formWidth: 6,
    listWidth: 200,
    rowWidth: 180,
    canBeUnique: false,
    canBeIndexed: false,
    searched: true,
    listed: true,
    caption: false,
    addsUp: false,
    words: true,
  },
  problems: choiceProblems,
  digits: () => null,
  value: {
    parse: (typed, field) => {
      const found = read(typed, field);
      if (typeof found !== 'string')
        return good(
          idsAs(
            found.map((each) => each.id),
            field,
          ),
        );
      return bad(`"${found.slice(0, 80)}" is none of: ${field.choices.map((choice) => choice.label).join(', ')}`);
    },
    print: (value, field) => printed(value, field, ', '),
    typed: textOrNothing,
    problem: (value, field) =>
      typeof value === 'string' && idsAs(idsIn(value), field) === value ? null : `must be some of: ${field.choices.map((choice) => choice.label).join(', ')}`,
    normal: (value, field) => (typeof value === 'string' && idsIn(value).every((id) => labelOf(field, id) !== undefined) ? idsAs(idsIn(value), field) : value),
    same: identical,
    exported: (value, field) => printed(value, field, '; '),
  },
  feel: {
    type: (field, table): Type => listOf({ kind: 'choice', labels: field.choices.map((choice) => choice.label), table, field: field.id }),
    from: (value, field): Feel => idsIn(value).map((id) => labelOf(field, id) ?? id),
    ofNothing: [],
    shownAs: (name) => `string join(${name}, ", ")`,
    // Written as a text, as people write several: "Lime; Heather".
    to: (computed, field) => {
      if (typeof computed === 'string') {
        const found = read(computed, field);
        return typeof found === 'string'
          ? null
          : idsAs(
              found.map((each) => each.id),
              field,
            );
      }
      if (!isList(computed)) return null;
      const chosen = computed.map((label) => field.choices.find((choice) => choice.label === label)?.id);
      return chosen.every((id) => id !== undefined) ? idsAs(chosen, field) : null;
    },
    literal: (value, field) => JSON.stringify(printed(value, field, '; ')),
    wanted: wants.text,
  },
  column: {
    type: () => 'text',
    constant: (value) => literal(String(value)),
    rules: (field, column) => [
      { name: 'choices', check: `string_to_array(${column}, E'\\n') <@ ${ids(field)}`, reason: `every ${field.name} is some of the choices` },
    ],
    // In the order in which the builder wrote them, those of the first choice first.
    sortKey: (column, field) =>
      `feel.lines_as(${column}, ${ids(field)}, ${array(field.choices.map((_, i) => String.fromCharCode(97 + Math.floor(i / 26), 97 + (i % 26))))}, '')`,
    sortType: 'text',
    sent: (column) => column,
    isWhole: true,
    elements: (field) => ({
      rows: (column) => `string_to_table(${column}, E'\\n')`,
      seen: (element) => `CASE ${element} ${field.choices.map((choice) => `WHEN ${literal(choice.id)} THEN ${literal(choice.label)}`).join(' ')} END`,
    }),
    asText: (column, field) => `feel.lines_as(${column}, ${ids(field)}, ${labels(field)}, '; ')`,
    fromText: (text, field) => `feel.lines_of(${text}, ${ids(field)}, ${labels(field)})`,
    takesEveryText: false,
    conversions: (column, before, after) => {
      if (after.kind !== 'several_choices') return 'through text';
      const left = (after as Plan).choices.map((choice) => choice.id);
      const now = before.choices.map((choice) => [choice.id, choiceNow(after as Plan, choice.id)?.id] as const);
      const staying = left.filter((id) => before.choices.some((choice) => choice.id === id));
      if (now.every(([old, id]) => id === old) && staying.join() === before.choices.map((choice) => choice.id).join()) return null;
      // What is left out is lost, what was merged has become another, and all come into their new order.
      const moved = now.filter(([, id]) => id !== undefined);
      const [from, to] = [array(moved.map(([old]) => old)), array(moved.map(([, id]) => id ?? ''))];
      return { expression: `feel.lines_become(${column}, ${from}, ${to}, ${array(left)})`, canLose: true };
    },
  },
  cells: {
    reader: (field) => {
      // The same few combinations over and over: each is read once.
      const known = new Map<string, string | Misfit>();
      return (text) => {
        const hit = known.get(text);
        if (hit !== undefined) return hit;
        const found = read(text, field);
        const chosen =
          typeof found === 'string'
            ? null
            : idsAs(
                found.map((each) => each.id),
                field,
              );
        const result = chosen ?? { problem: 'is none of the choices' };
        if (known.size < 1000) known.set(text, result);
        return result;
      };
    },
    ...readsAlike,
    reading: null,
    settingsFor: null,
  },
  sample: {
    settings: [
      {
        choices: [
          { id: 'lime', label: 'Lime' },
          { id: 'heather', label: 'Ling heather' },
          { id: 'clover', label: "Clover 'white'" },
        ],
      },
    ],
    values: (fc, field) =>
      fc
        .subarray(
          field.choices.map((choice) => choice.id),
          { minLength: 1 },
        )
        .map((chosen) => idsAs(chosen, field)),
  },
} as const satisfies FieldKind<Plan>;
