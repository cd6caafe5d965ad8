import { applyChanges, emptyDesign, type AppDesign } from '@bibliona/core';
import { describe, expect, test } from 'vitest';
import { offersOf } from '../rows/row-sources.js';
import { editField, movedField, reportFrom, totalsFor, withColumn, withGroup, withoutField, withoutGroup, withOrder, type Answers } from './report-draft.js';

const common = { description: '', required: false, unique: false, default: null } as const;
const made = applyChanges(emptyDesign('Honey'), [
  {
    kind: 'add_table',
    id: 'harvests',
    name: 'Harvests',
    description: '',
    section: '',
    form: 'fm_h',
    list: 'l_h',
    fields: [
      { ...common, kind: 'date', id: 'h_date', name: 'Date' },
      { ...common, kind: 'whole', id: 'h_year', name: 'Queen year' },
      { ...common, kind: 'decimal', digits: 1, id: 'h_kilos', name: 'Kilos' },
      { ...common, kind: 'text', id: 'h_place', name: 'Place' },
    ],
  },
]);
const design = (made as { readonly design: AppDesign }).design;
const answers: Answers = {
  name: 'Harvest',
  source: { kind: 'table', id: 'harvests' },
  shown: ['h_date', 'h_year', 'h_kilos', 'h_place'],
  groupBy: ['h_place'],
  orderBy: 'h_date',
  direction: 'down',
  arrangement: 'columns',
  paper: { size: 'a4', turned: false },
};
let count = 0;
const report = reportFrom(answers, design, 'rep_one', (prefix) => `${prefix}_${(count += 1)}`);
const named = (item: typeof report, ids: readonly { readonly column: string }[]): string[] =>
  ids.map(({ column }) => (item.source.kind === 'table' ? (item.source.columns.find((each) => each.id === column)?.name ?? '?') : '?'));

describe('three answers', () => {
  test('give a report that is whole: what is a heading is no field, and amounts are summarised', () => {
    expect(applyChanges(design, [{ kind: 'put', part: 'report', value: report }]).ok).toBe(true);
    expect(named(report, report.fields)).toEqual(['Date', 'Queen year', 'Kilos']);
    expect(report.fields.map((field) => field.total)).toEqual([null, null, 'sum']);
    expect(named(report, report.groups)).toEqual(['Place']);
    expect(report.order).toMatchObject([{ direction: 'down' }]);
    expect(offersOf({ kind: 'query', id: 'gone' }, design)).toEqual([]);
  });
});

describe('an edit', () => {
  const [date, year, kilos] = report.fields.map((field) => field.column) as [string, string, string];
  test('moves, changes and takes fields out, and with them the columns that nothing speaks of', () => {
    expect(named(report, movedField(report, kilos, -1).fields)).toEqual(['Date', 'Kilos', 'Queen year']);
    expect(movedField(report, date, -1)).toBe(report);
    expect(editField(report, year, { share: 3 }).fields[1]?.share).toBe(3);
    const less = withoutField(report, year);
    expect(less.source).toMatchObject({ columns: [{ name: 'Place' }, { name: 'Date' }, { name: 'Kilos' }] });
    // The date still brings the rows into their order.
    expect(withoutField(report, date).source).toMatchObject({ columns: [{ name: 'Place' }, { name: 'Date' }, { name: 'Queen year' }, { name: 'Kilos' }] });
    expect(withOrder(withoutField(report, date), []).source).toMatchObject({ columns: [{ name: 'Place' }, { name: 'Queen year' }, { name: 'Kilos' }] });
  });
  test('groups by one more column, and no longer by one', () => {
    expect(named(report, withGroup(report, year).groups)).toEqual(['Place', 'Queen year']);
    expect(withoutGroup(report, report.groups[0]?.column ?? '').groups).toEqual([]);
  });
  test('adds a column under a name that is free', () => {
    const wider = withColumn(report, { id: 'c_more', name: 'Kilos', expression: 'Kilos * 2', summary: null, digits: null }, design);
    expect(named(wider, wider.fields).at(-1)).toBe('Kilos 2');
    expect(applyChanges(design, [{ kind: 'put', part: 'report', value: wider }]).ok).toBe(true);
  });
  test('offers the totals that a column can have', () => {
    expect(totalsFor('number')).toEqual(['count', 'sum', 'average', 'smallest', 'largest']);
    expect(totalsFor('date')).toEqual(['count', 'smallest', 'largest']);
    expect(totalsFor('string')).toEqual(['count']);
  });
});
