import { expect, test } from 'vitest';
import { designOf, field } from '../parts/sample.js';
import { check } from './check.js';
import { changes } from './sample.js';
import { tablesRead } from './tables-read.js';
import { wants } from '../feel/wants.js';

const design = designOf([
  ...changes,
  { kind: 'add_field', table: 'hives', field: field({ kind: 'formula', id: 'h_seen', name: 'Seen', expression: 'count(Visits)' }) },
  { kind: 'put', part: 'tie', value: { id: 'home', name: 'Home', table: 'apiaries' } },
]);

test.each([
  ['Code = "H-1"', []],
  ['Apiary.Region = "Moor"', ['apiaries']],
  ['Apiary = me.Home', ['apiaries']],
  ['Seen > 3', ['visits']],
  ['count(Apiary.Hives[Seen > 3]) = 0', ['apiaries', 'hives', 'visits']],
  ['if Gentle then max(Visits.Mites) > 3 else Queen year > 2020', ['visits']],
])('%s is computed from the records of %j besides its own', (text, tables) => {
  const checked = check(text, { design, table: 'hives' }, wants.anything);
  if (!checked.ok) throw new Error(checked.problems[0]?.message);
  expect([...tablesRead(checked.node)].sort()).toEqual(tables);
});
