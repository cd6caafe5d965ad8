import { BaseEdge, EdgeLabelRenderer, getSmoothStepPath, type Edge, type EdgeProps } from '@xyflow/react';

export type CrowsFootEdge = Edge<{ readonly isHot: boolean; readonly says: string; readonly turn: number }, 'crow'>;

/** One at the parent, none or many at the child, in the notation of the trade. */
export function CrowsFoot({ id, sourceX, sourceY, targetX, targetY, sourcePosition, targetPosition, data }: EdgeProps<CrowsFootEdge>) {
  const [path, x, y] = getSmoothStepPath({ sourceX, sourceY, targetX: targetX - 2, targetY, sourcePosition, targetPosition, borderRadius: 3, offset: 24 });
  const color = data?.isHot === true ? 'var(--green)' : 'var(--rule2)';
  return (
    <>
      <BaseEdge id={id} path={path} style={{ stroke: color, strokeWidth: data?.isHot === true ? 1.8 : 1.2 }} />
      <g fill="none" stroke={color} strokeWidth={data?.isHot === true ? 1.8 : 1.2}>
        <path d={`M${sourceX + 8} ${sourceY - 5}v10M${sourceX + 12} ${sourceY - 5}v10`} />
        <path d={`M${targetX - 11} ${targetY}l11 -5.5M${targetX - 11} ${targetY}l11 5.5`} />
        <circle cx={targetX - 15} cy={targetY} r={3.6} fill="var(--sheet)" />
      </g>
      {data?.isHot === true && (
        <EdgeLabelRenderer>
          <span className="edge-says" style={{ transform: `translate(-50%, -50%) translate(${x}px, ${y}px)` }}>
            {data.says}
          </span>
        </EdgeLabelRenderer>
      )}
    </>
  );
}
