/** What the numbers of a field count: a share of a whole, or money of a currency. */
import { z } from 'zod';
import { regions, type Region } from './regions.js';

// Asked for when they are needed: a first screen mostly shows no money.
let codes: ReadonlySet<string> | null = null;
const currencies = (): ReadonlySet<string> => (codes ??= new Set(Intl.supportedValuesOf('currency')));
let names: Intl.DisplayNames | null = null;

/** A currency by its code in ISO 4217: EUR. */
export const Currency = z.string().refine((code) => currencies().has(code), 'is not a currency that is known');
export const allCurrencies = (): readonly string[] => [...currencies()];
/** "Euro" for "EUR". */
export const currencyName = (code: string): string => (names ??= new Intl.DisplayNames(['en'], { type: 'currency' })).of(code) ?? code;
/** Digits after the point that amounts of a currency have: its minor units in ISO 4217. */
export const minorDigits = keptByCode(
  // TypeScript has it optional, because a format of units has none.
  (currency) => new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2,
);

const markOf = (currency: string, region: string, currencyDisplay: 'symbol' | 'narrowSymbol'): string =>
  new Intl.NumberFormat(region, { style: 'currency', currency, currencyDisplay }).formatToParts(1).find(({ type }) => type === 'currency')?.value ?? currency;
/** How amounts of a currency are marked in any region: "US$", "$" and "USD", the longer ones first. */
export const currencyMarks = keptByCode((currency): readonly string[] => {
  const marks = regions.flatMap((region) => [markOf(currency, region, 'symbol'), markOf(currency, region, 'narrowSymbol')]);
  return [...new Set([currency, ...marks])].sort((each, other) => other.length - each.length);
});

/** What Intl knows of a currency is slow to ask and never changes. */
function keptByCode<T>(ask: (currency: string) => T): (currency: string) => T {
  const known = new Map<string, T>();
  return (currency) => {
    const value = known.get(currency) ?? ask(currency);
    known.set(currency, value);
    return value;
  };
}

/** "%" for shares, where 0.125 is 12.5 %; else the code of a currency. */
export const Unit = z.union([z.literal('%'), Currency]);
export type Unit = z.infer<typeof Unit>;
/** Where amounts are not in euro. */
const currencyByCountry: Readonly<Partial<Record<string, string>>> = {
  AR: 'ARS',
  AU: 'AUD',
  BR: 'BRL',
  CA: 'CAD',
  CH: 'CHF',
  CZ: 'CZK',
  DK: 'DKK',
  GB: 'GBP',
  HU: 'HUF',
  IN: 'INR',
  IS: 'ISK',
  MX: 'MXN',
  NO: 'NOK',
  NZ: 'NZD',
  PL: 'PLN',
  RO: 'RON',
  RU: 'RUB',
  SE: 'SEK',
  TR: 'TRY',
  UA: 'UAH',
  US: 'USD',
  ZA: 'ZAR',
};
/** Those that a mark such as $ can mean, the most likely first. */
export const majorCurrencies: readonly string[] = [
  ...new Set(['USD', 'EUR', 'GBP', 'JPY', 'CNY', ...Object.values(currencyByCountry).flatMap((code) => code ?? [])]),
];
/** The currency that amounts in a region are most likely in. */
export const currencyOf = (region: Region): string => currencyByCountry[region.slice(-2)] ?? 'EUR';
/** The currency of amounts that are marked so in a region: what $ means where there are dollars. */
export function currencyFor(unit: Unit | null, region: Region): string {
  const own = currencyOf(region);
  if (unit === null || unit === '%') return own;
  const mark = unitMark(unit);
  return mark !== unit && currencyMarks(own).includes(mark) ? own : unit;
}

let units: ReadonlyMap<string, Unit> | null = null;
/** What a mark beside digits means, in capital or small letters: "%", "£", "EUR"; one of several currencies means the most likely; null: nothing. */
export function unitMarked(mark: string): Unit | null {
  units ??= new Map<string, Unit>([
    ...allCurrencies().map((code): [string, Unit] => [code, code]),
    ...[...majorCurrencies].reverse().flatMap((code) => currencyMarks(code).map((each): [string, Unit] => [each.toUpperCase(), code])),
    ['%', '%'],
  ]);
  return units.get(mark.toUpperCase()) ?? null;
}

/** What stands beside the digits where an amount is typed: "%", "€". */
export const unitMark = (unit: Unit): string => (unit === '%' ? unit : markOf(unit, 'en', 'narrowSymbol'));
