import { expect, test } from 'vitest';
import type { AppDesign } from '../design/design.js';
import { applyChanges } from '../parts/change.js';
import type { DesignChange } from '../parts/design-change.js';
import { designMessage } from '../parts/issues.js';
import { designOf, field, table } from '../parts/sample.js';
import { viewChange } from './views.js';

const changed = (design: AppDesign, ...changes: readonly DesignChange[]): AppDesign => {
  const made = applyChanges(design, changes);
  if (!made.ok) throw new Error(made.issues.map(designMessage).join(' '));
  return made.design;
};
const choice = field({ kind: 'choice', id: 'h_state', name: 'State', choices: [{ id: 'ok', label: "It's fine" }] });
const start = designOf([
  table('hives', 'Hives', [field({ kind: 'text', id: 'h_code', name: 'Code' }), choice, field({ kind: 'formula', id: 'h_sum', name: 'Sum', expression: '1' })]),
  table('lots', 'Lots', [field({ kind: 'whole', id: 'l_n', name: 'Number' })]),
]);
const between = (before: AppDesign | null, after: AppDesign) => viewChange(before, after, 'app_x', 'app_x_views');

test('shows each table with its stored fields under their labels, choices by theirs, and lets nobody write', () => {
  const { drop, make } = between(null, start);
  expect(drop).toEqual([]);
  expect(make).toEqual([
    `CREATE VIEW "app_x_views"."hives" AS SELECT id, "code" AS "code", CASE "state" WHEN 'ok' THEN 'It''s fine' END AS "state", rev, created_at, created_by, updated_at, updated_by FROM "app_x"."hives"`,
    `CREATE TRIGGER read_only INSTEAD OF INSERT OR UPDATE OR DELETE ON "app_x_views"."hives" FOR EACH ROW EXECUTE FUNCTION bibliona.refuse_write('hives')`,
    expect.stringContaining('"app_x_views"."lots"'),
    expect.stringContaining('"app_x_views"."lots"'),
  ]);
});

test.each<readonly [string, DesignChange, readonly string[], readonly string[]]>([
  ['a new label of a table', { kind: 'change_table', table: 'hives', name: 'Colonies' }, ['hives'], ['colonies']],
  ['a new label of a field', { kind: 'change_field', table: 'hives', field: field({ kind: 'text', id: 'h_code', name: 'Box' }) }, ['hives'], ['hives']],
  [
    'a column of another type under the same label',
    { kind: 'change_field', table: 'lots', field: field({ kind: 'decimal', id: 'l_n', name: 'Number' }) },
    ['lots'],
    ['lots'],
  ],
  [
    'a choice with another label',
    { kind: 'change_field', table: 'hives', field: { ...choice, choices: [{ id: 'ok', label: 'Fine' }] } as never },
    ['hives'],
    ['hives'],
  ],
  ['a table that goes', { kind: 'remove', part: 'table', id: 'lots' }, ['lots'], []],
  ['what is in no view', { kind: 'change_table', table: 'hives', description: 'Boxes' }, [], []],
  ['another formula', { kind: 'change_field', table: 'hives', field: field({ kind: 'formula', id: 'h_sum', name: 'Sum', expression: '2' }) }, [], []],
])('%s drops and makes only the views that differ', (_, change, dropped, made) => {
  const { drop, make } = between(start, changed(start, change));
  expect(drop).toEqual(dropped.map((name) => `DROP VIEW IF EXISTS "app_x_views"."${name}"`));
  expect(make.filter((text) => text.startsWith('CREATE VIEW')).map((text) => /_views"\."(\w+)"/u.exec(text)?.[1])).toEqual(made);
});

test('two tables that exchange their labels are both dropped before either is made', () => {
  const swapped = changed(
    start,
    { kind: 'change_table', table: 'hives', name: 'Other' },
    { kind: 'change_table', table: 'lots', name: 'Hives' },
    { kind: 'change_table', table: 'hives', name: 'Lots' },
  );
  const { drop, make } = between(start, swapped);
  expect(drop).toHaveLength(2);
  expect(make.filter((text) => text.startsWith('CREATE VIEW'))).toEqual([
    expect.stringMatching(/"lots" AS .* FROM "app_x"\."hives"$/u),
    expect.stringMatching(/"hives" AS .* FROM "app_x"\."lots"$/u),
  ]);
});

test('labels that give one name, or that of a system column, are told apart', () => {
  const twice = designOf([
    table('a1', 'A-b', [field({ kind: 'text', id: 'a_x', name: 'C d' }), field({ kind: 'text', id: 'a_y', name: 'C-d' })]),
    table('a2', 'A b', []),
  ]);
  const text = between(null, twice).make.join('\n');
  for (const name of ['"a_b"', '"a_b_2"', '"c_d"', '"c_d_2"']) expect(text).toContain(name);
});
