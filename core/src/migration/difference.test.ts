import { describe, expect, test } from 'vitest';
import { applyChanges } from '../parts/change.js';
import type { DesignChange } from '../parts/design-change.js';
import { type AppDesign } from '../design/design.js';
import { FieldPlan } from '../fields/kinds.js';
import { emptyDesign } from '../parts/parse.js';
import { difference } from './difference.js';
import type { SetAside, Migration } from './migration.js';

const field = (more: object): FieldPlan => FieldPlan.parse({ id: 'f_x', name: 'Amount', ...more });
const table: DesignChange = {
  kind: 'add_table',
  id: 'lots',
  name: 'Lots',
  description: '',
  section: '',
  form: 'fm_l',
  list: 'l_l',
  fields: [field({ kind: 'text', id: 'f_name', name: 'Name' })],
};

function design(...changes: DesignChange[]): AppDesign {
  const result = applyChanges(emptyDesign('Honey'), [table, ...changes]);
  if (!result.ok) throw new Error(JSON.stringify(result.issues));
  return result.design;
}
const between = (before: AppDesign, after: AppDesign, setAside: readonly SetAside[] = []): Migration =>
  difference(before, after, { schema: 'app_x', keptSchema: 'app_x_kept', stamp: 'v9', setAside, prepared: new Set() });
const sqlOf = (migration: Migration): string => migration.steps.flatMap((step) => step.sql).join(';\n');
const add = (more: object): DesignChange => ({ kind: 'add_field', table: 'lots', field: field(more) });
const change = (more: object): DesignChange => ({ kind: 'change_field', table: 'lots', field: field(more) });

describe('the difference of two designs', () => {
  test('of a design and itself is nothing', () => {
    const one = design(add({ kind: 'whole' }));
    expect(between(one, one)).toEqual({ steps: [], keeps: [], restores: [], rewrites: [], indexed: [] });
  });

  test('writes the records of a table anew only where a kind changes', () => {
    const one = design(add({ kind: 'whole' }));
    expect(between(design(), one).rewrites).toEqual([]);
    expect(between(one, design(add({ kind: 'decimal', digits: 1 }))).rewrites).toEqual([one.tables[0]?.id]);
  });

  test('makes the index of searching again when another field takes the column that it was on', () => {
    const before = design();
    const taken = applyChanges(before, [
      { kind: 'remove_field', table: 'lots', field: 'f_name' },
      { kind: 'add_field', table: 'lots', field: field({ kind: 'text', id: 'f_other', name: 'Name' }) },
    ]);
    if (!taken.ok) throw new Error(JSON.stringify(taken.issues));
    const sql = sqlOf(between(before, taken.design));
    expect(sql).toContain('DROP INDEX IF EXISTS "app_x"."lots_search"');
    expect(sql.indexOf('CREATE INDEX "lots_search"')).toBeGreaterThan(sql.indexOf('ADD COLUMN "name"'));
  });

  test.each<[string, DesignChange, DesignChange, string[]]>([
    ['a new field is free', { kind: 'rename_app', name: 'Honey' }, add({ kind: 'text' }), ['free']],
    ['a wider number is free', add({ kind: 'whole' }), change({ kind: 'decimal', digits: 2 }), ['free']],
    [
      'a further choice is free',
      add({ kind: 'choice', choices: [{ id: 'a', label: 'A' }] }),
      change({
        kind: 'choice',
        choices: [
          { id: 'a', label: 'A' },
          { id: 'b', label: 'B' },
        ],
      }),
      ['free'],
    ],
    ['a required field needs a look', add({ kind: 'text' }), change({ kind: 'text', required: true }), ['look']],
    ['a field without repetitions needs a look', add({ kind: 'whole' }), change({ kind: 'whole', unique: true }), ['look']],
    ['a kind that not every value fits loses', add({ kind: 'text' }), change({ kind: 'date' }), ['loses']],
    [
      'a choice less loses',
      add({
        kind: 'choice',
        choices: [
          { id: 'a', label: 'A' },
          { id: 'b', label: 'B' },
        ],
      }),
      change({ kind: 'choice', choices: [{ id: 'a', label: 'A' }] }),
      ['loses'],
    ],
    ['fewer digits lose', add({ kind: 'decimal', digits: 3 }), change({ kind: 'decimal', digits: 1 }), ['loses']],
    ['a field less loses', add({ kind: 'whole' }), { kind: 'remove_field', table: 'lots', field: 'f_x' }, ['loses']],
  ])('%s', (_, first, then, effects) => {
    const { steps } = between(design(first), design(first, then));
    expect([...new Set(steps.map((step) => step.effect))].filter((effect) => effect !== 'free' || effects.includes('free')).sort()).toEqual(effects.sort());
    for (const step of steps) expect(step.effect === 'free' || step.probe !== null).toBe(true);
  });

  test('swapped names step aside before they arrive', () => {
    const before = design(add({ kind: 'text' }));
    const fields = before.tables[0]?.fields.map((each, i, all) => ({ ...each, name: all[1 - i]?.name ?? '', column: all[1 - i]?.column ?? '' })) ?? [];
    const after = { ...before, tables: before.tables.map((each) => ({ ...each, fields })) };
    const renames = between(before, after).steps.find((step) => step.description === 'Names change')?.sql ?? [];
    expect(renames.map((text) => /RENAME COLUMN "(\w+)" TO "(\w+)"/u.exec(text)?.slice(1))).toEqual([
      ['name', '__f_name'],
      ['amount', '__f_x'],
      ['__f_name', 'amount'],
      ['__f_x', 'name'],
    ]);
  });

  test('what goes is set aside under a name of this migration, and comes back from there', () => {
    const [before, after] = [design(add({ kind: 'whole' })), design()];
    const away = between(before, after);
    expect(away.keeps).toMatchObject([{ kind: 'field', name: 'f_x_v9', tableId: 'lots', became: null }]);
    const back = between(after, before, away.keeps);
    expect(back.restores).toEqual(away.keeps);
    expect(sqlOf(back)).toContain('SET "amount" = k.value FROM "app_x_kept"."f_x_v9"');
  });

  test('names and words of a design never end a statement early', () => {
    const hostile = design(
      { kind: 'add_table', id: 'pots', name: `Pots'; DROP TABLE x; --`, description: '', section: '', form: 'fm_pots', list: 'l_pots', fields: [] },
      add({ kind: 'text', name: `It's`, default: `"'; DROP TABLE y; --"` }),
    );
    const sql = sqlOf(between(emptyDesign('Honey'), hostile));
    expect(sql).toContain(`'''; DROP TABLE y; --'`);
    expect(sql).not.toMatch(/(?<!')'; DROP TABLE/u);
    expect(sql).toContain('"pots_drop_table_x"');
  });

  test('indexes are told apart, so that a table can be filled first', () => {
    const { steps } = between(emptyDesign('Honey'), design());
    expect(steps.filter((step) => step.isIndex).flatMap((step) => step.sql)).toEqual([expect.stringContaining('USING gin')]);
    expect(steps.at(-1)?.isIndex).toBe(true);
  });
});
