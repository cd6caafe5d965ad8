import fc from 'fast-check';
import { expect, test } from 'vitest';
import { firstDayIn, later, monthOf, monthsLater, weeksOf } from './month.js';

test.each([
  ['2026-08-14', 1, '2026-07-27', '2026-09-06'],
  ['2026-02-01', 7, '2026-02-01', '2026-02-28'],
  ['2024-02-29', 1, '2024-01-29', '2024-03-03'],
])('the weeks of %s, which begin on day %i, are from %s to %s', (day, first, from, to) => {
  const weeks = weeksOf(day, first);
  expect([weeks[0]?.[0], weeks.at(-1)?.[6]]).toEqual([from, to]);
});

test('every day of a month stands once in its weeks, and each week has a day of it', () => {
  fc.assert(
    fc.property(fc.date({ min: new Date('1900-01-01'), max: new Date('2200-01-01'), noInvalidDate: true }), fc.integer({ min: 1, max: 7 }), (date, first) => {
      const month = monthOf(date.toISOString().slice(0, 10));
      const weeks = weeksOf(month, first);
      const days = weeks.flat();
      expect(new Set(days).size).toBe(days.length);
      expect(weeks.every((week) => week.length === 7 && week.some((day) => monthOf(day) === month))).toBe(true);
      expect(days.filter((day) => monthOf(day) === month)).toHaveLength(Number(later(monthsLater(month, 1), -1).slice(8)));
    }),
  );
});

test('months follow each other over the year, from any day', () => {
  expect([monthsLater('2026-12-31', 1), monthsLater('2026-01-31', -1), later('2026-02-28', 1)]).toEqual(['2027-01-01', '2025-12-01', '2026-03-01']);
});

test('a week begins on Monday where nothing else is known', () => expect([1, 7]).toContain(firstDayIn('en-GB')));
