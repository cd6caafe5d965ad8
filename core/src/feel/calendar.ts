/**
 * Dates, times and durations: the calendar of ISO 8601, lexical forms of XML Schema (DMN 1.5, 10.3.2.3.4 to 10.3.2.3.7).
 * Nothing here raises: what is outside of the calendar is null.
 */
import { parseDate } from '../values/dates.js';
import type { Day, Duration, Moment, Months, TimeOfDay } from './value.js';

export const dayMs = 86_400_000;
const firstDay = daysFromCivil(1, 1, 1);
const lastDay = daysFromCivil(9999, 12, 31);
// Before 1970 databases of time zones differ from one another, so a moment has none there.
const firstMoment = 0;
export const lastMoment = (lastDay + 1) * dayMs - 1;
// About the length of the calendar itself: longer durations are null.
const longestMs = 10_000 * 366 * dayMs;
const longestMonths = 10_000 * 12;

/** Days since 1970-01-01 of a date in the proleptic Gregorian calendar (H. Hinnant, "days_from_civil"). */
export function daysFromCivil(year: number, month: number, day: number): number {
  const y = month <= 2 ? year - 1 : year;
  const era = Math.floor(y / 400);
  const yearOfEra = y - era * 400;
  const dayOfYear = Math.floor((153 * (month + (month > 2 ? -3 : 9)) + 2) / 5) + day - 1;
  return era * 146_097 + yearOfEra * 365 + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100) + dayOfYear - 719_468;
}

export interface Civil {
  readonly year: number;
  readonly month: number;
  readonly day: number;
}
export function civilFromDays(days: number): Civil {
  const z = days + 719_468;
  const era = Math.floor(z / 146_097);
  const dayOfEra = z - era * 146_097;
  const yearOfEra = Math.floor((dayOfEra - Math.floor(dayOfEra / 1460) + Math.floor(dayOfEra / 36_524) - Math.floor(dayOfEra / 146_096)) / 365);
  const dayOfYear = dayOfEra - (365 * yearOfEra + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100));
  const shifted = Math.floor((5 * dayOfYear + 2) / 153);
  const month = shifted < 10 ? shifted + 3 : shifted - 9;
  return { year: yearOfEra + era * 400 + (month <= 2 ? 1 : 0), month, day: dayOfYear - Math.floor((153 * shifted + 2) / 5) + 1 };
}

const isLeap = (year: number): boolean => (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;
export const daysInMonth = (year: number, month: number): number => (month === 2 ? (isLeap(year) ? 29 : 28) : [4, 6, 9, 11].includes(month) ? 30 : 31);

export const day = (days: number): Day | null => (days >= firstDay && days <= lastDay ? { kind: 'date', days } : null);
export const moment = (ms: number): Moment | null => (ms >= firstMoment && ms <= lastMoment ? { kind: 'date and time', ms } : null);
export const duration = (ms: number): Duration | null => (Math.abs(ms) <= longestMs ? { kind: 'days and time duration', ms: ms + 0 } : null);
export const months = (count: number): Months | null => (Math.abs(count) <= longestMonths ? { kind: 'years and months duration', months: count + 0 } : null);
export const timeOfDay = (ms: number): TimeOfDay => ({ kind: 'time', ms: ((ms % dayMs) + dayMs) % dayMs });

export function dateOf(year: number, month: number, dayOfMonth: number): Day | null {
  const fits = [year, month, dayOfMonth].every(Number.isInteger) && year >= 1 && year <= 9999 && month >= 1 && month <= 12;
  return fits && dayOfMonth >= 1 && dayOfMonth <= daysInMonth(year, month) ? day(daysFromCivil(year, month, dayOfMonth)) : null;
}

export function timeOf(hour: number, minute: number, second: number): TimeOfDay | null {
  const fits = Number.isInteger(hour) && Number.isInteger(minute) && hour >= 0 && hour <= 23 && minute >= 0 && minute <= 59 && second >= 0 && second < 60;
  const ms = Math.floor(second * 1000 + 1e-6);
  return fits ? timeOfDay((hour * 60 + minute) * 60_000 + ms) : null;
}

const pad = (n: number, width: number): string => String(n).padStart(width, '0');

/** Reads `2026-05-01` and nothing else. */
export function readDay(text: string): Day | null {
  if (!/^\d{4}-\d\d-\d\d$/u.test(text) || parseDate(text, 'ymd') !== text) return null;
  return dateOf(Number(text.slice(0, 4)), Number(text.slice(5, 7)), Number(text.slice(8)));
}
export function writeDay({ days }: Day): string {
  const { year, month, day: ofMonth } = civilFromDays(days);
  return `${pad(year, 4)}-${pad(month, 2)}-${pad(ofMonth, 2)}`;
}

/** Reads `09:30:00` and `09:30:00.5`, up to milliseconds. */
export function readTime(text: string): TimeOfDay | null {
  const parts = /^(\d\d):(\d\d):(\d\d)(?:\.(\d{1,3}))?$/u.exec(text);
  if (parts === null) return null;
  const time = timeOf(Number(parts[1]), Number(parts[2]), Number(parts[3]));
  return time === null ? null : timeOfDay(time.ms + Number((parts[4] ?? '').padEnd(3, '0')));
}
export function writeTime({ ms }: TimeOfDay): string {
  const fraction = ms % 1000;
  const seconds = Math.floor(ms / 1000);
  return `${pad(Math.floor(seconds / 3600), 2)}:${pad(Math.floor(seconds / 60) % 60, 2)}:${pad(seconds % 60, 2)}${fraction === 0 ? '' : `.${pad(fraction, 3).replace(/0+$/u, '')}`}`;
}

const lexicalDuration = /^(-)?P(?:(\d{1,7})Y)?(?:(\d{1,7})M)?(?:(\d{1,7})D)?(?:T(?=\d)(?:(\d{1,9})H)?(?:(\d{1,9})M)?(?:(\d{1,11})(?:\.(\d{1,3}))?S)?)?$/u;

/** Reads `P1Y6M` or `P2DT3H`; a duration with both months and days has no length of its own and is null (DMN 1.5, 10.3.2.3.7). */
export function readDuration(text: string): Duration | Months | null {
  const parts = lexicalDuration.exec(text);
  if (parts === null || /P$|T$/u.test(text)) return null;
  const [, minus, y, m, d, h, min, s, fraction] = parts;
  const sign = minus === undefined ? 1 : -1;
  const inMonths = y !== undefined || m !== undefined;
  if (inMonths && (d !== undefined || h !== undefined || min !== undefined || s !== undefined)) return null;
  if (inMonths) return months(sign * (Number(y ?? 0) * 12 + Number(m ?? 0)));
  const seconds = Number(d ?? 0) * 86_400 + Number(h ?? 0) * 3600 + Number(min ?? 0) * 60 + Number(s ?? 0);
  return duration(sign * (seconds * 1000 + Number((fraction ?? '').padEnd(3, '0'))));
}

export function writeDuration({ ms }: Duration): string {
  const size = Math.abs(ms);
  const [days, rest] = [Math.floor(size / dayMs), size % dayMs];
  const [hours, minutes, seconds] = [Math.floor(rest / 3_600_000), Math.floor(rest / 60_000) % 60, rest % 60_000];
  const fraction = seconds % 1000 === 0 ? '' : `.${pad(seconds % 1000, 3).replace(/0+$/u, '')}`;
  const time = `${hours > 0 ? `${hours}H` : ''}${minutes > 0 ? `${minutes}M` : ''}${seconds > 0 ? `${Math.floor(seconds / 1000)}${fraction}S` : ''}`;
  const text = `${days > 0 ? `${days}D` : ''}${time === '' ? '' : `T${time}`}`;
  return `${ms < 0 ? '-' : ''}P${text === '' ? 'T0S' : text}`;
}

export function writeMonths({ months: count }: Months): string {
  const size = Math.abs(count);
  const text = `${size >= 12 ? `${Math.floor(size / 12)}Y` : ''}${size % 12 > 0 ? `${size % 12}M` : ''}`;
  return `${count < 0 ? '-' : ''}P${text === '' ? '0M' : text}`;
}

/** A date so many months later; the last day of a shorter month stands for days it does not have. */
export function addMonths(date: Day, count: number): Day | null {
  const { year, month, day: ofMonth } = civilFromDays(date.days);
  const total = year * 12 + month - 1 + count;
  const [y, m] = [Math.floor(total / 12), (((total % 12) + 12) % 12) + 1];
  return y < 1 || y > 9999 ? null : day(daysFromCivil(y, m, Math.min(ofMonth, daysInMonth(y, m))));
}

/** Whole months from one date to another, counted towards zero (DMN 1.5, 10.3.4.1, years and months duration). */
export function monthsBetween(from: Day, to: Day): number {
  if (to.days < from.days) return -monthsBetween(to, from) + 0;
  const [a, b] = [civilFromDays(from.days), civilFromDays(to.days)];
  return (b.year - a.year) * 12 + b.month - a.month - (b.day < a.day ? 1 : 0);
}

/** 1 for Monday to 7 for Sunday (ISO 8601). */
export const weekdayOf = ({ days }: Day): number => ((((days + 3) % 7) + 7) % 7) + 1;
export const dayOfYear = (date: Day): number => date.days - daysFromCivil(civilFromDays(date.days).year, 1, 1) + 1;
/** The week of the year (ISO 8601: the first is the one with the year's first Thursday). */
export function weekOfYear(date: Day): number {
  const thursday = date.days - weekdayOf(date) + 4;
  return Math.floor((thursday - daysFromCivil(civilFromDays(thursday).year, 1, 1)) / 7) + 1;
}
