import { expect, test } from 'vitest';
import { designOf, field, table } from '../parts/sample.js';
import { check } from './check.js';
import { unitOf } from './unit.js';

const design = designOf([
  table('lots', 'Lots', [
    field({ kind: 'money', id: 'l_price', name: 'Price', currency: 'EUR' }),
    field({ kind: 'money', id: 'l_fee', name: 'Fee', currency: 'EUR' }),
    field({ kind: 'money', id: 'l_duty', name: 'Duty', currency: 'GBP' }),
    field({ kind: 'percent', id: 'l_off', name: 'Discount' }),
    field({ kind: 'whole', id: 'l_jars', name: 'Jars' }),
    field({ kind: 'decimal', id: 'l_rate', name: 'Rate' }),
  ]),
]);
const checked = (text: string) => check(text, { design, table: 'lots' });

test.each([
  ['Price', 'EUR'],
  ['Price * Jars', 'EUR'],
  ['Jars * Price - Fee', 'EUR'],
  ['Price * (1 - Discount)', 'EUR'],
  ['Price * Discount', 'EUR'],
  ['Discount * 2', null],
  ['Discount + Discount', '%'],
  ['-Price / 2', 'EUR'],
  ['Price / Fee', null],
  ['Price * Fee', null],
  ['Price + 1', 'EUR'],
  ['if Jars > 3 then Price else Fee', 'EUR'],
  ['if Jars > 3 then Price else 0', 'EUR'],
  ['if Jars > 3 then Price else Jars', null],
  ['sum([Price, Fee])', 'EUR'],
  ['count([Price, Fee])', null],
  ['decimal(Price, 1)', 'EUR'],
  ['Duty * Rate', 'GBP'],
  ['string(Price)', null],
])('%s counts %s', (text, unit) => {
  const result = checked(text);
  expect(result.ok && unitOf(result.node)).toBe(unit);
});

test.each([
  ['Price + Duty', "EUR and GBP don't add up: convert one of them first, by a rate."],
  ['Price * Jars - Duty', "EUR and GBP don't add up: convert one of them first, by a rate."],
  ['Price > Duty', "EUR and GBP can't be compared: convert one of them first, by a rate."],
  ['sum([Price, Duty])', "EUR and GBP don't add up: convert one of them first, by a rate."],
  ['if Jars > 3 then Price else Duty', "EUR and GBP can't be one value: convert one of them first, by a rate."],
])('%s is refused', (text, message) => {
  const result = checked(text);
  expect(result.ok ? null : result.problems[0]?.message).toBe(message);
});
