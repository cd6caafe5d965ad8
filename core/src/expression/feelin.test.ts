import fc from 'fast-check';
import { evaluate as feelin } from 'feelin';
import { describe, expect, test } from 'vitest';
import { emptyDesign } from '../parts/parse.js';
import { shown } from './bring.js';
import { check } from './check.js';
import { deviations } from '../feel/deviations.js';
import { evaluate } from './evaluate.js';
import { builtIns } from '../feel/functions/functions.js';
import { isList, isNumber, type Feel } from '../feel/value.js';
import { wants } from '../feel/wants.js';

const scope = { design: emptyDesign('Differences', 'UTC'), table: null };
const around = { now: 0, zone: 'UTC', me: { Name: '', Mail: '', Roles: [] }, self: null, records: { value: () => null, children: () => [] } };

/** What this language gives, as the language writes it; undefined when it refuses. */
function here(text: string): string | undefined {
  const checked = check(text, scope, wants.anything);
  return checked.ok ? literalOf(evaluate(checked.node, around)) : undefined;
}
function literalOf(value: Feel): string {
  if (value === null || typeof value === 'boolean') return String(value);
  if (typeof value === 'string') return JSON.stringify(value);
  if (isNumber(value)) return String(shown(value, 'UTC'));
  if (isList(value)) return `[${value.map(literalOf).join(', ')}]`;
  const text = JSON.stringify(shown(value, 'UTC'));
  return value.kind === 'date' || value.kind === 'time' || value.kind === 'date and time' ? `${value.kind}(${text})` : `duration(${text})`;
}
/** Whether feelin says the same: asked in its own terms, so that both compare as FEEL does. */
function agrees(text: string, literal: string): boolean {
  const { value } = literal === 'null' ? feelin(`(${text}) = null`) : feelin(`(${text}) = (${literal})`);
  return value === true;
}

// Not asked of feelin, for a reason each.
const leftOut: Readonly<Record<string, string>> = {
  today: 'depends on the clock',
  now: 'depends on the clock',
  stddev: 'its digits go beyond binary floating point',
  log: 'its digits go beyond binary floating point',
  exp: 'its digits go beyond binary floating point',
  'last day of month': 'newer than the version of the standard that feelin follows',
  ...Object.fromEntries(
    ['coincides', 'during', 'finishes', 'finished by', 'overlaps before', 'overlaps after', 'starts', 'started by'].map((name) => [
      name,
      'feelin has not got it',
    ]),
  ),
};

describe('feelin gives the same where both must', () => {
  const samples = builtIns.filter((builtIn) => leftOut[builtIn.name] === undefined).flatMap((builtIn) => builtIn.examples.map(([text]) => text));
  expect(samples.length).toBeGreaterThan(120);
  // Binary floating point, again: these examples of the standard itself come out otherwise there.
  const known = new Set(['modulo(10.1, 4.5)', 'modulo(-10.1, 4.5)', 'modulo(10.1, -4.5)', 'decimal(1/3, 2)']);
  test.each(samples.filter((text) => !known.has(text)))('%s', (text) => {
    const literal = here(text);
    expect(literal).toBeDefined();
    expect(agrees(text, literal ?? ''), `${text} is ${literal} here, ${JSON.stringify(feelin(text).value)} there`).toBe(true);
  });

  test('three-valued logic, comparisons and whole numbers', () => {
    const truth = fc.constantFrom('true', 'false', 'null');
    const whole = fc.integer({ min: -99, max: 99 }).map(String);
    const word = fc.constantFrom('"a"', '"b"', '""', '"ab"');
    const { boolean } = fc.letrec<{ boolean: string; number: string }>((tie) => ({
      number: fc.oneof(
        { maxDepth: 3 },
        whole,
        fc.tuple(tie('number'), fc.constantFrom('+', '-', '*'), tie('number')).map(([a, op, b]) => `(${a} ${op} ${b})`),
        fc.tuple(tie('boolean'), tie('number'), tie('number')).map(([c, a, b]) => `(if ${c} then ${a} else ${b})`),
      ),
      boolean: fc.oneof(
        { maxDepth: 3 },
        truth,
        fc.tuple(tie('boolean'), fc.constantFrom('and', 'or'), tie('boolean')).map(([a, op, b]) => `(${a} ${op} ${b})`),
        fc.tuple(tie('number'), fc.constantFrom('=', '!=', '<', '<=', '>', '>='), tie('number')).map(([a, op, b]) => `(${a} ${op} ${b})`),
        fc.tuple(word, fc.constantFrom('=', '!='), word).map(([a, op, b]) => `(${a} ${op} ${b})`),
        fc
          .tuple(fc.array(tie('number'), { maxLength: 3 }), tie('number'), fc.constantFrom('some', 'every'))
          .map(([all, n, word2]) => `(${word2} x in [${all.join(', ')}] satisfies x > ${n})`),
      ),
    }));
    fc.assert(
      fc.property(boolean, (text) => {
        const literal = here(text);
        expect(literal, text).toBeDefined();
        expect(agrees(text, literal ?? ''), `${text} is ${literal} here, ${JSON.stringify(feelin(text).value)} there`).toBe(true);
      }),
      { numRuns: 500 },
    );
  });

  test.each(deviations)('$expression is another number there', ({ expression, here: wanted }) => {
    expect(here(expression)).toBe(wanted);
    expect(agrees(expression, wanted)).toBe(false);
  });
});
