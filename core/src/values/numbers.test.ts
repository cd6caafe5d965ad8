import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { numberStyles, parseNumber, type NumberStyle } from './numbers.js';

describe('parseNumber', () => {
  test.each<[string, NumberStyle, string | null]>([
    ['12', 'point', '12'],
    ['1,234.50', 'point', '1234.5'],
    ['1,23', 'point', null],
    ['1.234,50', 'comma', '1234.5'],
    ['1.23', 'comma', null],
    ['1 234.5', 'space_point', '1234.5'],
    ["1'234.5", 'space_point', '1234.5'],
    ['1\u00a0234,5', 'space_comma', '1234.5'],
    ['12,34,567.5', 'point', '1234567.5'],
    ['−7', 'point', '-7'],
    ['+7', 'point', '7'],
    ['-0', 'point', '0'],
    ['-0.00', 'point', '0'],
    ['007', 'point', '7'],
    ['.5', 'point', '0.5'],
    ['5.', 'point', '5'],
    ['', 'point', null],
    ['.', 'point', null],
    ['1e5', 'point', null],
    ['0x10', 'point', null],
    ['12 apples', 'point', null],
    ['123456789012345678901234567890.123456789', 'point', '123456789012345678901234567890.123456789'],
  ])('%s as %s is %s', (typed, style, expected) => expect(parseNumber(typed, style)).toBe(expected));

  test('no text makes it raise, and what it accepts is canonical', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), fc.constantFrom(...numberStyles), (text, style) => {
        const digits = parseNumber(text, style);
        if (digits !== null) expect(digits).toMatch(/^-?(0|[1-9]\d*)(\.\d*[1-9])?$/u);
      }),
    );
  });
});
