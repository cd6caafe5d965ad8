/** Which part of a date written in numbers comes first. */
export type DateOrder = 'dmy' | 'mdy' | 'ymd';
export const dateOrders = ['ymd', 'dmy', 'mdy'] as const satisfies readonly DateOrder[];

const months = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'] as const;
const monthLengths = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31] as const;

const leap = (year: number): boolean => (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;
const daysIn = (year: number, month: number): number => (month === 2 && leap(year) ? 29 : (monthLengths[month - 1] ?? 0));
const two = (n: number): string => (n < 10 ? `0${n}` : String(n));

/** The ISO form of a day of the calendar between the years 1 and 9999, else null. */
export function isoOf(year: number, month: number, day: number): string | null {
  if (year < 1 || year > 9999 || month < 1 || month > 12 || day < 1 || day > daysIn(year, month)) return null;
  return `${String(year).padStart(4, '0')}-${two(month)}-${two(day)}`;
}

// Two-digit years as POSIX strptime reads them: 69 to 99 are 19xx, 00 to 68 are 20xx.
export const fullYear = (text: string): number => (text.length > 2 ? Number(text) : Number(text) + (Number(text) >= 69 ? 1900 : 2000));

const monthNumber = (word: string): number => months.indexOf(word.slice(0, 3).toLowerCase() as (typeof months)[number]) + 1;

export const isoShape = /^(\d{4})-(\d\d)-(\d\d)$/u;
const numeric = /^(\d{1,4})([-/. ])(\d{1,2})\2(\d{1,4})$/u;
const dayMonth = /^(\d{1,2})(?:st|nd|rd|th)?[-\s.]*([a-z]{3,9})\.?[-\s,]*(\d{4}|\d\d)$/iu;
const monthDay = /^([a-z]{3,9})\.?\s*(\d{1,2})(?:st|nd|rd|th)?[\s,]+(\d{4}|\d\d)$/iu;
// An export often writes midnight after the day; any other time of day is not a date and would be lost.
export const midnight = /[T ]0?0:00(:00(\.0+)?)?(Z|\+00:?00)?$/u;

/**
 * The ISO form of a date as typed, or null. ISO itself is read in every order; numbers like 3/4/2026 follow `order`
 * (day first unless said otherwise); month names are read in English.
 */
export function parseDate(typed: string, order: DateOrder = 'dmy'): string | null {
  const straight = isoShape.exec(typed);
  if (straight !== null) return isoOf(Number(straight[1]), Number(straight[2]), Number(straight[3]));
  const text = typed.trim().replace(midnight, '');
  const again = isoShape.exec(text);
  if (again !== null) return isoOf(Number(again[1]), Number(again[2]), Number(again[3]));
  const numbers = numeric.exec(text);
  if (numbers !== null) {
    const [, a = '', , b = '', c = ''] = numbers;
    if (a.length > 2 || order === 'ymd') return a.length > 2 && c.length <= 2 ? isoOf(Number(a), Number(b), Number(c)) : null;
    if (c.length === 3) return null;
    return order === 'dmy' ? isoOf(fullYear(c), Number(b), Number(a)) : isoOf(fullYear(c), Number(a), Number(b));
  }
  const named = dayMonth.exec(text);
  if (named !== null) return isoOf(fullYear(named[3] ?? ''), wholeMonth(named[2] ?? ''), Number(named[1]));
  const american = monthDay.exec(text);
  if (american !== null) return isoOf(fullYear(american[3] ?? ''), wholeMonth(american[1] ?? ''), Number(american[2]));
  return null;
}

export const english = ['january', 'february', 'march', 'april', 'may', 'june', 'july', 'august', 'september', 'october', 'november', 'december'];
// "Marble 3 2026" must not read as March: a longer word has to be the beginning of the month's own name.
function wholeMonth(word: string): number {
  const number = monthNumber(word);
  const name = english[number - 1];
  return name !== undefined && (name.startsWith(word.toLowerCase()) || word.toLowerCase() === 'sept') ? number : 0;
}
