import { describe, expect, test } from 'vitest';
import { designOf, field, related, table } from '../parts/sample.js';
import { check } from './check.js';
import { emptiesMet, withoutEmpties } from './empties.js';

const design = designOf([
  table('sites', 'Sites', [field({ kind: 'text', id: 's_name', name: 'Name' })]),
  table('hives', 'Hives', [
    field({ kind: 'decimal', id: 'h_rent', name: 'Rent', digits: 2 }),
    field({ kind: 'whole', id: 'h_frames', name: 'Frames', required: true }),
  ]),
  related('sites', 'hives', 'Site', 'Hives', false),
]);
const fixed = (text: string): string => {
  const checked = check(text, { design, table: 'sites' });
  if (!checked.ok) throw new Error(checked.problems[0]?.message);
  return withoutEmpties(text, emptiesMet(checked.node));
};

describe('a sum over children', () => {
  test.each([
    ['sum(Hives.Rent)', 'sum(Hives.Rent[item != null])'],
    ['mean(Hives.Rent) + max(Hives.Rent)', 'mean(Hives.Rent[item != null]) + max(Hives.Rent[item != null])'],
    ['if count(Hives) > 0 then sum(Hives.Rent) else 0', 'if count(Hives) > 0 then sum(Hives.Rent[item != null]) else 0'],
  ])('that meets values which can be empty is fixed: %s', (text, wanted) => {
    expect(fixed(text)).toBe(wanted);
    expect(fixed(wanted)).toBe(wanted);
  });
  test.each(['sum(Hives.Frames)', 'count(Hives.Rent)', 'sum(Hives.Rent[item != null])'])('that meets none is left alone: %s', (text) =>
    expect(fixed(text)).toBe(text),
  );
});
