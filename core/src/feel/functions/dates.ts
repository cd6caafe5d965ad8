import {
  civilFromDays,
  dateOf,
  dayOfYear,
  daysFromCivil,
  daysInMonth,
  monthsBetween,
  months,
  day as asDay,
  readDay,
  readDuration,
  readTime,
  timeOf,
  weekdayOf,
  weekOfYear,
} from '../calendar.js';
import { dayOfMoment, momentOf, readMoment, timeOfMoment } from '../moments.js';
import { plainKind, types, type Type } from '../types.js';
import { scalar, type SqlTools, type SqlValue } from '../sql-value.js';
import { Decimal, isList, type Day, type Feel, type Moment, type TimeOfDay } from '../value.js';
import { accepts, always, inGroup, optional, parameter, scalars, type BuiltIn, type Given } from './function.js';

const date = inGroup('Dates and times');

const kindOf = (value: Feel | undefined): string =>
  value !== null && typeof value === 'object' && !isList(value) && 'kind' in value ? value.kind : typeof value;
const toDay = (value: Feel | undefined, given: Given): Day | null =>
  kindOf(value) === 'date and time' ? dayOfMoment(value as Moment, given.zone) : (value as Day);
const toTime = (value: Feel | undefined, given: Given): TimeOfDay =>
  kindOf(value) === 'date and time' ? timeOfMoment(value as Moment, given.zone) : (value as TimeOfDay);
const whole = (value: Feel | undefined): number => (Decimal.isDecimal(value) ? value.toNumber() : Number.NaN);

/** A date or moment as the date that the calendar of the app shows. */
const daySql = (value: string, type: Type | undefined, tools: SqlTools): string =>
  type?.kind === 'date and time' ? `feel.date_of(${value}, ${tools.zone})` : value;
const ofDay =
  (write: (day: string) => string) =>
  ([value]: readonly SqlValue[], tools: SqlTools, [type]: readonly Type[]): SqlValue =>
    scalar(write(daySql(tools.plain(value ?? scalar('NULL')), type, tools)));
const choose = (value: string, names: readonly string[]): string => `(ARRAY[${names.map((name) => `'${name}'`).join(', ')}])[${value}]`;

const weekdays = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const;
const monthNames = ['January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October', 'November', 'December'] as const;

export const dateFunctions: readonly BuiltIn[] = [
  date('today', [], 'The date of today, in the time zone of the app.', [], {
    gives: always(types.date),
    evaluate: (_, { now, zone }) => dayOfMoment({ kind: 'date and time', ms: now }, zone),
    // The day and not the moment: the statement is the same for as long as its answer is.
    sql: (_, tools) => scalar(tools.param(tools.today, 'date')),
  }),
  date('now', [], 'The date and time of this moment.', [], {
    gives: always(types.moment),
    evaluate: (_, { now }) => ({ kind: 'date and time', ms: now }),
    sql: (_, tools) => scalar(`feel.at_ms(${tools.param(tools.now, 'numeric')})`),
  }),
  date(
    'date',
    [
      parameter('from', {
        description: 'a text like "2026-05-01", a date and time, or year, month and day',
        fits: (type) => ['null', 'string', 'date', 'date and time', 'number'].includes(plainKind(type)),
      }),
      optional('month', accepts.number),
      optional('day', accepts.number),
    ],
    'A date: from a text, from year, month and day, or the day of a date and time.',
    [
      ['date("2012-12-25")', 'date("2012-12-25")'],
      ['date(2012, 12, 25)', 'date("2012-12-25")'],
      ['date("2012-12-24") = date(date and time("2012-12-24T10:30:00"))', 'true'],
      ['date("2023-02-" + "29")', 'null'],
    ],
    {
      gives: always(types.date),
      evaluate: ([from, month, dayOfMonth], given) => {
        if (Decimal.isDecimal(from)) return dateOf(whole(from), whole(month), whole(dayOfMonth));
        return typeof from === 'string' ? readDay(from) : toDay(from, given);
      },
      sql: (args, tools, [type]) => {
        const [from = 'NULL', ...rest] = args.map((arg) => tools.plain(arg));
        return scalar(
          rest.length > 0
            ? `feel.date(${[from, ...rest].join(', ')})`
            : plainKind(type ?? types.null) === 'string'
              ? `feel.date(${from})`
              : daySql(from, type, tools),
        );
      },
    },
  ),
  date(
    'time',
    [
      parameter('from', {
        description: 'a text like "09:30:00", a date and time, or hour, minute and second',
        fits: (type) => ['null', 'string', 'time', 'date and time', 'number'].includes(plainKind(type)),
      }),
      optional('minute', accepts.number),
      optional('second', accepts.number),
    ],
    'A time of day: from a text, from hour, minute and second, or that of a date and time.',
    [
      ['time("23:59:00")', 'time("23:59:00")'],
      ['time(10, 30, 0)', 'time("10:30:00")'],
      ['time("23:59:00") + duration("PT2M")', 'time("00:01:00")'],
      ['time(date and time("2012-12-25T11:00:00"))', 'time("11:00:00")'],
    ],
    {
      gives: always(types.time),
      evaluate: ([from, minute, second], given) => {
        if (Decimal.isDecimal(from)) return timeOf(whole(from), whole(minute), whole(second));
        return typeof from === 'string' ? readTime(from) : toTime(from, given);
      },
      sql: (args, tools, [type]) => {
        const [from = 'NULL', ...rest] = args.map((arg) => tools.plain(arg));
        if (rest.length > 0) return scalar(`feel.time(${[from, ...rest].join(', ')})`);
        return scalar(
          plainKind(type ?? types.null) === 'string' ? `feel.time(${from})` : type?.kind === 'time' ? from : `feel.time_of(${from}, ${tools.zone})`,
        );
      },
    },
  ),
  date(
    'date and time',
    [parameter('from', accepts.dateOrText), optional('time', accepts.time)],
    'A date and time: from a text, or from a date and a time, as the clocks of the app’s time zone show it.',
    [
      ['date and time("2012-12-24T23:59:00")', 'date and time("2012-12-24T23:59:00")'],
      ['date and time(date("2012-12-24"), time("23:59:00"))', 'date and time("2012-12-24T23:59:00")'],
    ],
    {
      gives: always(types.moment),
      evaluate: ([from, time], given) => {
        if (typeof from === 'string') return readMoment(from, given.zone);
        if (time === undefined && kindOf(from) === 'date and time') return from ?? null;
        const of = toDay(from, given);
        return of === null ? null : momentOf(of, (time as TimeOfDay | undefined) ?? { kind: 'time', ms: 0 }, given.zone);
      },
      sql: (args, tools, [type]) => {
        const [from = 'NULL', time] = args.map((arg) => tools.plain(arg));
        if (plainKind(type ?? types.null) === 'string') return scalar(`feel.moment(${from}, ${tools.zone})`);
        if (time === undefined && type?.kind === 'date and time') return scalar(from);
        return scalar(`feel.moment(${daySql(from, type, tools)}, ${time ?? '0::numeric'}, ${tools.zone})`);
      },
    },
  ),
  date(
    'duration',
    [parameter('from', accepts.string)],
    'A length of time, as ISO 8601 writes it: "P2DT3H" are 2 days and 3 hours, "P1Y6M" a year and 6 months. Write it out.',
    [
      ['date and time("2012-12-24T23:59:00") - date and time("2012-12-22T03:45:00")', 'duration("P2DT20H14M")'],
      ['duration("P2Y2M")', 'duration("P26M")'],
    ],
    {
      // Which of the two kinds of length it is, only a text that is written out tells: the checker reads it there.
      gives: always(types.duration),
      evaluate: ([from]) => readDuration(from as string),
      sql: scalars(() => 'NULL::numeric'),
    },
  ),
  date(
    'years and months duration',
    [parameter('from', accepts.anyDate), parameter('to', accepts.anyDate)],
    'How many whole years and months lie between two dates.',
    [
      ['years and months duration(date("2011-12-22"), date("2013-08-24"))', 'duration("P1Y8M")'],
      ['years and months duration(date("2026-03-31"), date("2026-02-28"))', 'duration("-P1M")'],
    ],
    {
      gives: always(types.months),
      evaluate: ([from, to], given) => {
        const [a, b] = [toDay(from, given), toDay(to, given)];
        return a === null || b === null ? null : months(monthsBetween(a, b));
      },
      sql: ([from, to], tools, [fromType, toType]) =>
        scalar(
          `feel.months_between(${daySql(tools.plain(from ?? scalar('NULL')), fromType, tools)}, ${daySql(tools.plain(to ?? scalar('NULL')), toType, tools)})`,
        ),
    },
  ),
  date('day of year', [parameter('date', accepts.anyDate)], 'The number of the day within its year.', [['day of year(date("2019-09-17"))', '260']], {
    gives: always(types.number),
    evaluate: ([of], given) => dayNumber(toDay(of, given), dayOfYear),
    sql: ofDay((value) => `extract(doy FROM ${value})`),
  }),
  date('day of week', [parameter('date', accepts.anyDate)], 'The name of the weekday.', [['day of week(date("2019-09-17"))', '"Tuesday"']], {
    gives: always(types.string),
    evaluate: ([of], given) => nameOf(toDay(of, given), (day) => weekdays[weekdayOf(day) - 1]),
    sql: ofDay((value) => choose(`extract(isodow FROM ${value})::integer`, weekdays)),
  }),
  date('month of year', [parameter('date', accepts.anyDate)], 'The name of the month.', [['month of year(date("2019-09-17"))', '"September"']], {
    gives: always(types.string),
    evaluate: ([of], given) => nameOf(toDay(of, given), (day) => monthNames[civilFromDays(day.days).month - 1]),
    sql: ofDay((value) => choose(`extract(month FROM ${value})::integer`, monthNames)),
  }),
  date(
    'week of year',
    [parameter('date', accepts.anyDate)],
    'The number of the week, as ISO 8601 counts: the first is the one with the first Thursday of the year.',
    [
      ['week of year(date("2019-09-17"))', '38'],
      ['week of year(date("2003-12-29"))', '1'],
      ['week of year(date("2004-01-04"))', '1'],
      ['week of year(date("2005-01-01"))', '53'],
      ['week of year(date("2005-01-03"))', '1'],
      ['week of year(date("2005-01-09"))', '1'],
    ],
    { gives: always(types.number), evaluate: ([of], given) => dayNumber(toDay(of, given), weekOfYear), sql: ofDay((value) => `extract(week FROM ${value})`) },
  ),
  date(
    'last day of month',
    [parameter('date', accepts.anyDate)],
    'The last day of the month in which a date lies.',
    [['last day of month(date("2024-02-10"))', 'date("2024-02-29")']],
    {
      gives: always(types.date),
      evaluate: ([of], given) => {
        const value = toDay(of, given);
        if (value === null) return null;
        const { year, month } = civilFromDays(value.days);
        return asDay(daysFromCivil(year, month, daysInMonth(year, month)));
      },
      sql: ofDay((value) => `feel.day((date_trunc('month', ${value}::timestamp) + INTERVAL '1 month' - INTERVAL '1 day')::date - DATE '1970-01-01')`),
    },
  ),
];

const dayNumber = (value: Day | null, count: (of: Day) => number): Feel => (value === null ? null : new Decimal(count(value)));
const nameOf = (value: Day | null, name: (of: Day) => string | undefined): Feel => (value === null ? null : (name(value) ?? null));
