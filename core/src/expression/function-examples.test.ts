import { describe, expect, test } from 'vitest';
import { check } from './check.js';
import type { Scope } from './scope.js';
import { evaluate, type Surroundings } from './evaluate.js';
import { same } from '../feel/value.js';
import { emptyDesign } from '../parts/parse.js';
import { builtIns } from '../feel/functions/functions.js';
import { wants } from '../feel/wants.js';

const scope: Scope = { design: emptyDesign('Examples'), table: null };
const around: Surroundings = {
  now: Date.UTC(2026, 4, 1, 10),
  zone: 'Europe/London',
  me: { Name: 'Ada Wren', Mail: 'ada.wren@quillmoor.example', Roles: ['keeper'] },
  self: null,
  records: {
    value: () => null,
    children: () => [],
  },
};

function valueOf(expression: string) {
  const checked = check(expression, scope, wants.anything);
  if (!checked.ok) throw new Error(`${expression}: ${checked.problems.map((problem) => problem.message).join(' ')}`);
  return evaluate(checked.node, around);
}

describe('every example of the help gives what it says', () => {
  const examples = builtIns.flatMap((builtIn) => builtIn.examples);
  expect(examples.length).toBeGreaterThan(150);
  test.each(examples)('%s is %s', (expression, result) => {
    const [value, wanted] = [valueOf(expression), valueOf(result)];
    expect(same(value, wanted), `${JSON.stringify(value)} is not ${JSON.stringify(wanted)}`).toBe(true);
  });
});
