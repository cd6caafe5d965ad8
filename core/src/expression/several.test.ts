import { expect, test } from 'vitest';
import { shownExpression } from '../fields/kinds.js';
import { applyChange } from '../parts/change.js';
import { designMessage } from '../parts/issues.js';
import { designOf, field, table } from '../parts/sample.js';
import { wants } from '../feel/wants.js';
import { check } from './check.js';
import { textOfRows } from './condition-rows.js';
import { rowsOfText } from './read-condition.js';

/** Fields of several choices: expressions see the list of their labels. */
const forage = field({
  kind: 'several_choices',
  id: 'a_forage',
  name: 'Forage',
  choices: [
    { id: 'lime', label: 'Lime' },
    { id: 'ling', label: 'Ling heather' },
  ],
});
const only = '"Much" + string(list contains(Forage, "Ling heather"))';
const design = designOf([table('apiaries', 'Apiaries', [forage, field({ kind: 'formula', id: 'a_much', name: 'Much', expression: only })])]);
const scope = { design, table: 'apiaries' };

test.each(['list contains(Forage, "Lime")', 'not(list contains(Forage, "Lime"))', 'count(Forage) = 0', 'count(Forage) > 0'])(
  '%s is a row of a condition, and the same text again',
  (text) => {
    const rows = rowsOfText(text, scope);
    expect(rows?.of).toMatchObject([{ kind: 'row', path: 'Forage' }]);
    expect(textOfRows(rows!, scope)).toBe(text);
  },
);

test('a label that no choice has is refused where it is looked for', () => {
  const checked = check('list contains(Forage, "Limes")', scope, wants.truth);
  expect(checked.ok ? null : checked.problems[0]).toMatchObject({ message: 'Forage is never “Limes”: it is one of Lime, Ling heather.', fix: '"Lime"' });
});

test('a choice that is renamed is renamed where it is looked for', () => {
  const choices = forage.kind === 'several_choices' ? forage.choices.map((choice) => (choice.id === 'ling' ? { ...choice, label: 'Heather' } : choice)) : [];
  const result = applyChange(design, { kind: 'change_field', table: 'apiaries', field: { ...forage, choices } as typeof forage });
  if (!result.ok) throw new Error(result.issues.map(designMessage).join(' '));
  expect(result.design.tables[0]?.fields.find((each) => each.id === 'a_much')).toMatchObject({ expression: only.replace('Ling heather', 'Heather') });
});

test('a column shows several choices as one text', () => {
  expect(check('Forage', scope, wants.shown).ok).toBe(false);
  expect(shownExpression(forage, 'Forage')).toBe('string join(Forage, ", ")');
  expect(check(shownExpression(forage, 'Forage'), scope, wants.shown).ok).toBe(true);
});
