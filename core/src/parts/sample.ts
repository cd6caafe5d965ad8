/** Designs for tests, in as few words as they need. */
import { applyChanges } from './change.js';
import type { DesignChange } from './design-change.js';
import { type AppDesign } from '../design/design.js';
import { FieldPlan } from '../fields/kinds.js';
import { designMessage } from './issues.js';
import { emptyDesign } from './parse.js';

export const field = (more: object): FieldPlan => FieldPlan.parse(more);

export const table = (id: string, name: string, fields: readonly FieldPlan[]): DesignChange => ({
  kind: 'add_table',
  id,
  name,
  description: '',
  section: '',
  form: `fm_${id}`,
  list: `l_${id}`,
  fields: [...fields],
});

/** One `parent` has many `child`; the reference field is called `<child>_up`, the relationship `r_<child>`. */
export const related = (parent: string, child: string, fieldName: string, childrenName: string, required = false): DesignChange => ({
  kind: 'add_relationship',
  id: `r_${child}`,
  parent,
  child,
  fieldId: `${child}_up`,
  fieldName,
  childrenName,
  required,
  whenParentRemoved: 'refuse',
});

type Side = readonly [table: string, shownAs: string, fieldName: string];
/** A link called `<id>`, with the fields `<id>_f1` and `<id>_f2` and the relationships `<id>_r1` and `<id>_r2`. */
export const link = (id: string, name: string, ...sides: readonly [Side, Side]): DesignChange => {
  const side = ([of, shownAs, fieldName]: Side, n: number) => ({
    table: of,
    relationship: `${id}_r${n}`,
    shownAs,
    field: `${id}_f${n}`,
    fieldName,
  });
  return { kind: 'add_link', id, name, form: `fm_${id}`, list: `l_${id}`, together: `u_${id}`, sides: [side(sides[0], 1), side(sides[1], 2)] };
};

/** @throws Error with what is wrong, in words */
export function designOf(changes: readonly DesignChange[]): AppDesign {
  const made = applyChanges(emptyDesign('Honey'), changes);
  if (!made.ok) throw new Error(made.issues.map(designMessage).join(' '));
  return made.design;
}

const column = (id: string, name: string, expression: string) => ({ id, name, expression, summary: null, digits: null });
const tilePlace = { x: 0, y: 0, w: 4, h: 4 };
const rows = { kind: 'table' as const, table: 'hives', condition: '', columns: [column('c_code', 'Code', 'Code'), column('c_site', 'Apiary', 'Apiary')] };
/** A small design with every kind of part in it, each made of others. */
export const whole = designOf([
  table('apiaries', 'Apiaries', [field({ kind: 'text', id: 'a_name', name: 'Name' })]),
  table('hives', 'Hives', [
    field({ kind: 'text', id: 'h_code', name: 'Code' }),
    field({ kind: 'choice', id: 'h_state', name: 'State', choices: [...'abc'].map((id) => ({ id: `s_${id}`, label: id.toUpperCase() })) }),
    field({ kind: 'whole', id: 'h_year', name: 'Queen year' }),
  ]),
  related('apiaries', 'hives', 'Apiary', 'Hives'),
  { kind: 'put', part: 'role', value: { id: 'keeper', name: 'Keeper', description: '', everything: false, menu: [], grants: [] } },
  { kind: 'put', part: 'tie', value: { id: 'tie_home', name: 'Home', table: 'apiaries' } },
  { kind: 'put', part: 'section', value: { id: 'sc_work', name: 'Hive work', tone: 'gold' } },
  { kind: 'put', part: 'note', value: { id: 'n_lots', text: 'Honey is filled in September, and a lot holds the honey of several apiaries.', tone: 'blue' } },
  {
    kind: 'put',
    part: 'form',
    value: {
      id: 'fm_short',
      table: 'hives',
      name: 'Short',
      roles: ['keeper'],
      isDefault: true,
      items: [
        { kind: 'field', field: 'h_code', width: 6, label: 'Its code', shownIf: 'Queen year > 2000', readOnlyIf: 'State = "C"' },
        { kind: 'tab', id: 'tb_more', name: 'More' },
        { kind: 'heading', id: 'hd_queen', text: 'Queen' },
        { kind: 'field', field: 'h_year', width: 3, requiredIf: 'Code != null', fill: 'string length(Code)' },
        { kind: 'text', id: 'tx_help', text: 'Years are on the back of the queen.', width: 9 },
      ],
      afterAdding: 'new',
    },
  },
  {
    kind: 'put',
    part: 'list',
    value: {
      id: 'l_board',
      table: 'hives',
      name: 'Board',
      roles: ['keeper'],
      isDefault: false,
      columns: ['h_code', 'hives_up'],
      order: [
        { field: 'h_year', direction: 'down' },
        { field: 'h_code', direction: 'up' },
      ],
      condition: 'Queen year > 2000',
      arrangement: { kind: 'board', by: 'h_state' },
      groupBy: ['hives_up'],
      sums: ['h_year'],
      quickFilters: ['h_state', 'h_year'],
      tones: [{ id: 'tn_old', name: 'Old queen', condition: 'Queen year < 2020', tone: 'gold' }],
    },
  },
  {
    kind: 'put',
    part: 'query',
    value: { id: 'q_old', name: 'Old', description: '', section: '', table: 'hives', condition: '', columns: [...rows.columns], order: [], limit: null },
  },
  {
    kind: 'put',
    part: 'report',
    value: {
      id: 'rep_all',
      name: 'All',
      description: '',
      section: '',
      source: rows,
      fields: [{ column: 'c_code', share: 8, wraps: true, total: null }],
      groups: [],
      order: [],
      arrangement: 'columns',
      paper: { size: 'a4', turned: false },
    },
  },
  {
    kind: 'put',
    part: 'dashboard',
    value: {
      id: 'da_all',
      name: 'Season',
      description: '',
      section: '',
      tiles: [{ kind: 'bars', id: 'ti_one', name: 'One', place: tilePlace, source: rows, label: 'c_site', value: 'c_code', order: 'label', most: 24 }],
    },
  },
  {
    kind: 'put',
    part: 'route',
    value: {
      id: 'way',
      name: 'Way',
      description: '',
      section: '',
      table: 'hives',
      field: 'h_state',
      statuses: [
        { choice: 's_a', kind: 'start' },
        { choice: 's_c', kind: 'done' },
      ],
      moves: [{ id: 'mo_on', name: 'On', from: 's_a', to: 's_b', roles: ['keeper'], guard: '', duty: 'should' }],
    },
  },
  {
    kind: 'put',
    part: 'automation',
    value: {
      id: 'au_year',
      name: 'Years',
      description: '',
      section: '',
      isOn: true,
      table: 'hives',
      on: 'changed',
      fields: ['h_code'],
      moves: [],
      condition: '',
      steps: [{ kind: 'change', id: 'st_year', values: [{ field: 'h_year', itself: false, expression: '2026' }] }],
    },
  },
  {
    kind: 'put',
    part: 'automation',
    value: {
      id: 'au_hand',
      name: 'Note the year',
      description: '',
      section: '',
      isOn: true,
      table: 'hives',
      on: 'started',
      fields: [],
      moves: [],
      startedBy: ['keeper'],
      condition: 'Queen year = null',
      steps: [{ kind: 'change', id: 'st_hand', values: [{ field: 'h_year', itself: false, expression: '2026' }] }],
    },
  },
  {
    kind: 'put',
    part: 'form',
    value: {
      id: 'fm_around',
      table: 'hives',
      name: 'With its apiary',
      roles: [],
      isDefault: false,
      items: [
        { kind: 'parent', id: 'pf_name', through: ['hives_up'], field: 'a_name', width: 6, shownIf: 'Code != null', inPlace: true },
        { kind: 'button', id: 'bt_hand', name: 'Note the year', does: { kind: 'run', automation: 'au_hand' }, width: 3 },
        { kind: 'button', id: 'bt_season', name: 'Season', does: { kind: 'page', page: { kind: 'dashboard', dashboard: 'da_all' } }, width: 3 },
        { kind: 'button', id: 'bt_web', name: 'Weather', does: { kind: 'address', address: 'https://weather.example' }, width: 3 },
      ],
    },
  },
  {
    kind: 'put',
    part: 'form',
    value: {
      id: 'fm_below',
      table: 'apiaries',
      name: 'With its hives',
      roles: [],
      isDefault: false,
      items: [
        { kind: 'list', id: 'rl_hives', list: 'l_board', by: 'hives_up', rows: 10 },
        { kind: 'button', id: 'bt_add', name: 'Add a hive', does: { kind: 'add', relationship: 'r_hives' }, width: 3 },
        { kind: 'children', relationship: 'r_hives', columns: ['h_code', 'h_year'], fills: [{ field: 'h_year', value: 'string length(Code)' }] },
      ],
    },
  },
]);
