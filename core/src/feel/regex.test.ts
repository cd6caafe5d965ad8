import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { readPattern } from './regex.js';

const refused = (text: string, flags = ''): string => {
  const read = readPattern(text, flags);
  return read.ok ? '' : read.message;
};
const finds = (text: string, input: string, flags = ''): boolean => {
  const read = readPattern(text, flags);
  if (!read.ok) throw new Error(read.message);
  return read.pattern.inMemory.matcher(input).find();
};

describe('patterns', () => {
  test.each([
    ['^H-\\d{3}$', 'H-201', true],
    ['^H-\\d{3}$', 'H-2011', false],
    ['a.c', 'a\nc', false],
    ['[^a-z]', 'abc', false],
    ['[^a-z]', '🐝', true],
    ['(ab)+c', 'xababc', true],
    ['a|b', 'zzb', true],
    ['\\s', '\t', true],
    ['\\w\\W', 'é', false],
  ])('%s in %j: %s', (pattern, input, wanted) => expect(finds(pattern, input)).toBe(wanted));
  test('the flags of XPath', () => {
    expect(finds('straße', 'STRAßE', 'i')).toBe(true);
    expect(finds('a.c', 'a\nc', 's')).toBe(true);
    expect(refused('a', 'm')).toMatch(/flags/u);
  });

  test.each([
    ['(a', /cannot be read/u],
    ['a*?', /as little as possible/u],
    ['(?=a)', /look ahead/u],
    ['(a)\\1', /take forever/u],
    ['\\p{L}', /not the same everywhere/u],
    ['(?<n>a)', /number, not a name/u],
    ['a{1,999}', /at most 100 times/u],
    ['a^b', /at the start and/u],
    ['(a{1,99}){1,99}', /too large/u],
    ['x'.repeat(501), /at most 500/u],
  ])('%s is refused with its reason', (pattern, reason) => expect(refused(pattern)).toMatch(reason));

  test.each([
    ['a|ab', true],
    ['(?:a|b)*c', false],
    ['(a|a)b', true],
    ['a*a', true],
    ['[a-c]+[d-f]', false],
    ['(\\d{4})-(\\d\\d)', false],
    ['(a)+b', true],
    ['(?:ab)+c', false],
  ])('whether %s can match in several ways: %s', (pattern, wanted) => {
    const read = readPattern(pattern);
    expect(read.ok && read.pattern.ambiguous !== null).toBe(wanted);
  });
  test.each([
    ['a*', true],
    ['a+', false],
    ['a?b?', true],
    ['^$', true],
    ['a|b*', true],
  ])('whether %s matches the empty text: %s', (pattern, wanted) => {
    const read = readPattern(pattern);
    expect(read.ok && read.pattern.matchesEmpty).toBe(wanted);
  });

  test('any text at all ends as a pattern or as a reason', () => {
    fc.assert(
      fc.property(
        fc.string({
          unit: fc.constantFrom('a', 'b', '(', ')', '[', ']', '{', '}', '*', '+', '?', '|', '^', '$', '\\', '.', '-', '1', ',', 'ß', '🐝', ':'),
          maxLength: 14,
        }),
        (text) => {
          const read = readPattern(text);
          if (!read.ok) expect(read.message).not.toBe('');
        },
      ),
    );
  });
});
