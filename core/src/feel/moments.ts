/** Moments on the clocks of a time zone, as the IANA database has it. Nothing here raises: what is outside of the calendar is null. */
import { IANAZone } from 'luxon';
import { addMonths, day, dayMs, lastMoment, moment, readDay, readTime, timeOfDay, writeDay, writeTime } from './calendar.js';
import type { Day, Moment, TimeOfDay } from './value.js';

const zones = new Map<string, IANAZone>();
/** How far the clocks of a zone are ahead of UTC at an instant, in milliseconds. */
function offsetAt(ms: number, zone: string): number {
  let known = zones.get(zone);
  if (known === undefined) zones.set(zone, (known = IANAZone.create(zone)));
  // Beyond the calendar clocks stay as they are at its ends.
  return known.offset(Math.min(ms, lastMoment)) * 60_000;
}

/** What the clock on the wall shows at an instant, as milliseconds since 1970 of that clock. */
const wallClock = (ms: number, zone: string): number => ms + offsetAt(ms, zone);

/**
 * The instant at which the clock on the wall shows `wall`. In the hour that a clock change leaves out, the clock not
 * yet changed counts; in the hour that comes twice, the second one: as PostgreSQL reads such times.
 */
function instantOf(wall: number, zone: string): Moment | null {
  const [before, after] = [offsetAt(wall - dayMs, zone), offsetAt(wall + dayMs, zone)];
  const fits = [after, before].filter((offset) => offsetAt(wall - offset, zone) === offset);
  return moment(wall - (fits[0] ?? before));
}

export const momentOf = (date: Day, time: TimeOfDay, zone: string): Moment | null => instantOf(date.days * dayMs + time.ms, zone);
export const dayOfMoment = ({ ms }: Moment, zone: string): Day | null => day(Math.floor(wallClock(ms, zone) / dayMs));
export const timeOfMoment = ({ ms }: Moment, zone: string): TimeOfDay => timeOfDay(wallClock(ms, zone));

/** Reads `2026-05-01T09:30:00` as the clock of the zone shows it; a date alone is its midnight. */
export function readMoment(text: string, zone: string): Moment | null {
  const [date = '', time] = text.split('T');
  const [readDate, readOfDay] = [readDay(date), time === undefined ? timeOfDay(0) : readTime(time)];
  return readDate === null || readOfDay === null ? null : momentOf(readDate, readOfDay, zone);
}
export function writeMoment(value: Moment, zone: string): string {
  const wall = wallClock(value.ms, zone);
  return `${writeDay({ kind: 'date', days: Math.floor(wall / dayMs) })}T${writeTime(timeOfDay(wall))}`;
}

export function addMonthsToMoment(value: Moment, count: number, zone: string): Moment | null {
  const date = dayOfMoment(value, zone);
  const later = date === null ? null : addMonths(date, count);
  return later === null ? null : momentOf(later, timeOfMoment(value, zone), zone);
}
