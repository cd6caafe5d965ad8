import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applyChange } from '../parts/change.js';
import { designMessage } from '../parts/issues.js';
import { field } from '../parts/sample.js';
import { check } from './check.js';
import { complete } from './complete.js';
import { rowsOfText } from './read-condition.js';
import { evaluate } from './evaluate.js';
import { TooMuch } from './not-computed.js';
import { format } from './format.js';
import { design, nodeOf, scope } from './sample.js';
import { wants, type Wanted } from '../feel/wants.js';

const problemOf = (text: string, wanted: Wanted = wants.anything) => {
  const checked = check(text, scope, wanted);
  return checked.ok ? null : checked.problems[0];
};

describe('problems are said where they are, in words', () => {
  test.each([
    ['Unit prce * 2', 'Hives has nothing called “Unit prce”. Did you mean Unit price?', 'Unit prce'],
    ['Code + 1', 'A text and a number are not joined by themselves: make it a text with string( ).', '1'],
    ['Apiary.Regoin', 'Apiaries has nothing called “Regoin”. Did you mean Region?', 'Regoin'],
    ['Apiary.Region = "Mor"', 'Region is never “Mor”: it is one of Moor, Coast.', '"Mor"'],
    ['Mites', 'Hives has nothing called “Mites”. Visits has; walk there with a dot.', 'Mites'],
    ['cuont(Visits)', 'There is no function called “cuont”. Did you mean count?', 'cuont'],
    ['Code = 5', 'A text is compared with a number; they are never the same.', 'Code = 5'],
    ['count(Visits', 'A closing bracket ) is missing at the end.', 's'],
    ['"jar', 'This text has no closing quote. Put text in double quotes on one line.', '"'],
    ['Code +', 'Something is missing here: the expression stops in the middle.', '+'],
    ["'jar'", 'Put text in double quotes: "jar".', "'"],
    ['if Gentle then 1', 'An if needs both: what it is then, and what else.', '1'],
    ['product([1, 2])', 'product( ) cannot be used in an app. The database cannot multiply a whole list exactly.', 'product'],
    ['date("2026-02-30")', '"2026-02-30" is no date, time or length of time. They look like this: "2026-05-01", "09:30:00", "P2D", "P1Y6M".', '"2026-02-30"'],
    ['matches(Code, "(a")', null, '"(a"'],
    ['me.Nmae', 'The person has nothing called “Nmae”: there are me.Name, me.Mail and me.Roles.', 'Nmae'],
    ['some v in Code satisfies true', 'This must be a list to go through; it is a text.', 'Code'],
  ])('%s', (text, message, at) => {
    const problem = problemOf(text);
    if (message !== null) expect(problem?.message).toBe(message);
    expect(text.slice(problem?.from, problem?.to)).toBe(at);
  });
  test('what a place needs is said', () =>
    expect(problemOf('Unit price', wants.truth)?.message).toBe('This must be yes or no, such as a comparison. It is a number.'));
});

describe('hostile expressions end in a problem at once', () => {
  test.each([
    ['very deep', '('.repeat(2000) + '1' + ')'.repeat(2000)],
    ['deep without brackets', '-'.repeat(1900) + '1'],
    ['deep ifs', 'if Gentle then '.repeat(130)],
    ['very long', 'Unit price + '.repeat(100_000) + '1'],
    ['a long chain', `1${' + 1'.repeat(490)}`],
    ['many words', 'a '.repeat(990)],
    ['a catastrophic pattern', 'matches(Code, "^(a+)+\\\\1$")'],
    ['an ambiguous pattern', 'replace(Code, "(a|a)*b", "")'],
    ['a huge pattern', `matches(Code, "${'(a{1,99}){1,99}'.repeat(9)}")`],
    ['huge exponents', '9 ** 9 ** 9 ** 9 * (Unit price ** 9999) * (Unit price ** 9999) * (Unit price ** 9999)'],
    ['a huge literal', `1${'0'.repeat(500)}`],
    ['a huge exponent of a literal', '1e999999999'],
    ['a huge range', 'count(for i in 1..10000000 return i)'],
  ])('%s', (_, text) => {
    // Once before, so that the time is that of the checker and not of a runtime that is just waking up.
    problemOf(text);
    const began = Date.now();
    const problem = problemOf(text);
    expect(Date.now() - began).toBeLessThan(100);
    expect(problem?.message).toBeTruthy();
  });

  test('formulas that double one another end before they fill the memory', () => {
    let grown = design;
    let refused: string | null = null;
    for (let n = 1; n < 40 && refused === null; n += 1) {
      const before = n === 1 ? 'Unit price' : `Grown ${n - 1}`;
      const result = applyChange(grown, {
        kind: 'add_field',
        table: 'hives',
        field: field({ kind: 'formula', id: `h_g${n}`, name: `Grown ${n}`, expression: `${before} + ${before}` }),
      });
      if (result.ok) grown = result.design;
      else refused = result.issues.map(designMessage).join(' ');
    }
    expect(refused).toMatch(/With the formulas it uses this comes to more than 3000 parts/u);
  });

  test.each([
    'count(for i in 1..1000, j in 1..1000 return 1)',
    'count(distinct values(for i in 1..10000 return i))',
    'count(mode(for i in 1..10000 return i))',
  ])('long lists end as a value or as too much: %s', (text) => {
    const around = { now: 0, zone: 'UTC', me: { Name: '', Mail: '', Roles: [] }, self: null, records: { value: () => null, children: () => [] } };
    const began = Date.now();
    try {
      evaluate(nodeOf(text), around);
    } catch (error) {
      expect(error).toBeInstanceOf(TooMuch);
    }
    expect(Date.now() - began).toBeLessThan(3000);
  });

  test('nothing that is typed makes the checker throw', () => {
    const word = fc.constantFrom(
      'Unit price',
      'Visits',
      '.',
      '[',
      ']',
      '(',
      ')',
      'if',
      'then',
      'else',
      'for',
      'in',
      'return',
      '"',
      '@"',
      '1',
      '..',
      '+',
      '-',
      '**',
      'and',
      'not',
      'some',
      'satisfies',
      '{',
      '}',
      ':',
      ',',
      '=',
      '<',
      'me',
      'item',
      '?',
      'date',
      'count',
      'function',
      '\n',
      '//',
      '🐝',
      '`',
      '\\',
    );
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string({ unit: 'grapheme', maxLength: 60 }),
          fc.array(word, { maxLength: 14 }).map((all) => all.join(' ')),
        ),
        (text) => {
          const checked = check(text, scope, wants.anything);
          if (!checked.ok) for (const problem of checked.problems) expect(problem.from).toBeLessThanOrEqual(problem.to);
          complete(text, text.length, scope);
          rowsOfText(text, scope);
          expect(format(text, scope)).toBeTypeOf('string');
        },
      ),
      { numRuns: 500 },
    );
  });
});
