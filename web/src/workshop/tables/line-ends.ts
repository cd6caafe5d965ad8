/** How the lines of the diagram are drawn, on the screen and in a saved picture. */
import type { LineEnd, Point } from './diagram-layout.js';

/** A width of a letter in the italic of the titles, in pixels: words that are wider than their line would lie on the cards. */
const widthOfLetter = 7;

export const pathOf = (points: readonly Point[]): string => `M${points.map(({ x, y }) => `${x} ${y}`).join('L')}`;

/**
 * The middle of the longest straight piece, where words have most room; null where they have too little.
 * @param isLevel whether only level pieces count, so that words lie on no other line
 */
export function wordsAt(points: readonly Point[], words: string, isLevel: boolean): Point | null {
  let best = { length: -1, x: 0, y: 0 };
  for (let i = 1; i < points.length; i += 1) {
    const [a, b] = [points[i - 1] as Point, points[i] as Point];
    const length = Math.abs(a.x - b.x) + Math.abs(a.y - b.y);
    if (length > best.length && (!isLevel || a.y === b.y)) best = { length, x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
  }
  return best.length > words.length * widthOfLetter + 48 ? { x: best.x, y: best.y } : null;
}

export const ringSize = 3.6;

/**
 * How many there are at an end, in the notation of the trade.
 * @param way 1 where the line goes on to the right, -1 to the left
 */
export function endOf({ x, y }: Point, is: LineEnd, way: 1 | -1): { readonly path: string; readonly ring: Point | null } {
  const along = (by: number): number => x + way * by;
  const bar = (by: number): string => `M${along(by)} ${y - 5}v10`;
  const path = is === 'many' ? `M${along(11)} ${y}L${x} ${y - 5.5}M${along(11)} ${y}L${x} ${y + 5.5}` : `${bar(8)}${is === 'one' ? bar(12) : ''}`;
  return { path, ring: is === 'one' ? null : { x: along(15), y } };
}
