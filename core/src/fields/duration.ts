import { z } from 'zod';
import { writeDuration } from '../feel/calendar.js';
import { types } from '../feel/types.js';
import { isList, isNumber, type Duration, type Feel } from '../feel/value.js';
import { wants } from '../feel/wants.js';
import { literal } from '../sql/sql.js';
import { parseDuration, printDuration } from '../values/times.js';
import { asIs, common, Default, identical, readsAlike, type FieldKind } from './kind.js';
import { bad, good, type Value } from './value.js';

const shape = z.object({ kind: z.literal('duration'), ...common, default: Default });

const isDuration = (value: Feel): value is Duration =>
  typeof value === 'object' && value !== null && !isList(value) && !isNumber(value) && value.kind === 'days and time duration';
/** Values are whole seconds: within the range of the language, which is ten thousand years. */
const longest = 316_224_000_000;
const lengthOf = (value: Value): Duration => ({ kind: 'days and time duration', ms: Number(value) * 1000 });
const print = (value: Value): string => (typeof value === 'number' ? printDuration(value) : value === null ? '' : String(value));
const typed = (value: Value): string => print(value).replace('−', '-');

/** A column as hours, minutes and, if there are some, seconds: 1:30, -0:00:15. */
function clockSql(column: string): string {
  const part = (of: string): string => `lpad((${of})::text, 2, '0')`;
  const seconds = `CASE WHEN abs(${column}) % 60 = 0 THEN '' ELSE ':' || ${part(`abs(${column}) % 60`)} END`;
  return `CASE WHEN ${column} < 0 THEN '-' ELSE '' END || (abs(${column}) / 3600)::text || ':' || ${part(`abs(${column}) / 60 % 60`)} || ${seconds}`;
}
const pattern = '^-?[0-9]{1,7}:[0-5][0-9](:[0-5][0-9])?$';
function secondsSql(text: string): string {
  const size = [3600, 60, 1].map((unit, i) => `COALESCE(NULLIF(split_part(ltrim(${text}, '-'), ':', ${i + 1}), ''), '0')::bigint * ${unit}`).join(' + ');
  return `CASE WHEN ${text} ~ ${literal(pattern)} THEN CASE WHEN ${text} LIKE '-%' THEN -1 ELSE 1 END * (${size}) END`;
}

export const duration = {
  word: 'Duration',
  description: 'how long something takes: 1:30, 90 min, 2 d',
  named: /\b(?:duration|took|takes|lasts?|minutes|hours)\b/iu,
  shape,
  traits: {
    align: 'right',
    formWidth: 3,
    listWidth: 110,
    rowWidth: 112,
    canBeUnique: true,
    canBeIndexed: true,
    searched: false,
    listed: true,
    caption: false,
    addsUp: true,
    words: true,
  },
  digits: () => null,
  value: {
    parse: (typed) => {
      if (typed.trim() === '') return good(null);
      const seconds = parseDuration(typed);
      return seconds === null ? bad(`"${typed.trim()}" is not a duration. Write it like 1:30, 90 min or 2 d`) : good(seconds);
    },
    print,
    typed,
    problem: (value) => (typeof value === 'number' && Number.isInteger(value) && Math.abs(value) <= longest ? null : 'must be a duration in whole seconds'),
    normal: asIs,
    same: identical,
    exported: typed,
  },
  feel: {
    type: () => types.duration,
    from: lengthOf,
    // Fields hold whole seconds.
    to: (computed) => (isDuration(computed) ? Math.trunc(computed.ms / 1000) || 0 : null),
    literal: (value) => `duration(${JSON.stringify(writeDuration(lengthOf(value)))})`,
    wanted: wants.duration,
  },
  column: {
    type: () => 'bigint',
    constant: String,
    rules: (_, column) => [{ name: 'range', check: `${column} BETWEEN -${longest} AND ${longest}`, reason: null }],
    sortKey: (column) => column,
    sortType: 'bigint',
    sent: (column) => column,
    stored: () => ({
      seen: (column) => `(${column}::numeric * 1000)`,
      constant: (value) => (isDuration(value) && value.ms % 1000 === 0 ? { value: String(value.ms / 1000), type: 'bigint' } : null),
      // As text a duration is not the number that is stored.
      isOrdered: false,
    }),
    asText: clockSql,
    fromText: secondsSql,
    takesEveryText: false,
    conversions: (_, __, after) => (after.kind === 'duration' ? null : 'through text'),
  },
  cells: {
    reader: () => (text) => {
      const seconds = parseDuration(text);
      return seconds === null ? { problem: 'is not a duration such as 1:30 or 90 min' } : String(seconds);
    },
    ...readsAlike,
    value: Number,
    reading: null,
    settingsFor: () => ({}),
  },
  sample: {
    settings: [{}, { unique: true }],
    values: (fc) => fc.integer({ min: -10_000_000, max: 10_000_000 }),
  },
} as const satisfies FieldKind<z.infer<typeof shape>>;
