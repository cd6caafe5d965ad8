import { describe, expect, test } from 'vitest';
import { FieldPlan } from '../fields/kinds.js';
import { designOf, field, table } from '../parts/sample.js';
import { changesOf, suggestField, suggestPlan, type ImportPlan } from './plan.js';
import { planProblems } from './plan-problems.js';
import { plainMatching } from './matching.js';
import { plainReading, type ColumnSurvey } from './survey.js';

const column = (name: string, more: Partial<ColumnSurvey> = {}): ColumnSurvey => ({
  name,
  kind: 'text',
  reading: plainReading,
  digits: 1,
  unit: null,
  choices: [],
  filled: 3,
  rows: 3,
  samples: ['a'],
  note: null,
  ...more,
});
const design = designOf([
  table('hives', 'Hives', [field({ kind: 'text', id: 'f_code', name: 'Code', required: true }), field({ kind: 'whole', id: 'f_year', name: 'Queen year' })]),
]);
let ids = 0;
const newId = (): string => `f_new${(ids += 1)}`;
const reading = { format: 'text', headingRows: 1, part: '', range: '', encoding: 'utf-8', delimiter: ',', heading: true, skip: 0 } as const;
const into = (columns: ImportPlan['columns']): ImportPlan => ({
  reading,
  target: { kind: 'table', table: 'hives' },
  columns,
  badCells: 'refuse',
  emptyCells: 'empty',
  things: [],
  computed: [],
  matching: plainMatching,
});

describe('a plan begins with', () => {
  test('fields of the same name, whatever their case, and new ones for the rest', () => {
    expect(suggestPlan([column('CODE'), column('Colour'), column('Nothing', { filled: 0 })], design, 'hives', newId)).toMatchObject([
      { kind: 'field', field: 'f_code' },
      { kind: 'new', field: { name: 'Colour', kind: 'text' } },
      { kind: 'skip' },
    ]);
  });

  test('money of the region where its mark is one of there, else of the likeliest currency', () => {
    const amounts = column('Price', { kind: 'money', unit: 'USD' });
    expect(suggestField(amounts, newId, 'en-GB')).toMatchObject({ kind: 'money', currency: 'USD' });
    expect(suggestField(amounts, newId, 'en-AU')).toMatchObject({ kind: 'money', currency: 'AUD' });
    expect(suggestField({ ...amounts, unit: null }, newId, 'en-GB')).toMatchObject({ currency: 'GBP' });
    expect(suggestField(column('Share', { kind: 'percent', unit: '%', digits: 1 }), newId, 'en-GB')).toMatchObject({ kind: 'percent', digits: 1 });
  });

  test('the record number of our own exports, the first of them', () => {
    expect(suggestPlan([column('Record number'), column('Code'), column('record number')], design, 'hives', newId).map((each) => each.kind)).toEqual([
      'record',
      'field',
      'new',
    ]);
  });

  test('one column for a field, even when two have its name', () => {
    expect(suggestPlan([column('Code'), column('code')], design, 'hives', newId).map((each) => each.kind)).toEqual(['field', 'new']);
  });

  test('choices whose names in the database differ', () => {
    const field = suggestField(column('Stores', { kind: 'choice', choices: ['Low', 'low!', 'Größe'] }), newId, 'en-GB');
    expect(field).toMatchObject({ kind: 'choice', choices: [{ id: 'low' }, { id: 'low_2' }, { id: 'grosse', label: 'Größe' }] });
    expect(FieldPlan.safeParse(field).success).toBe(true);
  });

  test.each(['text', 'long_text', 'whole', 'decimal', 'date', 'yes_no', 'choice'] as const)('a %s that is a whole field', (kind) => {
    expect(FieldPlan.safeParse(suggestField(column('A', { kind, choices: ['x'] }), newId, 'en-GB')).success).toBe(true);
  });
});

describe('a plan is told', () => {
  const field = { kind: 'field', field: 'f_year', reading: plainReading, missing: 'complain' } as const;
  test.each<[string, ImportPlan['columns'], string]>([
    ['when nothing goes in', [{ kind: 'skip' }], 'Choose a field for at least one column.'],
    ['when two columns go into one field', [field, field], 'Two columns go into Queen year. Choose another field for one of them.'],
    ['when a required field has no column', [field], 'Code is required. Choose a column for it.'],
    ['when two columns are record numbers', [{ kind: 'record' }, { kind: 'record' }, field], 'Two columns are record numbers. Leave one of them out.'],
    ['when only record numbers go in', [{ kind: 'record' }], 'Choose a field for at least one column.'],
  ])('%s', (_, columns, problem) => expect(planProblems(into(columns), design)).toEqual([problem]));

  test('nothing of required fields when rows change records', () => expect(planProblems(into([{ kind: 'record' }, field]), design)).toEqual([]));
});

test('its changes are a new table, or the new fields of an old one', () => {
  const fresh = FieldPlan.parse({ kind: 'text', id: 'f_colour', name: 'Colour' });
  const columns: ImportPlan['columns'] = [{ kind: 'new', field: fresh, reading: plainReading }, { kind: 'skip' }];
  expect(changesOf(into(columns))).toEqual([{ kind: 'add_field', table: 'hives', field: fresh }]);
  expect(changesOf({ ...into(columns), target: { kind: 'new', table: 'lots', name: 'Lots', form: 'fm_l', list: 'l_l' } })).toMatchObject([
    { kind: 'add_table', id: 'lots', fields: [fresh] },
  ]);
});
