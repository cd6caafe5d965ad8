import { BaseEdge, EdgeLabelRenderer, type Edge, type EdgeProps } from '@xyflow/react';
import type { LineEnd, Point } from './diagram-layout.js';

// About, in the italic of the titles: words that are wider than their line would lie on the cards.
const widthOfLetter = 7;

export type CrowsFootEdge = Edge<{ readonly isHot: boolean; readonly from: LineEnd; readonly says: string; readonly points: readonly Point[] }, 'crow'>;

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

/** One at the parent, none where the reference may be empty, or many at a link; none or many at the child, in the notation of the trade. */
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
        {data.from === 'many' ? (
          <path d={`M${first.x + 11} ${first.y}l-11 -5.5M${first.x + 11} ${first.y}l-11 5.5`} />
        ) : (
          <path d={`M${first.x + 8} ${first.y - 5}v10${data.from === 'one' ? `M${first.x + 12} ${first.y - 5}v10` : ''}`} />
        )}
        {data.from !== 'one' && <circle cx={first.x + 15} cy={first.y} r={3.6} fill="var(--sheet)" />}
        <path d={`M${last.x - 11} ${last.y}l11 -5.5M${last.x - 11} ${last.y}l11 5.5`} />
        <circle cx={last.x - 15} cy={last.y} r={3.6} fill="var(--sheet)" />
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
