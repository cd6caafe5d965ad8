/** `npm run docs`: writes the pages that are made from the product's own tables. */
import { writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expressionsPage } from './expressions-page.js';

writeFileSync(fileURLToPath(new URL('../docs/expressions.md', import.meta.url)), expressionsPage);
console.log('Written to docs/expressions.md');
