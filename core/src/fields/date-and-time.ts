import { z } from 'zod';
import { readDay, readTime } from '../feel/calendar.js';
import { momentOf } from '../feel/moments.js';
import { types } from '../feel/types.js';
import { isList, isNumber, type Feel, type Moment } from '../feel/value.js';
import { wants } from '../feel/wants.js';
import { literal } from '../sql/sql.js';
import { parseDate } from '../values/dates.js';
import type { Locale } from '../values/locale.js';
import { parseTime } from '../values/times.js';
import { asIs, common, Default, identical, readsAlike, type FieldKind } from './kind.js';
import { bad, good, type Value } from './value.js';

const shape = z.object({ kind: z.literal('date_and_time'), ...common, default: Default });

const isMoment = (value: Feel): value is Moment =>
  typeof value === 'object' && value !== null && !isList(value) && !isNumber(value) && value.kind === 'date and time';
/** Values are instants in UTC, in whole seconds: 2026-09-14T08:30:00Z. */
const pattern = '^[0-9]{4}-[0-9]{2}-[0-9]{2}T[0-9]{2}:[0-9]{2}:[0-9]{2}Z$';
const write = (ms: number): string => `${new Date(Math.floor(ms / 1000) * 1000).toISOString().slice(0, 19)}Z`;
const [first, last] = [0, Date.UTC(9999, 11, 31, 23, 59, 59)];

function problemOf(value: unknown): string | null {
  const ms = typeof value === 'string' && new RegExp(pattern, 'u').test(value) ? Date.parse(value) : NaN;
  if (Number.isNaN(ms) || write(ms) !== value) return 'must be a date and time such as 2026-09-14T08:30:00Z';
  return ms < first || ms > last ? 'must be between the years 1970 and 9999' : null;
}

/** The instant of a day and a time on the clocks of a zone. Both are in ISO. */
function instantOf(day: string, time: string, zone: string): string | null {
  const [date, clock] = [readDay(day), readTime(time)];
  const moment = date === null || clock === null ? null : momentOf(date, clock, zone);
  return moment === null ? null : write(moment.ms);
}

/** Reads a day with a time after it; a day alone means its midnight. */
function read(typed: string, readDate: (text: string) => string | null, zone: string): string | null {
  const text = typed.trim();
  if (problemOf(text) === null) return text;
  const alone = readDate(text);
  if (alone !== null) return instantOf(alone, '00:00:00', zone);
  for (const { index, 0: gap } of text.matchAll(/(?:,\s*|\s+|T(?=\d))(?:at\s+)?/gu)) {
    const [day, time] = [readDate(text.slice(0, index)), parseTime(text.slice(index + gap.length))];
    if (day !== null && time !== null) return instantOf(day, time, zone);
  }
  return null;
}

function print(value: Value, _: unknown, locale: Locale): string {
  if (value === null) return '';
  if (problemOf(value) !== null) return String(value);
  const [day = '', time = ''] = locale.wall(String(value)).split(' ');
  return `${locale.date(day)}, ${locale.clock(time)}`;
}

const example = '2026-09-14T08:30:00Z';
const sent = (column: string): string => `to_char(${column} AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"')`;

export const dateAndTime = {
  word: 'Date and time',
  description: 'a moment: 14 Sep 2026, 9:30',
  named: /\b(?:date and time|appointment|moment|begins|ends)\b/iu,
  shape,
  traits: {
    align: 'left',
    formWidth: 6,
    listWidth: 170,
    rowWidth: 180,
    canBeUnique: true,
    canBeIndexed: true,
    searched: false,
    listed: true,
    caption: false,
    addsUp: false,
    words: false,
  },
  digits: () => null,
  value: {
    parse: (typed, _, locale) => {
      if (typed.trim() === '') return good(null);
      const moment = read(typed, locale.readDate, locale.zone);
      return moment === null || problemOf(moment) !== null
        ? bad(`"${typed.trim()}" is not a date and time. Write it like ${print(example, null, locale)}`)
        : good(moment);
    },
    print,
    typed: print,
    problem: problemOf,
    normal: asIs,
    same: identical,
    exported: asIs,
  },
  feel: {
    type: () => types.moment,
    from: (value) => (problemOf(value) === null ? { kind: 'date and time', ms: Date.parse(String(value)) } : null),
    // Fields hold whole seconds.
    to: (computed) => (isMoment(computed) ? write(computed.ms) : null),
    literal: (value) => `date and time(${JSON.stringify(String(value).replace('Z', ''))})`,
    wanted: wants.moment,
  },
  column: {
    type: () => 'timestamptz(0)',
    constant: (value) => `${literal(String(value))}::timestamptz(0)`,
    computedDefault: (expression) => (expression === 'now()' ? "date_trunc('second', CURRENT_TIMESTAMP)" : null),
    rules: (_, column) => [{ name: 'range', check: `${column} >= '1970-01-01Z' AND ${column} < '10000-01-01Z'`, reason: null }],
    sortKey: (column) => column,
    sortType: 'timestamptz',
    sent,
    asText: sent,
    fromText: (text) => {
      const day = `feel.date(left(${text}, 10))`;
      return `CASE WHEN ${text} ~ ${literal(pattern)} THEN feel.moment(${day}, feel.time(substr(${text}, 12, 8)), 'UTC') END`;
    },
    takesEveryText: false,
    conversions: (column, _, after, zone) => {
      if (after.kind === 'date_and_time') return null;
      if (after.kind === 'date') return { expression: `(${column} AT TIME ZONE ${literal(zone)})::date`, canLose: true };
      return after.kind === 'time' ? { expression: `(${column} AT TIME ZONE ${literal(zone)})::time(0)`, canLose: true } : 'through text';
    },
  },
  cells: {
    reader: (_, reading) => (text) => {
      const moment = read(text, (day) => parseDate(day, reading.dates), reading.zone ?? 'UTC');
      return moment === null || problemOf(moment) !== null ? { problem: 'is not a date and time' } : moment;
    },
    ...readsAlike,
    reading: 'dates',
    settingsFor: () => ({}),
  },
  sample: {
    settings: [{}, { unique: true }],
    values: (fc) => fc.integer({ min: first / 1000, max: last / 1000 }).map((seconds) => write(seconds * 1000)),
  },
} as const satisfies FieldKind<z.infer<typeof shape>>;
