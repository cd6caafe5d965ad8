/** The diagram where builders have put tables themselves: cards where they were put, and lines that follow them. */
import { shownTables } from '@bibliona/core';
import { cardHeight, cardWidth, layoutWith, linesOf, loopOf, type Box, type Layout, type Point } from './diagram-layout.js';
import type { DrawnDesign } from './drawn-design.js';

/** In pixels: between a card and the nearest upright piece of a line; between cards, and between lines of one card. */
const [away, between, apart] = [24, 28, 14];

/** @param own the places that tables and notes were given, by their ids; where there is none, the automatic layout stays as it is */
export function withOwnPlaces(design: DrawnDesign, base: Pick<Layout, 'cards' | 'lines'>, own: ReadonlyMap<string, Point>): Layout {
  const tables = shownTables(design);
  if (!tables.some((table) => own.has(table.id))) return layoutWith(design, base.cards, base.lines, own);
  const boxes = new Map<string, Box>();
  const sizeOf = (id: string): { readonly width: number; readonly height: number } => {
    const table = tables.find((each) => each.id === id);
    return table === undefined ? { width: 0, height: 0 } : { width: cardWidth(design, table), height: cardHeight(table) };
  };
  for (const { id } of tables) {
    const at = own.get(id);
    if (at !== undefined) boxes.set(id, { ...at, ...sizeOf(id) });
  }
  for (const { id } of tables) if (!boxes.has(id)) boxes.set(id, clearOf({ ...(base.cards.get(id) ?? nowhere), ...sizeOf(id) }, [...boxes.values()]));
  const cards = new Map([...boxes].map(([id, { x, y }]) => [id, { x, y }]));
  /** How far a card is from where the automatic layout has it. */
  const shiftOf = (id: string): Point => {
    const [now, then] = [cards.get(id) ?? nowhere, base.cards.get(id) ?? nowhere];
    return { x: now.x - then.x, y: now.y - then.y };
  };
  const lines = new Map<string, readonly Point[]>();
  const ports = new Ports();
  for (const line of linesOf(design)) {
    const [from, to] = [boxes.get(line.from), boxes.get(line.to)];
    if (from === undefined || to === undefined) continue;
    const [by, alsoBy] = [shiftOf(line.from), shiftOf(line.to)];
    const drawn = base.lines.get(line.id);
    // A line between two cards that stand to each other as before keeps its way around the others. Places are whole pixels, the layout's are not.
    if (drawn !== undefined && Math.abs(by.x - alsoBy.x) < 1 && Math.abs(by.y - alsoBy.y) < 1)
      lines.set(
        line.id,
        drawn.map(({ x, y }) => ({ x: x + by.x, y: y + by.y })),
      );
    else lines.set(line.id, line.from === line.to ? loopOf(from, from) : way(from, ports.next(line.from, 'out', from), to, ports.next(line.to, 'in', to)));
  }
  return layoutWith(design, cards, lines, own);
}

const nowhere: Point = { x: 0, y: 0 };

const overlap = (a: Box, b: Box): boolean =>
  a.x < b.x + b.width + between && b.x < a.x + a.width + between && a.y < b.y + b.height + between && b.y < a.y + a.height + between;

/** What nobody has put anywhere yet goes below what is in its way. */
export function clearOf(box: Box, others: readonly Box[]): Box {
  const inTheWay = others.filter((other) => overlap(box, other));
  if (inTheWay.length === 0) return box;
  return clearOf({ ...box, y: Math.max(...inTheWay.map((other) => other.y + other.height)) + between }, others);
}

/** Where lines leave and reach cards: one below the other. */
class Ports {
  private readonly taken = new Map<string, number>();

  /** How far down the screen the next line is at that side of a card. */
  next(id: string, side: 'in' | 'out', { y, height }: Box): number {
    const key = `${side} ${id}`;
    const before = this.taken.get(key) ?? 0;
    this.taken.set(key, before + 1);
    // Where a card has more lines than room, they begin again at its top, a little lower.
    const rows = Math.max(1, Math.floor((height - 24) / apart));
    return y + 20 + (before % rows) * apart + Math.floor(before / rows) * 3;
  }
}

/** From the right side of one card to the left side of the other, in level and upright pieces. */
function way(from: Box, y: number, to: Box, end: number): readonly Point[] {
  const [start, stop] = [from.x + from.width, to.x];
  if (stop - start >= 2 * away) {
    const middle = Math.round((start + stop) / 2);
    return y === end
      ? [
          { x: start, y },
          { x: stop, y: end },
        ]
      : [
          { x: start, y },
          { x: middle, y },
          { x: middle, y: end },
          { x: stop, y: end },
        ];
  }
  const level = levelBetween(from, to);
  return [
    { x: start, y },
    { x: start + away, y },
    { x: start + away, y: level },
    { x: stop - away, y: level },
    { x: stop - away, y: end },
    { x: stop, y: end },
  ];
}

/** Between two cards where there is room between them, else below both. */
function levelBetween(a: Box, b: Box): number {
  const [upper, lower] = a.y <= b.y ? [a, b] : [b, a];
  const [bottom, top] = [upper.y + upper.height, lower.y];
  return top - bottom >= 12 ? Math.round((bottom + top) / 2) : Math.max(bottom, lower.y + lower.height) + 16;
}
