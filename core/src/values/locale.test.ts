import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { localeOf } from './locale.js';
import { parseNumber } from './numbers.js';
import { regionName, regionOf, regions, type Region } from './regions.js';

const britain = localeOf('en-GB', 'Europe/London');
const thisYear = britain.today().slice(0, 4);

describe('a number as typed', () => {
  test.each<[string, Region, string | null]>([
    ['12,50', 'de-DE', '12.5'],
    ['12,50', 'en-GB', '12.5'],
    ['1.234,50', 'de-DE', '1234.5'],
    ['1.234,50', 'en-GB', '1234.5'],
    ['1,234.50', 'de-DE', '1234.5'],
    ['1 234.5', 'en-GB', '1234.5'],
    ['1 234,5', 'fr-FR', '1234.5'],
    ['1’234.50', 'de-CH', '1234.5'],
    ['12,34,567.5', 'en-IN', '1234567.5'],
    // What could be two numbers is the one that this person would write.
    ['1,234', 'en-GB', '1234'],
    ['1,234', 'de-DE', '1.234'],
    ['1.234', 'en-GB', '1.234'],
    ['1.234', 'de-DE', '1234'],
    ['−7', 'sv-SE', '-7'],
    ['1,2,3', 'en-GB', null],
    ['1,23.4', 'en-GB', null],
    ['twelve', 'en-GB', null],
    ['', 'en-GB', null],
  ])('%s in %s is %s', (typed, region, expected) => expect(localeOf(region, 'UTC').readNumber(typed)).toBe(expected));
});

describe('a number as printed', () => {
  test.each<[string, number, boolean, Region, string]>([
    ['3296.8', 1, true, 'en-GB', '3,296.8'],
    ['3296.8', 2, true, 'de-DE', '3.296,80'],
    ['2026', 0, false, 'en-GB', '2026'],
    ['14000', 0, false, 'en-GB', '14,000'],
    ['-1234567.125', 1, true, 'de-CH', '−1’234’567.125'],
    [`0.${'0'.repeat(150)}1`, 0, false, 'de-DE', `0,${'0'.repeat(150)}1`],
    ['-0.5', 1, true, 'de-DE', '−0,5'],
    ['123456789012345678901234567890.5', 0, true, 'en-US', '123,456,789,012,345,678,901,234,567,890.5'],
  ])('%s with %i places, an amount: %s, in %s is %s', (digits, places, isAmount, region, expected) =>
    expect(localeOf(region, 'UTC').number(digits, places, isAmount).replace(/['’]/gu, '’')).toBe(expected),
  );

  test('reads as the same number in every region, while it is edited too', () => {
    fc.assert(
      fc.property(
        fc.bigInt({ min: -(10n ** 30n), max: 10n ** 30n }),
        fc.nat(999_999),
        fc.constantFrom(...regions),
        fc.boolean(),
        (whole, fraction, region, isAmount) => {
          const canonical = parseNumber(`${whole}.${String(fraction).padStart(6, '0')}`) ?? '';
          const locale = localeOf(region, 'UTC');
          expect(locale.readNumber(locale.number(canonical, 6, isAmount))).toBe(canonical);
          expect(locale.readNumber(locale.plainNumber(canonical, 4))).toBe(canonical);
        },
      ),
      { numRuns: 500 },
    );
  });
});

describe('a date as typed', () => {
  test.each<[string, Region, string | null]>([
    ['2026-09-14', 'en-US', '2026-09-14'],
    ['14/9/2026', 'en-GB', '2026-09-14'],
    ['9/14/2026', 'en-US', '2026-09-14'],
    ['9/14/2026', 'en-GB', '2026-09-14'],
    ['14/9/2026', 'en-US', '2026-09-14'],
    ['4/9/2026', 'en-US', '2026-04-09'],
    ['14.9.26', 'de-DE', '2026-09-14'],
    ['14. 9. 2026', 'cs-CZ', '2026-09-14'],
    ['14/9/2026', 'sv-SE', '2026-09-14'],
    ['4/9/2026', 'sv-SE', null],
    ['26-09-14', 'sv-SE', '2026-09-14'],
    ['3/5', 'en-GB', `${thisYear}-05-03`],
    ['3/5', 'en-US', `${thisYear}-03-05`],
    ['3.5.', 'de-DE', `${thisYear}-05-03`],
    ['3 May', 'en-GB', `${thisYear}-05-03`],
    ['May 3', 'en-US', `${thisYear}-05-03`],
    ['14th September 2026', 'en-GB', '2026-09-14'],
    ['14-Sep-26', 'en-GB', '2026-09-14'],
    ['Sept 14, 2026', 'en-US', '2026-09-14'],
    ['14. Sept. 2026', 'de-DE', '2026-09-14'],
    ['3. März 2026', 'de-DE', '2026-03-03'],
    ['3 mars', 'fr-FR', `${thisYear}-03-03`],
    ['14 de septiembre de 2026', 'es-ES', '2026-09-14'],
    ['2026. szept. 14.', 'hu-HU', '2026-09-14'],
    ['14 сентября 2026 г.', 'ru-RU', '2026-09-14'],
    ['2026-09-14T00:00:00Z', 'en-GB', '2026-09-14'],
    ['2026-09-14 08:30', 'en-GB', null],
    ['31/4/2026', 'en-GB', null],
    ['29/2/1900', 'en-GB', null],
    ['Marble 3 2026', 'en-GB', null],
    ['14 Sep Oct 2026', 'en-GB', null],
    ['3 5', 'en-GB', null],
    ['5', 'en-GB', null],
    ['Sep 2026', 'en-GB', null],
    ['14/9/202', 'en-GB', null],
    ['soon', 'en-GB', null],
    ['', 'en-GB', null],
  ])('%s in %s is %s', (typed, region, expected) => expect(localeOf(region, 'UTC').readDate(typed)).toBe(expected));

  test('today, yesterday and tomorrow are days of the time zone', () => {
    for (const zone of ['Pacific/Kiritimati', 'Pacific/Niue']) {
      const locale = localeOf('en-GB', zone);
      const day = new Intl.DateTimeFormat('sv-SE', { timeZone: zone }).format(new Date());
      expect(locale.readDate(' Today ')).toBe(day);
      expect(Date.parse(locale.readDate('tomorrow') ?? '') - Date.parse(day)).toBe(86_400_000);
      expect(Date.parse(day) - Date.parse(locale.readDate('yesterday') ?? '')).toBe(86_400_000);
    }
  });

  test('every day reads back as it is printed, in every region', () => {
    const day = fc.date({ min: new Date('0001-01-01T00:00:00Z'), max: new Date('9999-12-31T00:00:00Z'), noInvalidDate: true });
    fc.assert(
      fc.property(day, fc.constantFrom(...regions), (date, region) => {
        const iso = date.toISOString().slice(0, 10);
        const locale = localeOf(region, 'UTC');
        expect(locale.readDate(locale.date(iso))).toBe(iso);
      }),
      { numRuns: 2000 },
    );
  });

  test('no text makes reading raise an error', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), fc.constantFrom(...regions), (text, region) => {
        const locale = localeOf(region, 'UTC');
        expect(locale.readDate(text) ?? '2026-01-01').toMatch(/^\d{4}-\d\d-\d\d$/u);
        expect(locale.readNumber(text) ?? '0').toMatch(/^-?(0|[1-9]\d*)(\.\d*[1-9])?$/u);
      }),
    );
  });
});

test('dates and moments are printed as the region writes them', () => {
  expect(britain.date('2026-09-14')).toBe('14 Sep 2026');
  expect(britain.date('0500-03-02')).toBe('2 Mar 0500');
  expect(britain.month('2026-09-01')).toBe('Sep 2026');
  expect(localeOf('en-US', 'UTC').date('2026-09-14')).toBe('Sep 14, 2026');
  expect(localeOf('de-DE', 'UTC').date('2026-05-03')).toBe('3. Mai 2026');
  expect(britain.moment('2026-07-01T22:30:00Z')).toBe('1 Jul 2026, 23:30');
  expect(localeOf('en-GB', 'Asia/Tokyo').moment('2026-07-01T22:30:00Z')).toBe('2 Jul 2026, 07:30');
});

test('what is neither a number nor a date is printed as it is', () => {
  for (const text of ['', 'about 12', '1e5', '2026-13', '14 Sep']) expect([britain.number(text, 2, true), britain.date(text)]).toEqual([text, text]);
});

test('regions have names, and are found by what a browser asks for', () => {
  expect(regionName('de-CH')).toBe('German (Switzerland)');
  expect(regionOf(['fr-CA', 'en-GB'])).toBe('fr-CA');
  expect(regionOf(['xx-YY', 'DE'])).toBe('de-AT');
  expect(regionOf(['ja-JP'])).toBeNull();
});

test.each<[string, string, number, Region, string]>([
  ['1234.5', 'EUR', 2, 'en-GB', '€1,234.50'],
  ['1234.5', 'EUR', 2, 'de-DE', '1.234,50\u00a0€'],
  ['-7', 'JPY', 0, 'en-GB', '−JP¥7'],
  ['12345678901234567890123456.12', 'GBP', 2, 'en-GB', '£12,345,678,901,234,567,890,123,456.12'],
  ['0.125', '%', 0, 'en-GB', '12.5%'],
  ['0.125', '%', 2, 'de-DE', '12,50\u00a0%'],
  ['-0.3', '%', 0, 'sv-SE', '−30\u00a0%'],
  ['from before', 'EUR', 2, 'en-GB', 'from before'],
])('%s of %s with %i digits is written in %s as %s', (digits, unit, least, region, text) => {
  expect(localeOf(region, 'UTC').amount(digits, unit, least)).toBe(text);
});
