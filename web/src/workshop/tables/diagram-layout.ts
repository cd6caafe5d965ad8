import { fieldOf, shownTables, sidesOf, tableOf, type Field, type Table } from '@bibliona/core';
import { sectionsOf } from '../../state/sections.js';
import { layOutGraph, type ElkNode } from '../../ui/elk.js';
import { namedIn, type DrawnDesign } from './drawn-design.js';

export const widestCard = 264;
const narrowestCard = 168;
/** In pixels: of a letter, and of what is beside the names. */
const [letter, beside] = [6, 44];
export const [headHeight, rowHeight] = [31, 20];
const foot = 9;
const mostRows = 5;
export const tallestCard = headHeight + mostRows * rowHeight + foot;

/** The fields that tell what a table is: what its records are called by, what it refers to, then the first others. */
export function keyFields(design: DrawnDesign, table: Table): readonly Field[] {
  const named = namedIn(design, table);
  const rank = (field: Field): number => (named.includes(field) ? 0 : field.kind === 'reference' ? 1 : 2);
  const chosen = [...table.fields].sort((a, b) => rank(a) - rank(b)).slice(0, table.fields.length > mostRows ? mostRows - 1 : mostRows);
  return chosen;
}

/** Wide enough for the names on it. */
export function cardWidth(design: DrawnDesign, table: Table): number {
  const longest = Math.max(table.name.length + 3, ...keyFields(design, table).map((field) => field.name.length));
  return Math.min(Math.max(beside + longest * letter, narrowestCard), widestCard);
}

export function cardHeight(table: Table): number {
  const rows = Math.min(table.fields.length, mostRows);
  return headHeight + rows * rowHeight + foot;
}

/** How many records a line leads to at one of its ends. */
export type LineEnd = 'one' | 'none or one' | 'many';
/** A relationship, or a link with both of its relationships. */
export interface Line {
  readonly id: string;
  readonly from: string;
  readonly to: string;
  readonly ends: readonly [from: LineEnd, to: LineEnd];
  /** The table of pairs, where it is a link. */
  readonly link: string | undefined;
  readonly label: string;
  /** As a screen reader says it. */
  readonly sentence: string;
}
export function linesOf(design: DrawnDesign): readonly Line[] {
  const relationships = design.relationships.flatMap((relationship): readonly Line[] => {
    const [parent, child] = [tableOf(design, relationship.parent), tableOf(design, relationship.child)];
    if (child.isLink) return [];
    const field = fieldOf(child, relationship.field);
    const end = field.required ? 'one' : 'none or one';
    const of = field.unique ? `, and none of ${parent.name} has more than one` : '';
    const sentence = `${child.name} belong to ${parent.name}: each has ${end} as ${field.name}${of}`;
    return [
      {
        id: relationship.id,
        from: parent.id,
        to: child.id,
        ends: [end, field.unique ? 'none or one' : 'many'],
        link: undefined,
        label: relationship.childrenName,
        sentence,
      },
    ];
  });
  const links = design.tables.flatMap((link): readonly Line[] => {
    const [first, second] = sidesOf(design, link) ?? [];
    if (first === undefined || second === undefined) return [];
    const sentence = `${first.table.name} and ${second.table.name}: each has none or many of the other`;
    return [
      { id: link.id, from: first.table.id, to: second.table.id, ends: ['many', 'many'], link: link.id, label: first.relationship.childrenName, sentence },
    ];
  });
  return [...relationships, ...links];
}

export interface Point {
  readonly x: number;
  readonly y: number;
}
export interface Box extends Point {
  readonly width: number;
  readonly height: number;
}
export interface Layout {
  readonly cards: ReadonlyMap<string, Point>;
  /** The corners of each line, from the one to the many. */
  readonly lines: ReadonlyMap<string, readonly Point[]>;
  /** The frames of the sections, by their names: around the cards of their tables. */
  readonly sections: ReadonlyMap<string, Box>;
  readonly notes: ReadonlyMap<string, Box>;
  /** Around all of it. */
  readonly bounds: Box;
}

/** How large a sheet is, in pixels: of two layouts that one is taken which is larger on it. */
export interface SheetSize {
  readonly width: number;
  readonly height: number;
}
const stationSheet: SheetSize = { width: 744, height: 430 };

/** The layout of a design as a query of the cache: it is the same as long as no card and no line is another. */
export const layoutQuery = (design: DrawnDesign, sheet: SheetSize = stationSheet) => ({
  queryKey: [
    'layout',
    sheet.width / sheet.height,
    JSON.stringify([
      shownTables(design).map((table) => [table.id, table.section, cardWidth(design, table), cardHeight(table)]),
      linesOf(design).map((line) => [line.from, line.to]),
    ]),
  ],
  queryFn: () => layOut(design, sheet),
  staleTime: Infinity,
});

/** Places for the cards, parents left of their children, and ways for the lines around the cards. */
async function layOut(design: DrawnDesign, sheet: SheetSize): Promise<Layout> {
  const laidOut = async (isFolded: boolean): Promise<Layout> => layoutOf(design, await layOutGraph(graphOf(design, isFolded)));
  const zoom = ({ bounds }: Layout): number => Math.min(sheet.width / bounds.width, sheet.height / bounds.height);
  const plain = await laidOut(false);
  // No card is drawn larger than it is.
  if (zoom(plain) >= 1) return plain;
  // A long chain of tables fits better when it is folded into rows, a broad net of them when it is not.
  const folded = await laidOut(true);
  return zoom(folded) > zoom(plain) * 1.05 ? folded : plain;
}

/** In pixels: between a section's frame and its cards; above them is its name. */
const frame = { side: 14, top: 34 };
const spacing = {
  'elk.spacing.nodeNode': '28',
  'elk.layered.spacing.nodeNodeBetweenLayers': '62',
  'elk.spacing.edgeNode': '20',
  'elk.layered.spacing.edgeNodeBetweenLayers': '26',
};
const rootCoordinates = { 'elk.json.shapeCoords': 'ROOT', 'elk.json.edgeCoords': 'ROOT' };

function graphOf(design: DrawnDesign, isFolded: boolean): ElkNode {
  const nodes = (tables: readonly Table[]): ElkNode[] => tables.map((table) => ({ id: table.id, width: cardWidth(design, table), height: cardHeight(table) }));
  return {
    id: 'tables',
    layoutOptions: {
      'elk.algorithm': 'layered',
      'elk.direction': 'RIGHT',
      'elk.edgeRouting': 'ORTHOGONAL',
      ...spacing,
      'elk.layered.considerModelOrder.strategy': 'NODES_AND_EDGES',
      ...(isFolded ? { 'elk.layered.wrapping.strategy': 'MULTI_EDGE', 'elk.layered.wrapping.additionalEdgeSpacing': '20' } : {}),
      'elk.separateConnectedComponents': 'true',
      'elk.aspectRatio': '1.7',
      // Frames keep columns of cards apart that could stand closer.
      'elk.layered.compaction.postCompaction.strategy': 'EDGE_LENGTH',
      'elk.hierarchyHandling': 'INCLUDE_CHILDREN',
      ...rootCoordinates,
    },
    children: sectionsOf(shownTables(design)).flatMap(({ name, parts }) =>
      name === ''
        ? nodes(parts)
        : [
            {
              id: `section ${name}`,
              layoutOptions: { ...spacing, 'elk.padding': `[top=${frame.top},left=${frame.side},bottom=${frame.side},right=${frame.side}]` },
              children: nodes(parts),
            },
          ],
    ),
    // A relationship of a table with itself is drawn, but does not place it.
    edges: linesOf(design)
      .filter((line) => line.from !== line.to)
      .map((line) => ({ id: line.id, sources: [line.from], targets: [line.to] })),
  };
}

function layoutOf(design: DrawnDesign, graph: ElkNode): Layout {
  const nodes = (graph.children ?? []).flatMap((node) => node.children ?? [node]);
  const cards = new Map(nodes.map((node) => [node.id, { x: node.x ?? 0, y: node.y ?? 0 }]));
  const lines = new Map<string, readonly Point[]>();
  for (const edge of graph.edges ?? []) {
    const section = edge.sections?.[0];
    if (section !== undefined) lines.set(edge.id, [section.startPoint, ...(section.bendPoints ?? []), section.endPoint]);
  }
  for (const line of linesOf(design)) {
    const card = cards.get(line.from);
    const table = design.tables.find((each) => each.id === line.from);
    if (line.from !== line.to || card === undefined || table === undefined) continue;
    lines.set(line.id, loopOf(card, { width: cardWidth(design, table), height: cardHeight(table) }));
  }
  return layoutWith(design, cards, lines);
}

/** The line of a table that refers to itself: out at the right, around below, in at the left. */
export function loopOf(card: Point, { width, height }: SheetSize): readonly Point[] {
  const [right, below, y] = [card.x + width, card.y + height + 14, card.y + 20];
  return [
    { x: right, y },
    { x: right + 20, y },
    { x: right + 20, y: below },
    { x: card.x - 24, y: below },
    { x: card.x - 24, y },
    { x: card.x, y },
  ];
}

/** In pixels, of a note: its width, within its edges, and from line to line. */
export const note = { width: 208, edge: 12, line: 17 };
/** About how wide a letter on a note is, in pixels: pictures are drawn where no page measures them. */
const widthOf = (letter: string): number =>
  /\p{Extended_Pictographic}|\p{Script=Han}|\p{Script=Hiragana}|\p{Script=Katakana}|\p{Script=Hangul}/u.test(letter)
    ? 17
    : /[mwMW@%—]/u.test(letter)
      ? 11
      : /\p{Lu}/u.test(letter)
        ? 8.6
        : 6.4;

/** A text in lines that fit on a note: broken between words, and within those that are too long. */
export function linesOfNote(text: string): readonly string[] {
  const room = note.width - 2 * note.edge;
  return text.split('\n').flatMap((paragraph) => {
    const lines: string[] = [];
    let [line, width] = ['', 0];
    const end = (): void => {
      lines.push(line);
      [line, width] = ['', 0];
    };
    for (const word of paragraph.split(/\s+/u).filter((each) => each !== '')) {
      const letters = [...word].map((letter) => ({ letter, wide: widthOf(letter) }));
      const blank = line === '' ? 0 : widthOf(' ');
      if (line !== '' && width + blank + letters.reduce((sum, { wide }) => sum + wide, 0) > room) end();
      else if (line !== '') [line, width] = [`${line} `, width + blank];
      for (const { letter, wide } of letters) {
        if (width + wide > room) end();
        [line, width] = [line + letter, width + wide];
      }
    }
    end();
    return lines;
  });
}

const around = (boxes: readonly Box[]): Box => {
  const [x, y] = [Math.min(...boxes.map((box) => box.x)), Math.min(...boxes.map((box) => box.y))];
  return { x, y, width: Math.max(...boxes.map((box) => box.x + box.width)) - x, height: Math.max(...boxes.map((box) => box.y + box.height)) - y };
};

/** The layout with what follows from where its cards are. @param own where notes were put; the others stand in a row below everything */
export function layoutWith(design: DrawnDesign, cards: Layout['cards'], lines: Layout['lines'], own: ReadonlyMap<string, Point> = new Map()): Layout {
  const tables = shownTables(design);
  const boxOf = (table: Table): Box => ({ ...(cards.get(table.id) ?? { x: 0, y: 0 }), width: cardWidth(design, table), height: cardHeight(table) });
  const framed = sectionsOf(tables).filter(({ name }) => name !== '');
  const sections = new Map(
    framed.map(({ name, parts }) => {
      const { x, y, width, height } = around(parts.map(boxOf));
      return [name, { x: x - frame.side, y: y - frame.top, width: width + 2 * frame.side, height: height + frame.top + frame.side }];
    }),
  );
  const corners = [...lines.values()].flat().map((corner) => ({ ...corner, width: 0, height: 0 }));
  const drawn = [...tables.map(boxOf), ...sections.values(), ...corners];
  const below = drawn.length === 0 ? { x: 0, y: 0, width: 0, height: 0 } : around(drawn);
  const loose = design.notes.filter(({ id }) => !own.has(id));
  const notes = new Map(
    design.notes.map((each) => {
      const at = own.get(each.id) ?? { x: below.x + loose.indexOf(each) * (note.width + 20), y: below.y + below.height + 28 };
      return [each.id, { ...at, width: note.width, height: linesOfNote(each.text).length * note.line + 2 * note.edge }];
    }),
  );
  return { cards, lines, sections, notes, bounds: drawn.length + notes.size === 0 ? below : around([...drawn, ...notes.values()]) };
}
