import { describe, expect, test } from 'vitest';
import type { AppDesign } from '../design/design.js';
import { parseDesign } from '../parts/parse.js';
import { difference } from '../migration/difference.js';
import { designOf, field, table, whole } from '../parts/sample.js';
import { proposedMerge } from './merge-tables.js';
import type { Rearrangement } from './plans.js';
import { rearranged, type Rearranged } from './rearranged.js';
import { Impossible } from './rearrangement.js';
import { repeatsOf, compileRepeats } from './table-repeats.js';
import { swapped, withChanges } from './tools.js';

const toTable = (table: string, field: string, carried: readonly string[] = []): Rearrangement => ({
  kind: 'field_to_table',
  table,
  field,
  made: { id: 'new_table', name: 'New things', form: 'new_form', list: 'new_list', nameField: 'new_name', nameLabel: 'Name' },
  relationship: { id: 'new_relationship', field: 'new_reference', childrenName: 'Old things' },
  carried: carried.map((id) => ({ field: id, to: `to_${id}` })),
});
const several = (relationship: string): Rearrangement => ({
  kind: 'several_parents',
  relationship,
  link: { id: 'new_link', form: 'new_form', list: 'new_list', together: 'new_together' },
  parent: { relationship: 'new_up', field: 'new_up_field', shownAs: 'Ups' },
  child: { relationship: 'new_down', field: 'new_down_field', shownAs: 'Downs' },
});
const merge = (design: AppDesign, from: string, into: string): Rearrangement => {
  let made = 0;
  return proposedMerge(design, from, into, (kind) => `merged_${kind}${(made += 1)}`);
};
/** What comes of a plan; the sentence when it can't be done. */
function outcome(design: AppDesign, plan: Rearrangement): Rearranged | string {
  try {
    return rearranged(design, plan, 'app');
  } catch (error) {
    if (error instanceof Impossible) return error.message;
    throw error;
  }
}

describe('every part of a design with one of everything gives a whole design, or a sentence that says why not', () => {
  const plans: (readonly [string, Rearrangement])[] = whole.tables.flatMap((of) =>
    of.fields.flatMap((each): (readonly [string, Rearrangement])[] => [
      [`${of.name}.${each.name} as a table`, toTable(of.id, each.id)],
      ...whole.relationships
        .filter((way) => way.child === of.id)
        .map((way): readonly [string, Rearrangement] => [
          `${of.name}.${each.name} over ${way.id}`,
          { kind: 'move_fields', relationship: way.id, carried: [{ field: each.id, to: 'moved_field' }] },
        ]),
    ]),
  );
  plans.push(...whole.relationships.map((relationship): readonly [string, Rearrangement] => [`several of ${relationship.id}`, several(relationship.id)]));
  for (const from of whole.tables) for (const into of whole.tables) plans.push([`${from.name} merged into ${into.name}`, merge(whole, from.id, into.id)]);
  // What nothing moves along a route, and no person is tied to, can be merged either way.
  const free = withChanges(whole, [
    { kind: 'remove', part: 'route', id: whole.routes[0]?.id ?? '' },
    { kind: 'remove', part: 'tie', id: whole.ties[0]?.id ?? '' },
  ]);
  let done = 0;
  test.each(plans)('%s', (_, plan) => allGoesOn(whole, plan));
  test.each([
    ['apiaries', 'hives'],
    ['hives', 'apiaries'],
  ])('%s merged into %s, once nothing holds it', (from, into) => allGoesOn(free, merge(free, from, into)));
  function allGoesOn(design: AppDesign, plan: Rearrangement): void {
    const made = outcome(design, plan);
    if (typeof made === 'string') {
      expect(made).toMatch(/[.!?”]$/u);
      return;
    }
    done += 1;
    expect(parseDesign(JSON.parse(JSON.stringify(made.after)))).toEqual(made.after);
    // The migration can be planned for each step, there and back.
    const place = { schema: 'app', keptSchema: 'app_kept', stamp: 'v2', setAside: [], prepared: new Set<string>() };
    for (const [from, to] of [
      [design, made.between],
      [made.between, made.after],
      [made.after, made.between],
      [made.between, design],
    ] as const)
      expect(difference(from, to, place).steps.length).toBeGreaterThan(0);
    for (const { sql } of [...made.moves.there, ...made.moves.back('now()')]) expect(sql.join(' ')).not.toMatch(/undefined|\[object/u);
  }
  test('most of them can be done', () => expect(done).toBeGreaterThan(plans.length / 4));
});

const texts = [
  field({ kind: 'text', id: 'code', name: 'Code' }),
  field({ kind: 'text', id: 'region', name: 'Region' }),
  field({ kind: 'text', id: 'warden', name: 'Warden' }),
];
const yard = designOf([table('hives', 'Hives', texts)]);

test('expressions walk to the new table, and screens show the reference where the text was', () => {
  const design = designOf([
    table('hives', 'Hives', [...texts, field({ kind: 'formula', id: 'told', name: 'Told', expression: 'Code + " in " + Region' })]),
    { kind: 'change_table', table: 'hives', caption: 'Code + ", " + Region' },
  ]);
  const { after } = outcome(design, toTable('hives', 'region', ['warden'])) as Rearranged;
  const [hives] = after.tables;
  expect(hives?.caption).toBe('Code + ", " + Region.Name');
  expect(hives?.fields.map((field) => [field.id, field.name, field.kind === 'formula' ? field.expression : field.kind])).toEqual([
    ['code', 'Code', 'text'],
    ['new_reference', 'Region', 'reference'],
    ['warden', 'Warden', 'Region.Warden'],
    ['told', 'Told', 'Code + " in " + Region.Name'],
  ]);
  expect(after.lists[0]?.columns).toEqual(design.lists[0]?.columns.map((id) => (id === 'region' ? 'new_reference' : id)));
  expect(JSON.stringify(after.forms[0])).toBe(JSON.stringify(design.forms[0]).replace('"region"', '"new_reference"'));
});

test('ids are replaced wherever they are, and what has none stays the same object', () => {
  const ids = new Map([['old', 'new']]);
  const [kept, changed] = [{ list: ['one', 'two'] }, { old: ['old', { deep: 'old' }] }];
  const result = swapped({ kept, changed }, ids);
  expect(result).toEqual({ kept, changed: { new: ['new', { deep: 'new' }] } });
  expect(result.kept).toBe(kept);
});

describe('what records repeat', () => {
  const hives = yard.tables[0] as AppDesign['tables'][number];
  const rows = (count: number, regions: number): string[][] =>
    Array.from({ length: count }, (_, i) => [`H-${i}`, i % 7 === 0 ? ` REGION ${i % regions}` : `Region ${i % regions}`, `Warden ${i % regions}`]);

  test('is a text that many have, with what follows from it', () =>
    expect(repeatsOf(yard, hives, rows(200, 5))).toEqual([{ field: 'region', values: 5, records: 200, carried: ['warden'] }]));
  test('is nothing where each record says something else', () => expect(repeatsOf(yard, hives, rows(200, 200))).toEqual([]));
  test('is nothing where there are hardly any records', () => expect(repeatsOf(yard, hives, rows(4, 2))).toEqual([]));
  test('is looked for in as many records as can be looked through at once', () => expect(compileRepeats(yard, hives, 'app').params).toEqual([10_000]));
});
