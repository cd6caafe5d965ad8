import { describe, expect, test } from 'vitest';
import type { AppDesign } from '../design/design.js';
import { FieldPlan } from '../fields/kinds.js';
import { applyChanges } from './change.js';
import type { DesignChange } from './design-change.js';
import { designFromFile } from './from-file.js';
import { designMessage } from './issues.js';
import { DesignInvalid, emptyDesign } from './parse.js';
import { table } from './sample.js';

const field = (id: string, name: string, more: object = {}) => FieldPlan.parse({ id, name, kind: 'text', ...more });
function after(before: AppDesign, ...changes: DesignChange[]): AppDesign {
  const changed = applyChanges(before, changes);
  if (!changed.ok) throw new Error(JSON.stringify(changed.issues));
  return changed.design;
}
const now = after(emptyDesign('Honey'), table('hives', 'Hives', [field('h_code', 'Code')]), table('other', 'Queens', []));
const asFile = (design: AppDesign): Record<string, unknown> => JSON.parse(JSON.stringify(design)) as Record<string, unknown>;

test('a design comes back from its own file as it is', () => expect(designFromFile(asFile(now), now)).toEqual(now));

test('tables and columns of the app keep their names in the database, and new ones get names that are free', () => {
  const given = after(
    emptyDesign('Elsewhere'),
    table('hives', 'Colonies', [field('h_code', 'Mark'), field('h_other', 'Code'), field('h_id', 'Rev number')]),
    table('queens', 'Queens', [field('q_name', 'Name')]),
  );
  const taken = designFromFile(asFile(given), now);
  expect(taken.name).toBe('Honey');
  expect(taken.tables.map((item) => [item.name, item.slug, item.fields.map((each) => each.column)])).toEqual([
    ['Colonies', 'hives', ['code', 'code_2', 'rev_number']],
    ['Queens', 'queens_2', ['name']],
  ]);
});

describe('what is wrong is told with its place', () => {
  const told = (json: unknown): string => {
    try {
      designFromFile(json, now);
      return '';
    } catch (error) {
      if (error instanceof DesignInvalid) return error.issues.map(designMessage).join(' ');
      throw error;
    }
  };
  const edited = (edit: (design: Record<string, unknown>) => void): unknown => {
    const json = asFile(now);
    edit(json);
    return json;
  };
  test.each<[string, unknown, string]>([
    ['no design', [1, 2], 'This file is not the design of an app.'],
    ['nothing', null, 'This file is not the design of an app.'],
    ['a newer one', { format: 999 }, 'This design was made by a newer version of Bibliona. Update this server first.'],
    [
      'a field without a name',
      edited((design) => ((design['tables'] as { fields: { name: string }[] }[])[0]!.fields[0]!.name = '')),
      'tables.0.fields.0.name: needs a name',
    ],
    [
      'a kind that there is not',
      edited((design) => ((design['tables'] as { fields: { kind: string }[] }[])[0]!.fields[0]!.kind = 'colour')),
      'tables.0.fields.0',
    ],
    ['a column of another name', edited((design) => ((design['tables'] as { slug: string }[])[0]!.slug = '_history"; DROP')), 'tables.0.slug'],
    [
      'a list of a table that is not there',
      edited((design) => ((design['lists'] as { table: string }[])[0]!.table = 'nowhere')),
      'There is no table "nowhere"',
    ],
    [
      'a formula of what holds values',
      asFile(after(emptyDesign('X'), table('hives', 'Hives', [field('h_code', 'Code', { kind: 'formula', expression: '1 + 1', digits: null })]))),
      '"Code" cannot turn from values into a formula or back',
    ],
  ])('%s', (_, json, words) => expect(told(json)).toContain(words));
});
