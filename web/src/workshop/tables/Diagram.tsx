import '@xyflow/react/dist/style.css';
import { ReactFlow, ReactFlowProvider, useReactFlow, type Connection, type Edge, type NodeChange, type Viewport } from '@xyflow/react';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useCallback, useEffect, useMemo, useRef, useState, type FocusEvent } from 'react';
import { shownTables, type DiagramNote } from '@bibliona/core';
import { printCount, useApp, useCounts } from '../../state/app.js';
import { useDesignNotice } from '../../state/design.js';
import { CrowsFoot, type CrowsFootEdge } from './CrowsFoot.js';
import { pictureOf } from './diagram-picture.js';
import { DiagramTools } from './DiagramTools.js';
import { clearOf, withOwnPlaces } from './own-places.js';
import { NoteCard, type NoteNode } from './NoteCard.js';
import { sectionHandle, SectionFrame, type SectionNode } from './SectionFrame.js';
import { TableCard, type CardNode } from './TableCard.js';
import { useUndoKeys } from '../use-undo-keys.js';
import { useHeight, useHeld } from './use-held.js';
import { usePlacement, type Placement } from './use-placement.js';
import { cardHeight, cardWidth, layoutQuery, note as noteSize, linesOf, tallestCard, widestCard, type Point, type SheetSize } from './diagram-layout.js';
import { drawnOf, type DrawnDesign } from './drawn-design.js';

// What dialogs are made of would hold up the drawing.
const NoteDialog = lazy(() => import('./NoteDialog.js'));
const SectionDialog = lazy(() => import('./SectionDialog.js'));

const none: ReadonlyMap<string, Point> = new Map();
/** How small the diagram can be drawn. */
const smallest = 0.1;

const nodeTypes = { section: SectionFrame, note: NoteCard, card: TableCard };
const edgeTypes = { crow: CrowsFoot };

type DiagramNode = SectionNode | NoteNode | CardNode;
/** What a dialog is open for; null: for a new one. */
type Edited = { readonly kind: 'section'; readonly old: string | null } | { readonly kind: 'note'; readonly old: DiagramNote | null };

interface DrawnProps {
  readonly design: DrawnDesign;
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
  const app = useApp();
  const { id, version } = app;
  const design = useMemo(() => drawnOf(app), [app]);
  const counts = useCounts(id);
  const placement = usePlacement(id, version);
  useUndoKeys(placement.undo, placement.redo);
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
  const { data: layout } = useQuery({ ...layoutQuery(design, sheet), placeholderData: (before) => before });
  const base = useHeld(layout, frame);
  const room = useHeld(useHeight(frame, 80), frame);
  const own = placement === undefined ? none : placement.own;
  const [edited, setEdited] = useState<Edited | null>(null);
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
  /** What the sheet was last moved to so that all is seen on it. */
  const shownAs = useRef<Viewport | null>(null);
  const show = useCallback(
    (view: Viewport): void => {
      shownAs.current = view;
      void setViewport(view);
    },
    [setViewport],
  );
  /** Whether a person has chosen what to see, by moving the sheet or drawing it larger or smaller. */
  const isChosen = useCallback((): boolean => {
    const [now, fitted] = [getViewport(), shownAs.current];
    return fitted !== null && (['x', 'y', 'zoom'] as const).some((part) => Math.abs(now[part] - fitted[part]) > 0.01);
  }, [getViewport]);
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
      show({ ...inSight(shown.cards.get(opened.current ?? ''), { ...at, zoom }, box), zoom });
    },
    [show, hasTools],
  );
  /** Moves the sheet no more than it takes for a card to be seen. */
  const bring = useCallback(
    (card: Point | undefined): void => {
      const box = frame.current?.getBoundingClientRect();
      if (box === undefined || card === undefined) return;
      const now = getViewport();
      const then = { ...inSight(card, now, box), zoom: now.zoom };
      if (then.x === now.x && then.y === now.y) return;
      if (isChosen()) void setViewport(then);
      else show(then);
    },
    [getViewport, setViewport, isChosen, show],
  );
  // Cards are shown at their own size where there is room, and never so small that they cannot be read. A person who has chosen
  // what to see goes on seeing it when the design changes, or there is less room because the proof opens below.
  useEffect(() => {
    if (!isReady) return;
    if (isChosen()) bring(latest.current?.cards.get(opened.current ?? ''));
    else showAll(0.55);
  }, [showAll, bring, isChosen, isReady, base, room]);
  // The one that is opened from elsewhere comes into sight.
  useEffect(() => bring(latest.current?.cards.get(selected ?? '')), [selected, bring]);
  if (places === undefined) return <div className="map" ref={frame} />;
  const inPixels = (at: Iterable<readonly [string, Point]>) =>
    Object.fromEntries([...at].map(([id, { x, y }]) => [id, { x: Math.round(x), y: Math.round(y) }]));
  /** With the first table that is put somewhere all stay where they are, so that none moves by itself any more. Notes stand by themselves. */
  const put = (at: ReadonlyMap<string, Point>): void => {
    const movesTables = [...at.keys()].some((id) => places.cards.has(id));
    const loose = movesTables ? [...places.cards].filter(([id]) => own?.has(id) !== true) : [];
    placement?.move(inPixels([...loose, ...at]));
  };
  /** Where tables and notes are when they are moved from where they are now. */
  const moved = (ids: readonly string[], by: Point): ReadonlyMap<string, Point> =>
    new Map(
      ids.flatMap((id) => {
        const at = places.cards.get(id) ?? places.notes.get(id);
        return at === undefined ? [] : [[id, { x: at.x + by.x, y: at.y + by.y }] as const];
      }),
    );
  const tablesIn = (section: string): readonly string[] => tables.filter((table) => table.section === section).map((table) => table.id);
  // What was removed keeps its place for when it is brought back.
  const placed = [...(own ?? none).keys()].filter((id) => places.cards.has(id) || places.notes.has(id));
  const arrange = (): void => {
    const undo = placement?.move(Object.fromEntries(placed.map((id) => [id, null])));
    useDesignNotice
      .getState()
      .say({ kind: 'message', text: 'The tables are arranged by their relationships again.', isGood: true, ...(undo === undefined ? {} : { undo }) });
  };
  /** What goes along when one thing is drawn to a place: of a section its tables. */
  const alongWith = (id: string, to: Point): ReadonlyMap<string, Point> => {
    const section = sectionOfNode(id);
    const from = section === null ? (places.cards.get(id) ?? places.notes.get(id)) : places.sections.get(section);
    return from === undefined ? none : moved(section === null ? [id] : tablesIn(section), { x: to.x - from.x, y: to.y - from.y });
  };
  const drawAlong = (changes: readonly NodeChange<DiagramNode>[]): void => {
    for (const change of changes)
      if (change.type === 'position' && change.position !== undefined && change.dragging === true)
        setDrawn(new Map([...places.cards, ...places.notes, ...alongWith(change.id, change.position)]));
  };
  /** It is put where the pointer let go of it, which the sheet need not have drawn yet. */
  const putDown = (_: unknown, { id, position }: DiagramNode): void => {
    put(alongWith(id, position));
    setDrawn(none);
  };
  const frames = [...places.sections].map(([name, { x, y, width, height }]): SectionNode => ({
    id: nodeOfSection(name),
    type: 'section',
    position: { x, y },
    width,
    height,
    zIndex: -1,
    draggable: hasTools,
    dragHandle: `.${sectionHandle}`,
    focusable: false,
    connectable: false,
    data: {
      name,
      tone: design.sections.find((section) => section.name === name)?.tone ?? 'grey',
      onOpen: hasTools ? () => setEdited({ kind: 'section', old: name }) : undefined,
      onMove: hasTools ? (by) => put(moved(tablesIn(name), by)) : undefined,
    },
  }));
  const notes = design.notes.map((note): NoteNode => {
    const { x, y, width, height } = places.notes.get(note.id) ?? { x: 0, y: 0, width: 0, height: 0 };
    return {
      id: note.id,
      type: 'note',
      position: { x, y },
      width,
      height,
      draggable: hasTools,
      focusable: false,
      connectable: false,
      data: {
        note,
        onOpen: hasTools ? () => setEdited({ kind: 'note', old: note }) : undefined,
        onMove: hasTools ? (by) => put(moved([note.id], by)) : undefined,
      },
    };
  });
  /** A new note stands where it is seen: in the middle of what is in sight, or below what is there. */
  const putNote = (id: string): void => {
    const box = frame.current?.getBoundingClientRect();
    if (box === undefined) return;
    const { x, y, zoom } = getViewport();
    const middle = { x: (box.width / 2 - x) / zoom - noteSize.width / 2, y: (box.height / 2 - y) / zoom, width: noteSize.width, height: 6 * noteSize.line };
    const others = tables.map((table) => ({ ...(places.cards.get(table.id) ?? middle), width: cardWidth(design, table), height: cardHeight(table) }));
    placement?.begin(inPixels([[id, clearOf(middle, [...others, ...places.notes.values()])]]));
  };
  const cards = tables.map((table): CardNode => ({
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
      onMove: placement === undefined ? undefined : (by) => put(moved([table.id], by)),
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
      data: { isHot, ends: line.ends, label: line.label, points: places.lines.get(line.id) ?? [] },
    };
  });
  const connect = ({ source, target }: Connection): void => onConnect?.(source, target);
  /** What the keyboard has come to is seen. */
  const bringFocused = ({ target }: FocusEvent): void => {
    const node = target.closest<HTMLElement>('.react-flow__node')?.dataset['id'];
    if (node === undefined || !target.matches(':focus-visible')) return;
    bring(places.cards.get(node) ?? places.notes.get(node) ?? places.sections.get(sectionOfNode(node) ?? ''));
  };
  return (
    <div className="map" ref={frame} onFocus={bringFocused}>
      <ReactFlow
        nodes={[...frames, ...cards, ...notes]}
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
            onArrange={placed.length === 0 ? null : arrange}
            onSection={() => setEdited({ kind: 'section', old: null })}
            onNote={() => setEdited({ kind: 'note', old: null })}
          />
        )}
      </ReactFlow>
      {relationships.length > 0 && <Legend />}
      <Suspense fallback={null}>
        {edited?.kind === 'section' && (
          <SectionDialog old={edited.old} begun={tables.filter((table) => table.id === selected).map((table) => table.id)} onClose={() => setEdited(null)} />
        )}
        {edited?.kind === 'note' && (
          <NoteDialog
            old={edited.old}
            onClose={() => setEdited(null)}
            onMade={(id) => {
              if (edited.old === null) putNote(id);
              setEdited(null);
            }}
          />
        )}
      </Suspense>
    </div>
  );
}

/** The node of a section, by its name: ids of tables have no blanks. */
const nodeOfSection = (name: string): string => `section ${name}`;
const sectionOfNode = (id: string): string | null => (id.startsWith('section ') ? id.slice('section '.length) : null);

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
