/** What the number in a cell of a workbook says, as the number format of the cell keeps it (ECMA-376, part 1, 18.8.30). */
import { isoOf, unitMarked } from '@bibliona/core';
import { plainNumber } from './plain-number.js';

export type NumberFormat =
  | { readonly kind: 'plain' }
  /** 0.125 is shown, and meant, as 12.5 %. */
  | { readonly kind: 'share' }
  /** Money, of a currency by its code. */
  | { readonly kind: 'amount'; readonly currency: string }
  /** A code such as `00000`: 501 is 00501. */
  | { readonly kind: 'padded'; readonly digits: number }
  | { readonly kind: 'moment'; readonly date: boolean; readonly time: boolean; readonly isElapsed: boolean };

const plain: NumberFormat = { kind: 'plain' };

/** The formats that every workbook has and for percentages, dates and times, by their numbers. */
const builtIn: Readonly<Record<number, string>> = {
  9: '0%',
  10: '0.00%',
  14: 'yyyy-mm-dd',
  15: 'd-mmm-yy',
  16: 'd-mmm',
  17: 'mmm-yy',
  18: 'h:mm AM/PM',
  19: 'h:mm:ss AM/PM',
  20: 'h:mm',
  21: 'h:mm:ss',
  22: 'yyyy-mm-dd h:mm',
  45: 'mm:ss',
  46: '[h]:mm:ss',
  47: 'mm:ss.0',
  ...Object.fromEntries([27, 28, 29, 30, 31, 36, 50, 51, 52, 53, 54, 57, 58].map((id) => [id, 'yyyy-mm-dd'])),
};

/** @param code the workbook's own format with this number, if it has one */
export function numberFormat(id: number, code: string | undefined): NumberFormat {
  const [first = ''] = (code ?? builtIn[id] ?? '').replace(/"[^"]*"|\\.|[_*]./gu, '').split(';');
  if (/^0{2,}$/u.test(first)) return { kind: 'padded', digits: first.length };
  if (first.includes('%')) return { kind: 'share' };
  const isElapsed = /\[(?:h+|m+|s+)\]/iu.test(first);
  // What else stands in brackets is a colour, a condition or a language.
  const letters = first.replace(/\[(?!(?:h+|m+|s+)\])[^\]]*\]/giu, '').replace(/general/giu, '');
  const time = isElapsed || /[hs]|AM\/PM/iu.test(letters);
  // An m is a month unless hours or seconds stand beside it.
  const date = /[yd]|m{3,}/iu.test(letters) || (!time && /m/iu.test(letters));
  if (time || date) return { kind: 'moment', date, time, isElapsed };
  const currency = currencyIn((code ?? '').split(';')[0] ?? '');
  return currency === null ? plain : { kind: 'amount', currency };
}

const capitals = /^[A-Z]{3}$/u;
const threeLetters = /^\p{L}{3}$/u;
/** The currency that a format names, as `[$€-407]` with a language, as a text beside the digits or as its mark alone; null: none. */
function currencyIn(format: string): string | null {
  const bare = format.replace(/"[^"]*"|\[[^\]]*\]/gu, '');
  if (!/[0#?]/u.test(bare)) return null;
  const marks = [/\[\$([^\]-]+)/gu, /"([^"]*)"/gu].flatMap((pattern) => [...format.matchAll(pattern)].map(([, mark = '']) => mark.trim()));
  for (const mark of [...marks, ...(bare.match(/\p{Sc}/gu) ?? [])]) {
    const unit = unitMarked(mark);
    // In small letters "try" and "all" are words.
    if (unit !== null && unit !== '%' && (capitals.test(mark) || !threeLetters.test(mark))) return unit;
  }
  return null;
}

/** Decimal places of a share in percent: as many as a field of shares has at most. */
const shareDigits = 10;
const secondsOfDay = 86_400;

/** Most numbers of most sheets: they stand as they are. */
const isShortWhole = /^-?(?:0|[1-9]\d{0,14})$/u;

/** @param raw the number as the file has it @param since1904 whether days are counted from 1904 */
export function numberWords(raw: string, format: NumberFormat, since1904: boolean): string {
  if ((format.kind === 'plain' || format.kind === 'amount') && isShortWhole.test(raw)) return raw;
  const value = Number(raw);
  if (raw.trim() === '' || !Number.isFinite(value)) return raw;
  if (format.kind === 'share') return `${shown(Number((value * 100).toFixed(shareDigits)))}%`;
  if (format.kind === 'padded' && Number.isInteger(value) && value >= 0) return shown(value).padStart(format.digits, '0');
  return (format.kind === 'moment' ? momentWords(value, format, since1904) : null) ?? shown(value);
}

/** Workbooks keep 15 digits: 0.1 can stand in them as 0.10000000000000001. */
const shown = (value: number): string => plainNumber(Number.isSafeInteger(value) ? String(value) : String(Number(value.toPrecision(15))));

const two = (n: number): string => String(n).padStart(2, '0');

function momentWords(value: number, { date, time, isElapsed }: Extract<NumberFormat, { kind: 'moment' }>, since1904: boolean): string | null {
  const total = Math.round(value * secondsOfDay);
  const day = Math.floor(total / secondsOfDay);
  const seconds = total - day * secondsOfDay;
  if (isElapsed) return value < 0 ? null : clock(Math.floor(total / 3600), total % 3600);
  // A day alone is shown of a moment whose format has no time.
  const called = date ? dayWords(date && !time ? Math.floor(value) : day, since1904) : '';
  if (called === null || (value < 0 && !date)) return null;
  return [called, time ? clock(Math.floor(seconds / 3600), seconds % 3600) : ''].filter((each) => each !== '').join(' ');
}

const clock = (hours: number, rest: number): string => `${two(hours)}:${two(Math.floor(rest / 60))}${rest % 60 === 0 ? '' : `:${two(rest % 60)}`}`;

/** The day with this number. Counted from 1900 there is a 29 February 1900, which the calendar does not have: it is none. */
function dayWords(day: number, since1904: boolean): string | null {
  if (!since1904 && (day < 1 || day === 60)) return null;
  const zero = since1904 ? Date.UTC(1904, 0, 1) : Date.UTC(1899, 11, day < 60 ? 31 : 30);
  const at = new Date(zero + day * secondsOfDay * 1000);
  return Number.isNaN(at.getTime()) ? null : isoOf(at.getUTCFullYear(), at.getUTCMonth() + 1, at.getUTCDate());
}
