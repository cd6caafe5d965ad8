import { Decimal as BaseDecimal } from 'decimal.js';

const Decimal = BaseDecimal.clone({ precision: 1000 });

/** How a column of a file, or a person, writes numbers: which mark groups thousands and which begins the fraction. */
export type NumberStyle = 'point' | 'comma' | 'space_point' | 'space_comma';

// Grouping is only believed when every group after the first has exactly three digits: 1,234 but not 1,23.
const shapes: Readonly<Record<NumberStyle, RegExp>> = {
  // In India all groups but the last have two digits.
  point: /^[-+−]?(\d+|\d{1,3}(,\d{3})+|\d{1,2}(,\d\d)+,\d{3})?(\.\d*)?$/u,
  comma: /^[-+−]?(\d+|\d{1,3}(\.\d{3})+)?(,\d*)?$/u,
  space_point: /^[-+−]?(\d+|\d{1,3}([ \u00a0\u202f'’]\d{3})+)?(\.\d*)?$/u,
  space_comma: /^[-+−]?(\d+|\d{1,3}([ \u00a0\u202f'’]\d{3})+)?(,\d*)?$/u,
};
export const numberStyles = Object.keys(shapes) as readonly NumberStyle[];

const plain = /^-?(0|[1-9]\d*)(\.\d*[1-9])?$/u;

/**
 * The canonical digits of a number as typed ("−1,234.50" is "-1234.5"), or null when it is none in that style.
 * Exact at any length: digits are moved, never computed with.
 */
export function parseNumber(typed: string, style: NumberStyle = 'point'): string | null {
  if (style === 'point' && plain.test(typed)) return typed === '-0' ? '0' : typed;
  const trimmed = typed.trim();
  if (!/\d/u.test(trimmed) || !shapes[style].test(trimmed)) return null;
  const mark = style === 'comma' || style === 'space_comma' ? ',' : '.';
  const negative = /^[-−]/u.test(trimmed);
  const at = trimmed.indexOf(mark);
  const whole = (at < 0 ? trimmed : trimmed.slice(0, at)).replace(/\D/gu, '').replace(/^0+(?=\d)/u, '') || '0';
  const fraction = (at < 0 ? '' : trimmed.slice(at + 1)).replace(/0+$/u, '');
  const digits = fraction === '' ? whole : `${whole}.${fraction}`;
  return negative && digits !== '0' ? `-${digits}` : digits;
}

/** Canonical digits with the point so many places further to the right: "0.125" by two is "12.5". Exact. */
export const movedPoint = (canonical: string, places: number): string => new Decimal(canonical).mul(new Decimal(10).pow(places)).toFixed();

/** Canonical digits rounded to so many places, ties to even. */
export const roundedDigits = (canonical: string, digits: number): string => new Decimal(canonical).toDecimalPlaces(digits, Decimal.ROUND_HALF_EVEN).toFixed();
