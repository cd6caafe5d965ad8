import { applyChanges, emptyDesign, tableOf, type DesignChange, type FieldPlan, type OpenRecord } from '@bibliona/core';
import { expect, test } from 'vitest';
import { duplicateOf } from './duplicate.js';
import { writesOf } from './draft.js';

const plan = { description: '', required: false, unique: false, default: null } as const;
const table = (id: string, fields: FieldPlan[]): DesignChange => ({
  kind: 'add_table',
  id,
  name: id,
  description: '',
  section: '',
  form: `fm_${id}`,
  list: `l_${id}`,
  fields,
});
const made = applyChanges(emptyDesign('Honey'), [
  table('orders', [
    { ...plan, kind: 'text', id: 'o_what', name: 'What' },
    { ...plan, kind: 'text', id: 'o_code', name: 'Code', unique: true },
    { ...plan, kind: 'running_number', id: 'o_no', name: 'No', unique: true, pattern: '{0}', start: 1, step: 1, yearly: false },
    { ...plan, kind: 'file', unique: false, id: 'o_paper', name: 'Paper', most: 5, endings: [], largest: 20 },
    { ...plan, kind: 'text', id: 'o_closed', name: 'Closed' },
  ]),
  table('lines', [
    { ...plan, kind: 'whole', id: 'l_jars', name: 'Jars' },
    { ...plan, kind: 'text', id: 'l_note', name: 'Note' },
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
const order = { id: 7, caption: 'A' };
const open: OpenRecord = {
  caption: 'A',
  record: { id: 7, rev: 3, values: { o_what: 'Honey', o_code: 'A-1', o_no: '12', o_paper: `a.txt/${'0'.repeat(64)}/3`, o_closed: 'secret' } },
  children: [
    {
      relationship: 'r_lines',
      more: false,
      records: [
        { id: 1, rev: 1, values: { l_jars: 5, l_note: 'cold', l_order: order } },
        { id: 2, rev: 4, values: { l_jars: 6, l_note: 'a long one…', l_order: order }, cut: ['l_note'] },
      ],
    },
  ],
};
const copied = () =>
  duplicateOf(
    design,
    tableOf(design, 'orders'),
    open,
    ['r_lines'],
    () => ({}),
    (field) => field.id === 'o_closed',
  );

test('a copy is a new record with new rows: what is unique, given, a file or not to be written stays behind', () => {
  const { draft } = copied();
  const { writes, issues } = writesOf(design, 'orders', null, draft);
  expect(issues).toEqual([]);
  expect(writes).toEqual([
    { kind: 'add', table: 'orders', as: 'record', values: { o_what: 'Honey' } },
    { kind: 'add', table: 'lines', as: 'r_lines 0', values: { l_jars: 5, l_note: 'cold', l_order: { added: 'record' } } },
    // The rest of a text that is shown in part is not at hand.
    { kind: 'add', table: 'lines', as: 'r_lines 1', values: { l_jars: 6, l_order: { added: 'record' } } },
  ]);
});

test('it says when not all of it is there', () => {
  expect(copied().note).toMatch(/not copied/u);
  const whole = { ...open, children: [{ ...open.children[0]!, records: open.children[0]!.records.slice(0, 1) }] };
  expect(
    duplicateOf(
      design,
      tableOf(design, 'orders'),
      whole,
      ['r_lines'],
      () => ({}),
      () => false,
    ).note,
  ).toBeNull();
});

test('rows that each need a value of their own are left out, and it says which', () => {
  const strict = applyChanges(design, [
    { kind: 'add_field', table: 'lines', field: { ...plan, kind: 'whole', id: 'l_no', name: 'Line', required: true, unique: true } },
  ]);
  if (!strict.ok) throw new Error('the sample design is broken');
  const { draft, note } = duplicateOf(
    strict.design,
    tableOf(strict.design, 'orders'),
    open,
    ['r_lines'],
    () => ({}),
    () => false,
  );
  expect(draft.children).toEqual({ r_lines: [] });
  expect(note).toContain('Rows of Lines are not copied');
});
