import '@xyflow/react/dist/style.css';
import {
  Handle,
  Position,
  ReactFlow,
  ReactFlowProvider,
  useReactFlow,
  type Connection,
  type Edge,
  type Node,
  type NodeProps,
  type Viewport,
} from '@xyflow/react';
import { useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useRef } from 'react';
import { captionFields, shownTables, type AppDesign, type Table } from '@bibliona/core';
import { printCount, useApp, useCounts } from '../../state/app.js';
import { KindIcon } from '../../fields/KindIcon.js';
import { CrowsFoot, type CrowsFootEdge } from './CrowsFoot.js';
import { pictureOf } from './diagram-picture.js';
import { DiagramTools } from './DiagramTools.js';
import { cardHeight, cardWidth, keyFields, layoutQuery, linesOf, tallestCard, widestCard, type Point, type SheetSize } from './diagram-layout.js';

type CardNode = Node<
  {
    readonly design: AppDesign;
    readonly table: Table;
    /** How many records it has, as it is printed. */
    readonly count: string;
    readonly isSelected: boolean;
    readonly isJoin: boolean;
    readonly canJoin: boolean;
    readonly onOpen: (() => void) | undefined;
  },
  'card'
>;

function Card({ data }: NodeProps<CardNode>) {
  const { design, table, count, isSelected, isJoin, canJoin, onOpen } = data;
  const shown = keyFields(design, table);
  const named = captionFields(design, table);
  const more = table.fields.length - shown.length;
  return (
    <button
      type="button"
      className={`card ${isSelected ? 'sel' : ''} ${isJoin ? 'join' : ''}`}
      style={{ width: cardWidth(design, table) }}
      onClick={onOpen}
      aria-label={`Table ${table.name}, ${count === '' ? 'no' : count} ${count === '1' ? 'record' : 'records'}`}
      aria-current={isSelected ? 'true' : undefined}
    >
      <Handle type="target" position={Position.Left} className="joint" />
      <span className="ch">
        <b className="el">{table.name}</b>
        <span>{count}</span>
      </span>
      <span className="cf">
        {shown.map((field) => (
          <span key={field.id} className={named.includes(field) ? 'key-field' : ''}>
            {field.kind === 'reference' ? <KindIcon kind="reference" /> : <i />}
            <span className="el">{field.name}</span>
          </span>
        ))}
        {more > 0 && (
          <span className="more">
            <i />
            and {more} more
          </span>
        )}
      </span>
      <Handle
        type="source"
        position={Position.Right}
        className="joint"
        isConnectable={canJoin}
        {...(canJoin ? { title: 'Draw a line to another table' } : {})}
      />
    </button>
  );
}

/** How small the diagram can be drawn. */
const smallest = 0.1;

const nodeTypes = { card: Card };
const edgeTypes = { crow: CrowsFoot };

interface DrawnProps {
  readonly design: AppDesign;
  /** About how large it will be. */
  readonly sheet?: SheetSize;
  readonly countOf: (table: string) => string;
  readonly selected?: string | undefined;
  readonly onSelect?: (table: string) => void;
  /** A line was drawn from the one to the many. */
  readonly onConnect?: (parent: string, child: string) => void;
  /** Whether it is a sheet to work on, and not a small picture beside something else. */
  readonly hasTools?: boolean;
}

interface DiagramProps extends Required<Pick<DrawnProps, 'onSelect' | 'onConnect'>> {
  readonly selected: string | undefined;
}

/** The tables of the app as cards and their relationships as crow's-foot lines. */
export default function Diagram(props: DiagramProps) {
  const { id, design } = useApp();
  const counts = useCounts(id);
  return <DesignDiagram {...props} design={design} countOf={(table) => printCount(counts, table)} hasTools />;
}

/** The tables of any design. */
export function DesignDiagram(props: DrawnProps) {
  return (
    <ReactFlowProvider>
      <Drawn {...props} />
    </ReactFlowProvider>
  );
}

function Drawn({ design, sheet, countOf, selected, onSelect, onConnect, hasTools = false }: DrawnProps) {
  const { setViewport, getViewport } = useReactFlow();
  const frame = useRef<HTMLDivElement>(null);
  const opened = useRef(selected);
  useEffect(() => {
    opened.current = selected;
  });
  const { relationships } = design;
  const tables = shownTables(design);
  const places = useQuery({ ...layoutQuery(design, sheet), placeholderData: (before) => before }).data;
  /** @param least how small cards may be drawn so that all of them find room */
  const showAll = useCallback(
    (least: number): void => {
      const box = frame.current?.getBoundingClientRect();
      if (places === undefined || box === undefined) return;
      const { x, y, width, height } = places.bounds;
      // The tools stand above the cards, the legend below them.
      const top = hasTools ? 44 : 12;
      const zoom = Math.min(1, Math.max(least, Math.min((box.width - 48) / width, (box.height - 40 - top) / height)));
      const at = { x: Math.max(24, (box.width - width * zoom) / 2) - x * zoom, y: Math.max(top, (box.height - 28 - height * zoom) / 2) - y * zoom };
      void setViewport({ ...inSight(places.cards.get(opened.current ?? ''), { ...at, zoom }, box), zoom });
    },
    [places, setViewport, hasTools],
  );
  // Cards are shown at their own size where there is room, and never so small that they cannot be read.
  useEffect(() => showAll(0.55), [showAll]);
  // The one that is opened from elsewhere comes into sight.
  useEffect(() => {
    const box = frame.current?.getBoundingClientRect();
    const card = places?.cards.get(selected ?? '');
    if (box === undefined || card === undefined) return;
    const now = getViewport();
    const then = inSight(card, now, box);
    if (then.x !== now.x || then.y !== now.y) void setViewport({ ...then, zoom: now.zoom });
  }, [selected, places, getViewport, setViewport]);
  if (places === undefined) return <div className="map" ref={frame} />;
  const nodes: CardNode[] = tables.map((table) => ({
    id: table.id,
    type: 'card',
    position: places.cards.get(table.id) ?? { x: 0, y: 0 },
    // Their size is known: a card whose size is only measured stays unseen until then, and again after every change.
    initialWidth: cardWidth(design, table),
    initialHeight: cardHeight(table),
    draggable: false,
    focusable: false,
    data: {
      design,
      table,
      count: countOf(table.id),
      isSelected: table.id === selected,
      isJoin:
        relationships.filter((relationship) => relationship.child === table.id).length >= 2 &&
        table.fields.filter((field) => field.kind !== 'reference').length <= 4 &&
        !relationships.some((relationship) => relationship.parent === table.id),
      canJoin: onConnect !== undefined,
      onOpen: onSelect === undefined ? undefined : () => onSelect(table.id),
    },
  }));
  const edges: Edge[] = linesOf(design).map((line): CrowsFootEdge => {
    const isHot = selected !== undefined && [line.from, line.to, line.link].includes(selected);
    return {
      id: line.id,
      source: line.from,
      target: line.to,
      type: 'crow',
      focusable: false,
      ariaLabel: line.sentence,
      zIndex: isHot ? 1 : 0,
      data: { isHot, ends: line.ends, says: line.says, points: places.lines.get(line.id) ?? [] },
    };
  });
  const connect = ({ source, target }: Connection): void => onConnect?.(source, target);
  return (
    <div className="map" ref={frame}>
      <ReactFlow
        nodes={nodes}
        edges={edges}
        nodeTypes={nodeTypes}
        edgeTypes={edgeTypes}
        onConnect={connect}
        nodesDraggable={false}
        nodesFocusable={false}
        edgesFocusable={false}
        minZoom={smallest}
        maxZoom={1.5}
        zoomOnDoubleClick={false}
        panOnScroll
        proOptions={{ hideAttribution: true }}
        aria-label="Diagram of the tables"
      >
        {hasTools && (
          <DiagramTools bounds={places.bounds} name={design.name} picture={() => pictureOf(design, places, countOf)} onShowAll={() => showAll(smallest)} />
        )}
      </ReactFlow>
      {relationships.length > 0 && <Legend />}
    </div>
  );
}

/** Where the sheet is moved to so that a card is in sight. */
function inSight(card: Point | undefined, now: Viewport, room: SheetSize): Point {
  const seen = (place: number, from: number, size: number, most: number): number =>
    Math.min(Math.max(from, 24 - place * now.zoom), most - 40 - (place + size) * now.zoom);
  if (card === undefined) return { x: now.x, y: now.y };
  return { x: seen(card.x, now.x, widestCard, room.width), y: seen(card.y, now.y, tallestCard, room.height) };
}

/** What the ends of the lines mean. */
function Legend() {
  return (
    <div className="legend" aria-hidden="true">
      <span>
        <svg width="24" height="12">
          <path d="M0 6H24M18 1V11M14 1V11" />
        </svg>
        one
      </span>
      <span>
        <svg width="24" height="12">
          <path d="M0 6H24M18 1V11" />
          <circle cx="10" cy="6" r="3.6" />
        </svg>
        none or one
      </span>
      <span>
        <svg width="24" height="12">
          <path d="M0 6H24M13 6L24 .5M13 6L24 11.5" />
          <circle cx="9" cy="6" r="3.6" />
        </svg>
        none or many
      </span>
    </div>
  );
}
