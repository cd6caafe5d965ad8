import { describe, expect, test } from 'vitest';
import type { AppDesign } from '../design/design.js';
import { otherSide, relationshipOf, shownTables, sidesOf, tableOf } from '../design/read.js';
import { applyChange, applyChanges } from './change.js';
import type { DesignChange } from './design-change.js';
import { designMessage } from './issues.js';
import { parseDesign } from './parse.js';
import { relatedTables } from './related-formulas.js';
import { everyPage } from './pages.js';
import { designOf, field, link, table } from './sample.js';

/** Two tables that show several records of each other. */
const start = designOf([
  table('sites', 'Apiaries', [field({ kind: 'text', id: 's_name', name: 'Name' })]),
  table('plants', 'Plants', [field({ kind: 'text', id: 'p_name', name: 'Plant' }), field({ kind: 'whole', id: 'p_days', name: 'Days' })]),
  link('forage', 'Forage pairs', ['sites', 'Forage', 'Apiary'], ['plants', 'Found at', 'Plant']),
]);
const result = (...changes: readonly DesignChange[]): AppDesign | string => {
  const made = applyChanges(start, changes);
  return made.ok ? made.design : made.issues.map(designMessage).join(' ');
};
const shown = (isLink: boolean): DesignChange => ({ kind: 'change_table', table: 'forage', isLink });

describe('a link', () => {
  test('is in the forms of both tables, and no table, list or page of its own', () => {
    expect(shownTables(start).map((each) => each.id)).toEqual(['sites', 'plants']);
    expect(start.forms.map((form) => form.items.filter((item) => item.kind === 'children').length)).toEqual([1, 1, 0]);
    expect(JSON.stringify(everyPage(start))).not.toContain('forage');
    expect(sidesOf(start, tableOf(start, 'forage'))?.map((side) => [side.table.id, side.relationship.childrenName])).toEqual([
      ['sites', 'Forage'],
      ['plants', 'Found at'],
    ]);
    expect(otherSide(start, relationshipOf(start, 'forage_r1'))?.table.id).toBe('plants');
  });

  test('can tie a table to itself', () => {
    const made = result(link('near', 'Near pairs', ['sites', 'Near to', 'Apiary'], ['sites', 'Near from', 'Other']));
    expect(typeof made === 'string' ? made : sidesOf(made, tableOf(made, 'near'))?.map((side) => side.relationship.childrenName)).toEqual([
      'Near to',
      'Near from',
    ]);
  });

  test('offers the fields of the other records as ready-made formulas', () => {
    const formulas = relatedTables(start, tableOf(start, 'sites')).find((relatedTable) => relatedTable.is === 'children')?.formulas ?? [];
    expect(formulas.map((formula) => formula.expression)).toEqual([
      'count(Forage)',
      'string join(Forage.Plant.Plant, ", ")',
      'sum(Forage.Plant.Days)',
      'mean(Forage.Plant.Days)',
      'min(Forage.Plant.Days)',
      'max(Forage.Plant.Days)',
    ]);
    for (const { expression } of formulas) {
      const made = result({ kind: 'add_field', table: 'sites', field: field({ kind: 'formula', id: 's_f', name: 'All', expression }) });
      expect(made, expression).toBeTypeOf('object');
    }
  });

  test('becomes a table with fields of its own, which changes no formula, and a link again once it has none', () => {
    const formula = field({ kind: 'formula', id: 's_f', name: 'All', expression: 'string join(Forage.Plant.Plant, ", ")' });
    const since = field({ kind: 'date', id: 'f_since', name: 'Since' });
    const table = result({ kind: 'add_field', table: 'sites', field: formula }, shown(false), { kind: 'add_field', table: 'forage', field: since });
    if (typeof table === 'string') throw new Error(table);
    expect(shownTables(table)).toHaveLength(3);
    expect(tableOf(table, 'sites').fields.at(-1)).toMatchObject({ expression: formula.kind === 'formula' ? formula.expression : '' });
    const refused = applyChange(table, shown(true));
    expect(!refused.ok && refused.issues.map(designMessage)).toEqual([
      "Forage pairs can't be hidden: its field Since would be shown nowhere. Remove the field first.",
    ]);
    const again = applyChanges(table, [{ kind: 'remove_field', table: 'forage', field: 'f_since' }, shown(true)]);
    expect(again.ok && tableOf(again.design, 'forage')).toEqual(tableOf(start, 'forage'));
    expect(again.ok && parseDesign(JSON.parse(JSON.stringify(again.design)))).toEqual(again.ok && again.design);
  });

  test.each<readonly [string, DesignChange]>([
    ['would be shown nowhere', { kind: 'add_field', table: 'forage', field: field({ kind: 'text', id: 'f_x', name: 'Note' }) }],
    ['has checks', { kind: 'change_table', table: 'forage', checks: [{ id: 'c_x', condition: 'true', message: 'No.' }] }],
    ['unique together', { kind: 'change_table', table: 'forage', uniqueTogether: [] }],
    ['be removed with the record', { kind: 'change_relationship', relationship: 'forage_r1', whenParentRemoved: 'refuse' }],
    [
      'needs exactly two fields',
      {
        kind: 'add_relationship',
        id: 'r_x',
        parent: 'sites',
        child: 'forage',
        fieldId: 'f_third',
        fieldName: 'Third',
        childrenName: 'Thirds',
        required: true,
        whenParentRemoved: 'remove',
      },
    ],
    [
      'belong to its records',
      {
        kind: 'add_relationship',
        id: 'r_x',
        parent: 'forage',
        child: 'sites',
        fieldId: 'f_up',
        fieldName: 'Pair',
        childrenName: 'Ups',
        required: false,
        whenParentRemoved: 'refuse',
      },
    ],
  ])('takes nothing that it could not show: %s', (words, change) => {
    expect(result(change)).toContain(words);
  });

  test.each(['table', 'field'] as const)('goes with a %s that it needs, and leaves nothing behind', (what) => {
    const made = result(what === 'table' ? { kind: 'remove', part: 'table', id: 'plants' } : { kind: 'remove_field', table: 'forage', field: 'forage_f2' });
    expect(JSON.stringify(made)).not.toContain('forage');
  });
});
