import { listOf, types, unite, type Type } from '../types.js';
import { RowScope, SqlList, scalar, type SqlTools } from '../sql-value.js';
import { every, everySql, some, someSql } from '../three-valued.js';
import { compare, Decimal, identityOf, isList, same, type Feel } from '../value.js';
import { accepts, always, elementOf, inGroup, optional, parameter, type BuiltIn } from './function.js';

const elements = (value: Feel | undefined): readonly Feel[] => (isList(value ?? null) ? (value as readonly Feel[]) : []);
const union = (a: Type | undefined, b: Type | undefined): Type => unite(a ?? types.null, b ?? types.null) ?? types.null;

/** Elements with the place of each first appearance; null is one value as well. */
function distinct(values: readonly Feel[]): Feel[] {
  const distinct = new Map<string, Feel>();
  for (const value of values) if (!distinct.has(identityOf(value))) distinct.set(identityOf(value), value);
  return [...distinct.values()];
}

const counted = (list: SqlList): string => list.whenThere(list.select('count(*)::numeric'));

function distinctSql(list: SqlList, tools: SqlTools): SqlList {
  const { list: placed, alias } = tools.placed(list);
  const key = tools.plain(placed.value);
  const { columns, read } = tools.carry(placed.value);
  const outer = tools.alias();
  const scope = new RowScope();
  const first = placed.select(`${columns}, ${alias}.o, row_number() OVER (PARTITION BY ${key} ORDER BY ${alias}.o) AS n`);
  const result = new SqlList(`(${first}) AS ${outer}`, scope, read(outer, scope), `${outer}.o`, list.exists);
  return result.narrowed(`${outer}.n = 1`);
}

function joined(lists: readonly SqlList[], tools: SqlTools): SqlList {
  const carried = lists.map((sqlList) => tools.carry(sqlList.value));
  const parts = lists.map((sqlList, i) => sqlList.select(`${carried[i]?.columns ?? ''}, ${i} AS p, row_number() OVER (ORDER BY ${sqlList.order}) AS o`));
  const alias = tools.alias();
  const scope = new RowScope();
  const value = carried[0]?.read(alias, scope) ?? scalar('NULL');
  const exists = lists.flatMap((sqlList) => (sqlList.exists === null ? [] : [sqlList.exists]));
  return new SqlList(
    `(${parts.map((part) => `(${part})`).join(' UNION ALL ')}) AS ${alias}`,
    scope,
    value,
    `${alias}.p, ${alias}.o`,
    exists.length === 0 ? null : exists.join(' AND '),
  );
}

const list = inGroup('Lists');

const wholeNumber = (value: Feel | undefined): number | null =>
  Decimal.isDecimal(value) && value.isInteger() && value.abs().lt(1e9) && !value.isZero() ? value.toNumber() : null;
const missing = scalar('NULL');

export const listFunctions: readonly BuiltIn[] = [
  list(
    'count',
    [parameter('list', accepts.list)],
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
  list(
    'mode',
    [parameter('list', accepts.numbers)],
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
        return distinct(values.filter((value) => times.get(identityOf(value)) === most)).sort(compare);
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
    [parameter('list', accepts.booleans)],
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
    [parameter('list', accepts.booleans)],
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
    [parameter('list', accepts.plainList), parameter('element', accepts.element)],
    'Whether the value is among them.',
    [
      ['list contains([1,2,3], 2)', 'true'],
      ['list contains([1,2,3], 4)', 'false'],
      ['list contains([1,null], null)', 'true'],
    ],
    {
      gives: always(types.boolean),
      strict: false,
      evaluate: ([of, element]) => (isList(of ?? null) ? elements(of).some((each) => same(each, element ?? null)) : null),
      sql: ([of, element], tools) => {
        const from = tools.list(of ?? missing);
        const found = `EXISTS (${from.narrowed(`${tools.plain(from.value)} IS NOT DISTINCT FROM ${tools.plain(element ?? missing)}`).select('1')})`;
        return scalar(from.exists === null ? found : `(CASE WHEN ${from.exists} THEN ${found} END)`);
      },
    },
  ),
  list(
    'concatenate',
    [parameter('list', accepts.plainList), parameter('other list', accepts.plainList)],
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
    [parameter('list', accepts.plainList), parameter('other list', accepts.plainList)],
    'Both lists in one, without repeats.',
    [['union([1,2],[2,3])', '[1, 2, 3]']],
    {
      gives: ([a, b]) => union(a, b),
      evaluate: ([a, b]) => distinct([...elements(a), ...elements(b)]),
      sql: ([a, b], tools) => distinctSql(joined([tools.list(a ?? missing), tools.list(b ?? missing)], tools), tools),
    },
  ),
  list('distinct values', [parameter('list', accepts.plainList)], 'The list without repeats.', [['distinct values([1,2,3,2,1])', '[1, 2, 3]']], {
    gives: ([of]) => of ?? types.null,
    evaluate: ([of]) => distinct(elements(of)),
    sql: ([of], tools) => distinctSql(tools.list(of ?? missing), tools),
  }),
  list('reverse', [parameter('list', accepts.plainList)], 'The list from its end.', [['reverse([1,2,3])', '[3, 2, 1]']], {
    gives: ([of]) => of ?? types.null,
    evaluate: ([of]) => [...elements(of)].reverse(),
    sql: ([of], tools) => {
      const { list: placed, alias } = tools.placed(tools.list(of ?? missing));
      return new SqlList(placed.source, placed.scope, placed.value, `${alias}.o DESC`, placed.exists);
    },
  }),
  list(
    'sublist',
    [parameter('list', accepts.plainList), parameter('start position', accepts.number), optional('length', accepts.number)],
    'A part of the list, from a place counted from 1; from the end when the place is negative.',
    [
      ['sublist([4,5,6], 1, 2)', '[4, 5]'],
      ['sublist([4,5,6], -2)', '[5, 6]'],
      ['sublist([1,2,3], 4)', '[]'],
    ],
    {
      gives: ([of]) => of ?? types.null,
      evaluate: ([of, start, length]) => {
        const [at, most] = [wholeNumber(start), length === undefined ? Infinity : wholeNumber(length)];
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
    [parameter('list', accepts.plainList), parameter('item', accepts.scalar)],
    'The list with one more at its end.',
    [['append([1], 2)', '[1, 2]']],
    {
      strict: false,
      gives: ([of, item]) => listOf(union(elementOf(of), item)),
      evaluate: ([of, item]) => (isList(of ?? null) ? [...elements(of), item ?? null] : null),
      sql: ([of, item], tools) => joined([tools.list(of ?? missing), tools.written([tools.plain(item ?? missing)], 'text')], tools),
    },
  ),
  list(
    'index of',
    [parameter('list', accepts.plainList), parameter('match', accepts.element)],
    'The positions of a value in the list, counted from 1.',
    [['index of([1,2,3,2], 2)', '[2, 4]']],
    {
      strict: false,
      gives: always(listOf(types.number)),
      evaluate: ([of, match]) => (isList(of ?? null) ? elements(of).flatMap((element, i) => (same(element, match ?? null) ? [new Decimal(i + 1)] : [])) : null),
      sql: ([of, match], tools) => {
        const { list: placed, alias } = tools.placed(tools.list(of ?? missing));
        return placed.narrowed(`${tools.plain(placed.value)} IS NOT DISTINCT FROM ${tools.plain(match ?? missing)}`).with(scalar(`${alias}.o::numeric`));
      },
    },
  ),
];
