import { describe, expect, test } from 'vitest';
import { FieldPlan, fieldKinds } from '../design/design.js';
import { kinds, parseValue, printTyped } from './values.js';

const field = (more: object): FieldPlan => FieldPlan.parse({ id: 'f_a', name: 'A', ...more });
const plans: Record<string, FieldPlan> = {
  text: field({ kind: 'text' }),
  long_text: field({ kind: 'long_text' }),
  whole: field({ kind: 'whole' }),
  decimal: field({ kind: 'decimal', digits: 2 }),
  date: field({ kind: 'date' }),
  yes_no: field({ kind: 'yes_no' }),
  choice: field({ kind: 'choice', choices: [{ id: 'low', label: 'Low stores' }] }),
  reference: field({ kind: 'reference', relationship: 'r_a' }),
  formula: field({ kind: 'formula', expression: '1' }),
};
const plan = (kind: string): FieldPlan => plans[kind] as FieldPlan;

describe('each kind', () => {
  test.each(fieldKinds)('%s takes empty text as null and prints null as nothing', (kind) => {
    expect(parseValue(plan(kind), '')).toEqual({ ok: true, value: null });
    expect(kinds[kind].print(null, plan(kind))).toBe('');
  });

  test.each([
    ['text', 'a', 'a'],
    ['whole', '1,200', 1200],
    ['whole', '12.0', 12],
    ['decimal', '12.50', '12.5'],
    ['date', '14/9/2026', '2026-09-14'],
    ['yes_no', 'Yes', true],
    ['yes_no', 'n', false],
    ['choice', 'low STORES', 'low'],
  ])('%s reads %s', (kind, typed, value) => {
    expect(parseValue(plan(kind), typed)).toEqual({ ok: true, value });
    expect(kinds[plan(kind).kind].problem(value, plan(kind))).toBeNull();
  });

  test.each([
    ['whole', '1.5', '1.5 is not a whole number'],
    ['whole', '9007199254740993', '9007199254740993 is too large; the largest is 9,007,199,254,740,991'],
    ['decimal', '1.234', '1.234 has more than 2 digits after the point'],
    ['decimal', 'x', '"x" is not a number'],
    ['date', '31/2/2026', '"31/2/2026" is not a date; write it like 14 Sep 2026 or 14/9/2026'],
    ['yes_no', 'maybe', '"maybe" is neither yes nor no'],
    ['choice', 'High', '"High" is none of: Low stores'],
    ['text', 'a\0b', 'holds a character (NUL) that cannot be stored'],
    ['text', '\ud800', 'holds half of a character; type it again'],
  ])('%s refuses %s in words', (kind, typed, problem) => expect(parseValue(plan(kind), typed)).toEqual({ ok: false, problem }));

  test.each([
    ['whole', 1.5],
    ['whole', '12'],
    ['whole', 2 ** 60],
    ['decimal', 12.5],
    ['decimal', '1e5'],
    ['date', '2026-13-01'],
    ['date', '14 Sep 2026'],
    ['yes_no', 'yes'],
    ['choice', 'Low stores'],
    ['reference', 0],
    ['reference', { id: 1, caption: 'x' }],
    ['text', 12],
  ])('%s does not take %s as JSON', (kind, value) => expect(kinds[plan(kind).kind].problem(value, plan(kind))).not.toBeNull());
});

test('a number whose digits nobody chose shows those that tell something', () => {
  const says = (text: string): string => printTyped('number', null, text);
  expect(['12.3333333333333333', '0.0034127777', '-0.5', '1.125', '100', '2.0000000000000001', '0.999999999'].map(says)).toEqual([
    '12.33',
    '0.00341',
    '−0.5',
    '1.125',
    '100',
    '2',
    '1',
  ]);
  expect(printTyped('number', 2, '12.3333333333333333')).toBe('12.33');
  expect(printTyped('number', 2, '12')).toBe('12.00');
});
