import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { later } from './month.js';
import { barsIn, daysBetween, viewLater, viewOf } from './timeline.js';

describe('a view of a timeline', () => {
  test.each([
    ['month', '2026-02-14', '2026-02-01', '2026-03-01', 28, '2026-02-01'],
    ['quarter', '2026-11-30', '2026-10-01', '2027-01-01', 13, '2026-10-05'],
    ['year', '2026-06-01', '2026-01-01', '2027-01-01', 12, '2026-01-01'],
  ] as const)('of a %s is that of the day, with lines for what is in it', (span, on, from, before, lines, first) => {
    const view = viewOf(span, on, 1);
    expect([view.from, view.before, view.ticks.length, view.ticks[0]]).toEqual([from, before, lines, first]);
  });

  test('is left for the one before and the one after', () => {
    expect(viewLater('quarter', '2026-10-01', 1)).toBe('2027-01-01');
    expect(viewLater('month', '2026-01-01', -1)).toBe('2025-12-01');
    expect(viewLater('year', '2026-01-01', -1)).toBe('2025-01-01');
  });
});

describe('bars', () => {
  const view = viewOf('month', '2026-09-01', 1);
  const bars = (...spans: readonly (readonly [start: string, end: string | null])[]) =>
    barsIn(
      view,
      spans.map(([start, end], of) => ({ of, start, end })),
      () => 0,
    ).map(({ of, left, width, row }) => [of, Math.round(left * 30), Math.round(width * 30), row]);

  test('lie where their days are, cut where the view ends, and those of other months are left out', () => {
    expect(bars(['2026-09-10', '2026-09-12'], ['2026-08-20', '2026-09-02'], ['2026-09-30', null], ['2026-10-01', null], ['2026-08-01', '2026-08-31'])).toEqual([
      [1, 0, 2, 0],
      [0, 9, 3, 0],
      [2, 29, 1, 0],
    ]);
  });

  test('that end before they begin are of one day', () => expect(bars(['2026-09-10', '2026-09-01'])).toEqual([[0, 9, 1, 0]]));

  test('in one row never overlap, nor do their names, and none leaves the view', () => {
    const day = fc.integer({ min: -20, max: 50 }).map((n) => later(view.from, n));
    const span = fc.record({ start: day, length: fc.integer({ min: 0, max: 20 }), name: fc.double({ min: 0, max: 0.4, noNaN: true }) });
    fc.assert(
      fc.property(fc.array(span, { maxLength: 30 }), (spans) => {
        const made = barsIn(
          view,
          spans.map((of) => ({ of, start: of.start, end: later(of.start, of.length) })),
          (of) => of.name,
        );
        expect(made.length).toBe(spans.filter((each) => each.start < view.before && later(each.start, each.length) >= view.from).length);
        const reach = made.map(({ of, left, width, isNamedBefore, row }) => {
          const needed = Math.max(width, of.name);
          return { row, from: isNamedBefore ? left + width - needed : left, to: isNamedBefore ? left + width : left + needed };
        });
        for (const [i, each] of reach.entries()) {
          expect(each.to).toBeLessThanOrEqual(1 + 1e-9);
          for (const other of reach.slice(i + 1)) if (each.row === other.row) expect(each.to <= other.from || other.to <= each.from).toBe(true);
        }
        expect(daysBetween(view.from, view.before)).toBe(30);
      }),
    );
  });
});
