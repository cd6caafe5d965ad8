import '@xyflow/react/dist/style.css';
import {
  BaseEdge,
  EdgeLabelRenderer,
  Handle,
  Position,
  ReactFlow,
  ReactFlowProvider,
  useReactFlow,
  type Connection,
  type Edge,
  type EdgeProps,
  type Node,
  type NodeProps,
} from '@xyflow/react';
import { statusesOf, type Route, type RouteFinding, type Status } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useRef } from 'react';
import { useApp } from '../../state/app.js';
import { StatusSpine } from '../../ui/StatusSpine.js';
import { whoMoves, type Spot } from './route-draft.js';
import { layOutRoute, stopHeight, stopWidth } from './route-layout.js';
import { locale } from '../../state/locale.js';

type StopNode = Node<
  { readonly status: Status; readonly countInWords: string; readonly isSelected: boolean; readonly isFound: boolean; readonly onOpen: () => void },
  'stop'
>;
type MoveEdge = Edge<
  {
    readonly points: readonly { readonly x: number; readonly y: number }[];
    readonly words: { readonly x: number; readonly y: number };
    readonly name: string;
    readonly who: string;
    readonly isSelected: boolean;
    readonly onOpen: () => void;
  },
  'move'
>;

function Stop({ data }: NodeProps<StopNode>) {
  const { status, countInWords, isSelected, isFound, onOpen } = data;
  return (
    <button
      type="button"
      className={isSelected ? 'stop on' : 'stop'}
      style={{ width: stopWidth, height: stopHeight }}
      onClick={onOpen}
      aria-label={`Status ${status.name}, ${countInWords}`}
      aria-current={isSelected ? 'true' : undefined}
    >
      <Handle type="target" position={Position.Left} className="joint" />
      <StatusSpine kind={status.kind} />
      <span className="stop-words">
        <b className="el">{status.name}</b>
        <span className="q sm">
          {countInWords}
          {isFound && <i className="loz-mark" role="img" aria-label="something to look at" />}
        </span>
      </span>
      <Handle type="source" position={Position.Right} className="joint" title="Draw a move to another status" />
    </button>
  );
}

function MoveLine({ id, data }: EdgeProps<MoveEdge>) {
  const [first] = data?.points ?? [];
  const last = data?.points.at(-1);
  if (data === undefined || first === undefined || last === undefined) return null;
  const before = data.points.at(-2) ?? first;
  const angle = Math.atan2(last.y - before.y, last.x - before.x);
  const wing = (turn: number): string => `${last.x - 8 * Math.cos(angle + turn)} ${last.y - 8 * Math.sin(angle + turn)}`;
  const style = { stroke: data.isSelected ? 'var(--green)' : 'var(--ink2)', strokeWidth: data.isSelected ? 2 : 1.2, fill: 'none' };
  return (
    <>
      <BaseEdge id={id} path={`M${data.points.map(({ x, y }) => `${x} ${y}`).join('L')}`} style={style} />
      <path d={`M${wing(0.5)}L${last.x} ${last.y}L${wing(-0.5)}`} style={style} />
      <EdgeLabelRenderer>
        <button
          type="button"
          className={data.isSelected ? 'move-words on' : 'move-words'}
          style={{ transform: `translate(-50%, -50%) translate(${data.words.x}px, ${data.words.y}px)` }}
          onClick={data.onOpen}
          aria-label={`Move ${data.name}, ${data.who}`}
          aria-current={data.isSelected ? 'true' : undefined}
        >
          <b>{data.name}</b>
          <span className={data.who === 'nobody yet' ? 'sm nobody' : 'q sm'}>{data.who}</span>
        </button>
      </EdgeLabelRenderer>
    </>
  );
}

const nodeTypes = { stop: Stop };
const edgeTypes = { move: MoveLine };

interface DiagramProps {
  readonly route: Route;
  readonly counts: Readonly<Record<string, number>> | undefined;
  readonly findings: readonly RouteFinding[];
  readonly spot: Spot;
  readonly onSpot: (spot: Spot) => void;
  /** A line was drawn from one status to another. */
  readonly onConnect: (from: string, to: string) => void;
}

/** A route as it is: statuses as slips with their spines, moves as arrows with their words. */
export default function RouteDiagram(props: DiagramProps) {
  return (
    <ReactFlowProvider>
      <Drawn {...props} />
    </ReactFlowProvider>
  );
}

function Drawn({ route, counts, findings, spot, onSpot, onConnect }: DiagramProps) {
  const { design } = useApp();
  const { setViewport } = useReactFlow();
  const frame = useRef<HTMLDivElement>(null);
  const statuses = statusesOf(design, route);
  const shape = useMemo(
    () => JSON.stringify([statuses.map((status) => status.id), route.moves.map((move) => [move.id, move.from, move.to, move.name, whoMoves(design, move)])]),
    [statuses, route.moves, design],
  );
  const places = useQuery({
    queryKey: ['route layout', shape],
    queryFn: () => layOutRoute(route, statuses, (move) => whoMoves(design, move)),
    staleTime: Infinity,
    placeholderData: (before) => before,
  }).data;
  useEffect(() => {
    const box = frame.current?.getBoundingClientRect();
    if (places === undefined || box === undefined) return;
    const zoom = Math.min(1, Math.max(0.5, Math.min((box.width - 40) / places.width, (box.height - 24) / places.height)));
    void setViewport({ x: Math.max(16, (box.width - places.width * zoom) / 2), y: Math.max(8, (box.height - places.height * zoom) / 2), zoom });
  }, [places, setViewport]);
  if (places === undefined) return <div className="map" ref={frame} />;
  const nodes: StopNode[] = statuses.map((status) => {
    const count = counts?.[status.id];
    return {
      id: status.id,
      type: 'stop',
      position: places.stops.get(status.id) ?? { x: 0, y: 0 },
      draggable: false,
      focusable: false,
      data: {
        status,
        countInWords: count === undefined ? '' : `${locale().count(count)} now`,
        isSelected: spot.kind === 'status' && spot.id === status.id,
        isFound: findings.some((finding) => finding.status.id === status.id),
        onOpen: () => onSpot({ kind: 'status', id: status.id }),
      },
    };
  });
  const edges: MoveEdge[] = route.moves.flatMap((move) => {
    const line = places.moves.get(move.id);
    if (line === undefined) return [];
    const isSelected = spot.kind === 'move' && spot.id === move.id;
    return [
      {
        id: move.id,
        source: move.from,
        target: move.to,
        type: 'move',
        focusable: false,
        // What it does is said by the button on it.
        ariaLabel: `Line of ${move.name}`,
        zIndex: isSelected ? 1 : 0,
        data: { ...line, name: move.name, who: whoMoves(design, move), isSelected, onOpen: () => onSpot({ kind: 'move', id: move.id }) },
      },
    ];
  });
  return (
    <div className="map" ref={frame}>
      <ReactFlow
        nodes={nodes}
        edges={edges}
        nodeTypes={nodeTypes}
        edgeTypes={edgeTypes}
        onConnect={({ source, target }: Connection) => source !== target && onConnect(source, target)}
        nodesDraggable={false}
        nodesFocusable={false}
        edgesFocusable={false}
        minZoom={0.3}
        maxZoom={1.5}
        zoomOnDoubleClick={false}
        panOnScroll
        proOptions={{ hideAttribution: true }}
        aria-label="Diagram of the route"
      />
    </div>
  );
}
