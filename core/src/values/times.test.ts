import fc from 'fast-check';
import { expect, test } from 'vitest';
import { localeOf } from './locale.js';
import { regions } from './regions.js';
import { parseDuration, parseTime, printDuration } from './times.js';

test('every time is read as it is printed, in every region', () =>
  fc.assert(
    fc.property(fc.constantFrom(...regions), fc.integer({ min: 0, max: 86_399 }), (region, at) => {
      const time = [Math.floor(at / 3600), Math.floor(at / 60) % 60, at % 60].map((part) => String(part).padStart(2, '0')).join(':');
      expect(parseTime(localeOf(region, 'UTC').clock(time))).toBe(time);
    }),
    { numRuns: 2000 },
  ));

test('every duration is read as it is printed', () =>
  fc.assert(
    fc.property(fc.integer({ min: -316_224_000_000, max: 316_224_000_000 }), (seconds) => {
      expect(parseDuration(printDuration(seconds))).toBe(seconds);
    }),
  ));

test.each([
  [0, '0 min'],
  [5400, '1 h 30 min'],
  [-15, '−15 s'],
  [90_000, '1 d 1 h'],
])('%i seconds are %s', (seconds, text) => expect(printDuration(seconds)).toBe(text));

test.each(['', 'h', '1:75', '2 x', '1 h 1 h', '1.0001 s', '99999999999 d'])('%j is no duration', (text) => expect(parseDuration(text)).toBeNull());
test.each(['', '9:7', '9:60', '1:2:3', 'noon', '0 am'])('%j is no time', (text) => expect(parseTime(text)).toBeNull());
