import { describe, expect, test } from 'vitest';
import { tableOf } from '../design/read.js';
import { designOf, field, related, table } from '../parts/sample.js';
import { teamRole } from '../design/design.js';
import { applyChanges } from '../parts/change.js';
import { compileCount, compilePage } from '../query/compile.js';
import { queryOf } from '../query/query.js';
import { asBuilder, circumstancesOf, grantOf, mayDesign, menuOf, permit, restrict, rightsOf, sightOf, type Person } from './access.js';

const design = designOf([
  table('apiaries', 'Apiaries', [field({ kind: 'text', id: 'f_a', name: 'Name' })]),
  table('hives', 'Hives', [field({ kind: 'text', id: 'f_h', name: 'Code', required: true }), field({ kind: 'whole', id: 'f_y', name: 'Queen year' })]),
  related('apiaries', 'hives', 'Apiary', 'Hives'),
  { kind: 'put', part: 'tie', value: { id: 'tie_apiary', name: 'Home apiary', table: 'apiaries' } },
  {
    kind: 'put',
    part: 'role',
    value: {
      id: 'keeper',
      name: 'Keeper',
      description: '',
      everything: false,
      menu: [],
      grants: [
        grantOf('g_own', 'hives', { condition: 'Apiary = me.Home apiary', change: true, locked: ['f_h'] }),
        grantOf('g_old', 'hives', { condition: 'Queen year < 2020', hidden: ['f_y'] }),
      ],
    },
  },
  {
    kind: 'put',
    part: 'role',
    value: {
      id: 'clerk',
      name: 'Clerk',
      description: '',
      everything: false,
      menu: [],
      grants: [grantOf('g_code', 'hives', { add: true, hidden: ['f_y', 'hives_up'] })],
    },
  },
]);
const hives = tableOf(design, 'hives');
const person = (roles: readonly string[], ties: Person['ties'] = {}): Person => ({
  id: 1,
  name: 'Ada',
  mail: 'ada@quillmoor.example',
  role: 'member',
  roles,
  ties,
});
const stranger: Person = { ...person([]), role: null };
const actions = ['add', 'change', 'remove'] as const;

describe('who is nothing to an app, and who has no role in it', () => {
  test.each([['stranger', stranger] as const, ['member without a role', person([])] as const])('%s is granted no record and no permit', (_, who) => {
    for (const action of ['see', ...actions] as const) expect(sightOf(design, who, 'hives', action)).toEqual({ kind: 'granted', grants: [] });
    for (const action of actions) expect(permit(design, who, hives, action)).toBeNull();
    expect(mayDesign(who)).toBe(false);
  });

  test('every table that a statement reads is closed to them: the rows, the records referred to, the search', () => {
    const query = queryOf('hives', { columns: ['f_h', 'hives_up'], where: { kind: 'search', text: 'moor' }, sort: { field: 'hives_up', direction: 'up' } });
    const { text } = compilePage(restrict(query, design, stranger, 0), design, 'app_x');
    const references = text.match(/FROM "app_x"\."\w+" AS \w+/gu) ?? [];
    expect(references.length).toBeGreaterThan(3);
    for (const reference of references) expect(text.slice(text.indexOf(reference) + reference.length).slice(0, 20)).toMatch(/^ WHERE false\)/u);
    // Each table is within a subselect that is closed, never by itself.
    expect(text.match(/"app_x"/gu)?.length).toBe(references.length);
    expect(text.match(/\(SELECT \w+\.\* FROM "app_x"/gu)?.length).toBe(references.length);
  });
});

test('of a table that is not there nothing is granted', () => {
  expect(sightOf(design, person(['keeper']), 'gone', 'see')).toEqual({ kind: 'granted', grants: [] });
});

describe('grants', () => {
  test('add up, in no order', () => {
    const [one, other] = [person(['keeper', 'clerk'], { tie_apiary: 3 }), person(['clerk', 'keeper'], { tie_apiary: 3 })];
    expect(sightOf(design, one, 'hives', 'see')).toEqual(sightOf(design, other, 'hives', 'see'));
    const sight = sightOf(design, one, 'hives', 'see');
    expect(sight.kind === 'granted' && sight.grants.map((each) => [...each.withheld])).toEqual([[], ['f_y'], ['f_y', 'hives_up']]);
    // A role that grants everything leaves nothing to add.
    expect(sightOf(design, person(['clerk', 'team']), 'hives', 'see')).toEqual({ kind: 'all' });
    expect(sightOf(design, asBuilder(one), 'hives', 'remove')).toEqual({ kind: 'all' });
  });
  test('that speak of a tie hold for those alone who have it', () => {
    const sight = sightOf(design, person(['keeper']), 'hives', 'see');
    expect(sight.kind === 'granted' && sight.grants.length).toBe(1);
    expect(permit(design, person(['keeper']), hives, 'change')).toBeNull();
    expect(permit(design, person(['keeper'], { tie_apiary: 3 }), hives, 'change')).not.toBeNull();
  });
  test('tell screens what can be done at all', () => {
    expect(rightsOf(design, person(['clerk']), hives)).toEqual({
      see: true,
      add: true,
      change: false,
      remove: false,
      export: false,
      hidden: ['f_y', 'hives_up'],
      locked: ['f_y', 'hives_up'],
    });
    expect(rightsOf(design, person(['keeper'], { tie_apiary: 3 }), hives)).toMatchObject({ hidden: [], change: true, locked: ['f_h'] });
  });
  test('compare with the tie by its id alone, so that an index can be used', () => {
    const { text, params } = compileCount([restrict(queryOf('hives'), design, person(['keeper'], { tie_apiary: 3 }), 0), design, 'app_x'], null);
    expect(text).toContain('r1."apiary" = $1::bigint');
    expect(text).not.toContain('JOIN');
    expect(params[0]).toBe(3);
  });
  test('go when their table or role goes, and keep up with names', () => {
    const renamed = applyChanges(design, [
      { kind: 'change_field', table: 'hives', field: field({ kind: 'whole', id: 'f_y', name: 'Queen of' }) },
      { kind: 'remove_field', table: 'hives', field: 'f_h' },
    ]);
    if (!renamed.ok) throw new Error(JSON.stringify(renamed.issues));
    expect(renamed.design.roles.find((role) => role.id === 'keeper')?.grants).toMatchObject([
      { condition: 'Apiary = me.Home apiary', locked: [] },
      { condition: 'Queen of < 2020', hidden: ['f_y'] },
    ]);
    expect(applyChanges(design, [{ kind: 'remove', part: 'tie', id: 'tie_apiary' }])).toMatchObject({
      ok: false,
      issues: [{ code: 'still_used', places: ['a grant of the role Keeper for Hives'] }],
    });
    expect(applyChanges(design, [{ kind: 'put', part: 'tie', value: { id: 'tie_x', name: 'Name', table: 'hives' } }])).toMatchObject({ ok: false });
  });
  test('decide what of a menu is shown, the first page of it first', () => {
    const listed = (who: Person, of = design): string[] =>
      menuOf(of, who).map((page) => (page.kind === 'list' ? page.list.replace('l_', '') : page.kind === 'query' ? page.query : page.kind));
    expect(listed(asBuilder(stranger))).toEqual(['apiaries', 'hives']);
    expect(listed(person(['clerk']))).toEqual(['hives']);
    expect(listed(stranger)).toEqual([]);
    const role = teamRole;
    const query = { id: 'q_hives', name: 'All', description: '', section: '', table: 'hives', condition: '', columns: [], order: [], limit: null };
    const changed = applyChanges(design, [
      { kind: 'put', part: 'query', value: query },
      {
        kind: 'put',
        part: 'role',
        value: {
          ...role,
          menu: [
            { kind: 'query', query: 'q_hives' },
            { kind: 'list', list: 'l_apiaries' },
            { kind: 'query', query: 'q_hives' },
          ],
        },
      },
    ]);
    if (!changed.ok) throw new Error(JSON.stringify(changed.issues));
    expect(listed(person(['team']), changed.design)).toEqual(['q_hives', 'apiaries']);
    // A role without a menu of its own shows all that is seen.
    expect(listed(person(['team', 'clerk']), changed.design)).toEqual(['apiaries', 'hives', 'q_hives']);
    const gone = applyChanges(changed.design, [{ kind: 'remove', part: 'query', id: 'q_hives' }]);
    expect(gone.ok && gone.design.roles.find((each) => each.id === 'team')?.menu).toEqual([{ kind: 'list', list: 'l_apiaries' }]);
    expect(applyChanges(design, [{ kind: 'put', part: 'role', value: { ...role, menu: [{ kind: 'list', list: 'l_none' }] } }])).toMatchObject({ ok: false });
  });
  test('are known to expressions as roles by name', () => {
    expect(circumstancesOf(design, person(['clerk', 'keeper']), 0).me.Roles).toEqual(['Keeper', 'Clerk']);
  });
});

test('values never become part of the text', () => {
  const hostile = `'; DROP TABLE hives; --`;
  const query = queryOf('hives', {
    where: {
      kind: 'all',
      of: [
        { kind: 'search', text: hostile },
        { kind: 'equals', field: 'f_h', value: hostile },
      ],
    },
  });
  const { text, params } = compileCount([restrict(query, design, asBuilder(stranger), 0), design, 'app_x'], 10);
  expect(text).not.toContain('DROP');
  expect(JSON.stringify(params)).toContain('DROP');
});
