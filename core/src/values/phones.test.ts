import { beforeAll, expect, test } from 'vitest';
import { countryCodes } from './countries.js';
import { examplePhone, loadPhones, readPhone } from './phones.js';

beforeAll(loadPhones);

test('the example of each country is read as a number where that is dialled', () => {
  for (const country of countryCodes)
    expect([
      country,
      ...examplePhone(country)
        .split(' or ')
        .map((example) => readPhone(example, country) !== null),
    ]).not.toContain(false);
  expect(examplePhone('US')).toBe('(201) 555-0123 or +1 201 555 0123');
  expect(examplePhone('DE')).toBe('01512 3456789 or +49 1512 3456789');
});
