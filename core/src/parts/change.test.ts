import { describe, expect, test } from 'vitest';
import { applyChange, applyChanges } from './change.js';
import type { DesignChange } from './design-change.js';
import type { AppDesign } from '../design/design.js';
import { designMessage } from './issues.js';
import { emptyDesign, parseDesign, DesignInvalid } from './parse.js';
import { itemKey } from '../design/form.js';
import { plainList } from '../design/list.js';
import { formFor, namedForm, tableOf } from '../design/read.js';
import { freeSlug, slugOf } from '../shapes/slug.js';

const text = (id: string, name: string) => ({ kind: 'text' as const, id, name, description: '', required: false, unique: false, default: null });
const table = (id: string, name: string): DesignChange => ({
  kind: 'add_table',
  id,
  name,
  description: '',
  section: '',
  form: `fm_${id}`,
  list: `l_${id}`,
  fields: [text(`f_${id}`, 'Name')],
});
const related: DesignChange = {
  kind: 'add_relationship',
  id: 'r_hive',
  parent: 'apiaries',
  child: 'hives',
  fieldId: 'f_apiary',
  fieldName: 'Apiary',
  childrenName: 'Hives',
  required: false,
  whenParentRemoved: 'refuse',
};

function made(...changes: DesignChange[]): AppDesign {
  const result = applyChanges(emptyDesign('Honey'), changes);
  if (!result.ok) throw new Error(result.issues.map(designMessage).join());
  return result.design;
}
function refused(design: AppDesign, change: DesignChange): string {
  const result = applyChange(design, change);
  return result.ok ? 'was made' : result.issues.map(designMessage).join(' ');
}
const honey = (): AppDesign => made(table('apiaries', 'Apiaries'), table('hives', 'Hives'), related);

describe('changes', () => {
  test('a table has its form and its list at once, and fields join both', () => {
    const design = made(table('hives', 'Hives'), { kind: 'add_field', table: 'hives', field: text('f_code', 'Code') });
    expect(design.forms[0]?.items).toEqual([
      { kind: 'field', field: 'f_hives', width: 6 },
      { kind: 'field', field: 'f_code', width: 6 },
    ]);
    expect(design.lists[0]?.columns).toEqual(['f_hives', 'f_code']);
    expect(tableOf(design, 'hives').caption).toBe('Name');
  });

  test('a relationship puts a reference on the many side and child rows into the form of the one', () => {
    const design = honey();
    expect(tableOf(design, 'hives').fields[1]).toMatchObject({ kind: 'reference', name: 'Apiary', column: 'apiary', relationship: 'r_hive' });
    expect(design.forms.find((form) => form.table === 'apiaries')?.items.at(-1)).toEqual({ kind: 'children', relationship: 'r_hive' });
  });

  test('removing a table ends its relationships on both sides', () => {
    const design = made(table('apiaries', 'Apiaries'), table('hives', 'Hives'), related, { kind: 'remove', part: 'table', id: 'apiaries' });
    expect(design.relationships).toEqual([]);
    expect(tableOf(design, 'hives').fields.map((field) => field.id)).toEqual(['f_hives']);
  });

  test('a field moves in table, form and list together', () => {
    const design = made(
      table('hives', 'Hives'),
      { kind: 'add_field', table: 'hives', field: text('f_code', 'Code') },
      { kind: 'move_field', table: 'hives', field: 'f_code', to: 0 },
    );
    expect(tableOf(design, 'hives').fields.map((field) => field.id)).toEqual(['f_code', 'f_hives']);
    expect(design.lists[0]?.columns).toEqual(['f_code', 'f_hives']);
  });

  test('screens that a builder arranged keep their arrangement when a field is added or moved', () => {
    const arranged = made(
      table('hives', 'Hives'),
      { kind: 'add_field', table: 'hives', field: text('f_code', 'Code') },
      {
        kind: 'put',
        part: 'form',
        value: {
          ...{ id: 'fm_own', table: 'hives', name: 'Own', roles: [], isDefault: false },
          items: [
            { kind: 'field', field: 'f_code', width: 3 },
            { kind: 'heading', id: 'hd_more', text: 'More' },
            { kind: 'field', field: 'f_hives', width: 9 },
          ],
        },
      },
      { kind: 'add_field', table: 'hives', field: text('f_note', 'Note') },
      { kind: 'move_field', table: 'hives', field: 'f_note', to: 0 },
    );
    expect(arranged.forms.find((form) => form.id === 'fm_own')?.items.map(itemKey)).toEqual(['f_code', 'hd_more', 'f_hives']);
    expect(arranged.forms.find((form) => form.isDefault)?.items.map(itemKey)).toEqual(['f_note', 'f_hives', 'f_code']);
  });

  test('the form and list of a role come before those of everybody', () => {
    const design = made(table('hives', 'Hives'), {
      kind: 'put',
      part: 'form',
      value: { id: 'fm_team', table: 'hives', name: 'Of the team', roles: ['team'], isDefault: true, items: [] },
    });
    expect([formFor(design, 'hives').name, formFor(design, 'hives', ['team']).name, namedForm(design, 'hives', 'fm_none', ['team']).name]).toEqual([
      'Hives',
      'Of the team',
      'Of the team',
    ]);
  });

  test('a list that everybody is to open with takes that from the one before', () => {
    const plain = { ...plainList, table: 'hives', roles: [], columns: [] };
    const design = made(table('hives', 'Hives'), { kind: 'put', part: 'list', value: { ...plain, id: 'li_new', name: 'New', isDefault: true } });
    expect(design.lists.map((list) => [list.name, list.isDefault])).toEqual([
      ['Hives', false],
      ['New', true],
    ]);
    // The last one cannot be taken away.
    expect(refused(design, { kind: 'put', part: 'list', value: { ...plain, id: 'li_new', name: 'New', isDefault: false } })).toContain('needs a default list');
  });

  test('renaming leaves the column its name, and an unchanged part stays the same object', () => {
    const before = honey();
    const result = applyChange(before, { kind: 'change_field', table: 'hives', field: text('f_hives', 'Hive code') });
    expect(result.ok && tableOf(result.design, 'hives').fields[0]?.column).toBe(tableOf(before, 'hives').fields[0]?.column);
    expect(result.ok && tableOf(result.design, 'apiaries')).toBe(tableOf(before, 'apiaries'));
  });

  test.each<[string, DesignChange, string]>([
    ['a name twice', table('other', 'hives'), 'There is already a table called "hives" in Honey. Choose another name.'],
    [
      'a field name twice',
      { kind: 'add_field', table: 'hives', field: text('f_x', 'NAME') },
      'There is already a field called "NAME" in Hives. Choose another name.',
    ],
    ['a removed table', { kind: 'remove', part: 'table', id: 'bees' }, 'There is no table "bees" in this app. Reload the page to see the current design.'],
    ['an id twice', table('hives', 'Others'), 'The id "hives" is in use already.'],
    [
      'a reference that becomes text',
      { kind: 'change_field', table: 'hives', field: text('f_apiary', 'Apiary') },
      '"Apiary" refers to another table. Remove the field to end the relationship; it cannot become another kind.',
    ],
  ])('%s is refused in words', (_, change, message) => expect(refused(honey(), change)).toContain(message));

  test('changes come all or none', () => {
    const before = honey();
    const result = applyChanges(before, [{ kind: 'rename_app', name: 'Other' }, table('hives', 'Hives')]);
    expect(result.ok).toBe(false);
    expect(before.name).toBe('Honey');
  });
});

describe('parseDesign', () => {
  test('takes what changes made', () => expect(parseDesign(JSON.parse(JSON.stringify(honey())))).toEqual(honey()));
  test('names what is broken', () => {
    const broken = JSON.parse(JSON.stringify(honey())) as { relationships: { parent: string }[] };
    (broken.relationships[0] as { parent: string }).parent = 'bees';
    expect(() => parseDesign(broken)).toThrow(DesignInvalid);
    expect(() => parseDesign({ format: 1 })).toThrow(DesignInvalid);
    expect(() => parseDesign(null)).toThrow(DesignInvalid);
  });
});

describe('slugs', () => {
  test.each([
    ['Unit price, €', 'unit_price'],
    ['Größe', 'grosse'],
    ['Łąka & Søster', 'laka_soster'],
    ['2026', 'n_2026'],
    ['蜂蜜', 'x'],
    ['"; DROP TABLE x; --', 'drop_table_x'],
  ])('%s becomes %s', (label, slug) => expect(slugOf(label)).toBe(slug));
  test('a name of the product itself is stepped around', () => expect(freeSlug('Id', ['id', 'rev'])).toBe('id_2'));
});
