import { describe, expect, test } from 'vitest';
import { ColumnTally } from './survey.js';
import { isTradeNumber } from './trade-number.js';

test('a mark in a typed number begins the fraction; in a written one a person has to look', () => {
  const [typed, written] = [new ColumnTally(true), new ColumnTally()];
  for (const tally of [typed, written]) tally.see('1.234');
  expect(typed.result('A')).toMatchObject({ kind: 'decimal', digits: 3, note: null });
  expect(written.result('A').note).toContain('group thousands');
});

function survey(...cells: string[]) {
  const tally = new ColumnTally();
  for (const cell of cells) tally.see(cell);
  return tally.result('A');
}

describe('a surveyed column', () => {
  test.each([
    ['whole numbers', ['1', '20', '', '-3'], { kind: 'whole', filled: 3 }],
    ['amounts', ['1.5', '2', '1,234.25'], { kind: 'decimal', digits: 2, reading: { numbers: 'point' } }],
    ['amounts with a comma', ['1,5', '1.234,25'], { kind: 'decimal', digits: 2, reading: { numbers: 'comma' } }],
    ['thousands with spaces', ['1 234', '12'], { kind: 'whole', reading: { numbers: 'space_point' } }],
    ['shares', ['12%', '7.5 %', '0 %'], { kind: 'percent', digits: 1, unit: '%' }],
    ['pounds', ['£12.50', '-£1,200', '£ 9'], { kind: 'money', unit: 'GBP', reading: { numbers: 'point' } }],
    ['euros as they are written in many countries', ['1.234,50 €', '3,50 €'], { kind: 'money', unit: 'EUR', reading: { numbers: 'comma' } }],
    ['amounts with the code of their currency', ['EUR 12.50', 'eur 3'], { kind: 'money', unit: 'EUR' }],
    ['amounts of several currencies', ['£12.50', '€3'], { kind: 'text', unit: null }],
    ['amounts with and without a currency mark', ['£12.50', '3'], { kind: 'text', unit: null }],
    ['less than the smallest coin', ['£0.125', '£3'], { kind: 'text', unit: null }],
    ['weights', ['12 kg', '3 kg'], { kind: 'text', unit: null }],
    ['codes with letters', ['A12', 'B3'], { kind: 'text', unit: null }],
    ['mail addresses', ['ada@quillmoor.example', '', 'Bo <bo@quillmoor.example>'], { kind: 'mail_address' }],
    ['mail addresses and one that is none', ['ada@quillmoor.example', 'none'], { kind: 'text' }],
    ['web addresses', ['https://quillmoor.example/shops?a=1', 'www.quillmoor.example'], { kind: 'web_address' }],
    ['phone numbers', ['+44 20 7946 0018', '', '+49 (30) 123456', '+1-202-555-0143'], { kind: 'phone' }],
    ['phone numbers and one without its country', ['+44 20 7946 0018', '020 7946 0018'], { kind: 'text' }],
    ['numbers with a plus', ['+12', '+3'], { kind: 'text' }],
    ['words with a point', ['quillmoor.example', 'e.g'], { kind: 'text' }],
    ['codes with zeros in front', ['007', '012'], { kind: 'text' }],
    ['numbers too long to calculate with', ['40063813339310001', '40063813339310002'], { kind: 'text' }],
    ['barcodes', ['4006381333931', '9780306406157', '', '73513537', '036000291452'], { kind: 'text', note: expect.stringContaining('barcodes') as string }],
    ['barcodes and one with a wrong digit', ['4006381333931', '9780306406157', '73513537', '4006381333932'], { kind: 'whole', note: null }],
    ['too few to tell from other numbers', ['4006381333931', '9780306406157'], { kind: 'whole' }],
    ['ISO dates', ['2026-09-14', '2026-01-31'], { kind: 'date' }],
    ['days first', ['14/9/2026', '3/4/2026'], { kind: 'date', reading: { dates: 'dmy' } }],
    ['months first', ['9/14/2026', '3/4/2026'], { kind: 'date', reading: { dates: 'mdy' } }],
    ['years first', ['2026/9/14'], { kind: 'date', reading: { dates: 'ymd' } }],
    ['named months', ['Jan 1 2000', 'Feb 1 2000'], { kind: 'date' }],
    ['times of day', ['8:30', '14:05:30'], { kind: 'time' }],
    ['dates with times', ['2026-09-14 08:30', '2026-01-31T23:59:59Z'], { kind: 'date_and_time' }],
    ['hours beyond a day', ['8:30', '36:15'], { kind: 'text' }],
    ['yes and no', ['yes', 'no', ''], { kind: 'yes_no' }],
    ['a few words over and over', ['sun', 'rain', 'sun', 'rain', 'sun', 'rain', 'sun', 'rain'], { kind: 'choice', choices: ['sun', 'rain'] }],
    ['words of their own', ['Brackmoor', 'Heron Mere'], { kind: 'text' }],
    ['texts with lines', ['a\nb', 'c'], { kind: 'long_text' }],
    ['a number that turns into a word at the end', [...Array.from({ length: 500 }, (_, i) => String(i)), 'n/a'], { kind: 'text' }],
  ])('%s', (_, cells, expected) => expect(survey(...cells)).toMatchObject(expected));

  test('says when dates read in two ways', () => expect(survey('3/4/2026', '5/6/2026').note).toContain('day first and month first'));
  test('says when every cell is empty', () => expect(survey('', ' ').note).toContain('empty'));
});

test('numbers that their file shows as money are money, unless they are finer than its coins or marked otherwise', () => {
  const shown = (cells: readonly string[], formatted = cells.length) => {
    const tally = new ColumnTally(true);
    for (const cell of cells) tally.see(cell);
    const { kind, unit } = tally.result('A', { currency: 'GBP', cells: formatted });
    return [kind, unit];
  };
  expect(shown(['12.5', '3'])).toEqual(['money', 'GBP']);
  expect(shown(['12.5', '3'], 1)).toEqual(['decimal', null]);
  expect(shown(['0.125', '3'])).toEqual(['decimal', null]);
  expect(shown(['12 EUR', '3 EUR'])).toEqual(['money', 'EUR']);
  expect(shown(['a', 'b'])).toEqual(['text', null]);
});

test('the last digit of the number under a barcode checks the others', () => {
  // Of each length, and of a book.
  const valid = ['6291041500213', '73513537', '036000291452', '10012345678902', '9780306406157'];
  expect(valid.map(isTradeNumber)).toEqual(valid.map(() => true));
  // Another last digit is wrong, and so are two neighbours that changed places.
  for (const number of valid)
    for (let last = 0; last < 10; last += 1) if (String(last) !== number.at(-1)) expect(isTradeNumber(number.slice(0, -1) + String(last))).toBe(false);
  expect(['9780306406175', '123', '1234567890123456', 'abcdefgh', ''].map(isTradeNumber)).toEqual([false, false, false, false, false]);
});
