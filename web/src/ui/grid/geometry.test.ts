import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { columnsInView, frozenWithin, edgesOf, fitted, rowHeight, rowsInView, scrolledTo } from './geometry.js';

describe('rows in view', () => {
  test('are the ones at the place that is scrolled to, and a few around them', () => {
    expect(rowsInView(1000, 0, 640)).toEqual({ height: 32_000, shift: 0, first: 0, end: 28 });
    expect(rowsInView(1000, 3200, 640)).toEqual({ height: 32_000, shift: 0, first: 92, end: 128 });
    expect(rowsInView(5, 0, 640)).toMatchObject({ first: 0, end: 5 });
    expect(rowsInView(0, 0, 640)).toMatchObject({ height: 0, first: 0, end: 0 });
  });

  test('of more rows than a page can be high go from the first to the last', () => {
    const [count, view] = [5_000_000, 640];
    const { height } = rowsInView(count, 0, view);
    expect(height).toBeLessThan(17_000_000);
    const last = rowsInView(count, height - view, view);
    expect(last.end).toBe(count);
    // The last row ends where the body does.
    expect(count * rowHeight + last.shift).toBe(height);
  });

  test('hold a row that was scrolled to, however many there are', () =>
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 5_000_000 }), fc.nat(), fc.nat(16_000_000), (count, at, top) => {
        const [row, view] = [at % count, 640];
        const from = Math.min(top, Math.max(0, rowsInView(count, 0, view).height - view));
        const to = scrolledTo(row, count, from, view);
        const { first, end, shift } = rowsInView(count, to, view);
        expect(row).toBeGreaterThanOrEqual(first);
        expect(row).toBeLessThan(end);
        const y = row * rowHeight + shift - to;
        expect(y).toBeGreaterThanOrEqual(-1);
        expect(y).toBeLessThanOrEqual(view - rowHeight + 1);
        // What is in view already is not moved.
        if (y > 0 && y < view - rowHeight) expect(Math.abs(scrolledTo(row, count, to, view) - to)).toBeLessThanOrEqual(1);
      }),
    ));
});

test.each([
  [[0, 40, 200, 400, 900], 3, 1000, 3],
  // Others need the larger half of the view.
  [[0, 40, 200, 400, 900], 3, 500, 2],
  [[0, 40, 200, 400, 900], 3, 60, 1],
  [[0, 40], 3, 1000, 1],
])('of the columns that begin at %j %i stay in sight in a view of %i, as far as there is room: %i', (edges, wanted, view, frozen) =>
  expect(frozenWithin(edges, wanted, view)).toBe(frozen),
);

test('columns in view are those beside the frozen ones, and two more at each end', () => {
  const edges = edgesOf([40, 100, 100, 100, 100, 100, 100, 100]);
  expect(edges).toEqual([0, 40, 140, 240, 340, 440, 540, 640, 740]);
  expect(columnsInView(edges, 1, 0, 300)).toEqual({ first: 1, end: 6 });
  expect(columnsInView(edges, 1, 350, 300)).toEqual({ first: 2, end: 8 });
});

describe('widths', () => {
  test('that were chosen stay; the others fit what is in them and share what is left', () => {
    expect(fitted([36, null, null], [0, 100, 150], 400)).toEqual([36, 157, 207]);
    expect(fitted([36, null, null], [0, 100, 150], 200)).toEqual([36, 100, 150]);
    expect(fitted([36, 200], [0, 500], 900)).toEqual([36, 200]);
  });

  test('are never too narrow to read, nor as wide as a whole text', () => {
    expect(fitted([null, null], [5, 4000], 0)).toEqual([70, 420]);
  });
});
