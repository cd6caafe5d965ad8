import { describe, expect, test } from 'vitest';
import { plainList } from '../design/list.js';
import { grantOf } from '../access/access.js';
import { designFor } from '../access/design-for.js';
import { emptyDesign } from './parse.js';
import { applyChanges } from './change.js';
import type { DesignChange } from './design-change.js';
import { designMessage } from './issues.js';
import { field, related, table } from './sample.js';

/** Apiaries have hives, hives have visits, which a form of the apiary shows below its rows. */
const list = (id: string, roles: readonly string[]): DesignChange => ({
  kind: 'put',
  part: 'list',
  value: { ...plainList, id, table: 'visits', name: id, roles: [...roles], isDefault: false, columns: ['v_note'] },
});
const role = (id: string, ...tables: readonly string[]): DesignChange => ({
  kind: 'put',
  part: 'role',
  value: {
    id,
    name: id,
    description: '',
    everything: false,
    menu: [],
    grants: tables.map((of) => grantOf(`g_${id}_${of}`, of, {})),
  },
});
const form = (below: readonly { readonly list: string; readonly by: string }[]): DesignChange => ({
  kind: 'put',
  part: 'form',
  value: {
    id: 'fm_deep',
    table: 'apiaries',
    name: 'Deep',
    roles: [],
    isDefault: false,
    items: [{ kind: 'children', relationship: 'r_hives', columns: ['h_code'], below: [...below] }],
  },
});
const start: readonly DesignChange[] = [
  table('apiaries', 'Apiaries', [field({ kind: 'text', id: 'a_name', name: 'Name' })]),
  table('hives', 'Hives', [
    field({ kind: 'text', id: 'h_code', name: 'Code' }),
    field({ kind: 'whole', id: 'h_place', name: 'Place' }),
    field({ kind: 'whole', id: 'h_once', name: 'Once', unique: true }),
  ]),
  table('visits', 'Visits', [field({ kind: 'text', id: 'v_note', name: 'Note' })]),
  related('apiaries', 'hives', 'Apiary', 'Hives'),
  related('hives', 'visits', 'Hive', 'Visits'),
  role('keeper', 'apiaries', 'hives', 'visits'),
  role('guest', 'apiaries', 'hives'),
  list('l_all', []),
  list('l_own', ['keeper']),
];
const both = [
  { list: 'l_all', by: 'visits_up' },
  { list: 'l_own', by: 'visits_up' },
];
const made = (...changes: readonly DesignChange[]) => applyChanges(emptyDesign('Honey'), [...start, ...changes]);
const rowsOf = (...changes: readonly DesignChange[]) => {
  const result = made(...changes);
  if (!result.ok) throw new Error(result.issues.map(designMessage).join(' '));
  return { design: result.design, items: result.design.forms.find((each) => each.id === 'fm_deep')?.items };
};

describe('the rows of a form, and lists below them', () => {
  test.each<readonly [string, Parameters<typeof form>[0], string]>([
    ['of records that belong to something else', [{ list: 'l_hives', by: 'hives_up' }], 'whose records no longer refer to them'],
    ['by a field that is no reference', [{ list: 'l_all', by: 'v_note' }], 'whose records no longer refer to them'],
    ['the same one twice', [both[0], both[0]] as never, 'twice below its rows'],
    ['that are not there', [{ list: 'l_none', by: 'visits_up' }], 'l_none'],
  ])('%s', (_, below, says) => {
    const result = made(form(below));
    expect(result.ok ? '' : result.issues.map(designMessage).join(' ')).toContain(says);
  });

  test('go with the list, and the rows stay', () => {
    expect(rowsOf(form(both)).items).toEqual([{ kind: 'children', relationship: 'r_hives', columns: ['h_code'], below: both }]);
    expect(rowsOf(form(both), { kind: 'remove', part: 'list', id: 'l_own' }).items).toEqual([
      { kind: 'children', relationship: 'r_hives', columns: ['h_code'], below: both.slice(0, 1) },
    ]);
    expect(rowsOf(form(both), { kind: 'remove_field', table: 'visits', field: 'visits_up' }).items).toEqual([
      { kind: 'children', relationship: 'r_hives', columns: ['h_code'] },
    ]);
  });

  test('rows are ordered by a whole number, until its field is removed', () => {
    const ordered = (field: string): DesignChange => {
      const plain = form([]) as Extract<DesignChange, { kind: 'put'; part: 'form' }>;
      return { ...plain, value: { ...plain.value, items: [{ kind: 'children', relationship: 'r_hives', orderedBy: field }] } };
    };
    const says = (field: string): string => {
      const result = made(ordered(field));
      return result.ok ? '' : result.issues.map(designMessage).join(' ');
    };
    expect(says('h_place')).toBe('');
    expect(['h_code', 'h_once', 'v_note'].map((id) => says(id).includes('which is no whole number that rows can share'))).toEqual([true, true, true]);
    // Moved rows have the same number for a moment: not where no two can.
    const together: DesignChange = { kind: 'change_table', table: 'hives', uniqueTogether: [{ id: 'u_place', fields: ['h_place', 'hives_up'] }] };
    expect(made(ordered('h_place'), together).ok).toBe(false);
    const left = rowsOf(ordered('h_place'), { kind: 'remove_field', table: 'hives', field: 'h_place' }).items;
    expect(left).toEqual([{ kind: 'children', relationship: 'r_hives' }]);
  });

  test('are told only to those who can see them', () => {
    const { design } = rowsOf(form(both));
    const seenBy = (...roles: readonly string[]) =>
      designFor(design, { role: 'member', roles, ties: {} } as never)
        .forms.find((each) => each.id === 'fm_deep')
        ?.items.map((item) => (item.kind === 'children' ? item.below : null));
    expect(seenBy('keeper')).toEqual([both]);
    expect(seenBy('guest')).toEqual([undefined]);
  });
});
