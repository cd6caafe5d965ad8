import { expect, test } from 'vitest';
import { z } from 'zod';
import { plainWords } from '../src/http/plain-words.js';

test.each<[string, z.ZodType, unknown, string]>([
  ['a text that is too long', z.string().max(20), 'x'.repeat(21), 'can have at most 20 characters'],
  ['a text that is too short', z.string().min(1), '', 'must have at least 1 character'],
  ['a list that is too long', z.array(z.number()).max(1), [1, 2], 'can have at most 1 entry'],
  ['a number that is too large', z.number().max(5), 6, 'can be at most 5'],
  ['a number that is too small', z.int().min(1), 0, 'must be at least 1'],
  ['what is not there', z.string(), undefined, 'is missing'],
  ['another sort of value', z.boolean(), 'yes', 'must be yes or no'],
  ['a number with a fraction', z.int(), 1.5, 'must be a whole number'],
  ['a word that is none of those it can be', z.enum(['up', 'down']), 'left', 'must be one of up, down'],
  ['a text of another form', z.uuid(), 'x', 'is not written as it has to be'],
  ['what no one asked for', z.strictObject({}), { a: 1 }, 'has something in it that is not known: a'],
  ['what is none of several shapes', z.union([z.string(), z.number()]), true, 'is none of what it can be'],
  ['what says itself what is wrong', z.string().max(1, 'is too long a mark'), 'xx', 'is too long a mark'],
])('%s', (_, shape, value, words) => {
  const { error } = shape.safeParse(value, { error: plainWords });
  expect(error?.issues.map((issue) => issue.message)).toEqual([words]);
});
