/**
 * How two values or ranges lie to one another (DMN 1.5, table 79). Each is written once, as a formula over three-valued
 * comparisons, and computed by either engine's own.
 */
import { plainKind, types, type Type } from '../types.js';
import { scalar, type SqlTools, type SqlValue } from '../sql-value.js';
import { compare, isList, type Feel } from '../value.js';
import { accepts, always, parameter, type Accepts, type BuiltIn } from './function.js';

/** Comparisons and connectives over the values and truths of an engine. */
interface Algebra<V, T> {
  readonly less: (a: V, b: V) => T;
  readonly equal: (a: V, b: V) => T;
  readonly and: (...of: T[]) => T;
  readonly or: (...of: T[]) => T;
  readonly known: (truth: boolean) => T;
}
/** Both arguments as ranges: a point is the range from itself to itself. */
interface Ends<V> {
  readonly low: V;
  readonly high: V;
  readonly lowIncluded: boolean;
  readonly highIncluded: boolean;
}
type Formula = <V, T>(a: Ends<V>, b: Ends<V>, of: Algebra<V, T>) => T;

const before: Formula = (a, b, of) => of.or(of.less(a.high, b.low), of.and(of.equal(a.high, b.low), of.known(!a.highIncluded || !b.lowIncluded)));
const meets: Formula = (a, b, of) => of.and(of.known(a.highIncluded && b.lowIncluded), of.equal(a.high, b.low));
const overlaps: Formula = (a, b, of) =>
  of.and(
    of.or(of.less(b.low, a.high), of.and(of.equal(b.low, a.high), of.known(a.highIncluded && b.lowIncluded))),
    of.or(of.less(a.low, b.high), of.and(of.equal(a.low, b.high), of.known(a.lowIncluded && b.highIncluded))),
  );
const overlapsBefore: Formula = (a, b, of) =>
  of.and(
    of.or(of.less(a.low, b.low), of.and(of.equal(a.low, b.low), of.known(a.lowIncluded && !b.lowIncluded))),
    of.or(of.less(b.low, a.high), of.and(of.equal(b.low, a.high), of.known(a.highIncluded && b.lowIncluded))),
    of.or(of.less(a.high, b.high), of.and(of.equal(a.high, b.high), of.known(!a.highIncluded || b.highIncluded))),
  );
const finishes: Formula = (a, b, of) =>
  of.and(
    of.known(a.highIncluded === b.highIncluded),
    of.equal(a.high, b.high),
    of.or(of.less(b.low, a.low), of.and(of.equal(a.low, b.low), of.known(!a.lowIncluded || b.lowIncluded))),
  );
const starts: Formula = (a, b, of) =>
  of.and(
    of.equal(a.low, b.low),
    of.known(a.lowIncluded === b.lowIncluded),
    of.or(of.less(a.high, b.high), of.and(of.equal(a.high, b.high), of.known(!a.highIncluded || b.highIncluded))),
  );
const includes: Formula = (a, b, of) =>
  of.and(
    of.or(of.less(a.low, b.low), of.and(of.equal(a.low, b.low), of.known(a.lowIncluded || !b.lowIncluded))),
    of.or(of.less(b.high, a.high), of.and(of.equal(b.high, a.high), of.known(a.highIncluded || !b.highIncluded))),
  );
const coincides: Formula = (a, b, of) =>
  of.and(of.equal(a.low, b.low), of.equal(a.high, b.high), of.known(a.lowIncluded === b.lowIncluded && a.highIncluded === b.highIncluded));
const swapped =
  (formula: Formula): Formula =>
  (a, b, of) =>
    formula(b, a, of);

const inMemory: Algebra<Feel, boolean | null> = {
  less: (a, b) => (a === null || b === null ? null : compare(a, b) < 0),
  equal: (a, b) => (a === null || b === null ? null : compare(a, b) === 0),
  and: (...of) => (of.includes(false) ? false : of.includes(null) ? null : true),
  or: (...of) => (of.includes(true) ? true : of.includes(null) ? null : false),
  known: (truth) => truth,
};
const inSql = (collate: string): Algebra<string, string> => ({
  less: (a, b) => `(${a}${collate} < ${b}${collate})`,
  equal: (a, b) => `(${a} = ${b})`,
  and: (...of) => `(${of.join(' AND ')})`,
  or: (...of) => `(${of.join(' OR ')})`,
  known: (truth) => String(truth),
});

function endsOf(value: Feel): Ends<Feel> {
  if (value !== null && typeof value === 'object' && !isList(value) && 'kind' in value && value.kind === 'range') return value;
  return { low: value, high: value, lowIncluded: true, highIncluded: true };
}
function endsSql(value: SqlValue, tools: SqlTools): Ends<string> {
  if (value.kind === 'range') return { ...value, low: tools.plain(value.low), high: tools.plain(value.high) };
  return { low: tools.plain(value), high: tools.plain(value), lowIncluded: true, highIncluded: true };
}

const pointOf = (type: Type | undefined): Type => (type?.kind === 'range' ? type.of : (type ?? types.null));
export const collation = (type: Type): string => (plainKind(type) === 'string' ? ' COLLATE "C"' : '');

const range = (name: string, [first, second]: readonly [Accepts, Accepts], formula: Formula, help: string, examples: BuiltIn['examples']): BuiltIn => ({
  name,
  group: 'Ranges',
  parameters: [parameter(first === accepts.range ? 'range' : 'point', first), parameter(second === accepts.range ? 'range' : 'point', second)],
  help,
  examples,
  gives: always(types.boolean),
  strict: true,
  evaluate: ([a, b]) => formula(endsOf(a ?? null), endsOf(b ?? null), inMemory),
  sql: ([a, b], tools, [type]) =>
    scalar(a === undefined || b === undefined ? 'NULL' : formula(endsSql(a, tools), endsSql(b, tools), inSql(collation(pointOf(type))))),
});

const any = [accepts.pointOrRange, accepts.pointOrRange] as const;
const both = [accepts.range, accepts.range] as const;

export const rangeFunctions: readonly BuiltIn[] = [
  range('before', any, before, 'Whether the first ends before the second begins.', [
    ['before(1, 10)', 'true'],
    ['before(10, 1)', 'false'],
    ['before(1, [1..10])', 'false'],
    ['before(1, (1..10])', 'true'],
    ['before([1..10], 10)', 'false'],
    ['before([1..10), 10)', 'true'],
    ['before([1..10], [15..20])', 'true'],
    ['before([1..10), [10..20])', 'true'],
    ['before([1..10], (10..20])', 'true'],
  ]),
  range('after', any, swapped(before), 'Whether the first begins after the second ends.', [
    ['after(10, 5)', 'true'],
    ['after(5, 10)', 'false'],
    ['after(12, [1..10])', 'true'],
    ['after(10, [1..10))', 'true'],
    ['after([11..20], 12)', 'false'],
    ['after((11..20], 11)', 'true'],
    ['after([11..20], [1..10])', 'true'],
    ['after([11..20), [1..11))', 'true'],
  ]),
  range('meets', both, meets, 'Whether the first ends just where the second begins, with that value in both.', [
    ['meets([1..5], [5..10])', 'true'],
    ['meets([1..5), [5..10])', 'false'],
    ['meets([1..5], [6..10])', 'false'],
  ]),
  range('met by', both, swapped(meets), 'Whether the first begins just where the second ends, with that value in both.', [
    ['met by([5..10], [1..5])', 'true'],
    ['met by([5..10], [1..5))', 'false'],
  ]),
  range('overlaps', both, overlaps, 'Whether a value can lie in both.', [
    ['overlaps([1..5], [3..8])', 'true'],
    ['overlaps([1..5], [6..8])', 'false'],
    ['overlaps([1..5], [5..8])', 'true'],
    ['overlaps([1..5], (5..8])', 'false'],
    ['overlaps([5..8], [1..5))', 'false'],
  ]),
  range('overlaps before', both, overlapsBefore, 'Whether the first begins before the second and ends within it.', [
    ['overlaps before([1..5], [3..8])', 'true'],
    ['overlaps before([1..5], [6..8])', 'false'],
    ['overlaps before([1..5), [5..8])', 'false'],
    ['overlaps before([1..5], [1..5])', 'false'],
  ]),
  range('overlaps after', both, swapped(overlapsBefore), 'Whether the first begins within the second and ends after it.', [
    ['overlaps after([3..8], [1..5])', 'true'],
    ['overlaps after([6..8], [1..5])', 'false'],
    ['overlaps after([5..8], [1..5))', 'false'],
  ]),
  range('finishes', [accepts.pointOrRange, accepts.range], finishes, 'Whether the first ends where the second does.', [
    ['finishes(10, [1..10])', 'true'],
    ['finishes(10, [1..10))', 'false'],
    ['finishes([5..10], [1..10])', 'true'],
    ['finishes([1..10], (1..10])', 'false'],
  ]),
  range('finished by', [accepts.range, accepts.pointOrRange], swapped(finishes), 'Whether the second ends where the first does.', [
    ['finished by([1..10], 10)', 'true'],
    ['finished by([1..10], [5..10])', 'true'],
    ['finished by([5..10], [1..10))', 'false'],
  ]),
  range('includes', [accepts.range, accepts.pointOrRange], includes, 'Whether the second lies in the first.', [
    ['includes([1..10], 5)', 'true'],
    ['includes([1..10], 12)', 'false'],
    ['includes([1..10], [4..6])', 'true'],
    ['includes((1..10], (1..5])', 'true'],
    ['includes([1..10], [1..10))', 'true'],
    ['includes([1..10), [5..10])', 'false'],
  ]),
  range('during', [accepts.pointOrRange, accepts.range], swapped(includes), 'Whether the first lies in the second.', [
    ['during(5, [1..10])', 'true'],
    ['during(12, [1..10])', 'false'],
    ['during([4..6], [1..10])', 'true'],
  ]),
  range('starts', [accepts.pointOrRange, accepts.range], starts, 'Whether the first begins where the second does.', [
    ['starts(1, [1..10])', 'true'],
    ['starts(1, (1..10])', 'false'],
    ['starts([1..5], [1..10])', 'true'],
    ['starts((1..5], [1..10])', 'false'],
  ]),
  range('started by', [accepts.range, accepts.pointOrRange], swapped(starts), 'Whether the second begins where the first does.', [
    ['started by([1..10], 1)', 'true'],
    ['started by([1..10], [1..5])', 'true'],
    ['started by([1..10], (1..5])', 'false'],
  ]),
  range('coincides', any, coincides, 'Whether both are the same.', [
    ['coincides(5, 5)', 'true'],
    ['coincides([1..5], [1..5])', 'true'],
    ['coincides((1..5), [1..5])', 'false'],
  ]),
];
