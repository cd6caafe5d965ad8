import { describe, expect, test } from 'vitest';
import { arrangementWords, firstArranged, madeWith } from './arrangements.js';

describe('an arrangement', () => {
  test('is made by the first that fits; what needs nothing always is', () => {
    const offered = (key: string) => (key === 'day' || key === 'from' ? [{ id: 'f_day' }, { id: 'f_other' }] : []);
    expect([firstArranged('grid', offered), firstArranged('calendar', offered), firstArranged('timeline', offered), firstArranged('board', offered)]).toEqual([
      { kind: 'grid' },
      { kind: 'calendar', day: 'f_day' },
      { kind: 'timeline', from: 'f_day' },
      null,
    ]);
  });
  test('keeps what else it was made by, and nothing of another kind', () => {
    const timeline = { kind: 'timeline', from: 'f_day', to: 'f_end' } as const;
    expect(madeWith('timeline', 'from', 'f_other', timeline)).toEqual({ kind: 'timeline', from: 'f_other', to: 'f_end' });
    expect(madeWith('timeline', 'to', undefined, timeline)).toEqual({ kind: 'timeline', from: 'f_day' });
    expect(madeWith('chart', 'by', 'f_kind', timeline)).toEqual({ kind: 'chart', by: 'f_kind' });
  });
  test('is said with the names of what is there', () => {
    const nameOf = (id: string) => ({ f_day: 'Day', f_lane: 'Apiary' })[id];
    expect(arrangementWords({ kind: 'grid' }, nameOf)).toBe('as a grid');
    expect(arrangementWords({ kind: 'timeline', from: 'f_day', to: 'gone', lane: 'f_lane' }, nameOf)).toBe('on a timeline by Day, Apiary');
  });
});
