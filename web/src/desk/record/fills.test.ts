import { applyChanges, emptyDesign, formFor, type Circumstances, type DesignChange, type FieldPlan, type Form, type TableRights } from '@bibliona/core';
import * as language from '@bibliona/core/language';
import { describe, expect, test } from 'vitest';
import { canFill, filledBy, fillsOf, isEntered, readingIn, readingsOf, withFilled, type Fill } from './fills.js';
import type { RecordDraft } from './draft.js';

const plan = { description: '', required: false, unique: false, default: null } as const;
const table = (id: string, name: string, fields: FieldPlan[]): DesignChange => ({
  kind: 'add_table',
  id,
  name,
  description: '',
  section: '',
  form: `fm_${id}`,
  list: `l_${id}`,
  fields,
});
const made = applyChanges(emptyDesign('Honey'), [
  table('orders', 'Orders', [
    { ...plan, kind: 'decimal', id: 'o_rate', name: 'Rate', digits: 2 },
    { ...plan, kind: 'decimal', id: 'o_sum', name: 'Sum', digits: 2 },
    { ...plan, kind: 'text', id: 'o_note', name: 'Note' },
  ]),
  table('lines', 'Lines', [
    { ...plan, kind: 'whole', id: 'l_jars', name: 'Jars' },
    { ...plan, kind: 'decimal', id: 'l_price', name: 'Price', digits: 2, fixed: true, default: '5' },
  ]),
  {
    kind: 'add_relationship',
    id: 'r_lines',
    parent: 'orders',
    child: 'lines',
    fieldId: 'l_order',
    fieldName: 'Order',
    childrenName: 'Lines',
    required: true,
    whenParentRemoved: 'remove',
  },
]);
if (!made.ok) throw new Error('the sample design is broken');
const { design } = made;
const form: Form = {
  ...formFor(design, 'orders'),
  items: [
    { kind: 'field', field: 'o_sum', width: 3, fill: 'sum(Lines.Jars)' },
    { kind: 'field', field: 'o_note', width: 3, fill: 'Secret + 1' },
    { kind: 'children', relationship: 'r_lines', fills: [{ field: 'l_price', value: 'Jars * Order.Rate' }] },
  ],
};
const all: TableRights = { see: true, add: true, change: true, remove: true, export: true, hidden: [], locked: [] };
const rights = { orders: all, lines: all };
const draft = (own: object, ...lines: readonly object[]): RecordDraft =>
  ({ own, children: { r_lines: lines.map((values, i) => ({ key: `row ${i}`, id: i === 0 ? 1 : null, rev: 1, values })) } }) as RecordDraft;
const circumstances = { now: Date.UTC(2026, 4, 1), zone: 'UTC', me: null, ties: {} } as unknown as Circumstances;
const fills = fillsOf(design, { rights, circumstances }, form, language);
const [sum, price] = fills as [Fill, Fill];
/** What a fill reads of each record that it fills. */
const read = (fill: Fill, of: RecordDraft): readonly string[] => filledBy(fill, of, false).map((record) => JSON.stringify(readingIn(fill, of)(record)));

describe('what a form fills', () => {
  test('is what its formulas can be read for, and this person can change', () => {
    expect(fills.map((fill) => fill.field.id)).toEqual(['o_sum', 'l_price']);
    expect([...price.reads].sort()).toEqual(['l_jars', 'l_order', 'o_rate']);
    expect(
      fillsOf(design, { rights: { ...rights, lines: { ...all, locked: ['l_price'] } }, circumstances }, form, language).map((fill) => fill.field.id),
    ).toEqual(['o_sum']);
    expect(
      fillsOf(design, { rights: { ...rights, orders: { ...all, hidden: ['o_sum'] } }, circumstances }, form, language).map((fill) => fill.field.id),
    ).toEqual(['l_price']);
  });

  const before = draft({ o_rate: '1', o_note: '' }, { l_jars: '2' }, { l_jars: '3' });
  test.each<[string, RecordDraft, boolean, readonly boolean[]]>([
    ['nothing', before, false, [false, false]],
    ['a field that nobody reads', draft({ o_rate: '1', o_note: 'x' }, { l_jars: '2' }, { l_jars: '3' }), false, [false, false]],
    ['a field of one row', draft({ o_rate: '1', o_note: '' }, { l_jars: '2' }, { l_jars: '4' }), true, [false, true]],
    ['a field of the parent', draft({ o_rate: '2', o_note: '' }, { l_jars: '2' }, { l_jars: '3' }), false, [true, true]],
    ['a row', draft({ o_rate: '1', o_note: '' }, { l_jars: '2' }), true, [false]],
    ['what is filled itself', draft({ o_rate: '1', o_note: '', o_sum: '9' }, { l_jars: '2', l_price: '7' }, { l_jars: '3' }), false, [false, false]],
  ])('is filled anew when %s changes', (_, after, ofSum, ofRows) => {
    expect(read(sum, after)[0] !== read(sum, before)[0]).toBe(ofSum);
    expect(read(price, after).map((each, i) => each !== read(price, before)[i])).toEqual(ofRows);
  });

  test('is filled at once in a new record, unless somebody has entered it: a default nobody has', () => {
    const entered = (value: string | null): readonly boolean[] =>
      filledBy(price, draft({}, { l_price: value }), true).map((record) => isEntered(price, record));
    expect(price.begins).toBe('5.00');
    expect([null, '', '5.00', '0', '7'].flatMap(entered)).toEqual([false, false, false, true, true]);
  });

  test('is known by its row, whatever rows come before it', () => {
    const names = [...readingsOf(fills, before, false).keys()];
    expect(names).toEqual(['own o_sum', 'r_lines row 0 l_price', 'r_lines row 1 l_price']);
    const [, second] = filledBy(price, before, false);
    expect(second).toMatchObject({ of: 'r_lines.1', row: 'row 1', isNew: true });
  });

  test('is put into the rows that it is for, and the others stay the same', () => {
    const rows = before.children['r_lines'] ?? [];
    const filled = withFilled(rows, [{ fill: price, row: 'row 1', typed: '7' }]);
    expect(filled[0]).toBe(rows[0]);
    expect(filled[1]?.values).toEqual({ l_jars: '3', l_price: '7' });
  });

  test('is nothing that is fixed once it is saved, and nothing that this person can’t change', () => {
    const [stored, added] = filledBy(price, before, false).map((record) => canFill(rights, price, record));
    expect([stored, added]).toEqual([false, true]);
    const [own] = filledBy(sum, before, false);
    expect(own !== undefined && canFill({ ...rights, orders: { ...all, change: false } }, sum, own)).toBe(false);
  });
});
