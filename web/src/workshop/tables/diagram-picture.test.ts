import { applyChanges, emptyDesign } from '@bibliona/core';
import { describe, expect, test } from 'vitest';
import type { DrawnDesign } from './drawn-design.js';
import { withCaptions } from './with-captions.js';
import { pictureOf } from './diagram-picture.js';
import { endOf, wordsAt } from './line-ends.js';

function tableCalled(name: string, field: string): DrawnDesign {
  const made = applyChanges(emptyDesign('Honey'), [
    {
      kind: 'add_table',
      id: 'pots',
      name: 'Pots',
      description: '',
      section: '',
      form: 'fm_pots',
      list: 'l_pots',
      fields: [{ kind: 'text', id: 'p_name', name: 'Size', description: '', required: false, unique: false, default: null }],
    },
  ]);
  if (!made.ok) throw new Error(JSON.stringify(made.issues));
  // No design holds such names today: the picture does not rely on it.
  const tables = made.design.tables.map((table) => ({ ...table, name, fields: table.fields.map((each) => ({ ...each, name: field })) }));
  return { ...withCaptions(made.design), name: 'Pots & "pans"', tables };
}
const none = { cards: new Map(), lines: new Map(), sections: new Map(), notes: new Map(), bounds: { x: -20, y: 10, width: 200, height: 60 } };

describe('a picture of the diagram', () => {
  test('holds names as they are written, whatever signs are in them', () => {
    const cards = new Map([['pots', { x: -20, y: 10 }]]);
    const { svg, width, height } = pictureOf(tableCalled('<Pots>', `Size & "lid's"`), { ...none, cards }, () => '1,204');
    expect(svg).toContain('>&#60;Pots&#62;</text>');
    expect(svg).toContain('>Size &#38; &#34;lid&#39;s&#34;</text>');
    expect(svg).toContain('>1,204</text>');
    // No sign of a name opens an element, ends an attribute or begins an entity.
    expect(svg.replace(/&#\d+;/gu, '')).not.toMatch(/&|<Pots/u);
    // Room around it, and the name of the app above.
    expect([width, height]).toEqual([264, 168]);
    expect(svg).toContain('translate(52 66)');
  });

  test('has the sections with their names, and the notes', () => {
    const design = { ...tableCalled('Pots', 'Size'), notes: [{ id: 'n_one', text: 'Washed <twice>\na year', tone: 'gold' as const }] };
    const box = { x: 0, y: 0, width: 200, height: 100 };
    const { svg } = pictureOf(design, { ...none, sections: new Map([['Store & shop', box]]), notes: new Map([['n_one', box]]) }, () => '');
    expect(svg).toContain('>Store &#38; shop</text>');
    expect(svg).toContain('>Washed &#60;twice&#62;</text>');
    expect(svg).toContain('>a year</text>');
  });

  test('cuts a name that is longer than its card', () => {
    const { svg } = pictureOf(tableCalled('Pots', 'x'.repeat(80)), none, () => '');
    expect(svg).toMatch(/>x{20,40}…</u);
  });
});

describe('a line of the diagram', () => {
  const corner = [
    { x: 0, y: 0 },
    { x: 200, y: 0 },
    { x: 200, y: 400 },
  ];
  test.each([
    ['Loans', false, { x: 200, y: 200 }],
    ['Loans', true, { x: 100, y: 0 }],
    ['a name that is far too long for it', true, null],
  ])('has room for “%s”, only on level pieces: %s', (words, isLevel, at) => {
    expect(wordsAt(corner, words, isLevel)).toEqual(at);
  });

  test('ends as the trade draws it: one in two bars, none or one in a bar and a ring, many in a foot and a ring', () => {
    const at = { x: 10, y: 20 };
    expect(endOf(at, 'one', 1)).toEqual({ path: 'M18 15v10M22 15v10', ring: null });
    expect(endOf(at, 'none or one', 1)).toEqual({ path: 'M18 15v10', ring: { x: 25, y: 20 } });
    expect(endOf(at, 'many', -1)).toEqual({ path: 'M-1 20L10 14.5M-1 20L10 25.5', ring: { x: -5, y: 20 } });
  });
});
