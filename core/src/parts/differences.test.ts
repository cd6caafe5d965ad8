import { expect, test } from 'vitest';
import type { AppDesign } from '../design/design.js';
import { plainList } from '../design/list.js';
import { FieldPlan } from '../fields/kinds.js';
import { applyChanges } from './change.js';
import type { DesignChange } from './design-change.js';
import { differencesOf } from './differences.js';
import { emptyDesign } from './parse.js';
import { table } from './sample.js';

const field = (id: string, name: string, more: object = {}) => FieldPlan.parse({ id, name, kind: 'text', ...more });
function after(before: AppDesign, ...changes: DesignChange[]): AppDesign {
  const changed = applyChanges(before, changes);
  if (!changed.ok) throw new Error(JSON.stringify(changed.issues));
  return changed.design;
}
const before = after(
  emptyDesign('Honey'),
  table('hives', 'Hives', [field('h_code', 'Code'), field('h_note', 'Note')]),
  table('sites', 'Sites', [field('s_name', 'Name')]),
);
const said = (appDesign: AppDesign, other: AppDesign): string[] =>
  differencesOf(appDesign, other).map(({ kind, what, name, was, table: of }) =>
    [kind, what, was === null ? name : `${was} → ${name}`, of ?? ''].join(' ').trim(),
  );

test('nothing differs from itself', () => expect(said(before, before)).toEqual([]));

test('each part and field is told once, and the other way round as well', () => {
  const later = after(
    before,
    { kind: 'change_field', table: 'hives', field: field('h_code', 'Hive code') },
    { kind: 'change_field', table: 'hives', field: field('h_note', 'Note', { description: 'What was seen' }) },
    { kind: 'add_field', table: 'hives', field: field('h_queen', 'Queen') },
    { kind: 'change_table', table: 'sites', name: 'Apiaries' },
    { kind: 'put', part: 'list', value: { ...plainList, id: 'l_more', name: 'More', table: 'hives', roles: [], isDefault: false, columns: ['h_code'] } },
    { kind: 'rename_app', name: 'Honey and wax' },
  );
  // The caption of Hives follows the new name of its field; form and list have the new field.
  expect(said(before, later)).toEqual([
    'changed table Hives',
    'renamed table Sites → Apiaries',
    'changed form Hives',
    'renamed form Sites → Apiaries',
    'changed list Hives',
    'renamed list Sites → Apiaries',
    'added list More',
    'renamed field Code → Hive code Hives',
    'changed field Note Hives',
    'added field Queen Hives',
    'changed app Honey and wax',
  ]);
  expect(said(later, before)).toEqual([
    'changed table Hives',
    'renamed table Apiaries → Sites',
    'changed form Hives',
    'renamed form Apiaries → Sites',
    'changed list Hives',
    'renamed list Apiaries → Sites',
    'removed list More',
    'renamed field Hive code → Code Hives',
    'changed field Note Hives',
    'removed field Queen Hives',
    'changed app Honey',
  ]);
});

test('what begins or ends being public is told, and what is so on both sides is not', () => {
  const open = after(
    before,
    { kind: 'put', part: 'role', value: { id: 'visitor', name: 'Visitor', description: '', everything: false, menu: [], grants: [] } },
    { kind: 'put', part: 'list', value: { ...plainList, id: 'l_open', name: 'Open', table: 'hives', roles: [], isDefault: false, columns: ['h_code'] } },
  );
  const [list] = open.lists.filter((each) => each.id === 'l_open');
  if (list === undefined) throw new Error('There is no such list');
  const published = after(open, { kind: 'put', part: 'list', value: { ...list, public: { role: 'visitor', sites: [] } } });
  const wider = after(published, { kind: 'put', part: 'list', value: { ...list, name: 'Wide', public: { role: 'visitor', sites: ['https://example.org'] } } });
  const told = (one: AppDesign, other: AppDesign): unknown => differencesOf(one, other).map(({ kind, name, published: is }) => [kind, name, is]);
  expect(told(open, published)).toEqual([['changed', 'Open', 'begins']]);
  expect(told(open, wider)).toEqual([['renamed', 'Wide', 'begins']]);
  expect(told(published, wider)).toEqual([['renamed', 'Wide', null]]);
  expect(told(published, open)).toEqual([['changed', 'Open', 'ends']]);
  expect(told(before, published)).toContainEqual(['added', 'Open', 'begins']);
  expect(told(published, before)).toContainEqual(['removed', 'Open', null]);
});
