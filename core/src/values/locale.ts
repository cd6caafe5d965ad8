/**
 * How one person writes numbers and dates. Everything that people read or type goes through here: screens, reports, mails,
 * messages. What programs read (expressions, files, the contract) stays in its canonical form.
 */
import { english, fullYear, isoOf, isoShape, midnight, type DateOrder } from './dates.js';
import { numberStyles, parseNumber, type NumberStyle } from './numbers.js';
import { defaultRegion, firstDayOf, type Region } from './regions.js';

export interface Locale {
  readonly region: Region;
  /** An IANA time zone. It decides which day is today, and on which clock moments are read. */
  readonly zone: string;
  readonly numbers: NumberStyle;
  readonly dates: DateOrder;
  /** 1 is Monday, 7 is Sunday, as in ISO 8601. */
  readonly firstDay: number;
  /** The mark before the decimal places. */
  readonly point: string;
  /** A number of things: "14,000". */
  readonly count: (n: number) => string;
  /**
   * Canonical digits with at least so many decimal places; none is ever cut. Amounts are grouped in thousands throughout;
   * numbers that are not amounts from five digits on, so that years stay years.
   */
  readonly number: (canonical: string, digits?: number, isAmount?: boolean) => string;
  /** Canonical digits as an input begins to edit them: without groups. */
  readonly plainNumber: (canonical: string, digits?: number) => string;
  /** "14 Sep 2026" for "2026-09-14". */
  readonly date: (iso: string) => string;
  /** "Sep 2026" for "2026-09-14". */
  readonly month: (iso: string) => string;
  /** The clock at a moment: "18:19". A moment is in ISO or in milliseconds since 1970 UTC. */
  readonly time: (at: string | number) => string;
  /** The day of a moment, as `date` prints it. */
  readonly day: (at: string | number) => string;
  /** Day and clock of a moment. */
  readonly moment: (at: string | number) => string;
  /** Today's date in ISO. */
  readonly today: () => string;
  /** The canonical digits of a number as this person writes it, or in another way that can be read as nothing else; else null. */
  readonly readNumber: (typed: string) => string | null;
  /** The ISO form of a date as this person writes it; a missing year is this year. Null: it is no date. */
  readonly readDate: (typed: string) => string | null;
}

const days = { yesterday: -1, today: 0, tomorrow: 1 } as const;
const known = new Map<string, Locale>();

/** The locale of a region and a time zone. */
export function localeOf(region: Region, zone: string): Locale {
  const key = `${region} ${zone}`;
  let locale = known.get(key);
  if (locale === undefined) known.set(key, (locale = makeLocale(region, zone)));
  return locale;
}

/** For texts that are the same for everybody. */
export const standardLocale = (): Locale => localeOf(defaultRegion, 'UTC');

function makeLocale(region: Region, zone: string): Locale {
  // Latin figures and the Gregorian calendar are what fields hold and what can be typed everywhere.
  const tag = `${region}-u-nu-latn-ca-gregory`;
  const numbers = numbersOf(tag);
  const dates = datesOf(tag);
  const clock = new Intl.DateTimeFormat(tag, { hour: '2-digit', minute: '2-digit', timeZone: zone });
  // Swedish writes days as ISO does, whatever its calendar says of months in words.
  const dayIn = new Intl.DateTimeFormat('sv-SE', { timeZone: zone });
  const day = (at: string | number): string => dates.print(dayIn.format(new Date(at)));
  const time = (at: string | number): string => clock.format(new Date(at));
  const today = (): string => dayIn.format(Date.now());
  return {
    region,
    zone,
    numbers: numbers.style,
    dates: dates.order,
    firstDay: firstDayOf(region),
    point: numbers.point,
    count: (n) => numbers.print(String(n), 0, true),
    number: numbers.print,
    plainNumber: numbers.plain,
    date: dates.print,
    month: dates.month,
    time,
    day,
    moment: (at) => `${day(at)}, ${time(at)}`,
    today,
    readNumber: numbers.read,
    readDate: (typed) => dates.read(typed, today()),
  };
}

const canonicalDigits = /^-?\d+(?:\.\d+)?$/u;
const canonicalMinus = (text: string): string => text.replace(/[-\u200e\u200f]+/gu, '−');

function numbersOf(tag: string) {
  const parts = new Intl.NumberFormat(tag, { minimumFractionDigits: 1 }).formatToParts(12345678.5);
  const partOf = (type: Intl.NumberFormatPartTypes, other: string): string => parts.find((part) => part.type === type)?.value ?? other;
  const [point, group] = [partOf('decimal', '.'), partOf('group', ',')];
  const isSpaced = group !== ',' && group !== '.';
  const style: NumberStyle = point === ',' ? (isSpaced ? 'space_comma' : 'comma') : isSpaced ? 'space_point' : 'point';
  const formats = new Map<string, Intl.NumberFormat>();
  const formatOf = (digits: number, useGrouping: 'min2' | 'auto' | false): Intl.NumberFormat => {
    const key = `${digits} ${useGrouping}`;
    let format = formats.get(key);
    if (format === undefined)
      formats.set(key, (format = new Intl.NumberFormat(tag, { minimumFractionDigits: digits, maximumFractionDigits: digits, useGrouping })));
    return format;
  };
  const write = (canonical: string, digits: number, useGrouping: 'min2' | 'auto' | false): string => {
    // The history can hold what was there before a field became a number.
    if (!canonicalDigits.test(canonical)) return canonical;
    const fraction = canonical.includes('.') ? canonical.length - canonical.indexOf('.') - 1 : 0;
    return canonicalMinus(formatOf(Math.max(digits, fraction), useGrouping).format(canonical as `${number}`));
  };
  return {
    style,
    point,
    print: (canonical: string, digits = 0, isAmount = false): string => write(canonical, digits, isAmount ? 'auto' : 'min2'),
    plain: (canonical: string, digits = 0): string => write(canonical, digits, false),
    read: (typed: string): string | null => {
      const own = parseNumber(typed, style);
      if (own !== null) return own;
      const others = new Set(numberStyles.map((other) => parseNumber(typed, other)).filter((digits) => digits !== null));
      return others.size === 1 ? ([...others][0] ?? null) : null;
    },
  };
}

type Pattern = readonly Intl.DateTimeFormatPart[];

/** How dates of each of the twelve months are put together. */
function patternsOf(tag: string, style: Intl.DateTimeFormatOptions): readonly Pattern[] {
  const format = new Intl.DateTimeFormat(tag, { ...style, timeZone: 'UTC' });
  // English shortens September alone to four letters, and columns of dates would not align.
  const aligned = (part: Intl.DateTimeFormatPart): Intl.DateTimeFormatPart => (part.value === 'Sept' ? { ...part, value: 'Sep' } : part);
  return Array.from({ length: 12 }, (_, month) => format.formatToParts(Date.UTC(2021, month, 5)).map(aligned));
}

const placeOf = (pattern: Pattern | undefined, type: Intl.DateTimeFormatPartTypes): number => (pattern ?? []).findIndex((part) => part.type === type);
const wordsOf = (text: string): readonly string[] => text.toLowerCase().match(/\p{L}+/gu) ?? [];

function datesOf(tag: string) {
  const inWords = patternsOf(tag, { day: 'numeric', month: 'short', year: 'numeric' });
  const inMonths = patternsOf(tag, { month: 'short', year: 'numeric' });
  const [inNumbers] = patternsOf(tag, { day: 'numeric', month: 'numeric', year: 'numeric' });
  const [year, month, day] = [placeOf(inNumbers, 'year'), placeOf(inNumbers, 'month'), placeOf(inNumbers, 'day')];
  const order: DateOrder = year < day ? 'ymd' : day < month ? 'dmy' : 'mdy';

  const written = (patterns: readonly Pattern[], iso: string): string => {
    const day = isoShape.exec(iso);
    if (day === null) return iso;
    const [, yearText = '', monthText = '', dayText = ''] = day;
    return (patterns[Number(monthText) - 1] ?? [])
      .map(({ type, value }) => {
        // Years keep their zeros: without them they would be read as years of another century, or not at all.
        if (type === 'year') return yearText;
        if (type !== 'day') return value;
        return value.length === 2 ? dayText : String(Number(dayText));
      })
      .join('');
  };

  const monthOfWord = new Map(english.flatMap((name, i) => [...name].map((_, length) => [name.slice(0, Math.max(3, length + 1)), i + 1] as const)));
  monthOfWord.set('sept', 9);
  const fillers = new Set(['st', 'nd', 'rd', 'th']);
  for (const style of [{ day: 'numeric', month: 'short', year: 'numeric' }, { day: 'numeric', month: 'long', year: 'numeric' }, { month: 'long' }] as const)
    patternsOf(tag, style).forEach((pattern, i) => {
      for (const { type, value } of pattern) {
        // Catalan has the preposition before the month as a part of it.
        const words = [...wordsOf(value)];
        const name = type === 'month' ? words.pop() : undefined;
        if (name !== undefined) monthOfWord.set(name, i + 1);
        for (const word of words) fillers.add(word);
      }
    });
  const yearFirst = placeOf(inWords[0], 'year') < placeOf(inWords[0], 'day');

  const readInWords = (word: string, numbers: readonly string[], thisYear: string): string | null => {
    const number = monthOfWord.get(word) ?? 0;
    const [first = '', second] = numbers;
    if (second === undefined) return isoOf(Number(thisYear), number, Number(first));
    const isYear = (text: string): boolean => text.length > 2 || Number(text) > 31;
    const swapped = isYear(first) || (!isYear(second) && yearFirst);
    return isoOf(fullYear(swapped ? first : second), number, Number(swapped ? second : first));
  };

  const readInNumbers = (numbers: readonly string[], thisYear: string): string | null => {
    const [a = '', b = '', c] = numbers;
    if (c !== undefined && (a.length > 2 || (order === 'ymd' && c.length <= 2))) return c.length <= 2 ? isoOf(fullYear(a), Number(b), Number(c)) : null;
    const inYear = c === undefined ? Number(thisYear) : fullYear(c);
    const [dayFirst, monthFirst] = [isoOf(inYear, Number(b), Number(a)), isoOf(inYear, Number(a), Number(b))];
    // In the other order only where this person's own gives no day: what can be read in two ways is read in theirs.
    if (order === 'dmy') return dayFirst ?? monthFirst;
    if (order === 'mdy' || c === undefined) return monthFirst ?? dayFirst;
    // The year is last where it is used to come first: neither order is this person's own.
    return dayFirst === null || monthFirst === null || dayFirst === monthFirst ? (dayFirst ?? monthFirst) : null;
  };

  const read = (typed: string, today: string): string | null => {
    const text = typed.trim().replace(midnight, '').toLowerCase();
    const offset = Object.hasOwn(days, text) ? days[text as keyof typeof days] : null;
    if (offset !== null) return new Date(Date.parse(today) + offset * 86_400_000).toISOString().slice(0, 10);
    if (!/^[\p{L}\d\s.,/()’'-]+$/u.test(text)) return null;
    const numbers = text.match(/\d+/gu) ?? [];
    const [word, ...more] = wordsOf(text).filter((one) => !fillers.has(one));
    if (more.length > 0 || numbers.length > 3 || numbers.some((one) => one.length === 3 || one.length > 4)) return null;
    const [thisYear = ''] = today.split('-');
    if (word !== undefined) return monthOfWord.has(word) && (numbers.length === 1 || numbers.length === 2) ? readInWords(word, numbers, thisYear) : null;
    // Two numbers are a day when something is written between them that dates have.
    if (numbers.length === 3 || (numbers.length === 2 && /\d\s?[-./]/u.test(text) && !/\d{3}/u.test(text))) return readInNumbers(numbers, thisYear);
    return null;
  };

  return { order, print: (iso: string) => written(inWords, iso), month: (iso: string) => written(inMonths, iso), read };
}
