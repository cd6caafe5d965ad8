import { expect, test } from 'vitest';
import { amountWords, labelWords, positionOf, stepOf, withGaps, type Series } from './point-words.js';

const series = (...labels: readonly (string | null)[]): Pick<Series, 'label' | 'points'> => ({
  label: { name: 'Month', type: 'date', digits: null, unit: null },
  points: labels.map((label) => ({ label, value: '1' })),
});

test('months and years are called by what they are, other days by their date', () => {
  expect(labelWords(series('2026-05-01', '2026-06-01'))('2026-05-01')).toBe('May 2026');
  expect(labelWords(series('2025-01-01', '2026-01-01'))('2026-01-01')).toBe('2026');
  expect(labelWords(series('2026-05-01', '2026-06-02'))('2026-05-01')).toBe('1 May 2026');
  expect(labelWords(series('2026-05-01', null))(null)).toBe('empty');
});

test('a line is broken over months without a record, and a date far off does not fill the memory', () => {
  expect(stepOf(series('2026-05-01', '2026-06-01'))).toBe('month');
  expect(withGaps(series('2026-03-01', '2026-06-01')).map((gap) => [gap.label, gap.value])).toEqual([
    ['2026-03-01', '1'],
    ['2026-04-01', null],
    ['2026-05-01', null],
    ['2026-06-01', '1'],
  ]);
  expect(withGaps(series('0001-02-01', '9999-02-01')).length).toBeLessThan(500);
  const days = series('2026-03-04', '2026-06-01');
  expect(withGaps(days)).toBe(days.points);
});

test('amounts are as long as they are read, and only numbers and days have a place on an axis', () => {
  expect(amountWords({ type: 'number', digits: null, unit: null }, '2.33333333')).toBe('2.33');
  expect(amountWords({ type: 'number', digits: null, unit: null }, '12')).toBe('12');
  expect(amountWords({ type: 'number', digits: 1, unit: null }, null)).toBe('none');
  expect(positionOf('number', '2.5')).toBe(2.5);
  expect(positionOf('date', '1970-01-02')).toBe(86_400_000);
  expect(positionOf('string', 'a')).toBeNull();
});
