import { plainKind, types, type Type } from '../types.js';
import { scalar } from '../sql-value.js';
import { compare, Decimal, divide, isList, squareRoot, type Feel } from '../value.js';
import { accepts, always, elementOf, inGroup, parameter, type Accepts, type BuiltIn } from './function.js';
import { meanOf, sumOf } from './numbers.js';

/** A list folded into one value. Over elements of which one is empty, and over none, it is empty (DMN 1.5, 10.3.4.4). */
function fold(
  name: string,
  takes: Accepts,
  help: string,
  examples: BuiltIn['examples'],
  gives: BuiltIn['gives'],
  evaluate: (values: readonly Feel[]) => Feel,
  sql: (value: string, of: Type) => string,
): BuiltIn {
  return inGroup('Lists')(name, [parameter('list', takes)], help, examples, {
    spread: true,
    gives,
    evaluate: ([list]) => {
      const values = isList(list ?? null) ? (list as readonly Feel[]) : [];
      return values.length === 0 || values.includes(null) ? null : evaluate(values);
    },
    sql: ([list], tools, [type]) => {
      const of = tools.list(list ?? scalar('NULL'));
      return scalar(tools.fold(of, (value) => `CASE WHEN count(*) = count(${value}) THEN ${sql(value, elementOf(type))} END`));
    },
  });
}

const numbersOf = (values: readonly Feel[]): readonly Decimal[] => values as readonly Decimal[];
const pick =
  (sign: 1 | -1) =>
  (values: readonly Feel[]): Feel =>
    values.reduce((best, each) => (compare(each, best) * sign > 0 ? each : best));

// Texts are compared by code points, where PostgreSQL would follow the collation of the column.
const extreme =
  (aggregate: 'min' | 'max') =>
  (value: string, of: Type): string =>
    `${aggregate}(${value}${plainKind(of) === 'string' ? ' COLLATE "C"' : ''})`;

function total(values: readonly Feel[]): Feel {
  const [first] = values;
  if (Decimal.isDecimal(first)) return sumOf(numbersOf(values));
  const amounts = values.map((value) =>
    value !== null && typeof value === 'object' && 'ms' in value
      ? value.ms
      : value !== null && typeof value === 'object' && 'months' in value
        ? value.months
        : 0,
  );
  const sum = amounts.reduce((a, b) => a + b, 0);
  return first !== null && typeof first === 'object' && 'months' in first
    ? { kind: 'years and months duration', months: sum }
    : { kind: 'days and time duration', ms: sum };
}

function median(values: readonly Decimal[]): Feel {
  const sorted = [...values].sort((a, b) => a.cmp(b));
  const half = Math.floor(sorted.length / 2);
  const middle = sorted.length % 2 === 1 ? sorted.slice(half, half + 1) : sorted.slice(half - 1, half + 1);
  return meanOf(middle);
}

function deviation(values: readonly Decimal[]): Feel {
  const n = new Decimal(values.length);
  if (values.length < 2) return null;
  const squares = sumOf(values.map((value) => value.times(value)));
  const sum = sumOf(values);
  // n Σx² - (Σx)² over n (n - 1): exact up to the one division, so that the order of the list does not matter.
  const variance = divide(n.times(squares).minus(sum.times(sum)), n.times(n.minus(1)));
  return variance === null ? null : squareRoot(variance);
}

export const aggregateFunctions: readonly BuiltIn[] = [
  fold(
    'sum',
    accepts.addable,
    'All of them added up. Nothing when there is none, or when one of them is empty.',
    [
      ['sum([1,2,3])', '6'],
      ['sum(1,2,3)', '6'],
      ['sum(1)', '1'],
      ['sum([])', 'null'],
    ],
    ([of]) => elementOf(of),
    total,
    (value) => `sum(${value})`,
  ),
  fold(
    'mean',
    accepts.numbers,
    'The average.',
    [
      ['mean([1,2,3])', '2'],
      ['mean(1,2,3)', '2'],
      ['mean(1)', '1'],
      ['mean([])', 'null'],
    ],
    always(types.number),
    (values) => meanOf(numbersOf(values)),
    (value) => `feel.divide(sum(${value}), count(*)::numeric)`,
  ),
  fold(
    'min',
    accepts.orderedList,
    'The smallest, or the earliest.',
    [
      ['min([1,2,3])', '1'],
      ['min(1,2,3)', '1'],
      ['min([])', 'null'],
    ],
    ([of]) => elementOf(of),
    pick(-1),
    extreme('min'),
  ),
  fold(
    'max',
    accepts.orderedList,
    'The largest, or the latest.',
    [
      ['max(1,2,3)', '3'],
      ['max([1,2,3])', '3'],
      ['max([])', 'null'],
    ],
    ([of]) => elementOf(of),
    pick(1),
    extreme('max'),
  ),
  fold(
    'median',
    accepts.numbers,
    'The one in the middle when they are put in order; the mean of two when there are two in the middle.',
    [
      ['median(8, 2, 5, 3, 4)', '4'],
      ['median([6, 1, 2, 3])', '2.5'],
      ['median([])', 'null'],
    ],
    always(types.number),
    (values) => median(numbersOf(values)),
    (value) => `feel.divide(percentile_disc(0.5) WITHIN GROUP (ORDER BY ${value}) + percentile_disc(0.5) WITHIN GROUP (ORDER BY ${value} DESC), 2)`,
  ),
  fold(
    'stddev',
    accepts.numbers,
    'The standard deviation of a sample: how far they spread. Two at least are needed.',
    [
      ['stddev(2, 4, 7, 5)', '2.081665999466132735282297706979931'],
      ['stddev([47])', 'null'],
      ['stddev([])', 'null'],
    ],
    always(types.number),
    (values) => deviation(numbersOf(values)),
    (value) =>
      `feel.sqrt(feel.divide(count(*)::numeric * sum(${value} * ${value}) - sum(${value}) * sum(${value}), count(*)::numeric * (count(*)::numeric - 1)))`,
  ),
];
