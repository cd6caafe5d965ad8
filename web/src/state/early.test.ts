import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { earlyAnswers, startEarly, takeArrived, takeEarly } from './early.js';

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal('fetch', (path: string) =>
    path === '/lost' ? Promise.reject(new Error('No connection')) : Promise.resolve(Response.json({ path }, { status: path === '/refused' ? 403 : 200 })),
  );
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

test('an answer is given once, whether it has come or is on its way', async () => {
  startEarly('/a');
  expect(takeArrived('/a')).toBeUndefined();
  await earlyAnswers();
  expect(takeArrived('/a')).toEqual({ path: '/a' });
  expect([takeArrived('/a'), takeEarly('/a')]).toEqual([undefined, undefined]);
  startEarly('/a');
  expect(await takeEarly('/a')).toEqual({ path: '/a' });
  expect(takeEarly('/a')).toBeUndefined();
});

test.each(['/refused', '/lost'])('%s is no answer: what needs it asks again', async (path) => {
  startEarly(path);
  await earlyAnswers();
  expect(takeArrived(path)).toBeUndefined();
  expect(await takeEarly(path)).toBeUndefined();
});

test('an answer that nothing has taken in ten seconds is not given any longer', async () => {
  startEarly('/a');
  await earlyAnswers();
  vi.advanceTimersByTime(10_001);
  expect([takeArrived('/a'), takeEarly('/a')]).toEqual([undefined, undefined]);
});
