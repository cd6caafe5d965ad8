import { emptyDesign, suggestPlan, type FileSurvey } from '@bibliona/core';
import { describe, expect, test } from 'vitest';
import { chosenBefore, columnsFor, fieldNameOf, homeOf, nounOf, ownerOf, tableNames, thingPlans, type FileTables } from './file-tables.js';

const heads = ['Visit', 'hive_code', 'Hive box', 'Hive apiary name', 'Apiary region', 'Keeper', 'Keeper mail', 'Kilograms'];
const column = (name: string): FileSurvey['columns'][number] => ({
  name,
  kind: name === 'Keeper' ? 'choice' : 'text',
  reading: { numbers: 'point', dates: 'dmy' },
  digits: 1,
  unit: null,
  choices: ['Ada', 'Jo'],
  filled: 9,
  rows: 9,
  samples: [],
  note: null,
});
const exact = (at: number) => ({ column: at, differing: 0, names: [] });
const survey: FileSurvey = {
  reading: { format: 'text', encoding: 'utf-8', delimiter: ',', heading: true, headingRows: 1, skip: 0, part: '', range: '' },
  parts: [],
  rows: 9,
  columns: heads.map(column),
  sample: [],
  repeats: {
    rows: 9,
    keys: [0],
    things: [
      { key: 1, count: 5, rows: 9, within: null, follows: null, columns: [exact(2)] },
      { key: 3, count: 3, rows: 9, within: 1, follows: exact(3), columns: [exact(4)] },
      { key: 5, count: 2, rows: 9, within: 3, follows: exact(5), columns: [exact(6)] },
    ],
  },
};
const chosen = (...keys: number[]): FileTables => ({ keys, inRows: [], names: {}, right: [] });
const design = emptyDesign('Bees');
let ids = 0;
const newId = (): string => `n_${(ids += 1)}`;
const columns = suggestPlan(survey.columns, design, null, newId);
const target = { table: 't_rows', name: 'Visits' };
const idsOf = (key: number) => ({ table: `t_${key}`, form: `fm_${key}`, list: `l_${key}`, relationship: `r_${key}`, field: `f_${key}` });

test('things are called by what their column says', () => {
  expect([1, 3, 5].map((key) => nounOf(survey, key))).toEqual(['Hive', 'Apiary', 'Keeper']);
  expect([...tableNames(survey, chosen(1, 3, 5), { ...target, name: 'Hives' }, design).values()]).toEqual(['Hives 2', 'Apiaries', 'Keepers']);
});

describe('a column goes', () => {
  test.each<[string, FileTables, (number | null)[]]>([
    ['nowhere while there is one table', chosen(), [null, null, null, null, null, null, null, null]],
    ['to its own thing', chosen(1, 3, 5), [null, 1, 1, 3, 3, 5, 5, null]],
    ['to what its thing belongs to, where that has no table', chosen(1, 5), [null, 1, 1, 1, 1, 5, 5, null]],
    ['into the rows, where nothing above has a table', chosen(5), [null, null, null, null, null, 5, 5, null]],
    ['into the rows with the name of a thing that has no table', { ...chosen(1), inRows: [3, 1] }, [null, 1, 1, null, 1, 1, 1, null]],
    ['into the rows, where a person says so', { ...chosen(1, 3), inRows: [4] }, [null, 1, 1, 3, null, 3, 3, null]],
  ])('%s', (_, tables, homes) => expect(heads.map((__, at) => homeOf(survey.repeats, at, tables))).toEqual(homes));

  test('and its thing belongs to the nearest one that has a table', () => {
    expect([ownerOf(survey.repeats, 5, [1, 3]), ownerOf(survey.repeats, 5, [1]), ownerOf(survey.repeats, 5, [])]).toEqual([3, 1, null]);
  });
});

describe('fields', () => {
  const fields = (before: FileTables, after: FileTables, from = columns) =>
    columnsFor(survey, from, before, after, 'en-GB').map((plan) => (plan.kind === 'new' ? `${plan.field.name}: ${plan.field.kind}` : plan.kind));

  test('are called shorter in a table that says the rest, and a name is text', () => {
    expect(fields(chosen(), chosen(1, 3, 5))).toEqual([
      'Visit: text',
      'Code: text',
      'Box: text',
      'Name: text',
      'Region: text',
      'Name: text',
      'Mail: text',
      'Kilograms: text',
    ]);
    expect(fieldNameOf(survey, 6, chosen(3))).toBe('Keeper mail');
  });
  test('are as they were when the table is declined again', () => {
    const all = columnsFor(survey, columns, chosen(), chosen(1, 3, 5), 'en-GB');
    expect(columnsFor(survey, all, chosen(1, 3, 5), chosen(), 'en-GB')).toEqual(columns);
  });
  test('have the names that a person gave them', () => {
    const named = columns.map((plan, at) => (at === 4 && plan.kind === 'new' ? { ...plan, field: { ...plan.field, name: 'Landscape' } } : plan));
    expect(fields(chosen(), chosen(1, 3, 5), named)[4]).toBe('Landscape: text');
  });
});

test('a plan has the chosen tables with what refers to them, and gives back what was chosen', () => {
  const tables: FileTables = { keys: [1, 5], inRows: [2], names: { 5: 'People' }, right: [{ key: 5, column: 6, name: 'Ada', value: 'a@quillmoor.example' }] };
  const planned = columnsFor(survey, columns, chosen(), tables, 'en-GB');
  const things = thingPlans(survey, tables, planned, target, design, idsOf);
  expect(things).toEqual([
    { ...idsOf(1), name: 'Hives', key: 1, columns: [3, 4], within: 't_rows', fieldName: 'Hive', childrenName: 'Visits', chosen: [] },
    {
      ...idsOf(5),
      name: 'People',
      key: 5,
      columns: [6],
      within: 't_1',
      fieldName: 'Keeper',
      childrenName: 'Hives',
      chosen: [{ column: 6, name: 'Ada', value: 'a@quillmoor.example' }],
    },
  ]);
  const plan = { things } as unknown as Parameters<typeof chosenBefore>[1];
  expect(chosenBefore(survey, plan)).toEqual({ ...tables, names: { 1: 'Hives', 5: 'People' } });
});
