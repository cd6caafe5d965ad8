import { z } from 'zod';
import { readTime, writeTime } from '../feel/calendar.js';
import { types } from '../feel/types.js';
import { isList, isNumber, type Feel, type TimeOfDay } from '../feel/value.js';
import { wants } from '../feel/wants.js';
import { literal } from '../sql/sql.js';
import { parseTime } from '../values/times.js';
import { asIs, common, Default, identical, readsAlike, type FieldKind } from './kind.js';
import { bad, good } from './value.js';

const shape = z.object({ kind: z.literal('time'), ...common, default: Default });

const pattern = '^([01][0-9]|2[0-3]):[0-5][0-9](:[0-5][0-9])?$';
const isTime = (value: Feel): value is TimeOfDay => typeof value === 'object' && value !== null && !isList(value) && !isNumber(value) && value.kind === 'time';

export const time = {
  word: 'Time',
  description: 'a time of day: 9:30, 21:05',
  named: /\btime\b|\bat$/iu,
  shape,
  traits: {
    align: 'left',
    formWidth: 3,
    listWidth: 90,
    rowWidth: 112,
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
    parse: (typed) => {
      if (typed.trim() === '') return good(null);
      const read = parseTime(typed);
      return read === null ? bad(`"${typed.trim()}" is not a time. Write it like 9:30 or 21:05`) : good(read);
    },
    print: (value, _, locale) => (typeof value === 'string' ? locale.clock(value) : ''),
    typed: (value, _, locale) => (typeof value === 'string' ? locale.clock(value) : ''),
    problem: (value) =>
      typeof value === 'string' && /^\d\d:\d\d:\d\d$/u.test(value) && readTime(value) !== null ? null : 'must be a time between 00:00:00 and 23:59:59',
    normal: asIs,
    same: identical,
    exported: asIs,
  },
  feel: {
    type: () => types.time,
    from: (value) => (typeof value === 'string' ? readTime(value) : null),
    // Fields hold whole seconds.
    to: (computed) => (isTime(computed) ? writeTime({ kind: 'time', ms: computed.ms - (computed.ms % 1000) }) : null),
    literal: (value) => `time(${JSON.stringify(value)})`,
    wanted: wants.time,
  },
  column: {
    type: () => 'time(0)',
    constant: (value) => `${literal(String(value))}::time(0)`,
    rules: () => [],
    sortKey: (column) => column,
    sortType: 'time',
    sent: (column) => `${column}::text`,
    stored: () => ({
      // The language counts milliseconds from midnight.
      seen: (column) => `trunc(extract(epoch FROM ${column}) * 1000)`,
      constant: (value) => (isTime(value) && value.ms % 1000 === 0 ? { value: writeTime(value), type: 'time' } : null),
      isOrdered: true,
    }),
    asText: (column) => `${column}::text`,
    fromText: (text) => `CASE WHEN ${text} ~ ${literal(pattern)} THEN (${text})::time(0) END`,
    takesEveryText: false,
    conversions: (_, __, after) => (after.kind === 'time' ? null : 'through text'),
  },
  cells: {
    reader: () => (text) => parseTime(text) ?? { problem: 'is not a time of day' },
    ...readsAlike,
    reading: null,
    settingsFor: () => ({}),
  },
  sample: {
    settings: [{}, { unique: true }],
    values: (fc) => fc.integer({ min: 0, max: 86_399 }).map((seconds) => writeTime({ kind: 'time', ms: seconds * 1000 })),
  },
} as const satisfies FieldKind<z.infer<typeof shape>>;
