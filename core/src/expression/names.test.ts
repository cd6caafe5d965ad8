import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applyChanges } from '../parts/change.js';
import { emptyDesign } from '../parts/parse.js';
import { designOf, field, table } from '../parts/sample.js';
import { check } from './check.js';
import { membersOf } from './names.js';
import { feelName } from '../feel/names.js';
import { dependenciesOf } from './rename.js';

describe('names', () => {
  test.each([
    ['Unit price', 'Unit price'],
    ['Price (net)', 'Price net'],
    ['Brood, %', 'Brood'],
    ['2nd visit', '_2nd visit'],
    ['and so on', '_and so on'],
    ['date', '_date'],
    ['Sale-price', 'Sale-price'],
    ['Größe', 'Größe'],
    ['%', ''],
  ])('%s is written %s', (label, name) => expect(feelName(label)).toBe(name));

  test('two labels that come to the same name are called by their columns', () => {
    const both = designOf([
      table('t_x', 'X', [field({ kind: 'whole', id: 'f_a', name: 'Price (#)' }), field({ kind: 'whole', id: 'f_b', name: 'Price ($)' })]),
    ]);
    expect(membersOf(both, 't_x').map((member) => member.name)).toEqual(['price', 'price_2']);
  });

  test('every name of a random table can be written and means its field', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(
          fc.string({ minLength: 1, maxLength: 12, unit: 'grapheme' }).filter((each) => /^[^\p{C}"]+$/u.test(each.trim()) && each.trim() !== ''),
          { minLength: 1, maxLength: 8, selector: (each) => each.trim().toLowerCase() },
        ),
        (names) => {
          const made = applyChanges(emptyDesign('Any'), [
            table(
              't_x',
              'X',
              names.map((name, i) => field({ kind: 'whole', id: `f_${i}`, name })),
            ),
          ]);
          fc.pre(made.ok);
          if (!made.ok) return;
          for (const member of membersOf(made.design, 't_x')) {
            const checked = check(`${member.name} + 1`, { design: made.design, table: 't_x' });
            expect(checked.ok && dependenciesOf(checked.node)[0]?.id, member.name).toBe(member.kind === 'field' ? member.field.id : '');
          }
        },
      ),
      { numRuns: 300 },
    );
  });
});
