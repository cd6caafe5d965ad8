/** What can be behind the dot of a value that is no record: the parts of dates, times, lengths of time and ranges, in both engines. */
import { civilFromDays, dayMs, weekdayOf } from './calendar.js';
import { dayOfMoment, timeOfMoment } from './moments.js';
import { scalar, type SqlScalar, type SqlTools, type SqlValue } from './sql-value.js';
import type { Type } from './types.js';
import { Decimal, isList, isNumber, type Feel } from './value.js';

const partTable = {
  date: ['year', 'month', 'day', 'weekday'],
  time: ['hour', 'minute', 'second'],
  'date and time': ['year', 'month', 'day', 'weekday', 'hour', 'minute', 'second'],
  'days and time duration': ['days', 'hours', 'minutes', 'seconds'],
  'years and months duration': ['years', 'months'],
  range: ['start', 'end', 'start included', 'end included'],
} as const;
/** What can be behind the dot of a value that is no record. */
export const namedParts = (type: Type): readonly string[] =>
  'parts' in type ? Object.keys(type.parts ?? {}) : ((partTable as Readonly<Record<string, readonly string[]>>)[type.kind] ?? []);

export function partOf(value: Feel, name: string, zone: string): Feel {
  if (value === null || typeof value !== 'object' || isList(value) || isNumber(value)) return null;
  const number = (n: number): Feel => new Decimal(Math.trunc(n) + 0);
  switch (value.kind) {
    case 'date': {
      if (name === 'weekday') return number(weekdayOf(value));
      const civil = civilFromDays(value.days);
      return number(name === 'year' ? civil.year : name === 'month' ? civil.month : civil.day);
    }
    case 'time':
      return name === 'second' ? new Decimal(value.ms).mod(60_000).div(1000) : number(name === 'hour' ? value.ms / 3_600_000 : (value.ms / 60_000) % 60);
    case 'date and time':
      return ['hour', 'minute', 'second'].includes(name) ? partOf(timeOfMoment(value, zone), name, zone) : partOf(dayOfMoment(value, zone), name, zone);
    case 'days and time duration':
      if (name === 'seconds') return new Decimal(value.ms).mod(60_000).div(1000);
      return number(name === 'days' ? value.ms / dayMs : name === 'hours' ? (value.ms % dayMs) / 3_600_000 : (value.ms % 3_600_000) / 60_000);
    case 'years and months duration':
      return number(name === 'years' ? value.months / 12 : value.months % 12);
    case 'range':
      return name === 'start' ? value.low : name === 'end' ? value.high : name === 'start included' ? value.lowIncluded : value.highIncluded;
    default:
      return null;
  }
}

/** The same in SQL. The names come from the table above, through the checker. */
export function partSql(value: SqlValue, type: Type, name: string, tools: SqlTools): SqlValue {
  if (value.kind === 'range') {
    if (name === 'start') return value.low;
    if (name === 'end') return value.high;
    return scalar(String(name === 'start included' ? value.lowIncluded : value.highIncluded));
  }
  const sql = tools.plain(value);
  const { zone } = tools;
  const clock = (ms: string): SqlScalar =>
    scalar({ hour: `trunc(${ms} / 3600000)`, minute: `mod(trunc(${ms} / 60000), 60)`, second: `(mod(${ms}, 60000) / 1000)` }[name] ?? 'NULL');
  const calendar = (date: string): SqlScalar => scalar(`extract(${name === 'weekday' ? 'isodow' : name} FROM ${date})`);
  switch (type.kind) {
    case 'date':
      return calendar(sql);
    case 'time':
      return clock(sql);
    case 'date and time':
      return ['hour', 'minute', 'second'].includes(name) ? clock(`feel.time_of(${sql}, ${zone})`) : calendar(`feel.date_of(${sql}, ${zone})`);
    case 'days and time duration':
      return scalar(
        {
          days: `trunc(${sql} / 86400000)`,
          hours: `trunc(mod(${sql}, 86400000) / 3600000)`,
          minutes: `trunc(mod(${sql}, 3600000) / 60000)`,
          seconds: `(mod(${sql}, 60000) / 1000)`,
        }[name] ?? 'NULL',
      );
    default:
      return scalar(name === 'years' ? `trunc(${sql} / 12)` : `mod(${sql}, 12)`);
  }
}
