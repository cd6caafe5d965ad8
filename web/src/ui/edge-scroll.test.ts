import { expect, test } from 'vitest';
import { scrollAt } from './edge-scroll.js';

const view = { top: 100, bottom: 500 };

test.each([
  [300, 0],
  [148, 0],
  [147, -0],
  [124, -7],
  [100, -14],
  [-50, -14],
  [452, 0],
  [476, 7],
  [500, 14],
  [2000, 14],
])('a pointer at %i scrolls a view from 100 to 500 by %i', (y, by) => expect(scrollAt(y, view)).toBeCloseTo(by, 5));

test('a view lower than its edges scrolls both ways', () => {
  const low = { top: 0, bottom: 30 };
  expect([scrollAt(0, low), scrollAt(15, low), scrollAt(30, low)]).toEqual([-14, 0, 14]);
});
