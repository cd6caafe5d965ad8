import { expect, test } from 'vitest';
import { applyChanges } from '../parts/change.js';
import type { DesignChange } from '../parts/design-change.js';
import { designOf, field, related, table } from '../parts/sample.js';
import { grantOf } from './access.js';
import { accessFindings } from './findings.js';

const design = designOf([
  table('sites', 'Sites', [field({ kind: 'text', id: 's_name', name: 'Name' }), field({ kind: 'whole', id: 's_limit', name: 'Limit' })]),
  table('hives', 'Hives', [
    field({ kind: 'text', id: 'h_code', name: 'Code', required: true }),
    field({ kind: 'whole', id: 'h_rent', name: 'Rent', required: true }),
    field({ kind: 'whole', id: 'h_cost', name: 'Cost' }),
  ]),
  related('sites', 'hives', 'Site', 'Hives', false),
]);
const said = (grants: readonly ReturnType<typeof grantOf>[], ...more: readonly DesignChange[]): readonly string[] => {
  const role = { id: 'ro', name: 'Keeper', description: '', everything: false, menu: [], grants };
  const made = applyChanges(design, [{ kind: 'put', part: 'role', value: role }, ...more]);
  if (!made.ok) throw new Error(JSON.stringify(made.issues));
  return accessFindings(made.design).map((finding) => `${finding.kind} ${finding.table.id} ${finding.field.id}`);
};
const checks = (condition: string): DesignChange => ({ kind: 'change_table', table: 'hives', checks: [{ id: 'ck_one', condition, message: 'No.' }] });
const site = grantOf('g_site', 'sites', {});

test('a check that reads what a role does not see tells of it by trial, also of a parent', () => {
  const hidden = grantOf('g_one', 'hives', { change: true, hidden: ['h_rent'] });
  expect(said([hidden, site], checks('Rent < 10'))).toEqual(['check_tells hives h_rent']);
  expect(said([hidden, site], checks('Cost < Site.Limit'))).toEqual([]);
  expect(said([hidden], checks('Cost < Site.Limit'))).toEqual(['check_tells hives s_limit']);
  // A person who can't write can't test values against a check. Another grant can show the field anyway.
  expect(said([grantOf('g_one', 'hives', { hidden: ['h_rent'] })], checks('Rent < 10'))).toEqual([]);
  expect(said([hidden, grantOf('g_all', 'hives', {})], checks('Rent < 10'))).toEqual([]);
});

test('a required field that is kept from who adds needs a default value', () => {
  const adds = grantOf('g_one', 'hives', { add: true, locked: ['h_rent'] });
  expect(said([adds])).toEqual(['cannot_add hives h_rent']);
  expect(said([adds, grantOf('g_two', 'hives', { add: true })])).toEqual([]);
  const started: DesignChange = {
    kind: 'change_field',
    table: 'hives',
    field: field({ kind: 'whole', id: 'h_rent', name: 'Rent', required: true, default: '0' }),
  };
  expect(said([adds], started)).toEqual([]);
});
