/** How the dates of a region are printed, over Intl, and read. */
import { english, fullYear, isoOf, isoShape, midnight, type DateOrder } from './dates.js';
import { whenUsed } from './when-used.js';

const days = { yesterday: -1, today: 0, tomorrow: 1 } as const;

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

/** @param tag a BCP 47 tag with Latin figures and the Gregorian calendar */
export function datesOf(tag: string) {
  const inWords = whenUsed(() => patternsOf(tag, { day: 'numeric', month: 'short', year: 'numeric' }));
  const inMonths = whenUsed(() => patternsOf(tag, { month: 'short', year: 'numeric' }));
  const reader = whenUsed(() => readerOf(tag, inWords()));

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

  return {
    print: (iso: string) => written(inWords(), iso),
    month: (iso: string) => written(inMonths(), iso),
    read: (typed: string, today: string): string | null => reader()(typed, today),
  };
}

/** Reads the dates of a region, however they are written there. */
function readerOf(tag: string, inWords: readonly Pattern[]): (typed: string, today: string) => string | null {
  const [inNumbers] = patternsOf(tag, { day: 'numeric', month: 'numeric', year: 'numeric' });
  const [year, month, day] = [placeOf(inNumbers, 'year'), placeOf(inNumbers, 'month'), placeOf(inNumbers, 'day')];
  const order: DateOrder = year < day ? 'ymd' : day < month ? 'dmy' : 'mdy';

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

  return (typed, today) => {
    const text = typed.trim().replace(midnight, '').toLowerCase();
    const offset = Object.hasOwn(days, text) ? days[text as keyof typeof days] : null;
    if (offset !== null) return new Date(Date.parse(today) + offset * 86_400_000).toISOString().slice(0, 10);
    if (!/^[\p{L}\d\s.,/()’'-]+$/u.test(text)) return null;
    const numbers = text.match(/\d+/gu) ?? [];
    const [word, ...more] = wordsOf(text).filter((each) => !fillers.has(each));
    if (more.length > 0 || numbers.length > 3 || numbers.some((number) => number.length === 3 || number.length > 4)) return null;
    const [thisYear = ''] = today.split('-');
    if (word !== undefined) return monthOfWord.has(word) && (numbers.length === 1 || numbers.length === 2) ? readInWords(word, numbers, thisYear) : null;
    // Two numbers are a day when something is written between them that dates have.
    if (numbers.length === 3 || (numbers.length === 2 && /\d\s?[-./]/u.test(text) && !/\d{3}/u.test(text))) return readInNumbers(numbers, thisYear);
    return null;
  };
}
