import fc from 'fast-check';
import { expect, test } from 'vitest';
import { namesIn } from './names.js';

const plants = new Map<string, number | null>([
  ['heather', 1],
  ['clover, white', 2],
  ['clover', 3],
  ['lime', 4],
  ['willow', null],
  ['a; b', 5],
]);

test.each<[string, number[], string[]]>([
  ['', [], []],
  ['Heather', [1], []],
  ['heather, LIME', [1, 4], []],
  ['Lime;Heather\nClover', [4, 1, 3], []],
  ['Clover, white', [2], []],
  ['Clover, white, Clover, Lime', [2, 3, 4], []],
  ['Clover, Lime', [3, 4], []],
  ['a; b, Lime', [5, 4], []],
  ['Lime, Lime', [4], []],
  [' , Lime, ', [4], []],
  ['Ivy, Lime', [4], ['Ivy']],
  ['Lime; Ivy, Oak', [4], ['Ivy', 'Oak']],
  ['Willow', [], ['Willow']],
])('%j names %j', (cell, ids, misfits) => {
  const named = namesIn(cell, plants);
  expect(named.ids).toEqual(ids);
  expect(named.misfits.map((misfit) => misfit.name)).toEqual(misfits);
});

test('names without separators in them come back as they were written', () => {
  const name = fc.stringMatching(/^[a-z][a-z ]{0,8}[a-z]$/u);
  fc.assert(
    fc.property(fc.uniqueArray(name, { minLength: 1, maxLength: 8 }), fc.constantFrom(', ', '; ', '\n', ','), (names, between) => {
      const captions = new Map(names.map((each, i) => [each, i + 1]));
      expect(namesIn(names.join(between), captions)).toEqual({ ids: names.map((_, i) => i + 1), misfits: [] });
    }),
  );
});
