import { ColumnTally, RepeatFinder, type Repeats } from '@bibliona/core';
import { expect, test } from 'vitest';
import { flatSheet } from './flat-sheet.js';

function found(sheet: ReturnType<typeof flatSheet>): Repeats {
  const finder = new RepeatFinder();
  sheet.rows.forEach((row, i) => finder.see(row, i + 2));
  const kinds = sheet.heads.map((head, at) => {
    const tally = new ColumnTally();
    for (const row of sheet.rows) tally.see(row[at] ?? '');
    return tally.result(head).kind;
  });
  return finder.result(kinds);
}

/** What was found, in the words of the heads: each thing with what it belongs to and its columns. */
function told(sheet: ReturnType<typeof flatSheet>): readonly (readonly [thing: string, within: string | null, columns: readonly string[]])[] {
  const name = (at: number | null): string | null => (at === null ? null : (sheet.heads[at] ?? ''));
  return found(sheet).things.map(({ key, within, columns }) => [name(key) ?? '', name(within), columns.map((column) => name(column.column) ?? '')]);
}

const hive = ['Hive', null, ['Hive Box', 'Hive Queen year', 'Hive Stands since', 'Hive Notes']] as const;
const apiary = ['Region', 'Altitude, m', 'Rent a year', 'Forage', 'Water nearby', 'Location'].map((head) => `Apiary ${head}`);
const keeper = ['Keeper Mail', 'Keeper Phone', 'Keeper Member since'] as const;

test('a flat sheet of the demo is taken apart into the tables that it was made of', () => {
  expect(told(flatSheet('demo'))).toEqual([hive, ['Hive Apiary', 'Hive', apiary], ['Apiary Keeper', 'Hive Apiary', keeper]]);
});

test('where each apiary has a keeper of its own, the rows can tell no more than that', () => {
  expect(told(flatSheet('small'))).toEqual([hive, ['Hive Apiary', 'Hive', ['Apiary Keeper', ...apiary, ...keeper]]]);
});

test('slips change nothing of it, and are told with the lines on which they are', () => {
  const sheet = flatSheet('demo');
  const [hiveAt, apiaryAt, region, mail] = ['Hive', 'Hive Apiary', 'Apiary Region', 'Keeper Mail'].map((head) => sheet.heads.indexOf(head)) as [
    number,
    number,
    number,
    number,
  ];
  const before = told(sheet);
  const change = (row: number, column: number, text: string): void => void ((sheet.rows[row] as string[])[column] = text);
  const right = sheet.rows[40]?.[region] ?? '';
  change(40, region, 'Nowhere');
  change(77, mail, 'a@quillmoor.example');
  change(900, hiveAt, `  ${sheet.rows[900]?.[hiveAt]?.toLowerCase() ?? ''}`);
  expect(told(sheet)).toEqual(before);
  const { things, keys } = found(sheet);
  expect(keys.map((key) => sheet.heads[key])).toEqual(['Number']);
  const thing = things.find((repeatedThing) => repeatedThing.key === apiaryAt);
  expect([thing?.count, thing?.rows]).toEqual([38, 12_000]);
  const differing = thing?.columns.find((column) => column.column === region);
  expect(differing).toMatchObject({
    differing: 1,
    names: [{ name: sheet.rows[40]?.[apiaryAt], values: [{ text: right }, { text: 'Nowhere', rows: 1, line: 42 }] }],
  });
});
