import { z } from 'zod';
import { wants } from '../feel/wants.js';
import { Label } from '../shapes/shapes.js';
import { freeSlug } from '../shapes/slug.js';
import { literal } from '../sql/sql.js';
import { asIs, Default, identical, neverUnique, readsAlike, type FieldKind, type Misfit, type SettingsProblem } from './kind.js';
import { bad, good, type Value } from './value.js';

/** The colours that choices can have, beside their words. */
export const tones = ['green', 'gold', 'red', 'blue', 'teal', 'violet', 'olive', 'grey'] as const;
export type Tone = (typeof tones)[number];

const ChoiceId = z.string().regex(/^[a-z0-9][a-z0-9_]{0,59}$/);
export const Choice = z
  .object({
    id: ChoiceId,
    label: Label,
    tone: z.enum(tones).optional(),
    /** Choices that are this one since: records that had one of them have this. */
    merged: z.array(ChoiceId).max(200).readonly().optional(),
    /** Kept where a record has it, and no longer offered. */
    retired: z.literal(true).optional(),
  })
  .readonly();
export type Choice = z.infer<typeof Choice>;

const shape = z.object({
  kind: z.literal('choice'),
  ...neverUnique,
  choices: z.array(Choice).min(1, 'needs at least one choice').max(200).readonly(),
  default: Default,
});
type ChoicePlan = z.infer<typeof shape>;

/** Choices with these labels, each with an id that is made of it. */
export function choicesOf(words: readonly string[]): readonly Choice[] {
  const ids: string[] = [];
  return words.map((label) => {
    const id = freeSlug(label, ids);
    ids.push(id);
    return { id, label };
  });
}

const labels = (field: ChoicePlan): string => field.choices.map((each) => each.label).join(', ');
export const labelOf = (field: Pick<ChoicePlan, 'choices'>, id: Value): string | undefined => field.choices.find((each) => each.id === id)?.label;
/** The choice that a text names, by its label or its id. */
export function readChoice(typed: string, field: Pick<ChoicePlan, 'choices'>): Choice | undefined {
  const word = typed.trim().toLowerCase();
  return field.choices.find((each) => each.label.toLowerCase() === word) ?? field.choices.find((each) => each.id === word);
}
const labelSql = (field: ChoicePlan): string => field.choices.map((each) => `WHEN ${literal(each.id)} THEN ${literal(each.label)}`).join(' ');

/** What has become of a choice by its old id: itself, or the one that it was merged into. */
export const choiceNow = (field: Pick<ChoicePlan, 'choices'>, id: string): Choice | undefined =>
  field.choices.find((each) => each.id === id) ?? field.choices.find((each) => each.merged?.includes(id));

/** Two choices are never called the same. */
export function choiceProblems(field: Pick<ChoicePlan, 'choices' | 'name'>): readonly SettingsProblem[] {
  const mergedIds = field.choices.flatMap((each) => each.merged ?? []);
  const isAgain = (key: (each: Choice) => string) => (item: Choice, at: number) => field.choices.findIndex((each) => key(each) === key(item)) !== at;
  return [
    ...field.choices
      .filter(isAgain((each) => each.id))
      .map((each) => ({ code: 'broken' as const, problem: `Two choices of ${field.name} share the id ${each.id}` })),
    ...field.choices
      .filter(isAgain((each) => each.label.toLocaleLowerCase('en')))
      .map((each) => ({ code: 'name_taken' as const, what: 'choice' as const, name: each.label, within: field.name })),
    ...mergedIds
      .filter((id, at) => mergedIds.indexOf(id) !== at || field.choices.some((each) => each.id === id))
      .map((id) => ({ code: 'broken' as const, problem: `The choice ${id} of ${field.name} can't be merged twice, or be there as well` })),
  ];
}

export const choice = {
  word: 'One choice',
  description: 'one of a few words',
  named: null,
  shape,
  traits: {
    align: 'left',
    formWidth: 6,
    listWidth: 130,
    rowWidth: 130,
    canBeUnique: false,
    canBeIndexed: true,
    searched: false,
    listed: true,
    caption: false,
    addsUp: false,
    words: true,
  },
  problems: choiceProblems,
  digits: () => null,
  value: {
    parse: (typed, field) => {
      if (typed.trim() === '') return good(null);
      const found = readChoice(typed, field);
      return found === undefined ? bad(`"${typed.trim()}" is none of: ${labels(field)}`) : good(found.id);
    },
    print: (value, field) => (value === null ? '' : (labelOf(field, value) ?? String(value))),
    typed: (value) => (value === null ? '' : String(value)),
    problem: (value, field) => (field.choices.some((each) => each.id === value) ? null : `must be one of: ${labels(field)}`),
    normal: asIs,
    same: identical,
    exported: (value, field) => labelOf(field, value) ?? value,
  },
  feel: {
    type: (field, table) => ({ kind: 'choice', labels: field.choices.map((each) => each.label), table, field: field.id }),
    from: (value, field) => labelOf(field, value) ?? null,
    to: (computed, field) => field.choices.find((each) => each.label === computed)?.id ?? null,
    literal: (value, field) => JSON.stringify(labelOf(field, value) ?? ''),
    wanted: wants.text,
  },
  column: {
    type: () => 'text',
    constant: (value) => literal(String(value)),
    rules: (field, column) => [
      {
        name: 'choices',
        check: `${column} IN (${field.choices.map((each) => literal(each.id)).join(', ')})`,
        reason: `every ${field.name} is one of the choices`,
      },
    ],
    // Choices are sorted in the order in which the builder wrote them.
    sortKey: (column, field) => `array_position(ARRAY[${field.choices.map((each) => literal(each.id)).join(', ')}]::text[], ${column})`,
    sortType: 'integer',
    sent: (column) => column,
    stored: (field) => ({
      seen: (column) => `CASE ${column} ${labelSql(field)} END`,
      constant: (value, isEquality) => {
        const id = isEquality ? field.choices.find((each) => each.label === value)?.id : undefined;
        return id === undefined ? null : { value: id, type: 'text' };
      },
      isOrdered: false,
    }),
    asText: (column, field) => `CASE ${column} ${labelSql(field)} ELSE ${column} END`,
    fromText: (text, field) =>
      `CASE ${field.choices.map((each) => `WHEN lower(trim(${text})) = lower(${literal(each.label)}) OR ${text} = ${literal(each.id)} THEN ${literal(each.id)}`).join(' ')} END`,
    takesEveryText: false,
    conversions: (column, before, after) => {
      if (after.kind !== 'choice') return 'through text';
      const now = before.choices.map((each) => [each.id, choiceNow(after as ChoicePlan, each.id)?.id] as const);
      if (now.every(([old, id]) => id === old)) return null;
      const cases = now.flatMap(([old, id]) => (id === undefined ? [] : `WHEN ${literal(old)} THEN ${literal(id)}`));
      return { expression: cases.length === 0 ? 'NULL::text' : `CASE ${column} ${cases.join(' ')} END`, canLose: true };
    },
  },
  cells: {
    reader: (field) => {
      // A few words over and over: each is read once.
      const known = new Map<string, string | Misfit>();
      return (text) => {
        const hit = known.get(text);
        if (hit !== undefined) return hit;
        const result = readChoice(text, field)?.id ?? { problem: 'is none of the choices' };
        if (known.size < 1000) known.set(text, result);
        return result;
      };
    },
    ...readsAlike,
    reading: null,
    settingsFor: ({ choices }) => ({ choices: choicesOf(choices) }),
  },
  sample: {
    settings: [
      {
        choices: [
          { id: 'low', label: 'Low stores' },
          { id: 'high', label: 'High' },
        ],
      },
    ],
    values: (fc, field) => fc.constantFrom(...field.choices.map((each) => each.id)),
  },
} as const satisfies FieldKind<ChoicePlan>;
