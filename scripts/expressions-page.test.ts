import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { builtIns } from '@bibliona/core';
import { expect, test } from 'vitest';
import { expressionsPage } from './expressions-page.js';

test('the page about expressions is the one that the tables make: npm run docs writes it', () => {
  expect(readFileSync(fileURLToPath(new URL('../docs/expressions.md', import.meta.url)), 'utf8')).toBe(expressionsPage);
  for (const { name } of builtIns) expect(expressionsPage).toContain(`\`${name}(`);
});
