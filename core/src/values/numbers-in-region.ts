/** How the numbers of a region are printed, over Intl, and read. */
import { movedPoint, numberStyles, parseNumber, type NumberStyle } from './numbers.js';
import type { Unit } from './units.js';

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
  const known = new Map<Unit, readonly [before: string, after: string]>();
  /** What stands around the digits of amounts that count something. */
  const around = (unit: Unit): readonly [before: string, after: string] => {
    const found = known.get(unit);
    if (found !== undefined) return found;
    const style = unit === '%' ? { style: 'percent' as const } : { style: 'currency' as const, currency: unit, maximumFractionDigits: 0 };
    const marked = new Intl.NumberFormat(tag, style).formatToParts(unit === '%' ? 0.01 : 1);
    const at = marked.findIndex(({ type }) => type === 'integer');
    const text = (some: readonly Intl.NumberFormatPart[]): string => some.map(({ value }) => value).join('');
    const ends = [text(marked.slice(0, at)), text(marked.slice(at + 1))] as const;
    known.set(unit, ends);
    return ends;
  };
  // The digits are written as those of other numbers, and the sign stands first.
  const amount = (canonical: string, unit: Unit, digits: number): string => {
    if (!canonicalDigits.test(canonical)) return canonical;
    const [before, after] = around(unit);
    const size = canonical.replace('-', '');
    return `${canonical.startsWith('-') ? '−' : ''}${before}${write(amounts, unit === '%' ? movedPoint(size, 2) : size, digits)}${after}`;
  };
  return {
    amount,
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
