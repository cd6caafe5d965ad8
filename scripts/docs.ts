/** `npm run docs`: writes the pages that are made from the product's own tables. */
import { writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { designSchema } from './design-schema.js';
import { expressionsPage } from './expressions-page.js';

const write = (name: string, text: string): void => {
  writeFileSync(fileURLToPath(new URL(`../docs/${name}`, import.meta.url)), text);
  console.log(`Written to docs/${name}`);
};
write('expressions.md', expressionsPage);
write('design.schema.json', `${JSON.stringify(designSchema, null, 2)}\n`);
