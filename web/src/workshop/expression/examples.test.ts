import { applyChanges, emptyDesign, FieldPlan, type AppDesign, type DesignChange } from '@bibliona/core';
import { expect, test } from 'vitest';
import { calculationExample, valueHint } from './examples.js';

const field = (more: object): FieldPlan => FieldPlan.parse(more);
const table = (id: string, name: string, fields: readonly FieldPlan[]): DesignChange => ({
  kind: 'add_table',
  id,
  name,
  description: '',
  section: '',
  form: `fm_${id}`,
  list: `l_${id}`,
  fields: [...fields],
});
const belongs = (child: string, parent: string, name: string): DesignChange => ({
  kind: 'add_relationship',
  id: `r_${child}`,
  parent,
  child,
  fieldId: `${child}_up`,
  fieldName: name,
  childrenName: `Of ${child}`,
  required: false,
  whenParentRemoved: 'refuse',
});
function design(): AppDesign {
  const made = applyChanges(emptyDesign('Tools'), [
    table('sheds', 'Sheds', [field({ kind: 'text', id: 's_name', name: 'Name' })]),
    table('shelves', 'Shelves', [field({ kind: 'text', id: 'h_code', name: 'Code' })]),
    table('tools', 'Tools', [
      field({ kind: 'whole', id: 't_no', name: 'Number', unique: true }),
      field({ kind: 'whole', id: 't_count', name: 'Count' }),
      field({ kind: 'decimal', id: 't_price', name: 'Unit price' }),
    ]),
    belongs('shelves', 'sheds', 'Shed'),
    belongs('tools', 'shelves', 'Shelf'),
  ]);
  if (!made.ok) throw new Error(JSON.stringify(made.issues));
  return made.design;
}

test('hints take their examples from the app at hand, two references far', () => {
  expect(valueHint(design(), 'tools')).toBe('A field, a field of a linked record such as Shelf.Shed.Name, or a calculation.');
  expect(valueHint(design(), 'shelves')).toContain('such as Shed.Name,');
  expect(valueHint(design(), 'sheds')).toBe('A field or a calculation.');
});

test('a calculation is of two numbers that are no names of records', () => {
  expect(calculationExample(design(), 'tools')).toBe('Count * Unit price');
  expect(calculationExample(design(), 'sheds')).toBeNull();
});
