import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { AppDesignShape, type AppDesign } from '../design/design.js';
import { itemKey } from '../design/form.js';
import { formFor, listFor, namedForm, tableOf } from '../design/read.js';
import type { Automation } from '../design/automation.js';
import type { Route } from '../design/route.js';
import { check } from '../expression/check.js';
import { applyChanges } from '../parts/change.js';
import type { DesignChange } from '../parts/design-change.js';
import { expressionsOf } from '../parts/expressions.js';
import { everyPart, partKind, partsOf } from '../parts/kinds.js';
import { field, whole } from '../parts/sample.js';
import { grantOf, type Person } from './access.js';
import { designFor, withheldExpression } from './design-for.js';
import { wants } from '../feel/wants.js';

const [apiaries, hives] = [tableOf(whole, 'apiaries'), tableOf(whole, 'hives')];
const [route] = whole.routes as [Route];
const [automation, byHand] = whole.automations as [Automation, Automation];
const around = namedForm(whole, 'hives', 'fm_around');

/** Grants of one table: none, or one that lets see or add, without some of the fields. */
const grants = (table: AppDesign['tables'][number]) =>
  fc.option(
    fc.record({
      see: fc.boolean(),
      add: fc.boolean(),
      condition: fc.constantFrom('', 'true'),
      hidden: fc.subarray(table.fields.filter((each) => each.id !== 'hives_up').map((each) => each.id)),
    }),
    { nil: null },
  );
const sets = fc.record({ apiaries: grants(apiaries), hives: grants(hives), up: fc.boolean(), isTied: fc.boolean() });
type Grants = typeof sets extends fc.Arbitrary<infer T> ? T : never;

/** The sample with two roles. What is made for the other one, and what only the server asks, says so: "secret". */
function designWith(given: Grants): AppDesign {
  const held = [
    ...(given.apiaries === null ? [] : [grantOf('g_a', 'apiaries', given.apiaries)]),
    ...(given.hives === null ? [] : [grantOf('g_h', 'hives', { ...given.hives, hidden: [...given.hives.hidden, ...(given.up ? ['hives_up'] : [])] })]),
  ];
  const role = (id: string, name: string, more: object): DesignChange => ({
    kind: 'put',
    part: 'role',
    value: { id, name, description: 'secret', everything: false, menu: [], grants: [], ...more },
  });
  const changes: readonly DesignChange[] = [
    { kind: 'remove', part: 'role', id: 'team' },
    { kind: 'put', part: 'section', value: { id: 'sc_work', name: 'secret section', tone: 'gold' } },
    { kind: 'put', part: 'note', value: { id: 'n_lots', text: 'secret note', tone: 'gold' } },
    role('keeper', 'Keeper', { grants: held }),
    role('other', 'secret role', { grants: [grantOf('g_other', 'hives', { condition: 'Code = "secret"' })] }),
    { kind: 'add_field', table: 'hives', field: field({ kind: 'formula', id: 'h_age', name: 'Age', expression: '2026 - Queen year' }) },
    {
      kind: 'change_table',
      table: 'hives',
      caption: 'Code + " " + Apiary.Name',
      checks: [
        { id: 'ck_code', condition: 'Code != "x"', message: 'Not x.' },
        { id: 'ck_year', condition: 'Age < 9', message: 'Too old.' },
        { id: 'ck_up', condition: 'Apiary.Name != "x"', message: 'secret' },
      ],
    },
    { kind: 'put', part: 'list', value: { ...listFor(whole, 'hives'), condition: 'Code != "secret"', order: [{ field: 'h_year', direction: 'up' }] } },
    { kind: 'put', part: 'form', value: { ...formFor(whole, 'hives'), id: 'fm_other', name: 'secret form', isDefault: false, roles: ['other'] } },
    { kind: 'put', part: 'form', value: { ...formFor(whole, 'hives'), id: 'fm_both', name: 'Both', isDefault: false, roles: ['other', 'keeper'] } },
    {
      kind: 'put',
      part: 'route',
      value: {
        ...route,
        description: 'secret',
        moves: [
          ...route.moves.map((move) => ({ ...move, guard: 'Queen year > 2000', roles: ['keeper', 'other'] })),
          { id: 'mo_other', name: 'secret move', from: 's_b', to: 's_c', roles: ['other'], guard: '', duty: 'should' },
        ],
      },
    },
    { kind: 'put', part: 'automation', value: { ...automation, name: 'secret automation' } },
    { kind: 'put', part: 'automation', value: { ...byHand, description: 'secret', condition: 'Code != "secret"' } },
    { kind: 'put', part: 'automation', value: { ...byHand, id: 'au_other', name: 'secret button', startedBy: ['other'] } },
    {
      kind: 'put',
      part: 'form',
      value: {
        ...around,
        items: [
          ...around.items,
          { kind: 'button', id: 'bt_other', name: 'secret label', does: { kind: 'run', automation: 'au_other' }, width: 3 },
          { kind: 'button', id: 'bt_form', name: 'secret way', does: { kind: 'page', page: { kind: 'form', form: 'fm_other' } }, width: 3 },
        ],
      },
    },
  ];
  const made = applyChanges(whole, changes);
  if (!made.ok) throw new Error(JSON.stringify(made.issues));
  return made.design;
}

const keeper = (given: Grants): Person => ({
  id: 7,
  name: 'Bede Lunn',
  mail: 'bede@quillmoor.example',
  role: 'member',
  roles: ['keeper'],
  ties: given.isTied ? { tie_home: 1 } : {},
});

describe('what the browser of a member is told of a design', () => {
  test('is a design that names nothing that is not in it, for any grants', () => {
    fc.assert(
      fc.property(sets, (given) => {
        const told = designFor(designWith(given), keeper(given));
        expect(AppDesignShape.safeParse(told).error).toBeUndefined();
        for (const [name, part] of everyPart(told))
          for (const { to, id, table } of partKind(name).references(part, told)) {
            // Rows of pages come with their answers.
            if (to === 'table' && id === 'rows') continue;
            const ids =
              to === 'field' ? told.tables.filter((each) => table === undefined || each.id === table).flatMap((each) => each.fields) : partsOf(told, to);
            expect([name, to, id, ids.some((anyPart) => anyPart.id === id)]).toEqual([name, to, id, true]);
          }
        for (const place of expressionsOf(told))
          expect([place.label, place.text === withheldExpression || check(place.text, { design: told, table: place.table }, wants.anything).ok]).toEqual([
            place.label,
            true,
          ]);
      }),
    );
  });

  test('says nothing of hidden tables and fields, of other roles, and of what only the server asks', () => {
    fc.assert(
      fc.property(sets, (given) => {
        const design = designWith(given);
        const told = designFor(design, keeper(given));
        const text = JSON.stringify(told);
        expect(text).not.toContain('secret');
        expect(text).not.toContain('"other"');
        // One that they can run by hand is told by its name alone.
        for (const each of told.automations) expect([each.id, each.steps, each.condition, each.startedBy]).toEqual(['au_hand', [], '', undefined]);
        const hidden = [
          ...(given.apiaries === null || (!given.apiaries.see && !given.apiaries.add) ? apiaries.fields : []).map((each) => each.id),
          ...(given.hives === null || (!given.hives.see && !given.hives.add) ? hives.fields : []).map((each) => each.id),
          ...(given.apiaries?.hidden ?? []),
          ...(given.hives?.hidden ?? []),
          ...(given.up ? ['hives_up'] : []),
        ];
        for (const id of hidden) expect(text).not.toContain(`"${id}"`);
        if (hidden.includes('h_year')) expect(text).not.toContain('Queen year');
        // Checks are told to who can break them, where they read nothing else than what they see of the record.
        const checks = told.tables.flatMap((table) => table.checks.map((each) => each.id));
        const mayBreak = given.hives?.add === true;
        expect(checks).toEqual([
          ...(mayBreak && !hidden.includes('h_code') ? ['ck_code'] : []),
          ...(mayBreak && !hidden.includes('h_year') ? ['ck_year'] : []),
        ]);
      }),
    );
  });

  test('is one object for people with the same roles, and the whole design for a builder', () => {
    const given: Grants = { apiaries: null, hives: { see: true, add: false, condition: '', hidden: ['h_year'] }, up: false, isTied: false };
    const design = designWith(given);
    expect(designFor(design, keeper(given))).toBe(designFor(design, { ...keeper(given), id: 8, name: 'Ines Varr' }));
    expect(designFor(design, { ...keeper(given), role: 'builder' })).toBe(design);
    const told = designFor(design, keeper(given));
    expect(told.forms.map((form) => [form.id, form.roles])).toEqual([
      ['fm_hives', []],
      ['fm_short', ['keeper']],
      ['fm_around', []],
      ['fm_both', ['keeper']],
      ['fm_apiaries', []],
    ]);
    expect(told.tables.map((table) => [table.id, table.fields.map((each) => each.id)])).toEqual([
      ['hives', ['h_code', 'h_state', 'hives_up', 'h_age']],
      ['apiaries', []],
    ]);
    expect(told.tables[0]?.caption).toBe(withheldExpression);
    // A condition that speaks of a hidden field is not told, nor anything that shows it.
    expect(told.forms[1]?.items.map((item) => [itemKey(item), 'shownIf' in item ? item.shownIf : undefined])).toEqual([
      ['h_code', withheldExpression],
      ['tb_more', undefined],
      ['hd_queen', undefined],
      ['tx_help', undefined],
      ['h_age', undefined],
    ]);
    const asTold = (id: string) => told.forms.find((form) => form.id === id)?.items.map(itemKey);
    expect(asTold('fm_around')).toEqual(['bt_hand', 'bt_season', 'bt_web']);
    const board = told.lists.find((list) => list.id === 'l_board');
    expect([board?.order, board?.sums, board?.quickFilters, board?.condition, board?.tones]).toEqual([
      [{ field: 'h_code', direction: 'up' }],
      [],
      ['h_state'],
      '',
      [],
    ]);
    // What their menu leads to is called by its name, and comes with its answer.
    expect([told.queries, told.reports, told.dashboards].map((parts) => parts.map((part) => part.name))).toEqual([['Old'], ['All'], ['Season']]);
    expect(told.dashboards[0]?.tiles.map((tile) => tile.name)).toEqual(['One']);
    expect(told.routes[0]?.moves.map((move) => [move.id, move.guard, move.roles])).toEqual([['mo_on', withheldExpression, ['keeper']]]);
  });
});
