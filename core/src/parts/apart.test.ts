import { expect, test } from 'vitest';
import type { AppDesign } from '../design/design.js';
import { listFor, tableOf } from '../design/read.js';
import { inTheWay, isGone } from './apart.js';
import { applyChanges } from './change.js';
import type { DesignChange } from './design-change.js';
import { designMessage } from './issues.js';
import { field, table, whole } from './sample.js';

const after = (...changes: readonly DesignChange[]): AppDesign => {
  const made = applyChanges(whole, changes);
  if (!made.ok) throw new Error(made.issues.map(designMessage).join(' '));
  return made.design;
};
const code = tableOf(whole, 'hives').fields.find((each) => each.id === 'h_code');
const explained = (description: string): DesignChange => ({ kind: 'change_field', table: 'hives', field: { ...code, description } as never });
const formNamed = (id: string): AppDesign['forms'][number] => {
  const found = whole.forms.find((form) => form.id === id);
  if (found === undefined) throw new Error(`There is no form ${id}`);
  return found;
};
const list: DesignChange = { kind: 'put', part: 'list', value: { ...listFor(whole, 'hives'), condition: 'Queen year > 2020' } };

test.each<readonly [string, DesignChange, DesignChange, boolean]>([
  ['the same field', explained('Theirs'), explained('Mine'), true],
  ['two fields of a table', explained('Theirs'), { kind: 'remove_field', table: 'apiaries', field: 'a_name' }, false],
  ['a field, and the name of its table', { kind: 'change_table', table: 'hives', name: 'Colonies' }, explained('Mine'), false],
  [
    'the order of fields, and a new one',
    { kind: 'add_field', table: 'hives', field: field({ kind: 'text', id: 'h_new', name: 'New' }) },
    { kind: 'move_field', table: 'hives', field: 'h_code', to: 1 },
    true,
  ],
  ['a table twice', { kind: 'change_table', table: 'hives', section: 'Work' }, { kind: 'change_table', table: 'hives', name: 'Colonies' }, true],
  ['a list, and another part', list, { kind: 'rename_app', name: 'Mine' }, false],
  ['a list twice', list, { kind: 'put', part: 'list', value: { ...listFor(whole, 'hives'), condition: '' } }, true],
  ['a part that has gone', { kind: 'remove', part: 'dashboard', id: 'da_all' }, { kind: 'remove', part: 'dashboard', id: 'da_all' }, true],
  ['the map service, and the name', { kind: 'set_map', address: null }, { kind: 'rename_app', name: 'Mine' }, false],
  ['the time zone, and the name', { kind: 'set_time_zone', timeZone: 'Europe/London' }, { kind: 'rename_app', name: 'Mine' }, false],
  ['the name twice', { kind: 'rename_app', name: 'Theirs' }, { kind: 'rename_app', name: 'Mine' }, true],
  [
    'a relationship twice',
    { kind: 'change_relationship', relationship: 'r_hives', childrenName: 'Boxes' },
    { kind: 'change_relationship', relationship: 'r_hives', childrenName: 'Colonies' },
    true,
  ],
  ['new tables', table('shops', 'Shops', []), table('fairs', 'Fairs', []), false],
])('%s', (_, theirs, mine, isInTheWay) => expect(inTheWay([mine], whole, after(theirs))).toEqual(isInTheWay ? [mine] : []));

test('a part whose expressions follow a new name counts as changed: what was written with the old one would not fit', () => {
  const renamed = after({ kind: 'change_field', table: 'hives', field: { ...code, name: 'Number' } as never });
  const query = whole.queries.find((each) => each.id === 'q_old');
  expect(inTheWay([{ kind: 'put', part: 'query', value: { ...query, name: 'Mine' } as never }], whole, renamed)).toHaveLength(1);
});

test('the order in which the database keeps the settings of a part does not count', () => {
  const turned = (value: unknown): unknown =>
    Array.isArray(value)
      ? value.map(turned)
      : typeof value === 'object' && value !== null
        ? Object.fromEntries(
            Object.entries(value)
              .reverse()
              .map(([name, each]) => [name, turned(each)]),
          )
        : value;
  expect(inTheWay([list, explained('Mine')], turned(whole) as AppDesign, whole)).toEqual([]);
});

test('what is to be removed is gone when none of it is there any longer', () => {
  const removals: readonly DesignChange[] = [
    { kind: 'remove', part: 'automation', id: 'au_hand' },
    { kind: 'remove', part: 'automation', id: 'au_year' },
  ];
  const [hand, year] = removals as [DesignChange, DesignChange];
  expect(isGone(removals, whole)).toBe(false);
  const one = after({ kind: 'put', part: 'form', value: { ...formNamed('fm_around'), items: [] } }, hand);
  expect([isGone([hand], one), isGone(removals, one)]).toEqual([true, false]);
  // A change of something that is gone is not done by that.
  expect(isGone([hand, list], one)).toBe(false);
  expect(isGone([year], one)).toBe(false);
});
