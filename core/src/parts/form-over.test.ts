import { describe, expect, test } from 'vitest';
import { formFor, tableOf } from '../design/read.js';
import { applyChange } from './change.js';
import { itemsOfReading, readingsOf, type Picked } from './form-over.js';
import { designOf, field, link, related, table } from './sample.js';

/** Shops have orders, orders have lines, lines name a honey; shops and honeys are linked. */
const design = designOf([
  table('shops', 'Shops', [field({ kind: 'text', id: 's_name', name: 'Name', required: true }), field({ kind: 'text', id: 's_town', name: 'Town' })]),
  table('orders', 'Orders', [
    field({ kind: 'text', id: 'o_no', name: 'Number', required: true }),
    field({ kind: 'text', id: 'o_note', name: 'Note' }),
    field({ kind: 'date', id: 'o_date', name: 'Date', required: true, default: 'today()' }),
  ]),
  table('lines', 'Lines', [field({ kind: 'whole', id: 'l_jars', name: 'Jars', required: true }), field({ kind: 'text', id: 'l_note', name: 'Note' })]),
  table('honeys', 'Honeys', [field({ kind: 'text', id: 'h_name', name: 'Name' })]),
  table('keepers', 'Keepers', [field({ kind: 'text', id: 'k_name', name: 'Name' })]),
  related('shops', 'orders', 'Shop', 'Orders', true),
  related('orders', 'lines', 'Order', 'Lines'),
  { ...related('honeys', 'lines', 'Honey', 'Sold'), id: 'r_sold', fieldId: 'lines_honey' } as never,
  link('sells', 'Sells', ['shops', 'Sells', 'Shop'], ['honeys', 'Sold by', 'Honey']),
]);
const pick = (...fields: readonly string[]): Picked => {
  const picked = new Map<string, Set<string>>();
  for (const item of design.tables)
    for (const each of item.fields) if (fields.includes(each.id)) picked.set(item.id, (picked.get(item.id) ?? new Set()).add(each.id));
  return picked;
};
const readings = (...fields: readonly string[]): readonly (readonly [string, readonly string[], readonly string[]])[] =>
  readingsOf(design, pick(...fields)).map((reading) => [
    reading.table.name,
    reading.parents.map((each) => `${each.table.name} through ${each.through.join(', ')}`),
    reading.children.map((each) => each.relationship.childrenName),
  ]);

describe('fields of several tables', () => {
  test.each<readonly [string, readonly string[], ReturnType<typeof readings>]>([
    ['one table', ['s_town'], [['Shops', [], []]]],
    [
      'a parent and its children',
      ['s_name', 'o_no'],
      [
        ['Shops', [], ['Orders']],
        ['Orders', ['Shops through orders_up'], []],
      ],
    ],
    [
      'three in a row',
      ['s_name', 'o_no', 'l_jars'],
      [
        ['Orders', ['Shops through orders_up'], ['Lines']],
        ['Lines', ['Shops through lines_up, orders_up', 'Orders through lines_up'], []],
      ],
    ],
    ['two parents of one', ['o_no', 'h_name'], []],
    ['two parents and what they share', ['o_no', 'h_name', 'l_jars'], [['Lines', ['Orders through lines_up', 'Honeys through lines_honey'], []]]],
    ['a link is no row of its own', ['s_name', 'h_name'], []],
    ['nothing in common', ['s_name', 'k_name'], []],
  ])('of %s', (_, fields, expected) => expect(readings(...fields)).toEqual(expected));

  test('make a form that can be saved at once: with what is required, and with the reference that leads to what is shown', () => {
    const picked = pick('o_note', 's_town', 'l_note');
    const [orders] = readingsOf(design, picked);
    if (orders === undefined) throw new Error('No reading');
    let made = 0;
    const items = itemsOfReading(design, orders, picked, () => `it_${(made += 1)}`);
    expect(items).toEqual([
      { kind: 'field', field: 'o_no', width: 6 },
      { kind: 'field', field: 'o_note', width: 6 },
      { kind: 'field', field: 'orders_up', width: 6 },
      { kind: 'parent', id: 'it_1', through: ['orders_up'], field: 's_town', width: 6 },
      { kind: 'children', relationship: 'r_lines', columns: ['l_jars', 'l_note'] },
    ]);
    const put = applyChange(design, {
      kind: 'put',
      part: 'form',
      value: { ...formFor(design, 'orders'), id: 'fm_new', name: 'Order desk', isDefault: false, items },
    });
    expect(put.ok).toBe(true);
    if (!put.ok) return;
    // A column that goes leaves the rows; the last of them leaves those of the list.
    const without = applyChange(put.design, { kind: 'remove_field', table: 'lines', field: 'l_note' });
    expect(without.ok && without.design.forms.find((form) => form.id === 'fm_new')?.items.at(-1)).toEqual({
      kind: 'children',
      relationship: 'r_lines',
      columns: ['l_jars'],
    });
    expect(tableOf(design, 'lines').fields).toHaveLength(4);
  });
});
