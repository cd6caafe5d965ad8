import { expect, test } from 'vitest';
import { readCompared, typedCompared, type ComparedKind } from './compared-value.js';

test.each<[ComparedKind, string, string]>([
  ['decimal', '2.5', '2.5'],
  ['percent', '12', '0.12'],
  ['percent', '2.5', '0.025'],
  ['decimal', '1,234.125', '1234.125'],
  ['whole', '1,200', '1200'],
  ['date', '14/9/2026', '2026-09-14'],
  ['text', 'Moor', 'Moor'],
])('a %s typed as %s is compared as %s, and can be typed again as it is shown', (kind, typed, value) => {
  const parsed = readCompared(kind, typed);
  expect(parsed.ok ? String(parsed.value) : parsed.problem).toBe(value);
  expect(readCompared(kind, typedCompared(kind, value))).toEqual(parsed);
});

test('nothing is shown as nothing, and what is no number says so', () => {
  expect(typedCompared('decimal', '')).toBe('');
  expect(readCompared('decimal', 'many')).toEqual({ ok: false, problem: '"many" is not a number' });
});
