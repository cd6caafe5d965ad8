import { z } from 'zod';
import { readDay, writeDay } from '../feel/calendar.js';
import { types } from '../feel/types.js';
import { isList } from '../feel/value.js';
import { wants } from '../feel/wants.js';
import { literal } from '../sql/sql.js';
import { parseDate } from '../values/dates.js';
import type { Locale } from '../values/locale.js';
import { asIs, common, Default, identical, readsAlike, type FieldKind } from './kind.js';
import { bad, good } from './value.js';

const shape = z.object({ kind: z.literal('date'), ...common, default: Default });

// A date that fits the pattern but not the calendar is what no pattern can tell: its day is compared with the month's length.
const pattern = '^(?!0000)[0-9]{4}-(0[1-9]|1[0-2])-(0[1-9]|[12][0-9]|3[01])$';
const orders = { dmy: 'day first', mdy: 'month first', ymd: 'year first' } as const;
const print = (value: unknown, _: unknown, locale: Locale): string => (typeof value === 'string' ? locale.date(value) : '');
/** A day that tells day and month apart in every order. */
const example = '2026-09-14';

export const date = {
  word: 'Date',
  description: 'a day of the calendar',
  named: /\b(?:date|day|since|until|on|due|birthday|deadline)\b/iu,
  shape,
  traits: {
    align: 'left',
    formWidth: 3,
    listWidth: 130,
    rowWidth: 150,
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
      const day = locale.readDate(typed);
      return day === null ? bad(`"${typed.trim()}" is not a date. Write it like ${locale.date(example)}`) : good(day);
    },
    print,
    typed: print,
    problem: (value) => (typeof value === 'string' && parseDate(value, 'ymd') === value ? null : 'must be a date between the years 1 and 9999'),
    normal: asIs,
    same: identical,
    exported: asIs,
  },
  feel: {
    type: () => types.date,
    from: (value) => (typeof value === 'string' ? readDay(value) : null),
    to: (computed) => (typeof computed === 'object' && !isList(computed) && 'kind' in computed && computed.kind === 'date' ? writeDay(computed) : null),
    literal: (value) => `date(${JSON.stringify(value)})`,
    wanted: wants.date,
  },
  column: {
    type: () => 'date',
    constant: (value) => `${literal(String(value))}::date`,
    computedDefault: (expression) => (expression === 'today()' ? 'CURRENT_DATE' : null),
    rules: () => [],
    sortKey: (column) => column,
    sortType: 'date',
    sent: (column) => `${column}::text`,
    asText: (column) => `${column}::text`,
    fromText: (text) => {
      const [year, month, day] = [`left(${text}, 4)::int`, `substr(${text}, 6, 2)::int`, `substr(${text}, 9, 2)::int`];
      const lastDay = `extract(day FROM make_date(${year}, ${month}, 1) + interval '1 month' - interval '1 day')`;
      return `CASE WHEN ${text} ~ ${literal(pattern)} THEN CASE WHEN ${day} <= ${lastDay} THEN ${text}::date END END`;
    },
    takesEveryText: false,
    conversions: (column, _, after, zone) => {
      if (after.kind === 'date') return null;
      return after.kind === 'date_and_time' ? { expression: `feel.moment(${column}, 0, ${literal(zone)})`, canLose: true } : 'through text';
    },
  },
  cells: {
    reader: (_, reading) => (text) => parseDate(text, reading.dates) ?? { problem: `is not a date written ${orders[reading.dates]}` },
    ...readsAlike,
    reading: 'dates',
    settingsFor: () => ({}),
  },
  sample: {
    settings: [{}, { unique: true }],
    values: (fc) =>
      fc
        .date({ min: new Date('0001-01-01T00:00:00Z'), max: new Date('9999-12-31T00:00:00Z'), noInvalidDate: true })
        .map((day) => day.toISOString().slice(0, 10)),
  },
} as const satisfies FieldKind<z.infer<typeof shape>>;
