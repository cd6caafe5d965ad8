import { describe, expect, test } from 'vitest';
import { Grant } from '../design/design.js';
import { besidesOf, isFarReaching } from './besides.js';
import { applyChanges } from './change.js';
import type { DesignChange } from './design-change.js';
import { field, related, table, whole } from './sample.js';

const hidesNote = Grant.parse({ id: 'g_hives', table: 'hives', hidden: ['h_note'] });
const made = applyChanges(whole, [
  { kind: 'add_field', table: 'hives', field: field({ kind: 'text', id: 'h_note', name: 'Note' }) },
  { kind: 'change_table', table: 'hives', section: 'Hive work' },
  { kind: 'put', part: 'role', value: { id: 'guest', name: 'Guest', description: '', everything: false, menu: [], grants: [hidesNote] } },
  table('stands', 'Stands', []),
  table('tools', 'Tools', [field({ kind: 'text', id: 't_name', name: 'Name' }), field({ kind: 'whole', id: 't_price', name: 'Price' })]),
  related('stands', 'tools', 'Stand', 'Tools'),
]);
if (!made.ok) throw new Error(JSON.stringify(made.issues));
const { design } = made;
const said = (...changes: DesignChange[]): string[] => besidesOf(changes, design).map(({ kind, what, name }) => `${kind} ${what} ${name}`);

describe('what something that goes takes along', () => {
  test('of a table: what is made of it, and what is left without it', () => {
    expect(said({ kind: 'remove', part: 'table', id: 'hives' })).toEqual([
      'removed relationship Hives',
      'changed form Apiaries',
      'changed form With its hives',
      'removed form Hives',
      'removed form Short',
      'removed form With its apiary',
      'removed list Hives',
      'removed list Board',
      'removed query Old',
      'removed report All',
      'changed dashboard Season',
      'removed route Way',
      'removed automation Years',
      'removed automation Note the year',
      'changed role Guest',
    ]);
  });

  test('of a field: whatever shows or names it, and not the field itself', () => {
    const told = said({ kind: 'remove_field', table: 'hives', field: 'h_note' });
    expect(told).toContain('changed role Guest');
    expect(told).toContain('changed form Hives');
    expect(told.join()).not.toContain('field');
  });

  test('of a table whose records another one names: that field', () => {
    expect(said({ kind: 'remove', part: 'table', id: 'stands' })).toContain('removed field Stand');
  });
});

test('forms and lists that leave a field out are told, and nobody has to be asked for them', () => {
  const price: DesignChange = { kind: 'remove_field', table: 'tools', field: 't_price' };
  expect(said(price)).toEqual(['changed form Tools', 'changed list Tools']);
  expect(isFarReaching(besidesOf([price], design))).toBe(false);
  expect(isFarReaching(besidesOf([{ kind: 'remove', part: 'table', id: 'hives' }], design))).toBe(true);
});

test.each<[string, DesignChange]>([
  ['it gets another name', { kind: 'change_field', table: 'hives', field: field({ kind: 'text', id: 'h_code', name: 'Number' }) }],
  ['only a frame goes', { kind: 'remove', part: 'section', id: 'sc_work' }],
  ['something is added', { kind: 'add_field', table: 'tools', field: field({ kind: 'text', id: 't_maker', name: 'Maker' }) }],
  ['it is refused anyway', { kind: 'remove_field', table: 'hives', field: 'h_year' }],
])('nothing is told when %s', (_, change) => expect(said(change)).toEqual([]));
