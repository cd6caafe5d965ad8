import { describe, expect, test } from 'vitest';
import type { AppDesign } from '../design/design.js';
import { parseDesign } from '../parts/parse.js';
import type { DesignChange } from '../parts/design-change.js';
import { designOf, field, link, related, table } from '../parts/sample.js';
import { isAlike, proposedMerge } from './merge-tables.js';
import type { MergeTables } from './plans.js';
import { rearranged } from './rearranged.js';
import { Impossible } from './rearrangement.js';

const column = (id: string, expression: string) => ({ id, name: id, expression, summary: null, digits: null });
const question = (table: string, condition: string, ...expressions: string[]) => ({
  table,
  condition,
  columns: expressions.map((expression, i) => column(`c_${i}`, expression)),
});
const grant = (id: string, of: string, more: object = {}) => ({
  id,
  table: of,
  see: true,
  add: false,
  change: false,
  remove: false,
  export: false,
  condition: '',
  hidden: [],
  locked: [],
  ...more,
});
const changes: readonly DesignChange[] = [
  table('apiaries', 'Apiaries', [field({ kind: 'text', id: 'a_name', name: 'Name' })]),
  table('keepers', 'Keepers', [
    field({ kind: 'text', id: 'k_name', name: 'Name', required: true }),
    field({ kind: 'mail_address', id: 'k_mail', name: 'Mail', unique: true }),
    field({ kind: 'text', id: 'k_phone', name: 'Phone' }),
    field({ kind: 'formula', id: 'k_reached', name: 'Reached', expression: 'Phone' }),
  ]),
  table('helpers', 'Helpers', [
    field({ kind: 'text', id: 'h_name', name: 'Called', required: true }),
    field({ kind: 'mail_address', id: 'h_mail', name: 'Mail' }),
    field({ kind: 'decimal', id: 'h_rate', name: 'Day rate', digits: 2, unique: true }),
    field({ kind: 'text', id: 'h_phone', name: 'Phone', required: true }),
    field({ kind: 'running_number', id: 'h_number', name: 'Number' }),
    field({ kind: 'formula', id: 'h_told', name: 'Told', expression: 'Called + " (" + string(Day rate) + ")"' }),
  ]),
  table('visits', 'Visits', [field({ kind: 'date', id: 'v_day', name: 'Day', required: true })]),
  related('apiaries', 'helpers', 'Apiary', 'Helpers'),
  related('helpers', 'visits', 'Helper', 'Visits'),
  link('abroad', 'Helpers abroad', ['helpers', 'Far apiaries', 'Helper'], ['apiaries', 'Far helpers', 'Apiary']),
  { kind: 'add_field', table: 'visits', field: field({ kind: 'formula', id: 'v_by', name: 'By', expression: 'Helper.Told + ", " + Helper.Called' }) },
  { kind: 'add_field', table: 'apiaries', field: field({ kind: 'formula', id: 'a_cost', name: 'Cost', expression: 'sum(Helpers.Day rate)' }) },
  { kind: 'add_field', table: 'helpers', field: field({ kind: 'formula', id: 'h_visits', name: 'Times', expression: 'count(Visits)' }) },
  { kind: 'change_table', table: 'helpers', checks: [{ id: 'ck_rate', condition: 'Day rate > 0', message: 'A day costs something.' }] },
  { kind: 'change_table', table: 'keepers', checks: [{ id: 'ck_name', condition: 'string length(Name) > 1', message: 'Write the whole name.' }] },
  {
    kind: 'put',
    part: 'query',
    value: {
      id: 'q_dear',
      name: 'Dear',
      description: '',
      section: '',
      order: [],
      limit: null,
      ...question('helpers', 'Day rate > 100', 'Called', 'Apiary.Name'),
    },
  },
  {
    kind: 'put',
    part: 'query',
    value: { id: 'q_all', name: 'All keepers', description: '', section: '', order: [], limit: null, ...question('keepers', '', 'Name') },
  },
  {
    kind: 'put',
    part: 'report',
    value: {
      id: 'rep_helpers',
      name: 'Helpers',
      description: '',
      section: '',
      source: { kind: 'table', ...question('helpers', '', 'Called') },
      fields: [{ column: 'c_0', share: 8, wraps: true, total: null }],
      groups: [],
      order: [],
      arrangement: 'columns',
      paper: { size: 'a4', turned: false },
    },
  },
  {
    kind: 'put',
    part: 'role',
    value: {
      id: 'yard',
      name: 'Yard',
      description: '',
      everything: false,
      menu: [],
      grants: [
        grant('g_helpers', 'helpers', { add: true, condition: 'Day rate < 50', locked: ['h_phone'] }),
        grant('g_keepers', 'keepers', { hidden: ['k_phone'] }),
      ],
    },
  },
  {
    kind: 'put',
    part: 'automation',
    value: {
      id: 'au_hire',
      name: 'Hire',
      description: '',
      section: '',
      isOn: true,
      table: 'visits',
      on: 'added',
      fields: [],
      moves: [],
      condition: 'Helper = null',
      steps: [{ kind: 'add', id: 'st_one', table: 'helpers', values: [{ field: 'h_name', itself: false, expression: '"Somebody"' }] }],
    },
  },
];
const before = designOf(changes);

function planFor(design: AppDesign, from: string, into: string): MergeTables {
  let made = 0;
  return proposedMerge(design, from, into, (kind) => `new_${kind}${(made += 1)}`);
}
/** The plan that says which field the first one is. */
function plan(): MergeTables {
  const proposed = planFor(before, 'helpers', 'keepers');
  return { ...proposed, carried: proposed.carried.map((each) => (each.field === 'h_name' ? { ...each, to: 'k_name' } : each)) };
}
function refusal(design: AppDesign, asked: MergeTables): string | null {
  try {
    rearranged(design, asked, 'app');
    return null;
  } catch (error) {
    if (error instanceof Impossible) return error.message;
    throw error;
  }
}

describe('two tables become one', () => {
  const { after } = rearranged(before, plan(), 'app');
  const keepers = after.tables.find((each) => each.id === 'keepers');
  const named = (name: string) => keepers?.fields.find((each) => each.name === name);

  test('which is a whole design, without the table that went', () => {
    expect(parseDesign(JSON.parse(JSON.stringify(after)))).toEqual(after);
    expect(after.tables.map((each) => each.name)).toEqual(['Apiaries', 'Keepers', 'Visits', 'Helpers abroad']);
    expect(JSON.stringify(after)).not.toMatch(/"(?:table|parent|child)":"helpers"|h_number|r_helpers|r_visits|visits_up/u);
  });
  test('with the fields of both: those of one name and kind once, the others under a free name', () => {
    expect(keepers?.fields.map((each) => [each.name, each.kind])).toEqual([
      ['Name', 'text'],
      ['Mail', 'mail_address'],
      ['Phone', 'text'],
      ['Reached', 'formula'],
      ['Kind', 'choice'],
      ['Day rate', 'decimal'],
      ['Number', 'text'],
      ['Apiary', 'reference'],
      ['Told', 'formula'],
      ['Times', 'formula'],
    ]);
    expect(named('Kind')).toMatchObject({ required: true, default: '"Keepers"', choices: [{ label: 'Keepers' }, { label: 'Helpers' }] });
    expect(named('Day rate')).toMatchObject({ unique: true, required: false });
  });
  test('and expressions that say the same under the new names', () => {
    expect(named('Told')).toMatchObject({ expression: 'Name + " (" + string(Day rate) + ")"' });
    expect(after.tables.find((each) => each.id === 'visits')?.fields.map((each) => [each.name, each.kind === 'formula' ? each.expression : each.kind])).toEqual(
      [
        ['Day', 'date'],
        ['Helper', 'reference'],
        ['By', 'Helper.Told + ", " + Helper.Name'],
      ],
    );
    expect(after.tables.find((each) => each.id === 'apiaries')?.fields.at(-1)).toMatchObject({ expression: 'sum(Helpers.Day rate)' });
  });
  test('pairs are pairs still, and of the other table', () => {
    const abroad = after.tables.find((each) => each.id === 'abroad');
    expect(abroad).toMatchObject({ isLink: true, fields: [{ name: 'Helper' }, { name: 'Apiary' }] });
    expect(after.relationships.filter((each) => each.child === 'abroad').map((each) => [each.parent, each.childrenName])).toEqual([
      ['apiaries', 'Far helpers'],
      ['keepers', 'Far apiaries'],
    ]);
  });
  test('what was made of one of them keeps to its records', () => {
    expect(after.queries.map((each) => [each.table, each.condition, each.columns.map((each) => each.expression)])).toEqual([
      ['keepers', 'Kind = "Helpers" and (Day rate > 100)', ['Name', 'Apiary.Name']],
      ['keepers', 'Kind = "Keepers"', ['Name']],
    ]);
    expect(after.reports[0]?.source).toMatchObject({ table: 'keepers', condition: 'Kind = "Helpers"' });
    expect(after.lists.filter((each) => each.table === 'keepers').map((each) => [each.name, each.condition, each.isDefault])).toEqual([
      ['Keepers', '', true],
      ['Helpers', 'Kind = "Helpers"', false],
    ]);
    expect(keepers?.checks.map((each) => each.condition)).toEqual([
      'not(Kind = "Keepers") or (string length(Name) > 1)',
      'not(Kind = "Helpers") or (Day rate > 0)',
    ]);
  });
  test('what adds records says which they are', () => {
    expect(after.automations[0]?.steps[0]).toMatchObject({
      table: 'keepers',
      values: [
        { field: 'k_name', expression: '"Somebody"' },
        { field: plan().mark.field, expression: '"Helpers"' },
      ],
    });
    const form = after.forms.find((each) => each.name === 'Helpers');
    expect(form?.items).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ field: plan().mark.field, fill: '"Helpers"' }),
        expect.objectContaining({ field: 'k_phone', requiredIf: 'true' }),
      ]),
    );
    const apiary = after.forms.find((each) => each.table === 'apiaries');
    expect(apiary?.items).toEqual(
      expect.arrayContaining([{ kind: 'children', relationship: plan().references[0]?.made, fills: [{ field: plan().mark.field, value: '"Helpers"' }] }]),
    );
  });
  test('nobody sees more than before', () => {
    const rate = named('Day rate')?.id;
    expect(after.roles.find((each) => each.id === 'yard')?.grants).toMatchObject([
      { id: 'g_helpers', table: 'keepers', condition: 'Kind = "Helpers" and (Day rate < 50)', locked: ['k_phone'], hidden: ['k_reached'] },
      {
        id: 'g_keepers',
        table: 'keepers',
        condition: 'Kind = "Keepers"',
        hidden: ['k_phone', rate, named('Number')?.id, named('Apiary')?.id, 'h_told', 'h_visits'],
      },
    ]);
  });
});

describe('what can’t be merged is told', () => {
  const proposed = planFor(before, 'helpers', 'keepers');
  test.each<readonly [string, MergeTables, RegExp]>([
    ['a required field without values', { ...proposed, carried: proposed.carried.filter((each) => each.to !== 'k_name') }, /^Name of Keepers is required/u],
    [
      'two fields for one',
      {
        ...proposed,
        carried: [
          { field: 'h_name', to: 'k_name' },
          { field: 'h_phone', to: 'k_name' },
        ],
      },
      /can’t both be Name/u,
    ],
    ['values that are not alike', { ...proposed, carried: [{ field: 'h_rate', to: 'k_name' }] }, /their values are not alike/u],
    ['what is calculated', { ...proposed, carried: [{ field: 'h_told', to: 'new_told' }] }, /it is calculated/u],
    ['what a relationship is made of', { ...proposed, carried: [{ field: 'helpers_up', to: 'new_up' }] }, /its relationship takes it along/u],
    ['relationships that were left out', { ...plan(), children: [] }, /have changed in the meantime/u],
    ['relationships on the wrong side', { ...plan(), references: plan().children, children: plan().references }, /have changed in the meantime/u],
    ['a table with itself', { ...plan(), into: 'helpers' }, /into itself/u],
    ['a mark with the id of a field', { ...plan(), mark: { field: 'k_phone', name: 'Kind' } }, /./u],
    ['a mark with the name of a field', { ...plan(), mark: { field: 'new_mark', name: 'Phone' } }, /Phone/u],
    [
      'a field with the id of one of a third table',
      { ...plan(), carried: plan().carried.map((each) => (each.field === 'h_rate' ? { ...each, to: 'v_day' } : each)) },
      /./u,
    ],
    ['a relationship with the id of another', { ...plan(), children: plan().children.map((each) => ({ ...each, made: 'r_helpers' })) }, /./u],
    ['two new fields with one id', { ...plan(), went: { relationship: 'new_went', field: plan().mark.field } }, /./u],
    ['a field twice', { ...plan(), carried: [...plan().carried, { field: 'h_rate', to: 'new_twice' }] }, /can’t become two fields/u],
    ['a table that is gone', { ...plan(), into: 'nobody' }, /was removed in the meantime/u],
  ])('%s', (_, asked, told) => expect(refusal(before, asked)).toMatch(told));
});

describe('what keeps records where they are is told, with the way that is left', () => {
  const held = (...more: readonly DesignChange[]): string | null => {
    const design = designOf([...changes, ...more]);
    return refusal(design, planFor(design, 'helpers', 'keepers'));
  };
  const tie = (of: string): DesignChange => ({ kind: 'put', part: 'tie', value: { id: `tie_${of}`, name: 'Own', table: of } });
  const own: DesignChange = {
    kind: 'add_relationship',
    id: 'r_trained',
    parent: 'helpers',
    child: 'helpers',
    fieldId: 'h_trained',
    fieldName: 'Trained by',
    childrenName: 'Trainees',
    required: false,
    whenParentRemoved: 'refuse',
  };
  test('the other way round', () => {
    expect(held(tie('helpers'))).toBe('People are tied to records of Helpers as Own. Merge Keepers into Helpers instead.');
    expect(held(own)).toBe('Records of Helpers refer to each other. Merge Keepers into Helpers instead.');
  });
  test('or what has to go first', () =>
    expect(held(tie('helpers'), { ...tie('keepers'), value: { id: 'tie_k', name: 'Me', table: 'keepers' } } as DesignChange)).toMatch(
      /Remove that tie first/u,
    ));
});

test('fields are alike when each value of one is also a value of the other', () => {
  const alike = (a: object, b: object): boolean => {
    const made = designOf([table('one', 'One', [field({ id: 'one_a', name: 'A', ...a })]), table('two', 'Two', [field({ id: 'two_b', name: 'B', ...b })])]);
    const [first, second] = made.tables.map((each) => each.fields[0]);
    return first !== undefined && second !== undefined && isAlike(made, first, second);
  };
  expect(alike({ kind: 'text' }, { kind: 'text', required: true, unique: true, anyCase: true })).toBe(true);
  expect(alike({ kind: 'text' }, { kind: 'long_text' })).toBe(false);
  expect(alike({ kind: 'decimal', digits: 2 }, { kind: 'decimal', digits: 3 })).toBe(false);
  const number = { kind: 'running_number', pattern: '{0}' };
  expect(alike(number, number)).toBe(false);
  expect(alike({ kind: 'file' }, { kind: 'file' })).toBe(true);
  const choices = (...labels: string[]) => labels.map((label) => ({ id: label.toLowerCase(), label }));
  expect(alike({ kind: 'choice', choices: choices('A', 'B') }, { kind: 'choice', choices: choices('A', 'B') })).toBe(true);
  expect(alike({ kind: 'choice', choices: choices('A', 'B') }, { kind: 'choice', choices: choices('A') })).toBe(false);
});
