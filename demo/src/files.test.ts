import { applyChanges, emptyDesign, parseDate } from '@bibliona/core';
import { expect, test } from 'vitest';
import { demoDesign } from './design.js';
import { demoFiles, demoSizes } from './files.js';

test('the design is whole', () => {
  const result = applyChanges(emptyDesign('Honey'), demoDesign);
  expect(result.ok && result.design.tables.map((table) => table.name)).toEqual([
    'Keepers',
    'Apiaries',
    'Hives',
    'Inspections',
    'Frames',
    'Lots',
    'Harvests',
    'Lab results',
    'Shops',
    'Orders',
    'Order lines',
    'Treatments',
    'Hive treatments',
    'Treatments and keepers',
    'Swarm reports',
  ]);
});

test('the same records come every time, and every mail ends in the made-up domain', () => {
  const read = (): string[] => demoFiles('small').flatMap((file) => [...file.lines()]);
  expect(read()).toEqual(read());
  for (const mail of read()
    .join('')
    .match(/\S+@[^\s,]+/gu) ?? [])
    expect(mail).toMatch(/@quillmoor\.example$/u);
});

test('the demo is as large as it says', () => {
  const rows = Object.fromEntries(demoFiles('demo').map((file) => [file.table, [...file.lines()].length - 1]));
  expect(rows).toMatchObject({ keepers: demoSizes.demo.keepers, hives: 900, inspections: 12_000 });
  expect(rows['frames']).toBeGreaterThan(15_000);
});

test('every date is one, and names are used once', () => {
  const [keepers, apiaries] = demoFiles('demo');
  for (const file of [keepers, apiaries]) {
    const names = [...(file?.lines() ?? [])].map((line) => line.split(',')[0]);
    expect(new Set(names).size).toBe(names.length);
  }
  for (const line of demoFiles('small')[3]?.lines() ?? []) {
    const date = line.split(',')[2] ?? '';
    if (date !== 'Date') expect(parseDate(date)).toBe(date);
  }
});
