import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { applyChanges, emptyDesign } from '@bibliona/core';
import { demoDesign } from '@bibliona/demo';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { expect, test } from 'vitest';
import { designSchema } from './design-schema.js';

test('the schema of a design is the one that its shape makes: npm run docs writes it', () => {
  const written = JSON.parse(readFileSync(fileURLToPath(new URL('../docs/design.schema.json', import.meta.url)), 'utf8')) as unknown;
  expect(written).toEqual(JSON.parse(JSON.stringify(designSchema)));
});

test('it takes the design of the demo, and says where another one is wrong', () => {
  const validate = new Ajv2020({ strict: false, validateFormats: false }).compile(designSchema);
  const demo = applyChanges(emptyDesign('Quillmoor Honey'), demoDesign);
  if (!demo.ok) throw new Error('the demo has no design');
  const design = JSON.parse(JSON.stringify(demo.design)) as { tables: { name?: string }[] };
  expect([validate(design), validate.errors]).toEqual([true, null]);
  delete design.tables[3]?.name;
  expect(validate(design)).toBe(false);
  expect(validate.errors?.some((error) => error.instancePath.startsWith('/tables/3'))).toBe(true);
});
