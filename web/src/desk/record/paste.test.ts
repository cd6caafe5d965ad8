import { expect, test } from 'vitest';
import { withoutPasted } from './paste.js';

test('undoing a paste leaves alone what it did not touch', () => {
  const row = (key: string, value: string) => ({ key, value });
  const before = [row('a', '1'), row('b', '2'), row('c', '3')];
  const undo = withoutPasted(before, [row('b', 'pasted'), row('new', 'pasted')]);
  // Since then c was changed, a was removed, and another row was added.
  expect(undo([row('b', 'pasted'), row('new', 'pasted'), row('c', 'typed'), row('later', 'typed')])).toEqual([
    row('b', '2'),
    row('c', 'typed'),
    row('later', 'typed'),
  ]);
});
