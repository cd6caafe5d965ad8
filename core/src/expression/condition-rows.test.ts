import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { check } from './check.js';
import { comparisons, comparisonsOf, noRows, textOfRows, typeOfPath, type Group, type Row } from './condition-rows.js';
import { rowsOfText } from './read-condition.js';
import { scope } from './sample.js';
import { wants } from '../feel/wants.js';
import { FieldPlan } from '../fields/kinds.js';
import { applyChanges } from '../parts/change.js';
import { emptyDesign } from '../parts/parse.js';

describe('conditions as rows', () => {
  test.each([
    'Code = "H-1"',
    'Code != null and Unit price > 3.5',
    'Gentle = true or Apiary.Region in ("Moor", "Coast")',
    'Unit price > 3 and (Code = "a" or contains(Code, "b"))',
    'Stands since between today() - duration("P7D") and today()',
    'Stands since between today() and today() + duration("P3M")',
    'Stands since.year = today().year and Stands since.month = today().month',
    'Stands since.year = today().year',
    'Stands since = today()',
    'Stands since >= date("2026-05-01")',
    'Queen year between 2020 and 2026',
    'Apiary = null',
    'Unit price > -2',
    'Unit price > Queen year',
    'count(Visits) > 3',
    'record number(Apiary) = 17',
    'record number(Apiary) != 3 and created by me() = true',
    'created by me() = false or Gentle = true',
    'Stands since <= today()',
    'Stands since >= today() - duration("P2Y")',
    'Stands since < today() - duration("P60D")',
    'Stands since > today() + duration("P1M")',
    'Queen year = today().year',
    'Code = me.Mail and Queen year > 2020',
  ])('%s is rows, and they are the same text', (text) => {
    const rows = rowsOfText(text, scope);
    expect(rows).not.toBeNull();
    expect(textOfRows(rows ?? { kind: 'group', join: 'and', of: [] }, scope).replace(/[()]/gu, '')).toBe(text.replace(/[()]/gu, ''));
    expect(rowsOfText(textOfRows(rows ?? { kind: 'group', join: 'and', of: [] }, scope), scope)).toEqual(rows);
  });
  test('what is only said shorter is rows as well', () =>
    expect(rowsOfText('created by me()', scope)?.of).toEqual([{ kind: 'row', path: 'created by me()', comparison: 'yes', values: [] }]));
  test.each([
    'record number() = 3',
    'record number(Apiary) > 3',
    'record number(Apiary) = Queen year',
    'count(Visits[Mites > 3]) > 3',
    'Unit price > Code',
    'not(Gentle)',
    'Unit price * 2 > 3',
    'Code = upper case("a")',
    'Stands since.day = 3',
  ])('%s stays a text', (text) => expect(rowsOfText(text, scope)).toBeNull());

  const paths = ['Code', 'Queen year', 'Unit price', 'Brood', 'Stands since', 'Gentle', 'Apiary', 'Apiary.Name', 'Apiary.Region', 'created by me()'];
  const valueFor = (kind: string): fc.Arbitrary<string> =>
    kind === 'number'
      ? fc.integer({ min: -999, max: 999 }).map(String)
      : kind === 'date'
        ? fc.constantFrom('2026-05-01', '2024-02-29')
        : kind === 'choice'
          ? fc.constantFrom('Moor', 'Coast')
          : fc.constantFrom('a', 'x "y"', 'ß\\', '1');
  const row: fc.Arbitrary<Row> = fc.constantFrom(...paths).chain((path) => {
    const type = typeOfPath(path, scope);
    if (type === null) throw new Error(path);
    return fc.constantFrom(...comparisonsOf(type)).chain((comparison): fc.Arbitrary<Row> => {
      const value = valueFor(type.kind);
      const values: fc.Arbitrary<readonly string[]> = {
        none: fc.constant([]),
        one: fc.tuple(value),
        two: fc.tuple(value, value),
        many: fc.array(value, { minLength: 1, maxLength: 3 }),
        record: fc.tuple(fc.integer({ min: 1, max: 999 }).map(String)),
        span: fc.tuple(fc.integer({ min: 1, max: 99 }).map(String), fc.constantFrom('days', 'months', 'years')),
      }[comparisons[comparison].values];
      if (type.kind === 'record' && comparisons[comparison].values === 'one') return fc.constant({ kind: 'row', path, comparison, values: [], other: path });
      return values.map((all) => ({ kind: 'row', path, comparison, values: all }));
    });
  });
  const group = (join: 'and' | 'or', inner: fc.Arbitrary<Row | Group>): fc.Arbitrary<Group> =>
    fc.array(inner, { minLength: 2, maxLength: 3 }).map((of) => ({ kind: 'group', join, of }));
  test('any rows come back from their text', () => {
    fc.assert(
      fc.property(fc.oneof(group('and', fc.oneof(row, group('or', row))), group('or', fc.oneof(row, group('and', row)))), (rows) => {
        const text = textOfRows(rows, scope);
        expect(check(text, scope, wants.truth).ok, text).toBe(true);
        expect(rowsOfText(text, scope)).toEqual(rows);
      }),
      { numRuns: 400 },
    );
  });
});

describe('people', () => {
  const made = applyChanges(emptyDesign('Tasks'), [
    {
      kind: 'add_table',
      id: 'tasks',
      name: 'Tasks',
      description: '',
      section: '',
      form: 'fm',
      list: 'l',
      fields: [FieldPlan.parse({ kind: 'person', id: 'f_who', name: 'Assigned to' })],
    },
  ]);
  if (!made.ok) throw new Error(JSON.stringify(made.issues));
  const tasks = { design: made.design, table: 'tasks' };
  test.each([
    ['Assigned to.mail = me.Mail', 'me'],
    ['Assigned to.mail != me.Mail', 'not_me'],
    ['contains(Assigned to, "Quill")', 'contains'],
    ['Assigned to = null', 'empty'],
  ])('%s is a row, and the same text', (text, comparison) => {
    const rows = rowsOfText(text, tasks);
    expect(rows?.of).toMatchObject([{ kind: 'row', path: 'Assigned to', comparison }]);
    expect(textOfRows(rows ?? noRows, tasks)).toBe(text);
  });
  // Two people can share a name.
  test.each(['Assigned to = me.Name', 'Assigned to.name = me.Name', 'Assigned to = "Wystan Quill"'])('%s stays a text', (text) =>
    expect(rowsOfText(text, tasks)).toBeNull(),
  );
});
