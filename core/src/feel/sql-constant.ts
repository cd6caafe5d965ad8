/** Constants and series of the language as SQL, and PostgreSQL's types for its types. */
import { writeDay } from './calendar.js';
import { longestSeries } from './limits.js';
import { RowScope, scalar, SqlList, type SqlScalar, type SqlTools } from './sql-value.js';
import { plainKind, type Type } from './types.js';
import { digitsOf, isList, isNumber, type Feel } from './value.js';

const sqlTypes = {
  number: 'numeric',
  string: 'text',
  boolean: 'boolean',
  date: 'date',
  time: 'numeric',
  'date and time': 'timestamptz',
  'days and time duration': 'numeric',
  'years and months duration': 'numeric',
} as const;
export const sqlType = (type: Type): string =>
  type.kind === 'record' ? 'bigint' : ((sqlTypes as Readonly<Record<string, string>>)[plainKind(type)] ?? 'text');

/** A constant as a parameter of its type. */
export function constantSql(tools: SqlTools, value: Feel, type: Type): SqlScalar {
  if (value === null) return scalar(`NULL::${sqlType(type)}`);
  if (typeof value === 'boolean') return scalar(String(value));
  if (typeof value === 'string') return { kind: 'scalar', sql: tools.param(value, 'text'), written: value };
  if (isNumber(value)) return scalar(tools.param(digitsOf(value), 'numeric'));
  if (!isList(value)) {
    if (value.kind === 'date') return scalar(tools.param(writeDay(value), 'date'));
    if (value.kind === 'time' || value.kind === 'days and time duration') return scalar(tools.param(value.ms, 'numeric'));
    if (value.kind === 'years and months duration') return scalar(tools.param(value.months, 'numeric'));
  }
  throw new TypeError('A constant of an unknown kind');
}

/** The numbers from `low` to `high`, or down to it. */
export function seriesSql(tools: SqlTools, low: string, high: string): SqlList {
  const alias = tools.alias();
  const whole = `${low} = trunc(${low}) AND ${high} = trunc(${high}) AND abs(${high} - ${low}) < ${longestSeries}`;
  const count = `CASE WHEN ${whole} THEN abs(${high} - ${low})::integer ELSE -1 END`;
  return new SqlList(
    `generate_series(0, ${count}) AS ${alias}(o)`,
    new RowScope(),
    scalar(`(${low} + ${alias}.o * (CASE WHEN ${high} < ${low} THEN -1 ELSE 1 END))`),
    `${alias}.o`,
    `COALESCE(${whole}, false)`,
  );
}
