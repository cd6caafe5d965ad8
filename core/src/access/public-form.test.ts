import { describe, expect, test } from 'vitest';
import type { AppDesign } from '../design/design.js';
import type { Form } from '../design/form.js';
import { formFor } from '../design/read.js';
import { applyChanges } from '../parts/change.js';
import type { DesignChange } from '../parts/design-change.js';
import { field, whole } from '../parts/sample.js';
import { grantOf } from './access.js';
import { publicDesign, publicFields, publicForm, publicProblems, visitorOf, type OpenToAll } from './public-form.js';

const guest = (grant: object): DesignChange => ({
  kind: 'put',
  part: 'role',
  value: {
    id: 'guest',
    name: 'Guest',
    description: '',
    everything: false,
    menu: [],
    grants: [grantOf('g_guest', 'hives', { see: false, add: true, ...grant })],
  },
});
const shows = (id: string): Form['items'][number] => ({ kind: 'field', field: id, width: 6 });

/** The sample with a public form of hives that asks for these fields. */
function asking(ids: readonly string[], changes: readonly DesignChange[] = [], grant: object = {}): readonly [AppDesign, OpenToAll] {
  const put: DesignChange = {
    kind: 'put',
    part: 'form',
    value: { ...formFor(whole, 'hives'), id: 'fm_open', name: 'Open', isDefault: false, items: ids.map(shows), public: { role: 'guest', sites: [] } },
  };
  const made = applyChanges(whole, [...changes, guest(grant), put]);
  if (!made.ok) throw new Error(JSON.stringify(made.issues));
  const form = publicForm(made.design, 'fm_open');
  if (form === undefined) throw new Error('The form is not public');
  return [made.design, form];
}
const add = (plan: Parameters<typeof field>[0]): DesignChange => ({ kind: 'add_field', table: 'hives', field: field(plan) });
const names = (fields: readonly { readonly id: string }[]): readonly string[] => fields.map((each) => each.id);

describe('what a public form asks for', () => {
  const more: readonly DesignChange[] = [
    add({ kind: 'image', id: 'h_photo', name: 'Photo' }),
    add({ kind: 'person', id: 'h_keeper', name: 'Looked after by' }),
    add({ kind: 'signature', id: 'h_signed', name: 'Signed' }),
    add({ kind: 'formula', id: 'h_age', name: 'Age', expression: '2026 - Queen year' }),
    add({ kind: 'running_number', id: 'h_no', name: 'Number' }),
    add({ kind: 'place', id: 'h_place', name: 'Place' }),
  ];

  test('is what needs nothing else of the app: no records, no people, no files', () => {
    const shown = ['h_code', 'h_year', 'hives_up', 'h_photo', 'h_keeper', 'h_signed', 'h_age', 'h_no', 'h_place'];
    const [design, form] = asking(shown, more);
    expect(names(publicFields(design, form).asked)).toEqual(['h_code', 'h_year', 'h_place']);
    expect(names(publicFields(design, form).leftOut)).toEqual(['hives_up', 'h_photo', 'h_keeper', 'h_signed', 'h_age', 'h_no']);
  });

  test('comes with the checks that read nothing else', () => {
    const checks = ['Code != "x"', 'Queen year > 2000', 'Apiary.Name != "x"'].map((condition, i) => ({ id: `ck_${i}`, condition, message: 'No.' }));
    const [design, form] = asking(['h_code'], [{ kind: 'change_table', table: 'hives', checks }]);
    expect(publicDesign(design, form).tables[0]?.checks.map((each) => each.id)).toEqual(['ck_0']);
  });

  test('is what its role can write', () => {
    const [design, form] = asking(['h_code', 'h_year', 'h_place'], more, { locked: ['h_year'], hidden: ['h_place'] });
    expect(names(publicFields(design, form).asked)).toEqual(['h_code']);
  });

  test('is all of the design that a visitor is given', () => {
    const [design, form] = asking(['h_code', 'hives_up']);
    const given = publicDesign(design, form);
    expect(given.tables.map((table) => names(table.fields))).toEqual([['h_code']]);
    expect(given.forms.map((each) => [each.id, each.items, each.public])).toEqual([['fm_open', [shows('h_code')], undefined]]);
    const { tables: _, forms: __, roles: ___, ...others } = given;
    expect(Object.values(others).flatMap((part: unknown) => (Array.isArray(part) ? (part as unknown[]) : []))).toEqual([]);
    expect(publicDesign(design, form)).toBe(given);
    expect(visitorOf(form).roles).toEqual(['guest']);
  });
});

describe('a public form that nobody could send', () => {
  test.each<readonly [says: readonly string[], ids: readonly string[], changes: readonly DesignChange[], grant: object]>([
    [[], ['h_code'], [], {}],
    [["The role Guest can't add records to Hives."], ['h_code'], [], { add: false, see: true }],
    [["Since is required, and visitors can't fill it in here."], ['h_code'], [add({ kind: 'date', id: 'h_since', name: 'Since', required: true })], {}],
    [[], ['h_code'], [add({ kind: 'date', id: 'h_since', name: 'Since', required: true, default: 'today()' })], {}],
    [
      ["Looked after by is required, and visitors can't fill it in here."],
      ['h_code', 'h_keeper'],
      [add({ kind: 'person', id: 'h_keeper', name: 'Looked after by', required: true, default: 'me.Name + " <" + me.Mail + ">"' })],
      {},
    ],
  ])('says %j', (says, ids, changes, grant) => {
    const [design, form] = asking(ids, changes, grant);
    expect(publicProblems(design, form)).toEqual(says);
  });
});

test('a form without its role is not public, and stays', () => {
  const [design] = asking(['h_code']);
  const made = applyChanges(design, [{ kind: 'remove', part: 'role', id: 'guest' }]);
  if (!made.ok) throw new Error('It could not be removed');
  expect(publicForm(made.design, 'fm_open')).toBeUndefined();
  expect(made.design.forms.find((form) => form.id === 'fm_open')?.items).toEqual([shows('h_code')]);
});
