import { listOf, plainKind, types, unite, type Type } from '../types.js';
import { RowScope, SqlList, scalar, type SqlTools, type SqlValue } from '../sql-value.js';
import { compare, Decimal, divide, identityOf, isList, same, squareRoot, type Feel } from '../value.js';
import { accepts, always, elementOf, optional, parameter, type Accepts, type BuiltIn } from './function.js';
import { meanOf, sumOf } from './numbers.js';

const listArgument = (name: string, takes: Accepts) => parameter(name, takes);
const elements = (value: Feel | undefined): readonly Feel[] => (isList(value ?? null) ? (value as readonly Feel[]) : []);
const union = (a: Type | undefined, b: Type | undefined): Type => unite(a ?? types.null, b ?? types.null) ?? types.null;

/** A list folded into one value. Over elements of which one is empty, and over none, it is empty (DMN 1.5, 10.3.4.4). */
function fold(
  name: string,
  takes: Accepts,
  says: string,
  examples: BuiltIn['examples'],
  gives: BuiltIn['gives'],
  evaluate: (values: readonly Feel[]) => Feel,
  sql: (value: string, of: Type) => string,
): BuiltIn {
  return {
    name,
    group: 'Lists',
    parameters: [listArgument('list', takes)],
    spread: true,
    says,
    examples,
    gives,
    strict: true,
    evaluate: ([list]) => {
      const values = elements(list);
      return values.length === 0 || values.includes(null) ? null : evaluate(values);
    },
    sql: ([list], tools, [type]) => {
      const of = tools.list(list ?? scalar('NULL'));
      return scalar(tools.fold(of, (value) => `CASE WHEN count(*) = count(${value}) THEN ${sql(value, elementOf(type))} END`));
    },
  };
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
  const amounts = values.map((one) =>
    one !== null && typeof one === 'object' && 'ms' in one ? one.ms : one !== null && typeof one === 'object' && 'months' in one ? one.months : 0,
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
  const squares = sumOf(values.map((one) => one.times(one)));
  const sum = sumOf(values);
  // n Σx² - (Σx)² over n (n - 1): exact up to the one division, so that the order of the list does not matter.
  const variance = divide(n.times(squares).minus(sum.times(sum)), n.times(n.minus(1)));
  return variance === null ? null : squareRoot(variance);
}

/** Elements with the place of each first appearance; null is one value as well. */
function distinct(values: readonly Feel[]): Feel[] {
  const kept = new Map<string, Feel>();
  for (const value of values) if (!kept.has(identityOf(value))) kept.set(identityOf(value), value);
  return [...kept.values()];
}

const identity = (value: SqlValue, tools: SqlTools): string => tools.plain(value);

const counted = (list: SqlList): string => list.whenThere(list.select('count(*)::numeric'));

function distinctSql(list: SqlList, tools: SqlTools): SqlList {
  const { list: placed, alias } = tools.placed(list);
  const key = identity(placed.value, tools);
  const { columns, read } = tools.carry(placed.value);
  const outer = tools.alias();
  const scope = new RowScope();
  const first = placed.select(`${columns}, ${alias}.o, row_number() OVER (PARTITION BY ${key} ORDER BY ${alias}.o) AS n`);
  const result = new SqlList(`(${first}) AS ${outer}`, scope, read(outer, scope), `${outer}.o`, list.exists);
  return result.narrowed(`${outer}.n = 1`);
}

function joined(lists: readonly SqlList[], tools: SqlTools): SqlList {
  const carried = lists.map((one) => tools.carry(one.value));
  const parts = lists.map((one, i) => one.select(`${carried[i]?.columns ?? ''}, ${i} AS p, row_number() OVER (ORDER BY ${one.order}) AS o`));
  const alias = tools.alias();
  const scope = new RowScope();
  const value = carried[0]?.read(alias, scope) ?? scalar('NULL');
  const exists = lists.flatMap((one) => (one.exists === null ? [] : [one.exists]));
  return new SqlList(
    `(${parts.map((one) => `(${one})`).join(' UNION ALL ')}) AS ${alias}`,
    scope,
    value,
    `${alias}.p, ${alias}.o`,
    exists.length === 0 ? null : exists.join(' AND '),
  );
}

/** Scalars written out as a list. */
export function written(values: readonly string[], type: string, tools: SqlTools): SqlList {
  const alias = tools.alias();
  const rows =
    values.length === 0
      ? `(SELECT NULL::${type} AS v, 0 AS o WHERE false) AS ${alias}`
      : `(VALUES ${values.map((one, i) => `(${one}, ${i + 1})`).join(', ')}) AS ${alias}(v, o)`;
  return new SqlList(rows, new RowScope(), scalar(`${alias}.v`), `${alias}.o`, null);
}

const list = (
  name: string,
  parameters: BuiltIn['parameters'],
  says: string,
  examples: BuiltIn['examples'],
  more: Pick<BuiltIn, 'gives' | 'evaluate' | 'sql'> & Partial<BuiltIn>,
): BuiltIn => ({
  name,
  group: 'Lists',
  parameters,
  says,
  examples,
  strict: true,
  ...more,
});

const place = (value: Feel | undefined): number | null =>
  Decimal.isDecimal(value) && value.isInteger() && value.abs().lt(1e9) && !value.isZero() ? value.toNumber() : null;
const missing = scalar('NULL');

export const listFunctions: readonly BuiltIn[] = [
  list(
    'count',
    [listArgument('list', accepts.list)],
    'How many there are.',
    [
      ['count([1,2,3])', '3'],
      ['count([])', '0'],
    ],
    {
      gives: always(types.number),
      evaluate: ([of]) => new Decimal(elements(of).length),
      sql: ([of], tools) => scalar(counted(tools.list(of ?? missing))),
    },
  ),
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
  list(
    'mode',
    [listArgument('list', accepts.numbers)],
    'The most frequent numbers, the smallest first.',
    [
      ['mode([6, 3, 9, 6, 6])', '[6]'],
      ['mode([6, 1, 9, 6, 1])', '[1, 6]'],
      ['mode([])', '[]'],
    ],
    {
      gives: always(listOf(types.number)),
      evaluate: ([of]) => {
        const values = elements(of);
        if (values.includes(null)) return null;
        const times = new Map<string, number>();
        for (const value of values) times.set(identityOf(value), (times.get(identityOf(value)) ?? 0) + 1);
        const most = [...times.values()].reduce((a, b) => Math.max(a, b), 0);
        return distinct(values.filter((one) => times.get(identityOf(one)) === most)).sort(compare);
      },
      sql: ([of], tools) => {
        const from = tools.list(of ?? missing);
        const value = tools.plain(from.value);
        const [inner, alias, outer] = [tools.alias(), tools.alias(), tools.alias()];
        const grouped = `SELECT ${inner}.v, count(*) AS n, max(count(*)) OVER () AS most FROM (${from.select(`${value} AS v`)}) AS ${inner} GROUP BY ${inner}.v`;
        const exists = `${from.exists === null ? '' : `${from.exists} AND `}NOT EXISTS (${from.narrowed(`${value} IS NULL`).select('1')})`;
        return new SqlList(
          `(SELECT ${alias}.v FROM (${grouped}) AS ${alias} WHERE ${alias}.n = ${alias}.most) AS ${outer}`,
          new RowScope(),
          scalar(`${outer}.v`),
          `${outer}.v`,
          exists,
        );
      },
    },
  ),
  list(
    'all',
    [listArgument('list', accepts.booleans)],
    'Whether all are true. True when there is none.',
    [
      ['all([false, null, true])', 'false'],
      ['all(true)', 'true'],
      ['all([true])', 'true'],
      ['all([])', 'true'],
    ],
    {
      spread: true,
      gives: always(types.boolean),
      evaluate: ([of]) => every(elements(of)),
      sql: ([of], tools) => {
        return scalar(tools.fold(tools.list(of ?? missing), everySql));
      },
    },
  ),
  list(
    'any',
    [listArgument('list', accepts.booleans)],
    'Whether one at least is true. False when there is none.',
    [
      ['any([false, null, true])', 'true'],
      ['any(false)', 'false'],
      ['any([])', 'false'],
    ],
    {
      spread: true,
      gives: always(types.boolean),
      evaluate: ([of]) => some(elements(of)),
      sql: ([of], tools) => {
        return scalar(tools.fold(tools.list(of ?? missing), someSql));
      },
    },
  ),
  list(
    'list contains',
    [listArgument('list', accepts.plainList), parameter('element', accepts.element)],
    'Whether the value is among them.',
    [
      ['list contains([1,2,3], 2)', 'true'],
      ['list contains([1,2,3], 4)', 'false'],
      ['list contains([1,null], null)', 'true'],
    ],
    {
      gives: always(types.boolean),
      strict: false,
      evaluate: ([of, element]) => (isList(of ?? null) ? elements(of).some((one) => same(one, element ?? null)) : null),
      sql: ([of, element], tools) => {
        const from = tools.list(of ?? missing);
        const found = `EXISTS (${from.narrowed(`${identity(from.value, tools)} IS NOT DISTINCT FROM ${identity(element ?? missing, tools)}`).select('1')})`;
        return scalar(from.exists === null ? found : `(CASE WHEN ${from.exists} THEN ${found} END)`);
      },
    },
  ),
  list(
    'concatenate',
    [listArgument('list', accepts.plainList), listArgument('other list', accepts.plainList)],
    'One list after the other.',
    [['concatenate([1,2],[3])', '[1, 2, 3]']],
    {
      gives: ([a, b]) => union(a, b),
      evaluate: ([a, b]) => [...elements(a), ...elements(b)],
      sql: ([a, b], tools) => joined([tools.list(a ?? missing), tools.list(b ?? missing)], tools),
    },
  ),
  list(
    'union',
    [listArgument('list', accepts.plainList), listArgument('other list', accepts.plainList)],
    'Both lists in one, without repeats.',
    [['union([1,2],[2,3])', '[1, 2, 3]']],
    {
      gives: ([a, b]) => union(a, b),
      evaluate: ([a, b]) => distinct([...elements(a), ...elements(b)]),
      sql: ([a, b], tools) => distinctSql(joined([tools.list(a ?? missing), tools.list(b ?? missing)], tools), tools),
    },
  ),
  list('distinct values', [listArgument('list', accepts.plainList)], 'The list without repeats.', [['distinct values([1,2,3,2,1])', '[1, 2, 3]']], {
    gives: ([of]) => of ?? types.null,
    evaluate: ([of]) => distinct(elements(of)),
    sql: ([of], tools) => distinctSql(tools.list(of ?? missing), tools),
  }),
  list('reverse', [listArgument('list', accepts.plainList)], 'The list from its end.', [['reverse([1,2,3])', '[3, 2, 1]']], {
    gives: ([of]) => of ?? types.null,
    evaluate: ([of]) => [...elements(of)].reverse(),
    sql: ([of], tools) => {
      const { list: placed, alias } = tools.placed(tools.list(of ?? missing));
      return new SqlList(placed.source, placed.scope, placed.value, `${alias}.o DESC`, placed.exists);
    },
  }),
  list(
    'sublist',
    [listArgument('list', accepts.plainList), parameter('start position', accepts.number), optional('length', accepts.number)],
    'A part of the list, from a place counted from 1; from the end when the place is negative.',
    [
      ['sublist([4,5,6], 1, 2)', '[4, 5]'],
      ['sublist([4,5,6], -2)', '[5, 6]'],
      ['sublist([1,2,3], 4)', '[]'],
    ],
    {
      gives: ([of]) => of ?? types.null,
      evaluate: ([of, start, length]) => {
        const [at, most] = [place(start), length === undefined ? Infinity : place(length)];
        if (at === null || most === null || most < 1) return null;
        const values = elements(of);
        const from = at > 0 ? at - 1 : values.length + at;
        return from < 0 ? [] : values.slice(from, from + most);
      },
      sql: ([of, start, length], tools) => {
        const from = tools.list(of ?? missing);
        const { list: placed, alias } = tools.placed(from);
        const [at, most] = [tools.plain(start ?? missing), length === undefined ? null : tools.plain(length)];
        const size = `(${tools.list(of ?? missing).select('count(*)')})`;
        const begin = `(CASE WHEN ${at} > 0 THEN ${at} ELSE ${size} + ${at} + 1 END)`;
        const whole = (text: string): string => `${text} = trunc(${text}) AND abs(${text}) < 1000000000`;
        const fits = `${whole(at)} AND ${at} <> 0${most === null ? '' : ` AND ${whole(most)} AND ${most} >= 1`}`;
        const cut = placed.narrowed(`${begin} >= 1 AND ${alias}.o >= ${begin}${most === null ? '' : ` AND ${alias}.o < ${begin} + ${most}`}`);
        const result = new SqlList(cut.source, cut.scope, cut.value, cut.order, `${from.exists === null ? '' : `${from.exists} AND `}${fits}`);
        result.where.push(...cut.where);
        return result;
      },
    },
  ),
  list(
    'append',
    [listArgument('list', accepts.plainList), parameter('item', accepts.scalar)],
    'The list with one more at its end.',
    [['append([1], 2)', '[1, 2]']],
    {
      strict: false,
      gives: ([of, item]) => listOf(union(elementOf(of), item)),
      evaluate: ([of, item]) => (isList(of ?? null) ? [...elements(of), item ?? null] : null),
      sql: ([of, item], tools) => joined([tools.list(of ?? missing), written([tools.plain(item ?? missing)], 'text', tools)], tools),
    },
  ),
  list(
    'index of',
    [listArgument('list', accepts.plainList), parameter('match', accepts.element)],
    'The places at which a value stands in the list, counted from 1.',
    [['index of([1,2,3,2], 2)', '[2, 4]']],
    {
      strict: false,
      gives: always(listOf(types.number)),
      evaluate: ([of, match]) => (isList(of ?? null) ? elements(of).flatMap((one, i) => (same(one, match ?? null) ? [new Decimal(i + 1)] : [])) : null),
      sql: ([of, match], tools) => {
        const { list: placed, alias } = tools.placed(tools.list(of ?? missing));
        return placed
          .narrowed(`${identity(placed.value, tools)} IS NOT DISTINCT FROM ${identity(match ?? missing, tools)}`)
          .with(scalar(`${alias}.o::numeric`));
      },
    },
  ),
];

/** Three-valued and: false when one is false, else unknown when one is. */
export const every = (values: readonly Feel[]): Feel => (values.includes(false) ? false : values.every((one) => one === true) ? true : null);
export const some = (values: readonly Feel[]): Feel => (values.includes(true) ? true : values.every((one) => one === false) ? false : null);
export const everySql = (value: string): string => `CASE WHEN COALESCE(bool_or(NOT ${value}), false) THEN false WHEN count(*) = count(${value}) THEN true END`;
export const someSql = (value: string): string => `CASE WHEN COALESCE(bool_or(${value}), false) THEN true WHEN count(*) = count(${value}) THEN false END`;
