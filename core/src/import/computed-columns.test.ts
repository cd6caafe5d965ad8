import { describe, expect, test } from 'vitest';
import { computedProblem, rowComputer, rowDesign } from './computed-columns.js';
import { ColumnTally, type ColumnSurvey } from './survey.js';

const heads = ['Keeper', 'Apiary', 'Jars', 'Price of a jar', 'Sold on', 'Paid'];
const rows = [
  ['Ada Roke', 'Heath End', '12', '6,50', '24.12.2026', 'yes'],
  ['Jorun Vasse', '', '3', '7,00', '31.12.2026', 'no'],
  ['Bede', 'Kiln Field', '', '', '', ''],
];
const columns: readonly ColumnSurvey[] = heads.map((head, at) => {
  const tally = new ColumnTally();
  for (const row of rows) tally.see(row[at] ?? '');
  return tally.result(head);
});
const design = rowDesign(columns, { timeZone: 'Europe/London', region: 'en-GB' });
const around = { now: Date.UTC(2026, 11, 31), zone: 'Europe/London', me: { Name: 'Tamsin', Mail: 'tamsin@quillmoor.example', Roles: [] }, ties: {} };
const computed = (expression: string, cells = rows, isGuarded = false): readonly string[] => {
  const one = { name: 'Computed', expression };
  expect(computedProblem(one, design)).toBeNull();
  const compute = rowComputer([one], columns, design, around, isGuarded);
  return cells.map((row) => compute(row)[columns.length] ?? '');
};

describe('a column is computed from each row', () => {
  test.each<[string, string, readonly string[]]>([
    ['a part of a text', 'split(Keeper, " ")[1]', ['Ada', 'Jorun', 'Bede']],
    ['texts that are joined', 'Keeper + " at " + Apiary', ['Ada Roke at Heath End', '', 'Bede at Kiln Field']],
    ['numbers as the file writes them', 'Jars * Price of a jar', ['78', '21', '']],
    ['days as the file writes them', 'Sold on + duration("P7D")', ['2026-12-31', '2027-01-07', '']],
    ['a truth', 'Jars > 5', ['yes', 'no', '']],
    ['who does it', 'me.Name', ['Tamsin', 'Tamsin', 'Tamsin']],
  ])('%s', (_, expression, values) => expect(computed(expression)).toEqual(values));

  test('behind those of the file, also where a row is short or too long', () => {
    const compute = rowComputer([{ name: 'Half', expression: 'Jars / 2' }], columns, design, around, false);
    expect(compute(['Ada', 'Heath', '4'])).toEqual(['Ada', 'Heath', '4', '', '', '', '2']);
    expect(compute(['Ada', 'Heath', '4', '', '', '', 'beyond'])).toEqual(['Ada', 'Heath', '4', '', '', '', '2', 'beyond']);
  });

  test('without the mark in front of what looks like a calculation', () => {
    expect(computed('Keeper', [["'=1+1"]], true)).toEqual(['=1+1']);
    expect(computed('Keeper', [["'=1+1"]], false)).toEqual(["'=1+1"]);
  });
});

test('what cannot be read is told with the name of the column', () => {
  expect(computedProblem({ name: 'First name', expression: 'split(Nobody, " ")' }, design)).toMatch(/^The computed column First name can't be read: /u);
  expect(computedProblem({ name: 'First name', expression: '' }, design)).not.toBeNull();
});
