import { applyChanges, emptyDesign, FieldPlan, type DesignChange } from '@bibliona/core';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { cardHeight, cardWidth, linesOfNote, type Box, type Layout, type Point } from './diagram-layout.js';
import type { DrawnDesign } from './drawn-design.js';
import { withCaptions } from './with-captions.js';
import { withOwnPlaces } from './own-places.js';

const table = (id: string, name: string): DesignChange => ({
  kind: 'add_table',
  id,
  name,
  description: '',
  section: '',
  form: `fm_${id}`,
  list: `l_${id}`,
  fields: [FieldPlan.parse({ kind: 'text', id: `${id}_name`, name: 'Name', description: '', required: false, unique: false, default: null })],
});
const belongs = (child: string, parent: string): DesignChange => ({
  kind: 'add_relationship',
  id: `${child}_of_${parent}`,
  parent,
  child,
  fieldId: `${child}_${parent}`,
  fieldName: parent,
  childrenName: `${child} of ${parent}`,
  required: false,
  whenParentRemoved: 'refuse',
});
function designOf(changes: readonly DesignChange[]): DrawnDesign {
  const made = applyChanges(emptyDesign('Honey'), changes);
  if (!made.ok) throw new Error(JSON.stringify(made.issues));
  return withCaptions(made.design);
}
const design = designOf([
  table('sheds', 'Sheds'),
  table('shelves', 'Shelves'),
  table('tools', 'Tools'),
  belongs('shelves', 'sheds'),
  belongs('tools', 'shelves'),
  belongs('tools', 'tools'),
]);
const base: Pick<Layout, 'cards' | 'lines'> = {
  cards: new Map([
    ['sheds', { x: 0, y: 0 }],
    ['shelves', { x: 300, y: 0 }],
    ['tools', { x: 600, y: 0 }],
  ]),
  lines: new Map([
    ['shelves_of_sheds', [10, 20].map((x) => ({ x, y: 7 }))],
    ['tools_of_shelves', [30, 40].map((x) => ({ x, y: 7 }))],
    ['tools_of_tools', [50, 60].map((x) => ({ x, y: 7 }))],
  ]),
};
const boxOf = (id: string, at: Point, of: DrawnDesign = design) => {
  const found = of.tables.find((each) => each.id === id);
  if (found === undefined) throw new Error(id);
  return { ...at, right: at.x + cardWidth(of, found), bottom: at.y + cardHeight(found) };
};

describe('the diagram where tables were put by hand', () => {
  test('is the automatic one where none was, or only tables that are gone', () => {
    expect(withOwnPlaces(design, base, new Map())).toMatchObject(base);
    expect(withOwnPlaces(design, base, new Map([['gone', { x: 1, y: 2 }]]))).toMatchObject(base);
  });

  test('keeps the way of a line whose cards stand to each other as before, and leads others from card to card', () => {
    const own = new Map([
      ['sheds', { x: 40, y: 500 }],
      ['shelves', { x: 340, y: 500 }],
      ['tools', { x: 0, y: 0 }],
    ]);
    const { cards, lines } = withOwnPlaces(design, base, own);
    expect(cards).toEqual(own);
    expect(lines.get('shelves_of_sheds')).toEqual([
      { x: 50, y: 507 },
      { x: 60, y: 507 },
    ]);
    // Its card was moved as a whole, and the line around it with it.
    expect(lines.get('tools_of_tools')).toEqual([
      { x: -550, y: 7 },
      { x: -540, y: 7 },
    ]);
    const line = lines.get('tools_of_shelves') ?? [];
    expect(line[0]?.x).toBe(boxOf('shelves', { x: 340, y: 500 }).right);
    expect(line.at(-1)?.x).toBe(0);
  });

  test('a table that nobody has put anywhere lies on no other', () => {
    const own = new Map([
      ['sheds', { x: 590, y: 20 }],
      ['shelves', { x: 0, y: 0 }],
    ]);
    const { cards } = withOwnPlaces(design, base, own);
    const [tools, sheds] = [cards.get('tools') as Point, boxOf('sheds', { x: 590, y: 20 })];
    expect(tools.x).toBe(600);
    expect(tools.y).toBeGreaterThan(sheds.bottom);
  });

  const annotated = designOf([
    ...['sheds', 'shelves', 'tools'].map((id) => table(id, id)),
    ...['sheds', 'tools'].map((id): DesignChange => ({ kind: 'change_table', table: id, section: 'Store' })),
    ...['first', 'second'].map((id): DesignChange => ({ kind: 'put', part: 'note', value: { id, text: 'Where things are', tone: 'gold' } })),
  ]);
  const place = fc.record({ x: fc.integer({ min: -2000, max: 2000 }), y: fc.integer({ min: -2000, max: 2000 }) });
  test('wherever tables are put: lines are level or upright, leave at the right and arrive at the left, and all is within the bounds', () => {
    fc.assert(
      fc.property(place, place, place, (sheds, shelves, tools) => {
        const { cards, lines, bounds } = withOwnPlaces(design, base, new Map(Object.entries({ sheds, shelves, tools })));
        const ends = { shelves_of_sheds: ['sheds', 'shelves'], tools_of_shelves: ['shelves', 'tools'], tools_of_tools: ['tools', 'tools'] } as const;
        for (const [id, [from, to]] of Object.entries(ends)) {
          const line = lines.get(id) ?? [];
          for (const [i, point] of line.entries()) {
            const before = line[i - 1] ?? point;
            expect(before.x === point.x || before.y === point.y).toBe(true);
            expect(point.x >= bounds.x && point.x <= bounds.x + bounds.width && point.y >= bounds.y && point.y <= bounds.y + bounds.height).toBe(true);
          }
          if (base.lines.get(id)?.length === line.length) continue;
          const [start, stop] = [boxOf(from, cards.get(from) as Point), boxOf(to, cards.get(to) as Point)];
          expect(line[0]?.x).toBe(start.right);
          expect(line.at(-1)?.x).toBe(stop.x);
          expect((line[1] as Point).x).toBeGreaterThan(start.right);
          expect((line.at(-2) as Point).x).toBeLessThan(stop.x);
        }
      }),
    );
  });

  test('wherever tables are put: a section frames all of its tables, and a note nobody has put anywhere stands below everything', () => {
    fc.assert(
      fc.property(place, place, place, place, (sheds, shelves, tools, second) => {
        const { sections, notes, bounds } = withOwnPlaces(annotated, base, new Map(Object.entries({ sheds, shelves, tools, second })));
        const frame = sections.get('Store') as Box;
        for (const card of [boxOf('sheds', sheds, annotated), boxOf('tools', tools, annotated)]) {
          expect(card.x > frame.x && card.y > frame.y && card.right < frame.x + frame.width && card.bottom < frame.y + frame.height).toBe(true);
        }
        expect([...sections.keys()]).toEqual(['Store']);
        expect(notes.get('second')).toMatchObject(second);
        const first = notes.get('first') as Box;
        for (const card of [boxOf('sheds', sheds, annotated), boxOf('shelves', shelves, annotated), boxOf('tools', tools, annotated)])
          expect(first.y).toBeGreaterThan(card.bottom);
        for (const box of [frame, ...notes.values()])
          expect(box.x >= bounds.x && box.y >= bounds.y && box.x + box.width <= bounds.x + bounds.width && box.y + box.height <= bounds.y + bounds.height).toBe(
            true,
          );
      }),
    );
  });
});

describe('the lines of a note', () => {
  test.each([
    ['Honey is filled in September.', ['Honey is filled in', 'September.']],
    ['One\n\nthree', ['One', '', 'three']],
    ['a'.repeat(40), ['a'.repeat(28), 'a'.repeat(12)]],
    ['  blanks   between  ', ['blanks between']],
    ['w'.repeat(20), ['w'.repeat(16), 'w'.repeat(4)]],
    ['a 🐝🐝🐝🐝🐝🐝🐝🐝🐝🐝🐝', ['a', '🐝'.repeat(10), '🐝']],
    ['', ['']],
  ])('%j', (text, lines) => expect(linesOfNote(text)).toEqual(lines));
});
