import { captionFields, fieldOf, shownTables, sidesOf, tableOf, type AppDesign, type Field, type Table } from '@bibliona/core';
import { layOutGraph, type ElkNode } from '../../ui/elk.js';

export const widestCard = 264;
const narrowestCard = 168;
/** In pixels: of a letter, and of what is beside the names. */
const [letter, beside] = [6, 44];
export const [headHeight, rowHeight] = [31, 20];
const foot = 9;
const mostRows = 5;
export const tallestCard = headHeight + mostRows * rowHeight + foot;

/** The fields that tell what a table is: what its records are called by, what it refers to, then the first others. */
export function keyFields(design: AppDesign, table: Table): readonly Field[] {
  const named = captionFields(design, table);
  const rank = (field: Field): number => (named.includes(field) ? 0 : field.kind === 'reference' ? 1 : 2);
  const chosen = [...table.fields].sort((a, b) => rank(a) - rank(b)).slice(0, table.fields.length > mostRows ? mostRows - 1 : mostRows);
  return chosen;
}

/** Wide enough for the names on it. */
export function cardWidth(design: AppDesign, table: Table): number {
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
  readonly says: string;
  /** As a screen reader says it. */
  readonly sentence: string;
}
export function linesOf(design: AppDesign): readonly Line[] {
  const relationships = design.relationships.flatMap((one): readonly Line[] => {
    const [parent, child] = [tableOf(design, one.parent), tableOf(design, one.child)];
    if (child.isLink) return [];
    const field = fieldOf(child, one.field);
    const end = field.required ? 'one' : 'none or one';
    const of = field.unique ? `, and none of ${parent.name} has more than one` : '';
    const sentence = `${child.name} belong to ${parent.name}: each has ${end} as ${field.name}${of}`;
    return [
      { id: one.id, from: parent.id, to: child.id, ends: [end, field.unique ? 'none or one' : 'many'], link: undefined, says: one.childrenName, sentence },
    ];
  });
  const links = design.tables.flatMap((link): readonly Line[] => {
    const [first, second] = sidesOf(design, link) ?? [];
    if (first === undefined || second === undefined) return [];
    const sentence = `${first.table.name} and ${second.table.name}: each has none or many of the other`;
    return [{ id: link.id, from: first.table.id, to: second.table.id, ends: ['many', 'many'], link: link.id, says: first.relationship.childrenName, sentence }];
  });
  return [...relationships, ...links];
}

export interface Point {
  readonly x: number;
  readonly y: number;
}
export interface Layout {
  readonly cards: ReadonlyMap<string, Point>;
  /** The corners of each line, from the one to the many. */
  readonly lines: ReadonlyMap<string, readonly Point[]>;
  /** Around cards and lines. */
  readonly bounds: { readonly x: number; readonly y: number; readonly width: number; readonly height: number };
}

/** How large a sheet is, in pixels: of two layouts that one is taken which is larger on it. */
export interface SheetSize {
  readonly width: number;
  readonly height: number;
}
const stationSheet: SheetSize = { width: 744, height: 430 };

/** The layout of a design as a query of the cache: it is the same as long as no card and no line is another. */
export const layoutQuery = (design: AppDesign, sheet: SheetSize = stationSheet) => ({
  queryKey: [
    'layout',
    sheet.width / sheet.height,
    JSON.stringify([
      shownTables(design).map((table) => [table.id, cardWidth(design, table), cardHeight(table)]),
      linesOf(design).map((line) => [line.from, line.to]),
    ]),
  ],
  queryFn: () => layOut(design, sheet),
  staleTime: Infinity,
});

/** Places for the cards, parents left of their children, and ways for the lines around the cards. */
async function layOut(design: AppDesign, sheet: SheetSize): Promise<Layout> {
  // A long chain of tables fits better when it is folded into rows, a broad net of them when it is not.
  const layouts = await Promise.all([false, true].map(async (isFolded) => layoutOf(design, await layOutGraph(graphOf(design, isFolded)))));
  const zoom = ({ bounds }: Layout): number => Math.min(sheet.width / bounds.width, sheet.height / bounds.height);
  return layouts.reduce((best, one) => (zoom(one) > zoom(best) * 1.05 ? one : best));
}

function graphOf(design: AppDesign, isFolded: boolean): ElkNode {
  return {
    id: 'tables',
    layoutOptions: {
      'elk.algorithm': 'layered',
      'elk.direction': 'RIGHT',
      'elk.spacing.nodeNode': '28',
      'elk.layered.spacing.nodeNodeBetweenLayers': '62',
      'elk.edgeRouting': 'ORTHOGONAL',
      'elk.spacing.edgeNode': '20',
      'elk.layered.spacing.edgeNodeBetweenLayers': '26',
      'elk.layered.considerModelOrder.strategy': 'NODES_AND_EDGES',
      ...(isFolded ? { 'elk.layered.wrapping.strategy': 'MULTI_EDGE', 'elk.layered.wrapping.additionalEdgeSpacing': '20' } : {}),
      'elk.separateConnectedComponents': 'true',
      'elk.aspectRatio': '1.7',
    },
    children: shownTables(design).map((table) => ({ id: table.id, width: cardWidth(design, table), height: cardHeight(table) })),
    // A relationship of a table with itself is drawn, but does not place it.
    edges: linesOf(design)
      .filter((line) => line.from !== line.to)
      .map((line) => ({ id: line.id, sources: [line.from], targets: [line.to] })),
  };
}

function layoutOf(design: AppDesign, graph: ElkNode): Layout {
  const cards = new Map((graph.children ?? []).map((node) => [node.id, { x: node.x ?? 0, y: node.y ?? 0 }]));
  const lines = new Map<string, readonly Point[]>();
  for (const edge of graph.edges ?? []) {
    const section = edge.sections?.[0];
    if (section !== undefined) lines.set(edge.id, [section.startPoint, ...(section.bendPoints ?? []), section.endPoint]);
  }
  for (const one of linesOf(design)) {
    const card = cards.get(one.from);
    const table = design.tables.find((each) => each.id === one.from);
    if (one.from !== one.to || card === undefined || table === undefined) continue;
    lines.set(one.id, loopOf(card, { width: cardWidth(design, table), height: cardHeight(table) }));
  }
  return { cards, lines, bounds: boundsOf(design, cards, lines) };
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

/** Around cards and lines. */
export function boundsOf(design: AppDesign, cards: Layout['cards'], lines: Layout['lines']): Layout['bounds'] {
  const corners = [...lines.values()].flat().concat(
    shownTables(design).flatMap((table) => {
      const { x, y } = cards.get(table.id) ?? { x: 0, y: 0 };
      return [
        { x, y },
        { x: x + cardWidth(design, table), y: y + cardHeight(table) },
      ];
    }),
  );
  const [left, top] = [Math.min(...corners.map(({ x }) => x)), Math.min(...corners.map(({ y }) => y))];
  return { x: left, y: top, width: Math.max(...corners.map(({ x }) => x)) - left, height: Math.max(...corners.map(({ y }) => y)) - top };
}
