import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { judge, reachesTarget, scaleOf } from './figure.js';

const more = { better: 'higher', fairFrom: 10, goodFrom: 20 } as const;
const less = { better: 'lower', fairFrom: 5, goodFrom: 2 } as const;

describe('a figure', () => {
  test.each([
    ['9.999999999999999999', more, 'poor'],
    ['10', more, 'fair'],
    ['20', more, 'good'],
    ['5.01', less, 'poor'],
    ['5', less, 'fair'],
    ['2', less, 'good'],
    ['-3', less, 'good'],
  ] as const)('of %s is judged', (value, judgement, wanted) => {
    expect(judge(value, judgement)).toBe(wanted);
  });

  test('reaches its target on the side that is better, and to the last decimal', () => {
    expect(reachesTarget('19.9999999999999999', { target: 20, judgement: more })).toBe(false);
    expect(reachesTarget('20', { target: 20, judgement: null })).toBe(true);
    expect(reachesTarget('3', { target: 3, judgement: less })).toBe(true);
    expect(reachesTarget('3.1', { target: 3, judgement: less })).toBe(false);
    expect(reachesTarget(null, { target: 3, judgement: less })).toBeNull();
    expect(reachesTarget('3', { target: null, judgement: less })).toBeNull();
  });

  test('is drawn on a scale that holds zero and every mark', () => {
    const number = fc.integer({ min: -1000, max: 1000 });
    fc.assert(
      fc.property(number, fc.option(number), fc.option(fc.tuple(number, number)), (value, target, bounds) => {
        const [a = 0, b = 0] = bounds ?? [];
        const judgement = bounds === null ? null : { better: 'higher' as const, fairFrom: Math.min(a, b), goodFrom: Math.max(a, b) };
        const [low, high] = scaleOf(String(value), { target, judgement });
        expect(low).toBeLessThan(high);
        for (const mark of [0, value, target ?? 0, ...(bounds ?? [])]) expect(mark >= low && mark <= high).toBe(true);
      }),
    );
  });
});
