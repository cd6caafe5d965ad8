import type { Automation, DesignChange, Write } from '@bibliona/core';
import { field, honey, table } from './support.js';

const relationship = (id: string, parent: string, child: string, name: string, childrenName: string, whenParentRemoved: 'remove' | 'clear'): DesignChange => ({
  kind: 'add_relationship',
  id,
  parent,
  child,
  fieldId: `${id}_up`,
  fieldName: name,
  childrenName,
  required: whenParentRemoved === 'remove',
  whenParentRemoved,
});
/** Hives with visits, which go with them, and loans, which stay without them. */
export const design: readonly DesignChange[] = [
  ...honey,
  table('visits', 'Visits', [field('date', 'v_date', 'Date', { required: true }), field('whole', 'v_mites', 'Mites')]),
  table('loans', 'Loans', [field('text', 'l_what', 'What', { required: true })]),
  relationship('r_visits', 'hives', 'visits', 'Hive', 'Visits', 'remove'),
  relationship('r_loans', 'hives', 'loans', 'Hive', 'Loans', 'clear'),
];
export const checks = (...list: readonly { id: string; condition: string; message: string }[]): DesignChange => ({
  kind: 'change_table',
  table: 'hives',
  checks: [...list],
});
export const automation: Automation = {
  id: 'au_weak',
  name: 'Lends to weak hives',
  description: '',
  section: '',
  isOn: true,
  table: 'hives',
  on: 'added',
  fields: [],
  moves: [],
  condition: 'Notes = "Weak"',
  steps: [
    {
      kind: 'add',
      id: 'st_loan',
      table: 'loans',
      values: [
        { field: 'l_what', itself: false, expression: '"Feeder for " + Code' },
        { field: 'r_loans_up', itself: true, expression: '' },
      ],
    },
  ],
};

export const hive = (code: string, more: Record<string, string | number | boolean | { added: string }> = {}): Write => ({
  kind: 'add',
  table: 'hives',
  as: code,
  values: { h_code: code, ...more },
});
export const full = {
  h_year: 9007199254740991,
  h_rent: '12345678901234567890.1',
  h_since: '2024-02-29',
  h_gentle: false,
  h_stores: 'fair',
  h_notes: 'a\n"b" 🐝',
};
export const change = (id: number, values: Record<string, string | number | null>, rev = 1): Write => ({ kind: 'change', table: 'hives', id, rev, values });
export const remove = (id: number, rev = 1, of = 'hives'): Write => ({ kind: 'remove', table: of, id, rev });
