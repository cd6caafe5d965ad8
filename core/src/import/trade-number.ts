/** The lengths of the numbers under barcodes: GTIN-8, 12, 13 and 14. */
const lengths: ReadonlySet<number> = new Set([8, 12, 13, 14]);
const digits = /^\d+$/u;

/**
 * Whether a text is a number under a barcode, also that of a book or a journal: its last digit is worked out from the others.
 * @see GS1 General Specifications, 7.9: standard check digit calculations
 */
export function isTradeNumber(text: string): boolean {
  if (!lengths.has(text.length) || !digits.test(text)) return false;
  // From the end the digits count once and three times in turn.
  const sum = [...text].reverse().reduce((all, digit, i) => all + Number(digit) * (i % 2 === 0 ? 1 : 3), 0);
  return sum % 10 === 0;
}
