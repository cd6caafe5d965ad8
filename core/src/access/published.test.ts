import { describe, expect, test } from 'vitest';
import type { AppDesign } from '../design/design.js';
import { plainList } from '../design/list.js';
import { applyChanges } from '../parts/change.js';
import type { DesignChange } from '../parts/design-change.js';
import { field, whole } from '../parts/sample.js';
import { grantOf } from './access.js';
import { publishedColumns, publishedPart, publishedProblem, tableShown, tileName, withListForAll, type PublishedPart } from './published.js';

const reader = (grants: readonly ReturnType<typeof grantOf>[]): DesignChange => ({
  kind: 'put',
  part: 'role',
  value: { id: 'reader', name: 'Reader', description: '', everything: false, menu: [], grants },
});
const open = { role: 'reader', sites: [] } as const;

/** The sample with a published list of these columns. */
function publishing(
  columns: readonly string[],
  grants: readonly ReturnType<typeof grantOf>[],
  more: readonly DesignChange[] = [],
): readonly [AppDesign, PublishedPart<'list'>] {
  const put: DesignChange = {
    kind: 'put',
    part: 'list',
    value: { ...plainList, id: 'li_open', table: 'hives', name: 'Open', roles: [], isDefault: false, columns, public: open },
  };
  const made = applyChanges(whole, [...more, reader(grants), put]);
  if (!made.ok) throw new Error(JSON.stringify(made.issues));
  const list = publishedPart(made.design, 'list', 'li_open');
  if (list === undefined) throw new Error('The list is not public');
  return [made.design, list];
}
const add = (plan: Parameters<typeof field>[0]): DesignChange => ({ kind: 'add_field', table: 'hives', field: field(plan) });

describe('the columns that visitors see', () => {
  const more: readonly DesignChange[] = [
    add({ kind: 'image', id: 'h_photo', name: 'Photo' }),
    add({ kind: 'person', id: 'h_keeper', name: 'Looked after by' }),
    add({ kind: 'formula', id: 'h_age', name: 'Age', expression: '2026 - Queen year' }),
  ];
  const columns = ['h_code', 'h_photo', 'h_year', 'h_keeper', 'h_age'];
  const names = ([design, list]: readonly [AppDesign, PublishedPart<'list'>]) => {
    const { shown, leftOut, partial } = publishedColumns(design, list);
    return { shown: shown.map((each) => each.id), leftOut, partial };
  };

  test('are those that are no files and no people, in the order of the list', () => {
    expect(names(publishing(columns, [grantOf('g_hives', 'hives', {}), grantOf('g_sites', 'apiaries', {})], more))).toEqual({
      shown: ['h_code', 'h_year', 'h_age'],
      leftOut: ['Photo', 'Looked after by'],
      partial: [],
    });
  });

  test('are those that their role sees', () => {
    expect(names(publishing(columns, [grantOf('g_reader', 'hives', { hidden: ['h_year'] })], more))).toMatchObject({ shown: ['h_code', 'h_age'] });
    expect(names(publishing(columns, [], more)).shown).toEqual([]);
  });

  test('are told of where they add up what their role sees only in part', () => {
    const formula = field({ kind: 'formula', id: 'a_hives', name: 'Number of hives', expression: 'count(Hives)' });
    const partial = (...grants: readonly ReturnType<typeof grantOf>[]): readonly string[] => {
      const made = applyChanges(whole, [
        { kind: 'add_field', table: 'apiaries', field: formula },
        reader([grantOf('g_sites', 'apiaries', {}), ...grants]),
        {
          kind: 'put',
          part: 'list',
          value: { ...plainList, id: 'li_open', table: 'apiaries', name: 'Open', roles: [], isDefault: false, columns: ['a_hives'], public: open },
        },
      ]);
      const list = made.ok ? publishedPart(made.design, 'list', 'li_open') : undefined;
      if (!made.ok || list === undefined) throw new Error('The list is not public');
      return publishedColumns(made.design, list).partial;
    };
    expect(partial()).toEqual(['Number of hives']);
    expect(partial(grantOf('g_hives', 'hives', { condition: 'Code != "H-1"' }))).toEqual(['Number of hives']);
    expect(partial(grantOf('g_hives', 'hives', {}))).toEqual([]);
  });
});

describe('what is published', () => {
  test('is found by its kind and name, and only where it is', () => {
    const [design] = publishing(['h_code'], []);
    const { lists } = design;
    expect(lists.filter((each) => publishedPart(design, 'list', each.id) !== undefined).map((each) => each.id)).toEqual(['li_open']);
    for (const name of ['li_open', 'nothing', '', 'constructor']) expect(publishedPart(design, 'report', name)).toBeUndefined();
    for (const name of ['li_open', tileName('no', 'no'), 'no', '.']) expect(publishedPart(design, 'tile', name)).toBeUndefined();
  });

  test('is told to show nothing where its role sees nothing', () => {
    const [design, list] = publishing(['h_code'], []);
    expect(tableShown(design, list)).toBe('hives');
    expect(publishedProblem(design, list, list.public)).toBe("The role Reader can't see Hives, so visitors see nothing.");
    const [seen, same] = publishing(['h_code'], [grantOf('g_reader', 'hives', {})]);
    expect(publishedProblem(seen, same, same.public)).toBeNull();
  });

  test('is for people of the app again once the role of its visitors is removed', () => {
    const [design] = publishing(['h_code'], []);
    const made = applyChanges(design, [{ kind: 'remove', part: 'role', id: 'reader' }]);
    expect(made.ok && made.design.lists.find((each) => each.id === 'li_open')).toMatchObject({ id: 'li_open', columns: ['h_code'] });
    expect(made.ok && publishedPart(made.design, 'list', 'li_open')).toBeUndefined();
  });

  test('is for all visitors, whatever roles the list is made for', () => {
    const [design, list] = publishing(['h_code'], []);
    expect(withListForAll(design, list)).toBe(design);
    const narrow = { ...design, lists: design.lists.map((each) => (each.id === list.id ? { ...each, roles: ['reader'] } : each)) };
    const [own] = narrow.lists.filter((each) => each.id === list.id);
    if (own === undefined) throw new Error('There is no such list');
    const opened = withListForAll(narrow, own);
    expect(opened.lists.find((each) => each.id === list.id)?.roles).toEqual([]);
    expect(withListForAll(narrow, own)).toBe(opened);
  });
});
