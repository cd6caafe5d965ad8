import { expect, test } from 'vitest';
import { check } from '../expression/check.js';
import { changes, design } from '../expression/sample.js';
import { tableOf } from '../design/read.js';
import { wants } from '../feel/wants.js';
import { related, designOf } from './sample.js';
import { relatedTables } from './related-formulas.js';

const of = (id: string, name: string): readonly string[] =>
  relatedTables(design, tableOf(design, id))
    .find((table) => table.name === name)
    ?.formulas.map((formula) => `${formula.name}: ${formula.expression}`) ?? [];

test('a table offers the fields of its parents and summaries of its children', () => {
  expect(of('hives', 'Apiary')).toContain('Region: Apiary.Region');
  expect(of('hives', 'Visits')).toEqual([
    'Number of Visits: count(Visits)',
    'Earliest Date: min(Visits.Date)',
    'Latest Date: max(Visits.Date)',
    'Sum of Mites: sum(Visits.Mites)',
    'Average of Mites: mean(Visits.Mites)',
    'Smallest Mites: min(Visits.Mites)',
    'Largest Mites: max(Visits.Mites)',
  ]);
  expect(of('apiaries', 'Hives')).toContain('Number with Gentle: count(Hives[Gentle = true])');
  expect(of('apiaries', 'Hives')).toContain('All Code: string join(Hives.Code, ", ")');
  // A name is written as expressions write it.
  expect(of('apiaries', 'Hives')).toContain('Sum of Brood, %: sum(Hives.Brood)');
});

test('every table offers who wrote its records and when', () => {
  expect(of('visits', 'This record')).toContain('Created by: created by()');
});

test('every formula that is offered can be used as it is', () => {
  // Two relationships between the same tables are told apart by their names.
  const again = { ...related('apiaries', 'hives', 'Winter apiary', 'Winter hives'), id: 'r_winter', fieldId: 'h_winter' };
  const twice = designOf([...changes, again]);
  let seen = 0;
  for (const table of twice.tables)
    for (const { expression } of relatedTables(twice, table).flatMap((relatedTable) => relatedTable.formulas)) {
      seen += 1;
      expect(check(expression, { design: twice, table: table.id }, wants.shown), expression).toMatchObject({ ok: true });
    }
  expect(seen).toBeGreaterThan(40);
});
