import type { FileSurvey } from '@bibliona/core';
import { ColumnTally } from '@bibliona/core';
import { expect, test } from 'vitest';
import { withComputed } from './with-computed.js';

const rows = [
  ['H-2024', '4'],
  ['H-2025', '6'],
];
const columns = ['Code', 'Jars'].map((name, at) => {
  const tally = new ColumnTally();
  for (const row of rows) tally.see(row[at] ?? '');
  return tally.result(name);
});
const survey = (all: number): FileSurvey => ({
  reading: { format: 'text', encoding: 'utf-8', delimiter: ',', heading: true, headingRows: 1, skip: 0, part: '', range: '' },
  parts: [],
  rows: all,
  columns,
  sample: rows,
  repeats: { rows: all, keys: [], things: [] },
});
const app = { timeZone: 'UTC', region: 'en-GB' } as const;
const around = { now: 0, zone: 'UTC', me: { Name: '', Mail: '', Roles: [] }, ties: {} };
const kindsOf = (all: number) =>
  withComputed(
    survey(all),
    [
      { name: 'Half', expression: 'Jars / 2' },
      { name: 'Year', expression: 'split(Code, "-")[2]' },
      { name: 'Many', expression: 'Jars > 5' },
    ],
    app,
    around,
  ).columns.map((column) => `${column.name}: ${column.kind}`);

test('a computed column is of the kind of its expression, as far as the first rows can tell', () => {
  expect(kindsOf(2)).toEqual(['Code: text', 'Jars: whole', 'Half: whole', 'Year: text', 'Many: yes_no']);
  expect(kindsOf(5000)).toEqual(['Code: text', 'Jars: whole', 'Half: decimal', 'Year: text', 'Many: yes_no']);
});

test('the first rows have its values', () => {
  expect(withComputed(survey(2), [{ name: 'Half', expression: 'Jars / 2' }], app, around).sample).toEqual([
    ['H-2024', '4', '2'],
    ['H-2025', '6', '3'],
  ]);
});
