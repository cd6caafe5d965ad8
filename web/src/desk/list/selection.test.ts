import { FieldPlan, type Table } from '@bibliona/core';
import { expect, test } from 'vitest';
import { readSelection, withSelection } from './selection.js';

const table: Table = {
  id: 't_h',
  name: 'Hives',
  slug: 'hives',
  description: '',
  section: '',
  caption: '',
  checks: [],
  uniqueTogether: [],
  isLink: false,
  fields: [{ ...FieldPlan.parse({ kind: 'text', id: 'f_code', name: 'Code' }), column: 'code' }],
};

test.each([
  [{ search: '', direction: 'up' as const }, '/desk/a/t_h'],
  [{ search: 'a&b=c #1', direction: 'up' as const }, '/desk/a/t_h?q=a%26b%3Dc+%231'],
  [{ search: 'x', sort: 'f_code', direction: 'down' as const }, '/desk/a/t_h?q=x&sort=f_code&dir=down'],
  [{ list: 'l_own', search: '', direction: 'up' as const, by: ['f_code'] }, '/desk/a/t_h?list=l_own&by=f_code'],
  [
    { search: '', direction: 'up' as const, narrowed: [{ field: 'f_code', values: ['A', null] }] },
    '/desk/a/t_h?only=%5B%7B%22field%22%3A%22f_code%22%2C%22values%22%3A%5B%22A%22%2Cnull%5D%7D%5D',
  ],
])('%j stands in the address and reads back', (selection, address) => {
  expect(withSelection('/desk/a/t_h', selection)).toBe(address);
  expect(readSelection(new URL(address, 'http://x').searchParams, table)).toEqual(selection);
});

test('a removed field no longer sorts', () => {
  expect(readSelection(new URLSearchParams('sort=f_gone&dir=sideways'), table)).toEqual({ search: '', direction: 'up' });
});

test.each(['[', '{}', '[{"field":"f_gone","values":[1]}]', '[{"field":"f_code"}]'])('%s narrows nothing', (only) => {
  expect(readSelection(new URLSearchParams({ only }), table)).toEqual({ search: '', direction: 'up' });
});
