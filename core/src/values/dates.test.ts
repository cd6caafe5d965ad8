import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { parseDate, type DateOrder } from './dates.js';

describe('parseDate', () => {
  test.each<[string, DateOrder, string | null]>([
    ['2026-09-14', 'dmy', '2026-09-14'],
    ['2026-09-14', 'mdy', '2026-09-14'],
    ['14/9/2026', 'dmy', '2026-09-14'],
    ['9/14/2026', 'mdy', '2026-09-14'],
    ['9/14/2026', 'dmy', null],
    ['14.09.26', 'dmy', '2026-09-14'],
    ['14.09.69', 'dmy', '1969-09-14'],
    ['2026/9/4', 'ymd', '2026-09-04'],
    ['3/4/2026', 'ymd', null],
    ['14/9-2026', 'dmy', null],
    ['14 Sep 2026', 'dmy', '2026-09-14'],
    ['14th September 2026', 'dmy', '2026-09-14'],
    ['14-Sep-26', 'dmy', '2026-09-14'],
    ['Jan 1 2000', 'dmy', '2000-01-01'],
    ['January 1, 2000', 'mdy', '2000-01-01'],
    ['Sept 3, 2020', 'dmy', '2020-09-03'],
    ['Marble 3 2026', 'dmy', null],
    ['2026-02-29', 'dmy', null],
    ['2024-02-29', 'dmy', '2024-02-29'],
    ['1900-02-29', 'dmy', null],
    ['2000-02-29', 'dmy', '2000-02-29'],
    ['2026-09-14T00:00:00Z', 'dmy', '2026-09-14'],
    ['2026-09-14 00:00', 'dmy', '2026-09-14'],
    ['2026-09-14 08:30', 'dmy', null],
    ['0000-01-01', 'dmy', null],
    ['31/4/2026', 'dmy', null],
    ['', 'dmy', null],
    ['soon', 'dmy', null],
  ])('%s, %s, is %s', (typed, order, expected) => expect(parseDate(typed, order)).toBe(expected));

  test('every day reads back from each order of its numbers', () => {
    fc.assert(
      fc.property(fc.date({ min: new Date('1000-01-01'), max: new Date('9999-12-31'), noInvalidDate: true }), (date) => {
        const iso = date.toISOString().slice(0, 10);
        const [y, m, d] = iso.split('-') as [string, string, string];
        expect(parseDate(`${d}/${m}/${y}`, 'dmy')).toBe(iso);
        expect(parseDate(`${m}/${d}/${y}`, 'mdy')).toBe(iso);
        expect(parseDate(`${y}/${m}/${d}`, 'ymd')).toBe(iso);
      }),
    );
  });
});
