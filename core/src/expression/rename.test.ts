import { describe, expect, test } from 'vitest';
import { applyChange } from '../parts/change.js';
import type { DesignChange } from '../parts/design-change.js';
import type { AppDesign } from '../design/design.js';
import { designMessage } from '../parts/issues.js';
import { listFor, tableOf } from '../design/read.js';
import { designOf, field } from '../parts/sample.js';
import { renamed } from './rename.js';
import { changes, design, scope } from './sample.js';

describe('renaming', () => {
  const bare = designOf([
    ...changes,
    {
      kind: 'add_field',
      table: 'hives',
      field: field({ kind: 'formula', id: 'h_total', name: 'Total', expression: 'Unit price * count( Visits[Mites > 3] ) // the "Unit price" stays' }),
    },
    { kind: 'change_table', table: 'visits', checks: [{ id: 'k_a', condition: 'Hive.Unit price > 0 or Hive.Apiary.Region = "Moor"', message: 'No' }] },
  ]);
  const visits = listFor(bare, 'visits');
  const listed = applyChange(bare, { kind: 'put', part: 'list', value: { ...visits, condition: 'Hive.Total > 5' } });
  if (!listed.ok) throw new Error('The condition of the list is refused');
  const before = listed.design;
  const after = (change: DesignChange): AppDesign => {
    const result = applyChange(before, change);
    if (!result.ok) throw new Error(result.issues.map(designMessage).join(' '));
    return result.design;
  };
  const formulaIn = (appDesign: AppDesign): string => {
    const total = tableOf(appDesign, 'hives').fields.find((each) => each.id === 'h_total');
    return total?.kind === 'formula' ? total.expression : '';
  };
  test('a field is renamed in every expression that names it, and nothing else is touched', () => {
    const now = after({ kind: 'change_field', table: 'hives', field: field({ kind: 'decimal', id: 'h_price', name: 'Price of one' }) });
    expect(formulaIn(now)).toBe('Price of one * count( Visits[Mites > 3] ) // the "Unit price" stays');
    expect(tableOf(now, 'visits').checks[0]?.condition).toBe('Hive.Price of one > 0 or Hive.Apiary.Region = "Moor"');
    expect(now.lists.find((list) => list.id === 'l_visits')?.condition).toBe('Hive.Total > 5');
  });
  test('a field is renamed where a part of it is named', () => {
    const made = designOf([
      {
        kind: 'add_table',
        id: 'shops',
        name: 'Shops',
        description: '',
        section: '',
        form: 'fm_shops',
        list: 'l_shops',
        fields: [
          field({ kind: 'address', id: 's_address', name: 'Address' }),
          field({ kind: 'formula', id: 's_town', name: 'Town', expression: 'Address.city + ", " + Address' }),
        ],
      },
    ]);
    const now = applyChange(made, { kind: 'change_field', table: 'shops', field: field({ kind: 'address', id: 's_address', name: 'Where it is' }) });
    const town = now.ok ? tableOf(now.design, 'shops').fields.find((each) => each.id === 's_town') : undefined;
    expect(town).toMatchObject({ expression: 'Where it is.city + ", " + Where it is' });
  });
  test('the children of a relationship are renamed', () =>
    expect(formulaIn(after({ kind: 'change_relationship', relationship: 'r_visits', childrenName: 'Looks' }))).toContain('count( Looks[Mites > 3] )'));
  test('a choice is renamed where it is compared', () => {
    const now = after({
      kind: 'change_field',
      table: 'apiaries',
      field: field({
        kind: 'choice',
        id: 'a_region',
        name: 'Region',
        choices: [
          { id: 'moor', label: 'High moor' },
          { id: 'coast', label: 'Coast' },
        ],
      }),
    });
    expect(tableOf(now, 'visits').checks[0]?.condition).toContain('"High moor"');
  });
  test('a caption follows its field', () =>
    expect(tableOf(after({ kind: 'change_field', table: 'hives', field: field({ kind: 'text', id: 'h_code', name: 'Mark' }) }), 'hives').caption).toBe('Mark'));
  test('a name that becomes shared is written by its column', () => {
    const now = after({ kind: 'add_field', table: 'hives', field: field({ kind: 'decimal', id: 'h_other', name: 'Unit price (old)' }) });
    expect(formulaIn(now)).toContain('Unit price *');
    const clash = after({ kind: 'add_field', table: 'hives', field: field({ kind: 'decimal', id: 'h_other', name: 'Unit price, %' }) });
    expect(formulaIn(clash)).toContain('unit_price *');
  });
  test.each<[DesignChange, RegExp]>([
    [{ kind: 'remove_field', table: 'hives', field: 'h_price' }, /^It is still used in the formula Total of Hives.*\. Take it out there first\.$/u],
    [{ kind: 'remove', part: 'table', id: 'visits' }, /^It is still used in the formula Total of Hives/u],
    [{ kind: 'change_field', table: 'hives', field: field({ kind: 'text', id: 'h_price', name: 'Unit price' }) }, /cannot be multiplied/u],
    [
      { kind: 'add_field', table: 'hives', field: field({ kind: 'formula', id: 'h_a', name: 'Loop', expression: 'Loop + 1' }) },
      /it goes in a circle: Hives.Loop needs Hives.Loop/u,
    ],
    [{ kind: 'put', part: 'list', value: { ...visits, condition: 'Mites' } }, /The condition of the list Visits: This must be yes or no/u],
    [
      { kind: 'change_field', table: 'hives', field: field({ kind: 'whole', id: 'h_queen', name: 'Queen year', default: '"x"' }) },
      /The default of Queen year in Hives: This must be a number/u,
    ],
  ])('what an expression needs is not taken away: %j', (change, message) => {
    const result = applyChange(before, change);
    expect(result.ok ? '' : result.issues.map(designMessage).join(' ')).toMatch(message);
  });
  test('a text that cannot be read is left alone', () => expect(renamed('Unit price +', scope, design)).toBe('Unit price +'));
});
