import { FieldPlan, type Choice, type Field } from '@bibliona/core';
import { describe, expect, test } from 'vitest';
import { choicesFrom } from '../../fields/choice.js';
import { fieldViews } from '../../fields/kinds.js';
import { draftOfField, planOfDraft, type FieldDraft } from './field-draft.js';

const draft = (part: Partial<FieldDraft>): FieldDraft => ({
  ...draftOfField(undefined),
  name: 'Stores',
  ...(part.kind === undefined ? {} : { settings: fieldViews[part.kind].settings.start(undefined) }),
  ...part,
});
const refusal = (part: Partial<FieldDraft>): string => {
  const result = planOfDraft(draft(part), 'f_x');
  return result.ok ? 'fits' : `${result.problem.at}: ${result.problem.text}`;
};
const planned = (part: Partial<FieldDraft>): FieldPlan => {
  const result = planOfDraft(draft(part), 'f_x');
  if (!result.ok) throw new Error(result.problem.text);
  return result.plan;
};

describe('a field in its editor', () => {
  test.each<[Partial<FieldDraft>, string]>([
    [{ name: '  ' }, 'name: Enter a name'],
    [{ kind: 'choice' }, 'choices: Add at least one choice.'],
    [{ kind: 'decimal', settings: '1.5' }, 'digits: A whole number from 0 to 12'],
    [{ kind: 'decimal', settings: '13' }, 'digits: A whole number from 0 to 12'],
    [{ kind: 'whole', default: 'many' }, 'default: "many" is not a number'],
    [{ kind: 'date', default: 'soon' }, 'default: "soon" is not a date. Write it like 14 Sep 2026'],
  ])('%j is refused at its place', (part, message) => expect(refusal(part)).toBe(message));

  test.each<[Partial<FieldDraft>, unknown]>([
    [{ kind: 'whole', default: '1,200' }, '1200'],
    [{ kind: 'decimal', default: '1.50' }, '1.5'],
    [{ kind: 'date', default: 'Today' }, 'today()'],
    [{ kind: 'date', default: '14/9/2026' }, 'date("2026-09-14")'],
    [{ kind: 'text', default: 'a "b"' }, '"a \\"b\\""'],
    [{ kind: 'date', computed: 'today() + duration("P7D")' }, 'today() + duration("P7D")'],
    [{ kind: 'yes_no', default: 'no' }, 'false'],
    [{ kind: 'text', default: '' }, null],
  ])('%j starts new records with %j', (part, value) => expect(planned(part).default).toEqual(value));

  test('choices get the name that SQL sees from their label, and keep it when the label changes', () => {
    const first = planned({
      kind: 'choice',
      settings: [
        { id: 'choice_1', label: 'Very low' },
        { id: 'choice_2', label: '' },
        { id: 'choice_3', label: 'Full' },
      ],
      default: 'choice_3',
    });
    expect(first).toMatchObject({
      choices: [
        { id: 'very_low', label: 'Very low' },
        { id: 'full', label: 'Full' },
      ],
      default: '"Full"',
    });
    const field = { ...first, column: 'stores' } as Field;
    const renamed = draftOfField(field);
    const second = planOfDraft(
      { ...renamed, settings: (renamed.settings as Choice[]).map((choice) => (choice.id === 'full' ? { ...choice, label: 'Brimming' } : choice)) },
      'f_x',
    );
    expect(second).toMatchObject({ ok: true, plan: { choices: [{ id: 'very_low' }, { id: 'full', label: 'Brimming' }] } });
  });

  test('a field opened and saved is the same field', () => {
    const kinds: object[] = [
      { kind: 'text', default: '"a"' },
      { kind: 'long_text' },
      { kind: 'whole', default: '5', unique: true },
      { kind: 'decimal', digits: 3, default: '1.5' },
      { kind: 'date', default: 'today()', required: true },
      { kind: 'yes_no', default: 'true' },
      { kind: 'choice', choices: [{ id: 'a', label: 'A' }], default: '"A"' },
      { kind: 'text', default: 'me.Name' },
      { kind: 'formula', expression: '1 + 1', digits: 2 },
      { kind: 'reference', relationship: 'r_x' },
    ];
    for (const kind of kinds) {
      const plan = FieldPlan.parse({ id: 'f_x', name: 'X', ...kind });
      expect(planOfDraft(draftOfField({ ...plan, column: 'x' }), 'f_x')).toEqual({ ok: true, plan });
    }
    expect(kinds).toHaveLength(10);
  });
});

test('values become choices with names of their own; what no label can be is left out', () => {
  expect(choicesFrom(['Low', 'Low!', 'a "b"', 'x'.repeat(61), 'Größe'])).toEqual([
    { id: 'low', label: 'Low' },
    { id: 'low_2', label: 'Low!' },
    { id: 'grosse', label: 'Größe' },
  ]);
});
