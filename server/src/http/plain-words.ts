/** What is wrong with a request, in words that people read: those of Zod are for programmers. */
import type { z } from 'zod';

const things: Readonly<Record<string, string>> = { string: 'characters', array: 'entries', set: 'entries', map: 'entries' };
const several = (n: number | bigint, of: string): string => `${n} ${String(n) === '1' ? of.replace(/(?:ie)?s$/u, (end) => (end === 'ies' ? 'y' : '')) : of}`;
const kinds: Readonly<Record<string, string>> = {
  string: 'a text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'yes or no',
  array: 'a list',
  object: 'an object',
  record: 'an object',
  date: 'a date',
};

/** For the issues whose shape says nothing of its own. */
export function plainWords(issue: z.core.$ZodRawIssue): string | undefined {
  switch (issue.code) {
    case 'invalid_type':
      return issue.input === undefined ? 'is missing' : `must be ${kinds[issue.expected] ?? 'something else'}`;
    case 'too_big': {
      const of = things[issue.origin];
      return of === undefined ? `can be at most ${issue.maximum}` : `can have at most ${several(issue.maximum, of)}`;
    }
    case 'too_small': {
      const of = things[issue.origin];
      return of === undefined ? `must be at least ${issue.minimum}` : `must have at least ${several(issue.minimum, of)}`;
    }
    case 'invalid_value':
      return `must be ${issue.values.length === 1 ? '' : 'one of '}${issue.values.map(String).join(', ')}`;
    case 'invalid_format':
      return 'is not written as it has to be';
    case 'unrecognized_keys':
      return `has something in it that is not known: ${issue.keys.join(', ')}`;
    case 'invalid_union':
      return 'is none of what it can be';
    default:
      return undefined;
  }
}
