/** As many digits after the point as a number in a field has: what is beyond them comes from how computers hold fractions. */
const mostDigits = 12;

/** A number as digits with at most one point, whatever it was written as: 1.5E-3 is 0.0015. @param text as JSON and workbooks write numbers */
export function plainNumber(text: string): string {
  if (/^-?\d+(?:\.\d{1,12})?$/u.test(text)) return text;
  const value = Number(text);
  // Beyond it JavaScript writes an exponent; numbers so large have no fraction.
  const digits = Math.abs(value) >= 1e21 ? String(BigInt(value)) : value.toFixed(mostDigits);
  const short = digits.includes('.') ? digits.replace(/\.?0+$/u, '') : digits;
  return short === '-0' ? '0' : short;
}
