import { describe, expect, test } from 'vitest';
import { tableOf } from '../design/read.js';
import { designOf, field, table } from '../parts/sample.js';
import { asRepeated, changesRecords, type ImportPlan } from './plan.js';
import { canMake, namingField, planProblems } from './plan-problems.js';
import { plainMatching, type Matching } from './matching.js';
import { plainReading } from './survey.js';

const refers = (child: string, parent: string, fieldId: string): Parameters<typeof designOf>[0][number] => ({
  kind: 'add_relationship',
  id: `r_${fieldId}`,
  parent,
  child,
  fieldId,
  fieldName: `Of ${parent}`,
  childrenName: `${child} by ${fieldId}`,
  required: false,
  whenParentRemoved: 'refuse',
});
const text = (id: string, name: string, more: object = {}) => field({ kind: 'text', id, name, ...more });
const design = designOf([
  table('sites', 'Sites', [text('s_name', 'Name')]),
  table('keepers', 'Keepers', [text('k_name', 'Name'), text('k_mail', 'Mail', { required: true })]),
  table('boxes', 'Boxes', [text('b_name', 'Name'), text('b_kind', 'Kind')]),
  table('hives', 'Hives', [text('h_code', 'Code')]),
  refers('hives', 'sites', 'h_site'),
  refers('hives', 'keepers', 'h_keeper'),
  refers('hives', 'boxes', 'h_box'),
  refers('hives', 'hives', 'h_from'),
  { kind: 'change_table', table: 'boxes', caption: 'Name + " " + Kind' },
]);
const hives = tableOf(design, 'hives');

test.each([
  ['a name is enough', 'h_site', true],
  ['another field is required', 'h_keeper', false],
  ['the caption says more than one field', 'h_box', false],
  ['they are records of the table itself', 'h_from', false],
  ['it refers to nothing', 'h_code', false],
])('records are made from a name where it can be done: %s', (_, id, can) => expect(canMake(design, hives, id)).toBe(can));
test('the field that names a record', () => {
  expect(namingField(design, tableOf(design, 'sites'))?.id).toBe('s_name');
  expect(namingField(design, tableOf(design, 'boxes'))).toBeUndefined();
});

const into = (field: string, missing: 'complain' | 'make' = 'complain') => ({ kind: 'field', field, reading: plainReading, missing }) as const;
const plan = (columns: ImportPlan['columns'], matching: Partial<Matching> = {}): ImportPlan => ({
  reading: { format: 'text', encoding: 'utf-8', delimiter: ',', heading: true, headingRows: 1, skip: 0, part: '', range: '' },
  target: { kind: 'table', table: 'hives' },
  columns,
  badCells: 'refuse',
  emptyCells: 'empty',
  things: [],
  computed: [],
  matching: { ...plainMatching, ...matching },
});

describe('what rows are matched by', () => {
  test.each<[string, ImportPlan, string[]]>([
    ['is a field of the file', plan([into('h_code')], { mode: 'update', by: ['h_code'] }), []],
    ['is in no column', plan([into('h_site')], { mode: 'update', by: ['h_code'] }), ['Rows are matched by Code, but no column goes into it.']],
    ['no longer exists', plan([into('h_site')], { mode: 'both', by: ['h_gone'] }), ['A field that rows are matched by no longer exists. Choose again.']],
    ['is missing', plan([into('h_code')], { mode: 'replace' }), ['Choose at least one field to match rows by.']],
    ['is nothing, and every row adds a record', plan([into('h_code')]), []],
    ['is the record number', plan([{ kind: 'record' }, into('h_code')], { mode: 'replace' }), []],
  ])('%s', (_, each, problems) => expect(planProblems(each, design)).toEqual(problems));
  test('decides whether records are changed', () => {
    expect(changesRecords(plan([into('h_code')]))).toBe(false);
    expect(changesRecords(plan([into('h_code')], { by: ['h_code'] }))).toBe(true);
    expect(changesRecords(plan([{ kind: 'record' }, into('h_code')]))).toBe(true);
    expect(changesRecords(plan([{ kind: 'record' }, into('h_code')], { mode: 'add' }))).toBe(false);
  });
});

describe('a plan for another file of the same columns', () => {
  test('goes into the fields that the first one made, and leaves out what is gone', () => {
    const made: ImportPlan = {
      ...plan([
        { kind: 'new', field: text('h_code', 'Code'), reading: plainReading },
        into('h_gone'),
        into('h_site', 'make'),
        { kind: 'link', relationship: 'r_gone' },
      ]),
      target: { kind: 'new', table: 'hives', name: 'Hives', form: 'fm_hives', list: 'l_hives' },
    };
    expect(asRepeated(made, design)).toMatchObject({
      target: { kind: 'table', table: 'hives' },
      columns: [into('h_code'), { kind: 'skip' }, into('h_site', 'make'), { kind: 'skip' }],
    });
  });
  test('adds every row where it can no longer match', () =>
    expect(asRepeated(plan([into('h_gone')], { mode: 'update', by: ['h_gone'] }), design)?.matching).toEqual(plainMatching));
  test('is none where the table is gone', () => expect(asRepeated({ ...plan([into('h_code')]), target: { kind: 'table', table: 'gone' } }, design)).toBeNull());
});
