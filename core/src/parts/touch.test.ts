import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { AppDesign } from '../design/design.js';
import { tableOf } from '../design/read.js';
import { changes as honey } from '../expression/sample.js';
import { applyChange } from './change.js';
import type { DesignChange } from './design-change.js';
import { withRenamed } from './expressions.js';
import { parseDesign } from './parse.js';
import { designOf, field } from './sample.js';
import { touchOf } from './touch.js';

/** A change reads again only what it can touch. Here everything is read again after it, and has to come out the same. */
const formula = (id: string, name: string, expression: string): DesignChange => ({
  kind: 'add_field',
  table: 'hives',
  field: field({ kind: 'formula', id, name, expression }),
});
const begun = designOf([
  ...honey,
  formula('h_total', 'Total', 'Unit price * count( Visits[Mites > 3] )'),
  formula('h_more', 'More', 'Total + Queen year'),
  formula('h_most', 'Most', 'if More > 3 then More else Total'),
  { kind: 'change_table', table: 'visits', checks: [{ id: 'k_a', condition: 'Hive.Most > 0 or Hive.Apiary.Region = "Moor"', message: 'No' }] },
  { kind: 'put', part: 'tie', value: { id: 'tie_home', name: 'Home', table: 'apiaries' } },
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
        {
          id: 'g_a',
          table: 'hives',
          see: true,
          add: false,
          change: false,
          remove: false,
          export: false,
          condition: 'Apiary = me.Home',
          hidden: [],
          locked: [],
        },
      ],
    },
  },
]);

const names = ['Unit price', 'Price', 'Queen', 'Queen year', 'Total', 'More', 'Brood', 'Gentle', 'Code', 'Unit', 'Sale-price', 'Mites', 'Home'];
const expressions = ['1', 'Queen year', '"a"', 'Unit price - 1', 'Code', 'count(Visits)', 'Total', 'More', 'Gentle', 'Sale-price'];
const anyName = fc.constantFrom(...names);
const anyChange = (design: AppDesign): fc.Arbitrary<DesignChange> => {
  const hives = tableOf(design, 'hives');
  const own = hives.fields.filter((each) => each.kind !== 'reference');
  return fc.oneof(
    fc.tuple(fc.constantFrom(...own), anyName).map(([each, name]): DesignChange => ({ kind: 'change_field', table: 'hives', field: { ...each, name } })),
    fc
      .tuple(fc.constantFrom(...own.filter((each) => each.kind === 'formula')), fc.constantFrom(...expressions))
      .map(([each, expression]): DesignChange => ({ kind: 'change_field', table: 'hives', field: { ...each, expression } as never })),
    fc.constantFrom(...own).map((each): DesignChange => ({ kind: 'remove_field', table: 'hives', field: each.id })),
    fc
      .tuple(anyName, fc.constantFrom('text', 'whole', 'decimal'), fc.constantFrom('hives', 'visits', 'apiaries'), fc.nat())
      .map(([name, kind, table, n]): DesignChange => ({ kind: 'add_field', table, field: field({ kind, id: `x_${n % 1000}`, name }) })),
    fc.constantFrom<DesignChange>(
      { kind: 'remove', part: 'tie', id: 'tie_home' },
      { kind: 'put', part: 'tie', value: { id: 'tie_home', name: 'Place', table: 'apiaries' } },
      { kind: 'change_relationship', relationship: 'r_visits', childrenName: 'Calls' },
      { kind: 'change_relationship', relationship: 'r_visits', childrenName: 'Visits' },
    ),
  );
};

test('after changes in any order the whole design can still be read', () => {
  let done = 0;
  fc.assert(
    fc.property(fc.infiniteStream(fc.nat({ max: 2 ** 30 })), (seeds) => {
      let design = begun;
      for (let i = 0; i < 6; i += 1) {
        const seed = seeds.next().value as number;
        const [change] = fc.sample(anyChange(design), { seed, numRuns: 1 });
        if (change === undefined) continue;
        const result = applyChange(design, change);
        if (!result.ok) continue;
        done += 1;
        const all = withRenamed(design, result.design, () => true);
        expect(JSON.stringify(all)).toBe(JSON.stringify(result.design));
        // It throws when an expression of the design cannot be read.
        expect(parseDesign(JSON.parse(JSON.stringify(result.design)))).toEqual(result.design);
        design = result.design;
      }
    }),
    { numRuns: 150 },
  );
  expect(done).toBeGreaterThan(200);
});

describe('a change touches', () => {
  const touched = (change: DesignChange): ((text: string, table?: string) => boolean) => {
    const result = applyChange(begun, change);
    if (!result.ok) throw new Error('The change is refused');
    const { canTouch } = touchOf(begun, result.design);
    return (text, table = 'hives') => canTouch(text, table);
  };
  test('what names the changed field, and what names a formula that does', () => {
    const code = tableOf(begun, 'hives').fields.find((each) => each.id === 'h_price');
    const canTouch = touched({ kind: 'change_field', table: 'hives', field: { ...code, digits: 4 } as never });
    expect([canTouch('Unit  price + 1'), canTouch('Total'), canTouch('Hive.Most > 0', 'visits'), canTouch('Gentle'), canTouch('Unit price', 'visits')]).toEqual(
      [true, true, true, false, false],
    );
  });
  test('nothing, where it only moves a field or says something of a table', () => {
    const canTouch = touched({ kind: 'move_field', table: 'hives', field: 'h_code', to: 3 });
    expect(canTouch('Code')).toBe(false);
    expect(touched({ kind: 'change_table', table: 'hives', description: 'Boxes with bees' })('Code')).toBe(false);
  });
});
