import { expect, test } from 'vitest';
import { countShown, printTyped } from '../fields/computed.js';
import { standardLocale } from '../values/locale.js';
import { totalShown } from './saved.js';

const locale = standardLocale();

test('a count or a sum is printed with thousands separators, and a year is not', () => {
  const years = { type: 'number', digits: 0, unit: null };
  expect(printTyped(years, '2024', locale)).toBe('2024');
  expect(printTyped(totalShown(years, 'largest'), '2024', locale)).toBe('2024');
  expect(printTyped(totalShown(years, 'sum'), '40480', locale)).toBe('40,480');
  expect(printTyped(totalShown({ ...years, unit: 'EUR' }, 'count'), '12620', locale)).toBe('12,620');
  expect(printTyped(countShown, '-1516', locale)).toBe('−1,516');
});
