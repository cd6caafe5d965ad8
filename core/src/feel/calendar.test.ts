import fc from 'fast-check';
import { DateTime } from 'luxon';
import { describe, expect, test } from 'vitest';
import {
  addMonths,
  civilFromDays,
  dateOf,
  daysFromCivil,
  monthsBetween,
  readDay,
  readDuration,
  readTime,
  weekdayOf,
  weekOfYear,
  writeDay,
  writeDuration,
  writeMonths,
  writeTime,
} from './calendar.js';
import { momentOf, readMoment, writeMoment } from './moments.js';
import type { Day } from './value.js';

const days = fc.integer({ min: daysFromCivil(1, 1, 1), max: daysFromCivil(9999, 12, 31) });
const day = (text: string): Day => {
  const read = readDay(text);
  if (read === null) throw new Error(text);
  return read;
};

describe('dates', () => {
  test('days, years and months are one another, on every day of the calendar', () => {
    fc.assert(
      fc.property(days, (n) => {
        const { year, month, day: ofMonth } = civilFromDays(n);
        expect(daysFromCivil(year, month, ofMonth)).toBe(n);
        expect(readDay(writeDay({ kind: 'date', days: n }))).toEqual({ kind: 'date', days: n });
        const same = DateTime.fromObject({ year, month, day: ofMonth }, { zone: 'utc' });
        expect([weekdayOf({ kind: 'date', days: n }), weekOfYear({ kind: 'date', days: n })]).toEqual([same.weekday, same.weekNumber]);
      }),
    );
  });
  test.each([
    [2023, 2, 29],
    [2026, 4, 31],
    [2026, 13, 1],
    [0, 1, 1],
    [10_000, 1, 1],
    [2026, 1, 1.5],
  ])('%d-%d-%d is none', (y, m, d) => expect(dateOf(y, m, d)).toBeNull());
  test.each([
    ['2026-01-31', 1, '2026-02-28'],
    ['2024-01-31', 1, '2024-02-29'],
    ['2024-02-29', 12, '2025-02-28'],
    ['2026-03-15', -3, '2025-12-15'],
  ])('%s and %d months are %s', (from, months, to) => expect(addMonths(day(from), months)).toEqual(day(to)));
  test('beyond the calendar there is no date', () => {
    expect(addMonths(day('9999-12-31'), 1)).toBeNull();
    expect(addMonths(day('0001-01-01'), -1)).toBeNull();
  });
  test('whole months between two dates are as many as can be added without passing the second', () => {
    fc.assert(
      fc.property(fc.tuple(days, days), ([a, b]) => {
        const [from, to] = [Math.min(a, b), Math.max(a, b)].map((n): Day => ({ kind: 'date', days: n })) as [Day, Day];
        const months = monthsBetween(from, to);
        expect(monthsBetween(to, from)).toBe(-months + 0);
        expect(addMonths(from, months)?.days ?? Infinity).toBeLessThanOrEqual(to.days);
        if (civilFromDays(from.days).day <= 28) expect(addMonths(from, months + 1)?.days ?? Infinity).toBeGreaterThan(to.days);
      }),
    );
  });
});

describe('moments go by the clocks of their zone', () => {
  const utc = (text: string): string => new Date(readMoment(text, 'Europe/London')?.ms ?? NaN).toISOString();
  test.each([
    ['2026-01-15T12:00:00', '2026-01-15T12:00:00.000Z'],
    ['2026-07-15T12:00:00', '2026-07-15T11:00:00.000Z'],
    // 01:30 is left out in spring: the clock not yet changed counts. In autumn it comes twice: the second counts.
    ['2026-03-29T01:30:00', '2026-03-29T01:30:00.000Z'],
    ['2026-10-25T01:30:00', '2026-10-25T01:30:00.000Z'],
  ])('%s in London is %s', (text, wanted) => expect(utc(text)).toBe(wanted));
  test('what was read is written again, wherever no clock changes', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('UTC', 'Europe/London', 'Asia/Kolkata', 'America/St_Johns', 'Pacific/Auckland'),
        fc.integer({ min: 0, max: 20_000 }),
        fc.integer({ min: 6 * 3600, max: 23 * 3600 }),
        (zone, n, second) => {
          const moment = momentOf({ kind: 'date', days: n + 400 }, { kind: 'time', ms: second * 1000 }, zone);
          const text = moment === null ? '' : writeMoment(moment, zone);
          expect(readMoment(text, zone)).toEqual(moment);
        },
      ),
    );
  });
  test.each(['1969-12-31T12:00:00', '2026-02-30T12:00:00', '2026-01-01T24:00:00', '2026-01-01T12:00', 'x'])('%s is none', (text) =>
    expect(readMoment(text, 'UTC')).toBeNull(),
  );
});

describe('lengths of time', () => {
  test.each([
    ['P1Y6M', 'P1Y6M'],
    ['P26M', 'P2Y2M'],
    ['-P13M', '-P1Y1M'],
    ['P0M', 'P0M'],
    ['P1DT2H3M4.005S', 'P1DT2H3M4.005S'],
    ['PT90M', 'PT1H30M'],
    ['PT0S', 'PT0S'],
    ['-PT36H', '-P1DT12H'],
  ])('%s is written %s', (text, wanted) => {
    const length = readDuration(text);
    expect(length === null ? null : length.kind === 'years and months duration' ? writeMonths(length) : writeDuration(length)).toBe(wanted);
  });
  test.each(['P', 'PT', 'P1', '1D', 'P1M1D', 'P1H', 'PT1D', 'P-1D', 'P99999999Y', ''])('%s is none', (text) => expect(readDuration(text)).toBeNull());
  test('times of day are read and written', () => {
    for (const text of ['00:00:00', '23:59:59.999', '09:30:00.5']) expect(writeTime(readTime(text) ?? { kind: 'time', ms: -1 })).toBe(text);
    for (const text of ['24:00:00', '12:60:00', '1:00:00', '12:00', '12:00:00.1234']) expect(readTime(text)).toBeNull();
  });
});
