import { applyChanges, emptyDesign, type AppDesign } from '@bibliona/core';
import { demoDesign } from '@bibliona/demo';
import { expect, test } from 'vitest';
import { designText } from '../src/http/design-text.js';

const madeOf = (design: AppDesign, changes: Parameters<typeof applyChanges>[1]): AppDesign => {
  const result = applyChanges(design, changes);
  if (!result.ok) throw new Error(JSON.stringify(result.issues));
  return result.design;
};

test('a design is the JSON that it would be in one piece, also after one of its parts has changed', () => {
  const design = madeOf(emptyDesign('Orchard'), demoDesign);
  expect(designText(design)).toBe(JSON.stringify(design));
  const [table] = design.tables;
  if (table === undefined) throw new Error('The demo has no table');
  const renamed = {
    ...design,
    name: 'A "quoted" name',
    notes: [],
    tables: design.tables.map((each) => (each === table ? { ...each, name: 'Ruche\n“A”' } : each)),
  };
  expect(designText(renamed)).toBe(JSON.stringify(renamed));
  expect(designText(design)).toBe(JSON.stringify(design));
});
