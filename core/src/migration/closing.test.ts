import { expect, test } from 'vitest';
import { applyChanges } from '../parts/change.js';
import type { DesignChange } from '../parts/design-change.js';
import type { AppDesign } from '../design/design.js';
import { FieldPlan } from '../fields/kinds.js';
import { emptyDesign } from '../parts/parse.js';
import { tablesToClose } from './closing.js';
import { difference } from './difference.js';

const field = (more: object): FieldPlan => FieldPlan.parse({ name: 'Name', kind: 'text', ...more });
const table = (id: string, name: string): DesignChange => ({
  kind: 'add_table',
  id,
  name,
  description: '',
  section: '',
  form: `fm_${id}`,
  list: `l_${id}`,
  fields: [field({ id: `${id}_name` }), field({ id: `${id}_size`, kind: 'whole', name: 'Size' })],
});
const refers = (parent: string, child: string, more: object = {}): DesignChange => ({
  kind: 'add_relationship',
  id: `r_${child}_${parent}`,
  parent,
  child,
  fieldId: `${child}_${parent}`,
  fieldName: parent,
  childrenName: child,
  required: false,
  whenParentRemoved: 'refuse',
  ...more,
});
function changed(design: AppDesign, ...changes: DesignChange[]): AppDesign {
  const result = applyChanges(design, changes);
  if (!result.ok) throw new Error(JSON.stringify(result.issues));
  return result.design;
}
// In the design, parents come first.
const apiary = changed(
  emptyDesign('Honey'),
  ...[table('apiaries', 'Apiaries'), table('hives', 'Hives'), table('visits', 'Visits'), table('jars', 'Jars')],
  ...[refers('apiaries', 'hives'), refers('hives', 'visits')],
);
const schema = 'app_x';
const closedBy = (...changes: DesignChange[]): readonly string[] => {
  const context = { schema, keptSchema: 'app_x_kept', stamp: 'v9', setAside: [], prepared: new Set<string>() };
  const { steps } = difference(apiary, changed(apiary, ...changes), context);
  return tablesToClose(
    apiary,
    steps.flatMap((step) => step.sql),
    schema,
  ).map((name) => name.replaceAll(/"app_x"\.|"/gu, ''));
};

test.each<[string, DesignChange[], string[]]>([
  ['another label closes none', [{ kind: 'change_table', table: 'jars', name: 'Glasses' }], []],
  ['a new table closes none', [table('lids', 'Lids')], []],
  ['a new field closes its table', [{ kind: 'add_field', table: 'jars', field: field({ id: 'jars_lid', name: 'Lid' }) }], ['jars']],
  ['a new relationship closes both', [refers('apiaries', 'jars')], ['apiaries', 'jars']],
  ['a relationship that goes closes both, children first', [{ kind: 'remove_field', table: 'visits', field: 'visits_hives' }], ['visits', 'hives']],
  [
    'another rule of a relationship closes both',
    [{ kind: 'change_relationship', relationship: 'r_visits_hives', whenParentRemoved: 'clear' }],
    ['visits', 'hives'],
  ],
  [
    'an index closes its table',
    [{ kind: 'change_field', table: 'jars', field: field({ id: 'jars_size', kind: 'whole', name: 'Size', indexed: true }) }],
    ['jars'],
  ],
])('%s', (_, changes, closed) => {
  expect(closedBy(...changes)).toEqual(closed);
});

test('an index that goes closes its table, though no statement names that', () => {
  const indexed = changed(apiary, { kind: 'change_field', table: 'jars', field: field({ id: 'jars_size', kind: 'whole', name: 'Size', indexed: true }) });
  expect(tablesToClose(indexed, ['DROP INDEX IF EXISTS "app_x"."jars_size_filter"'], schema)).toEqual(['"app_x"."jars"']);
});

test('tables that refer to each other in a circle come once each', () => {
  const circle = changed(apiary, refers('visits', 'apiaries'));
  const all = ['apiaries', 'hives', 'visits'].map((slug) => `UPDATE "app_x"."${slug}" SET name = NULL`);
  expect([...tablesToClose(circle, all, schema)].sort()).toEqual(['"app_x"."apiaries"', '"app_x"."hives"', '"app_x"."visits"']);
});
