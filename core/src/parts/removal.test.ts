import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applyChange, applyChanges } from './change.js';
import { describeChange } from './describe.js';
import type { DesignChange } from './design-change.js';
import { Grant, type AppDesign } from '../design/design.js';
import { designMessage } from './issues.js';
import { listFor } from '../design/read.js';
import { parseDesign } from './parse.js';
import { field, table, whole } from './sample.js';

/** Whatever is taken out of a design, in whatever order: it is refused with a sentence, or nothing of it is left anywhere. */
const role = whole.roles.find((each) => each.id === 'keeper');
const query = whole.queries[0];
const report = whole.reports[0];
if (role === undefined || query === undefined || report === undefined) throw new Error('The design of the tests has changed');
const made = applyChanges(whole, [
  { kind: 'put', part: 'query', value: { ...query, id: 'q_more', name: 'More' } },
  {
    kind: 'put',
    part: 'report',
    value: {
      ...report,
      id: 'rep_more',
      name: 'More',
      source: { kind: 'query', query: 'q_more' },
      fields: [{ column: 'c_site', share: 8, wraps: true, total: null }],
    },
  },
  {
    kind: 'put',
    part: 'role',
    value: {
      ...role,
      grants: [
        Grant.parse({ id: 'g_hives', table: 'hives', hidden: ['h_year'], locked: ['h_code'] }),
        Grant.parse({ id: 'g_home', table: 'apiaries', condition: 'Name = me.Home.Name' }),
      ],
      menu: [
        { kind: 'list', list: 'l_hives' },
        { kind: 'form', form: 'fm_hives' },
        { kind: 'query', query: 'q_old' },
        { kind: 'report', report: 'rep_all' },
        { kind: 'dashboard', dashboard: 'da_all' },
      ],
    },
  },
]);
if (!made.ok) throw new Error(made.issues.map(designMessage).join(' '));
const full = made.design;

const removals: readonly (readonly [id: string, change: DesignChange])[] = [
  ...full.tables.map((each) => [each.id, { kind: 'remove', part: 'table', id: each.id }] as const),
  ...full.tables.flatMap((item) => item.fields.map((each) => [each.id, { kind: 'remove_field', table: item.id, field: each.id }] as const)),
  ...full.queries.map((each) => [each.id, { kind: 'remove', part: 'query', id: each.id }] as const),
  ...full.reports.map((each) => [each.id, { kind: 'remove', part: 'report', id: each.id }] as const),
  ...full.dashboards.map((dashboard) => [dashboard.id, { kind: 'remove', part: 'dashboard', id: dashboard.id }] as const),
  ...full.routes.map((route) => [route.id, { kind: 'remove', part: 'route', id: route.id }] as const),
  ...full.automations.map((automation) => [automation.id, { kind: 'remove', part: 'automation', id: automation.id }] as const),
  ...full.roles.map((each) => [each.id, { kind: 'remove', part: 'role', id: each.id }] as const),
  ...full.ties.map((ty) => [ty.id, { kind: 'remove', part: 'tie', id: ty.id }] as const),
];
const speaksOf = (design: AppDesign, id: string): boolean => JSON.stringify(design).includes(`"${id}"`);

describe('nothing of a part is left, or it is said why it stays', () => {
  test.each(removals)('%s', (id, change) => {
    const before = JSON.stringify(full);
    const after = applyChange(full, change);
    expect(JSON.stringify(full)).toBe(before);
    if (after.ok) expect(speaksOf(after.design, id)).toBe(false);
    else for (const issue of after.issues) expect(designMessage(issue)).toMatch(/^[A-Z“"].{15,}[.!]$/su);
  });

  test('some go and some stay', () => {
    const gone = removals.filter(([, change]) => applyChange(full, change).ok).map(([id]) => id);
    expect(gone).toEqual(expect.arrayContaining(['rep_all', 'da_all', 'way', 'au_year', 'q_old']));
    expect(gone).not.toEqual(expect.arrayContaining(['q_more']));
    expect(gone).not.toEqual(expect.arrayContaining(['tie_home']));
  });

  test('in any order, and each time the design is whole', () => {
    fc.assert(
      fc.property(fc.shuffledSubarray([...removals]), (chosen) => {
        let design = full;
        for (const [id, change] of chosen) {
          const after = applyChange(design, change);
          if (!after.ok) continue;
          ({ design } = after);
          expect(speaksOf(design, id)).toBe(false);
          expect(parseDesign(JSON.parse(JSON.stringify(design)))).toEqual(design);
        }
      }),
      { numRuns: 60 },
    );
  });
});

describe('the log says', () => {
  const plan = (name: string) => field({ kind: 'text', id: 'h_code', name });
  test.each<readonly [string, DesignChange]>([
    ['Renamed the app to Bees', { kind: 'rename_app', name: 'Bees' }],
    ['Added the table Shops', table('shops', 'Shops', [])],
    ['Renamed Hives to Colonies', { kind: 'change_table', table: 'hives', name: 'Colonies' }],
    ['Changed Hives', { kind: 'change_table', table: 'hives', section: 'Work' }],
    ['Changed the list Hives', { kind: 'put', part: 'list', value: { ...listFor(full, 'hives'), condition: 'Queen year > 2020' } }],
    ['Removed the table Hives', { kind: 'remove', part: 'table', id: 'hives' }],
    ['Added Box to Hives', { kind: 'add_field', table: 'hives', field: field({ kind: 'text', id: 'h_box', name: 'Box' }) }],
    ['Renamed Code of Hives to Number', { kind: 'change_field', table: 'hives', field: plan('Number') }],
    ['Changed Code of Hives', { kind: 'change_field', table: 'hives', field: plan('Code') }],
    ['Moved Code in Hives', { kind: 'move_field', table: 'hives', field: 'h_code', to: 1 }],
    ['Removed Code from Hives', { kind: 'remove_field', table: 'hives', field: 'h_code' }],
    ['Changed a relationship', { kind: 'change_relationship', relationship: 'r_hives', childrenName: 'Colonies' }],
    ['Changed the query Old', { kind: 'put', part: 'query', value: query }],
    ['Renamed the query Old to Aged', { kind: 'put', part: 'query', value: { ...query, name: 'Aged' } }],
    ['Added the query Aged', { kind: 'put', part: 'query', value: { ...query, id: 'q_new', name: 'Aged' } }],
    ['Removed the query Old', { kind: 'remove', part: 'query', id: 'q_old' }],
    ['Removed the report All', { kind: 'remove', part: 'report', id: 'rep_all' }],
    ['Removed the dashboard Season', { kind: 'remove', part: 'dashboard', id: 'da_all' }],
    ['Removed the route Way', { kind: 'remove', part: 'route', id: 'way' }],
    ['Removed the automation Years', { kind: 'remove', part: 'automation', id: 'au_year' }],
    ['Changed the role Keeper', { kind: 'put', part: 'role', value: role }],
    ['Removed the role Keeper', { kind: 'remove', part: 'role', id: 'keeper' }],
    ['Added the linked record Place', { kind: 'put', part: 'tie', value: { id: 'tie_new', name: 'Place', table: 'apiaries' } }],
    ['Removed the linked record Home', { kind: 'remove', part: 'tie', id: 'tie_home' }],
    ['Added the note “Frames lie in the shed.”', { kind: 'put', part: 'note', value: { id: 'n_new', text: 'Frames\nlie in the shed.', tone: 'gold' } }],
    ['Changed the note “Honey is filled in September, and a lot…”', { kind: 'put', part: 'note', value: { id: 'n_lots', text: 'Otherwise', tone: 'gold' } }],
    ['Removed the note “Honey is filled in September, and a lot…”', { kind: 'remove', part: 'note', id: 'n_lots' }],
    ['Renamed the section Hive work to Bees', { kind: 'put', part: 'section', value: { id: 'sc_work', name: 'Bees', tone: 'red' } }],
    ['Took the map service away', { kind: 'set_map', address: null }],
    ['Set the time zone to Europe/London', { kind: 'set_time_zone', timeZone: 'Europe/London' }],
  ])('%s', (says, change) => expect(describeChange(change, full)).toBe(says));
});
