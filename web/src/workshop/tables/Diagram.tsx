import '@xyflow/react/dist/style.css';
import { ReactFlow, ReactFlowProvider, useReactFlow, type Connection, type Edge, type NodeChange, type Viewport } from '@xyflow/react';
import { useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { shownTables, type AppDesign } from '@bibliona/core';
import { printCount, useApp, useCounts } from '../../state/app.js';
import { useDesignNotice } from '../../state/design.js';
import { CrowsFoot, type CrowsFootEdge } from './CrowsFoot.js';
import { pictureOf } from './diagram-picture.js';
import { DiagramTools } from './DiagramTools.js';
import { withOwnPlaces } from './own-places.js';
import { TableCard, type CardNode } from './TableCard.js';
import { usePlacement, type Placement } from './use-placement.js';
import { cardHeight, cardWidth, layoutQuery, linesOf, tallestCard, widestCard, type Point, type SheetSize } from './diagram-layout.js';

const none: ReadonlyMap<string, Point> = new Map();
/** How small the diagram can be drawn. */
const smallest = 0.1;

const nodeTypes = { card: TableCard };
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
  /** Where tables can be put on it: then it is a sheet to work on, and not a small picture beside something else. */
  readonly placement?: Placement;
}

interface DiagramProps extends Required<Pick<DrawnProps, 'onSelect' | 'onConnect'>> {
  readonly selected: string | undefined;
}

/** The tables of the app as cards and their relationships as crow's-foot lines. */
export default function Diagram(props: DiagramProps) {
  const { id, design } = useApp();
  const counts = useCounts(id);
  const placement = usePlacement(id);
  return <DesignDiagram {...props} design={design} countOf={(table) => printCount(counts, table)} placement={placement} />;
}

/** The tables of any design. */
export function DesignDiagram(props: DrawnProps) {
  return (
    <ReactFlowProvider>
      <Drawn {...props} />
    </ReactFlowProvider>
  );
}

function Drawn({ design, sheet, countOf, selected, onSelect, onConnect, placement }: DrawnProps) {
  const { setViewport, getViewport } = useReactFlow();
  const frame = useRef<HTMLDivElement>(null);
  const opened = useRef(selected);
  useEffect(() => {
    opened.current = selected;
  });
  const { relationships } = design;
  const tables = shownTables(design);
  const base = useQuery({ ...layoutQuery(design, sheet), placeholderData: (before) => before }).data;
  const own = placement === undefined ? none : placement.own;
  // While a card is drawn along, it is where the pointer is, and all others stay.
  const [drawn, setDrawn] = useState<ReadonlyMap<string, Point>>(none);
  const places = useMemo(
    () => (base === undefined || own === undefined ? undefined : withOwnPlaces(design, base, drawn.size === 0 ? own : drawn)),
    [design, base, own, drawn],
  );
  const latest = useRef(places);
  useEffect(() => {
    latest.current = places;
  });
  const isReady = places !== undefined;
  const hasTools = placement !== undefined;
  /** @param least how small cards may be drawn so that all of them find room */
  const showAll = useCallback(
    (least: number): void => {
      const box = frame.current?.getBoundingClientRect();
      const { current: shown } = latest;
      if (shown === undefined || box === undefined) return;
      const { x, y, width, height } = shown.bounds;
      // The tools stand above the cards, the legend below them.
      const top = hasTools ? 44 : 12;
      const zoom = Math.min(1, Math.max(least, Math.min((box.width - 48) / width, (box.height - 40 - top) / height)));
      const at = { x: Math.max(24, (box.width - width * zoom) / 2) - x * zoom, y: Math.max(top, (box.height - 28 - height * zoom) / 2) - y * zoom };
      void setViewport({ ...inSight(shown.cards.get(opened.current ?? ''), { ...at, zoom }, box), zoom });
    },
    [setViewport, hasTools],
  );
  // Cards are shown at their own size where there is room, and never so small that they cannot be read.
  useEffect(() => {
    if (isReady) showAll(0.55);
  }, [showAll, isReady, base]);
  // The one that is opened from elsewhere comes into sight.
  useEffect(() => {
    const box = frame.current?.getBoundingClientRect();
    const card = latest.current?.cards.get(selected ?? '');
    if (box === undefined || card === undefined) return;
    const now = getViewport();
    const then = inSight(card, now, box);
    if (then.x !== now.x || then.y !== now.y) void setViewport({ ...then, zoom: now.zoom });
  }, [selected, getViewport, setViewport]);
  if (places === undefined) return <div className="map" ref={frame} />;
  /** With the first table that is put somewhere all stay where they are, so that none moves by itself any more. */
  const put = (at: ReadonlyMap<string, Point>): void => {
    const loose = [...places.cards].filter(([id]) => own?.has(id) !== true);
    placement?.place(Object.fromEntries([...loose, ...at].map(([id, { x, y }]) => [id, { x: Math.round(x), y: Math.round(y) }])));
  };
  const move = (id: string, by: Point): void => {
    const at = places.cards.get(id);
    if (at !== undefined) put(new Map([[id, { x: at.x + by.x, y: at.y + by.y }]]));
  };
  const arrange = (): void => {
    placement?.place(Object.fromEntries([...(own ?? none).keys()].map((id) => [id, null])));
    const back = [...(own ?? none)].filter(([id]) => places.cards.has(id));
    const undo = (): void => placement?.place(Object.fromEntries(back));
    useDesignNotice.getState().say({ kind: 'message', text: 'The tables are arranged by their relationships again.', isGood: true, undo });
  };
  const drawAlong = (changes: readonly NodeChange<CardNode>[]): void => {
    for (const change of changes)
      if (change.type === 'position' && change.position !== undefined && change.dragging === true)
        setDrawn(new Map(places.cards).set(change.id, change.position));
  };
  const putDown = (_: unknown, { id }: CardNode): void => {
    const at = drawn.get(id);
    if (at !== undefined) put(new Map([[id, at]]));
    setDrawn(none);
  };
  const nodes: CardNode[] = tables.map((table) => ({
    id: table.id,
    type: 'card',
    position: places.cards.get(table.id) ?? { x: 0, y: 0 },
    // Their size is known: a card whose size is only measured stays unseen until then, and again after every change.
    initialWidth: cardWidth(design, table),
    initialHeight: cardHeight(table),
    draggable: hasTools,
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
      onMove: placement === undefined ? undefined : (by) => move(table.id, by),
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
        nodesDraggable={hasTools}
        onNodesChange={drawAlong}
        onNodeDragStop={putDown}
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
          <DiagramTools
            bounds={places.bounds}
            name={design.name}
            picture={() => pictureOf(design, places, countOf)}
            onShowAll={() => showAll(smallest)}
            onArrange={own === undefined || own.size === 0 ? null : arrange}
          />
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
