import { BaseEdge, EdgeLabelRenderer, type Edge, type EdgeProps } from '@xyflow/react';
import type { LineEnd, Point } from './diagram-layout.js';

// About, in the italic of the titles: words that are wider than their line would lie on the cards.
const widthOfLetter = 7;

export type CrowsFootEdge = Edge<
  { readonly isHot: boolean; readonly ends: readonly [LineEnd, LineEnd]; readonly says: string; readonly points: readonly Point[] },
  'crow'
>;

/** The middle of the longest straight piece: where words over the line have most room. */
function wordsAt(points: readonly Point[]): (Point & { readonly length: number }) | null {
  let best = { length: -1, x: 0, y: 0 };
  for (let i = 1; i < points.length; i += 1) {
    const [a, b] = [points[i - 1] as Point, points[i] as Point];
    const length = Math.abs(a.x - b.x) + Math.abs(a.y - b.y);
    if (length > best.length) best = { length, x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
  }
  return best.length > 0 ? best : null;
}

/** How many there are at an end, in the notation of the trade; `way`: 1 where the line goes on to the right, -1 to the left. */
function End({ at: { x, y }, is, way }: { readonly at: Point; readonly is: LineEnd; readonly way: 1 | -1 }) {
  const along = (by: number): number => x + way * by;
  const bar = (by: number): string => `M${along(by)} ${y - 5}v10`;
  const path = is === 'many' ? `M${along(11)} ${y}L${x} ${y - 5.5}M${along(11)} ${y}L${x} ${y + 5.5}` : `${bar(8)}${is === 'one' ? bar(12) : ''}`;
  return (
    <>
      <path d={path} />
      {is !== 'one' && <circle cx={along(15)} cy={y} r={3.6} fill="var(--sheet)" />}
    </>
  );
}

/** A relationship between two cards. */
export function CrowsFoot({ id, data }: EdgeProps<CrowsFootEdge>) {
  const points = data?.points ?? [];
  const [first, last] = [points[0], points.at(-1)];
  if (data === undefined || first === undefined || last === undefined) return null;
  const [color, strokeWidth] = data.isHot ? ['var(--green)', 1.8] : ['var(--rule2)', 1.2];
  const words = wordsAt(points);
  return (
    <>
      <BaseEdge id={id} path={`M${points.map(({ x, y }) => `${x} ${y}`).join('L')}`} style={{ stroke: color, strokeWidth }} />
      <g fill="none" stroke={color} strokeWidth={strokeWidth}>
        <End at={first} is={data.ends[0]} way={1} />
        <End at={last} is={data.ends[1]} way={-1} />
      </g>
      {data.isHot && words !== null && words.length > data.says.length * widthOfLetter + 48 && (
        <EdgeLabelRenderer>
          <span className="edge-says" style={{ transform: `translate(-50%, -50%) translate(${words.x}px, ${words.y}px)` }}>
            {data.says}
          </span>
        </EdgeLabelRenderer>
      )}
    </>
  );
}
