/** How the numbers of a region are printed, over Intl, and read. */
import { numberStyles, parseNumber, type NumberStyle } from './numbers.js';

const canonicalDigits = /^-?\d+(?:\.\d+)?$/u;

/** @param tag a BCP 47 tag with Latin figures */
export function numbersOf(tag: string) {
  const parts = new Intl.NumberFormat(tag, { minimumFractionDigits: 1 }).formatToParts(12345678.5);
  const markOf = (type: 'decimal' | 'group'): string => parts.find((part) => part.type === type)?.value ?? '';
  const [point, group] = [markOf('decimal'), markOf('group')];
  const isSpaced = group !== ',' && group !== '.';
  const style: NumberStyle = point === ',' ? (isSpaced ? 'space_comma' : 'comma') : isSpaced ? 'space_point' : 'point';
  const wholes = (useGrouping: 'min2' | 'auto' | false): Intl.NumberFormat => new Intl.NumberFormat(tag, { maximumFractionDigits: 0, useGrouping });
  const [amounts, others, plain] = [wholes('auto'), wholes('min2'), wholes(false)];
  const write = (format: Intl.NumberFormat, canonical: string, digits: number): string => {
    // The history can hold what was there before a field became a number.
    if (!canonicalDigits.test(canonical)) return canonical;
    const [whole = '0', fraction = ''] = canonical.replace('-', '').split('.');
    const padded = fraction.padEnd(digits, '0');
    const text = format.format(whole as `${number}`);
    return `${canonical.startsWith('-') ? '−' : ''}${text}${padded === '' ? '' : `${point}${padded}`}`;
  };
  return {
    print: (canonical: string, digits = 0, isAmount = false): string => write(isAmount ? amounts : others, canonical, digits),
    plain: (canonical: string, digits = 0): string => write(plain, canonical, digits),
    read: (typed: string): string | null => {
      const own = parseNumber(typed, style);
      if (own !== null) return own;
      const readings = new Set(numberStyles.map((other) => parseNumber(typed, other)).filter((digits) => digits !== null));
      return readings.size === 1 ? ([...readings][0] ?? null) : null;
    },
  };
}
