import { readDay, readDuration, readTime } from '../feel/calendar.js';
import { readMoment } from '../feel/moments.js';
import type { Checker } from './checker.js';
import type { Node } from './node.js';
import type { At } from '../feel/syntax.js';
import { types, type Type } from '../feel/types.js';
import type { Feel } from '../feel/value.js';

/** A date, time, date and time or length of time that is written out, by the look of its text; a wrong one is said where it is. */
export function writtenMoment(checker: Checker, at: At, text: string): Node {
  if (/[Z@]|T.*[+-]\d\d:?\d\d$|^\d\d:.*[+-]/u.test(text)) return checker.refuse(at, 'Dates and times are in the time zone of the app; leave the zone away.');
  const constant = (value: Feel, type: Type): Node => ({ from: at.from, to: at.to, kind: 'constant', value, type });
  // A moment depends on the time zone, so that it stays a call: its text is only looked at here.
  if (/^\d{4}-\d\d-\d\dT/u.test(text)) {
    if (readMoment(text, 'UTC') === null) return checker.refuse(at, `"${text}" is no date and time of the calendar.`);
    return checker.callOf('date and time', at, [constant(text, types.string)], types.moment);
  }
  const date = readDay(text);
  if (date !== null) return constant(date, types.date);
  const time = readTime(text);
  if (time !== null) return constant(time, types.time);
  const length = readDuration(text);
  if (length !== null) return constant(length, length.kind === 'years and months duration' ? types.months : types.duration);
  return checker.refuse(at, `"${text}" is no date, time or length of time. They look like this: "2026-05-01", "09:30:00", "P2D", "P1Y6M".`);
}
