import { expect, test } from 'vitest';
import { designOf, field, related, table, whole } from '../parts/sample.js';
import { tablesShowing, tablesTouched } from './touched.js';

const chain = designOf([
  ...['a1', 'b1', 'c1', 'd1'].map((id) => table(id, id.toUpperCase(), [field({ kind: 'text', id: `${id}_name`, name: 'Name' })])),
  related('a1', 'b1', 'Up', 'Below'),
  { kind: 'change_relationship', relationship: 'r_b1', whenParentRemoved: 'remove' },
  related('b1', 'c1', 'Up', 'Below'),
  { kind: 'change_relationship', relationship: 'r_c1', whenParentRemoved: 'clear' },
  related('c1', 'd1', 'Up', 'Below'),
]);

test('a save touches its tables, and a removal what goes or changes with it', () => {
  expect(tablesTouched(chain, [{ kind: 'change', table: 'a1' }])).toEqual(['a1']);
  expect(tablesTouched(chain, [{ kind: 'remove', table: 'a1' }])).toEqual(['a1', 'b1', 'c1']);
  expect(tablesTouched(chain, [{ kind: 'remove', table: 'c1' }])).toEqual(['c1']);
});

test('what an automation writes is touched too, whatever came first', () => {
  const mailing = whole.automations.map((automation) => ({
    ...automation,
    steps: [...automation.steps, { kind: 'add' as const, id: 'st_more', table: 'apiaries', values: [] }],
  }));
  const design = { ...whole, automations: mailing };
  expect(tablesTouched(design, [{ kind: 'change', table: 'hives' }])).toEqual(['hives', 'apiaries']);
  expect(tablesTouched({ ...design, automations: mailing.map((each) => ({ ...each, isOn: false })) }, [{ kind: 'change', table: 'hives' }])).toEqual(['hives']);
});

test('neighbours within two steps can look otherwise; what the design does not know is left out', () => {
  expect(tablesShowing(chain, ['a1'])).toEqual(['a1', 'b1', 'c1']);
  expect(tablesShowing(chain, ['c1', 'hidden'])).toEqual(['c1', 'b1', 'd1', 'a1']);
});
