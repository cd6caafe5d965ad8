import { BaseEdge, EdgeLabelRenderer, type Edge, type EdgeProps } from '@xyflow/react';
import type { LineEnd, Point } from './diagram-layout.js';
import { endOf, pathOf, ringSize, wordsAt } from './line-ends.js';

export type CrowsFootEdge = Edge<
  { readonly isHot: boolean; readonly ends: readonly [LineEnd, LineEnd]; readonly label: string; readonly points: readonly Point[] },
  'crow'
>;

function End({ at, is, way }: { readonly at: Point; readonly is: LineEnd; readonly way: 1 | -1 }) {
  const { path, ring } = endOf(at, is, way);
  return (
    <>
      <path d={path} />
      {ring !== null && <circle cx={ring.x} cy={ring.y} r={ringSize} fill="var(--sheet)" />}
    </>
  );
}

/** A relationship between two cards. */
export function CrowsFoot({ id, data }: EdgeProps<CrowsFootEdge>) {
  const points = data?.points ?? [];
  const [first, last] = [points[0], points.at(-1)];
  if (data === undefined || first === undefined || last === undefined) return null;
  const [color, strokeWidth] = data.isHot ? ['var(--green)', 1.8] : ['var(--rule2)', 1.2];
  const words = data.isHot ? wordsAt(points, data.label, false) : null;
  return (
    <>
      <BaseEdge id={id} path={pathOf(points)} style={{ stroke: color, strokeWidth }} />
      <g fill="none" stroke={color} strokeWidth={strokeWidth}>
        <End at={first} is={data.ends[0]} way={1} />
        <End at={last} is={data.ends[1]} way={-1} />
      </g>
      {words !== null && (
        <EdgeLabelRenderer>
          <span className="edge-says" style={{ transform: `translate(-50%, -50%) translate(${words.x}px, ${words.y}px)` }}>
            {data.label}
          </span>
        </EdgeLabelRenderer>
      )}
    </>
  );
}
