import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState, useSyncExternalStore, type KeyboardEvent, type ReactNode } from 'react';
import { ColumnHead } from './ColumnHead.js';
import { columnsInView, frozenWithin, edgesOf, fitted, rowHeight, rowsInView, scrolledTo } from './geometry.js';
import { GridFoot } from './GridFoot.js';
import { GridRow, type EditorProps } from './GridRow.js';
import { beforeEditor, beginOf, stepOf, type BeforeEditor, type Place } from './keys.js';
import { contentsOf } from './measure.js';
import type { Rows } from './rows.js';
import { useCellBlock, type CellsAtOnce } from './use-cell-block.js';
import { useHeldKeys } from './use-held-keys.js';

export interface GridColumn<R> {
  readonly id: string;
  readonly name: string;
  /** Null: as wide as what is in it. */
  readonly width: number | null;
  readonly isRight: boolean;
  /** Its name is for those who hear the screen only: what is below it needs no name. */
  readonly isNameUnseen: boolean;
  /** What stands in its head before the name. */
  readonly head?: ReactNode;
  readonly sorted: 'up' | 'down' | null;
  readonly canSort: boolean;
  readonly canMove: boolean;
  readonly canEdit: (row: R) => boolean;
  readonly textOf: (row: R) => string;
  /** The sum of its values over all rows, at its foot. */
  readonly sum?: string | undefined;
  /** What is drawn in place of the text; only what has the focus can be reached with Tab. */
  readonly draw?: (row: R, hasFocus: boolean) => ReactNode;
}

/** A cell that is edited: its row by id, because rows may come and go meanwhile. */
export interface EditedCell extends BeforeEditor {
  readonly row: number;
  readonly column: string;
}

export interface DataGridProps<R> {
  readonly label: string;
  readonly rows: Rows<R>;
  readonly idOf: (row: R) => number;
  /** How many rows there are, as far as that was counted. */
  readonly known: number;
  /** The first column stays where it is while the others scroll. */
  readonly columns: readonly GridColumn<R>[];
  readonly onSort: (column: string) => void;
  readonly onWidth: (column: string, width: number) => void;
  readonly onMove: (column: string, to: number) => void;
  readonly editing: EditedCell | null;
  readonly onEdit: (cell: EditedCell | null) => void;
  /** Chooses a row, or no longer: by Shift and the space bar, and by the space bar alone where nothing is edited. */
  readonly onMark?: ((row: R) => void) | undefined;
  readonly renderEditor: (props: EditorProps<R>) => ReactNode;
  /** So many columns after the first stay in sight when it is scrolled to the side. */
  readonly frozen?: number;
  /** What is done with several cells at once; absent: they are copied alone. */
  readonly onCells?: CellsAtOnce | undefined;
}

/** A grid of any length: rows come as they come into view, and everything in it is reached with the keyboard. */
export function DataGrid<R>(props: DataGridProps<R>) {
  const { label, rows, idOf, known, columns, onSort, onWidth, onMove, editing, onEdit, onMark, renderEditor, onCells } = props;
  useSyncExternalStore(rows.subscribe, () => rows.version);
  const count = rows.length(known);
  const frame = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [scroll, setScroll] = useState({ top: 0, left: 0 });
  const [focus, setFocus] = useState<Place>({ row: 0, column: 0 });
  // Set where the keyboard or the mouse has put the focus, so that the cell gets it once it is drawn.
  const toFocus = useRef(false);
  const cells = useCellBlock({
    focus,
    onFocus: (place) => {
      toFocus.current = true;
      setFocus(place);
    },
    columns,
    rows,
    count,
    isEditing: editing !== null,
    onCells,
  });
  const { block, clear } = cells;

  const widths = useWidths(columns, rows, size.width);
  const edges = useMemo(() => edgesOf(widths), [widths]);
  const hasFoot = columns.some((column) => column.sum !== undefined);
  // The head, and the foot where there is one, stay in sight.
  const framing = hasFoot ? 2 * rowHeight : rowHeight;
  const body = rowsInView(count, scroll.top, Math.max(size.height - framing, 0));
  const frozen = frozenWithin(edges, 1 + (props.frozen ?? 0), size.width);
  const across = columnsInView(edges, frozen, scroll.left, size.width);
  const total = edges.at(-1) ?? 0;

  useLayoutEffect(() => {
    const element = frame.current;
    if (element === null) return;
    const measure = (): void => setSize({ width: element.clientWidth, height: element.clientHeight });
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  useEffect(() => {
    rows.show({ first: body.first, end: Math.max(body.end, 1) });
  }, [rows, body.first, body.end]);
  useEffect(() => {
    frame.current?.scrollTo({ top: 0 });
    setFocus((at) => ({ ...at, row: Math.min(at.row, 0) }));
    clear();
  }, [rows, clear]);
  // Before the next key can come: nothing has the focus once an editor is taken away.
  useLayoutEffect(() => {
    if (!toFocus.current || editing !== null) return;
    const cell = frame.current?.querySelector<HTMLElement>('[data-focus]');
    if (cell === null || cell === undefined) return;
    toFocus.current = false;
    // The focus of a cell with a link in it is the link's.
    (cell.querySelector('a') ?? cell).focus({ preventScroll: true });
  });
  const { hold, pressedOn } = useHeldKeys(() => editing === null && !toFocus.current);

  const go = useCallback(
    (place: Place): void => {
      const element = frame.current;
      if (element === null) return;
      toFocus.current = true;
      setFocus(place);
      if (place.row >= 0) element.scrollTop = scrolledTo(place.row, count, element.scrollTop, element.clientHeight - framing);
      if (place.column >= frozen) {
        const [start, end] = [edges[place.column] ?? 0, edges[place.column + 1] ?? 0];
        const free = edges[frozen] ?? 0;
        if (start - free < element.scrollLeft) element.scrollLeft = start - free;
        else if (end > element.scrollLeft + element.clientWidth) element.scrollLeft = end - element.clientWidth;
      }
    },
    [count, edges, frozen, framing],
  );
  const edit = (place: Place, text: string | null): void => {
    const [row, column] = [rows.at(place.row), columns[place.column]];
    if (row === undefined || column === undefined || !column.canEdit(row)) return;
    clear();
    onEdit(pressedOn({ row: idOf(row), column: column.id, text }));
  };
  /** Ends the editing of a cell and goes on from it. */
  const leave = (by: Place): void => {
    // What was pressed after a key that ended it: where it was not left by that key, it is of the past.
    hold(by === editing?.ends ? (editing.after ?? []) : []);
    onEdit(null);
    go({ row: Math.min(Math.max(focus.row + by.row, 0), count - 1), column: Math.min(Math.max(focus.column + by.column, 0), columns.length - 1) });
  };

  const onKeyDown = (event: KeyboardEvent): void => {
    const column = columns[focus.column];
    if (column === undefined) return;
    if (editing !== null) {
      // The editor handles its keys itself; those that come before it is there are not lost.
      if ((event.target as HTMLElement).closest('[data-editor]') !== null) return;
      const next = beforeEditor(editing, event);
      if (next === undefined) return;
      onEdit(next);
      return event.preventDefault();
    }
    const isHead = focus.row < 0;
    const toLeft = event.key === 'ArrowLeft';
    if (isHead && (toLeft || event.key === 'ArrowRight') && (event.altKey || event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      if (event.altKey) return onWidth(column.id, (widths[focus.column] ?? 0) + (toLeft ? -16 : 16));
      const to = focus.column + (toLeft ? -1 : 1);
      if (!column.canMove || columns[to]?.canMove !== true) return;
      onMove(column.id, to);
      return go({ row: -1, column: to });
    }
    const step = stepOf(focus, event, { rows: count, columns: columns.length, page: Math.max(1, Math.floor(size.height / rowHeight) - 2) });
    if (step !== null) {
      event.preventDefault();
      cells.walk(step, event);
      return go(step);
    }
    if (isHead) {
      if ((event.key !== 'Enter' && event.key !== ' ') || !column.canSort) return;
      event.preventDefault();
      toFocus.current = true;
      return onSort(column.id);
    }
    const row = rows.at(focus.row);
    if (row === undefined) return;
    if (cells.takes(event)) return event.preventDefault();
    if (event.key === ' ' && onMark !== undefined && (event.shiftKey || !column.canEdit(row))) {
      event.preventDefault();
      return onMark(row);
    }
    const begins = beginOf(event);
    if (begins === undefined || !column.canEdit(row)) return;
    event.preventDefault();
    edit(focus, begins);
  };

  // The row with the focus is drawn wherever it is: else its cell would lose the focus as it scrolls away.
  const shown = range(body.first, body.end);
  if (focus.row >= 0 && focus.row < count && (focus.row < body.first || focus.row >= body.end)) shown.push(focus.row);
  return (
    <div
      ref={frame}
      className={block === null ? 'data-grid' : 'data-grid choosing'}
      role="grid"
      aria-label={label}
      aria-rowcount={count + (hasFoot ? 2 : 1)}
      aria-colcount={columns.length}
      aria-busy={rows.first() === null}
      tabIndex={-1}
      onScroll={({ currentTarget: { scrollTop: top, scrollLeft: left } }) => setScroll({ top, left })}
      onKeyDown={onKeyDown}
      onPaste={cells.onPaste}
      onPointerUp={cells.onRelease}
      aria-multiselectable
    >
      <div className="grid-heads" role="rowgroup" style={{ width: total }}>
        <div role="row" aria-rowindex={1}>
          {[...range(0, frozen), ...range(across.first, across.end)].map((at) => {
            const column = columns[at];
            if (column === undefined) return null;
            return (
              <ColumnHead
                key={column.id}
                column={column}
                at={at}
                isFrozen={at < frozen}
                edges={edges}
                columns={columns}
                hasFocus={focus.row < 0 && focus.column === at}
                onFocus={() => setFocus({ row: -1, column: at })}
                onSort={() => onSort(column.id)}
                onWidth={(width) => onWidth(column.id, width)}
                onFit={() => onWidth(column.id, contentsOf([column], rows.first() ?? [])[0] ?? 0)}
                onMove={(to) => onMove(column.id, to)}
              />
            );
          })}
        </div>
      </div>
      <div className="grid-rows" role="rowgroup" style={{ height: body.height, width: total }}>
        {shown.map((index) => {
          const row = rows.at(index);
          const isEdited = editing !== null && row !== undefined && idOf(row) === editing.row;
          return (
            <GridRow
              key={index}
              index={index}
              row={row}
              top={index * rowHeight + body.shift}
              columns={columns}
              edges={edges}
              frozen={frozen}
              first={across.first}
              end={across.end}
              focused={focus.row === index ? focus.column : -1}
              chosen={block !== null && index >= block.top && index <= block.bottom ? { first: block.left, end: block.right + 1 } : null}
              editing={isEdited ? editing : null}
              onFocus={(column) => setFocus({ row: index, column })}
              onPress={(column, event) => cells.onPress({ row: index, column }, event)}
              onEdit={(column) => edit({ row: index, column }, null)}
              onLeave={leave}
              renderEditor={renderEditor}
            />
          );
        })}
      </div>
      {hasFoot && <GridFoot columns={columns} edges={edges} frozen={frozen} across={across} index={count + 2} width={total} />}
    </div>
  );
}

const range = (first: number, end: number): number[] => Array.from({ length: Math.max(0, end - first) }, (_, i) => first + i);

/** The widths of the columns: found from the first rows once they are here, and again when the fonts or the space have changed. */
function useWidths<R>(columns: readonly GridColumn<R>[], rows: Rows<R>, space: number): readonly number[] {
  const [fonts, setFonts] = useState(0);
  const first = rows.first();
  const isThere = first !== null;
  // What is in a column is measured when the first rows have come, and not with every change in them: columns would jump about.
  const measured = useMemo(
    () => ({ contents: contentsOf(columns, first ?? []), isWithFonts: document.fonts.status === 'loaded' }),
    // oxlint-disable-next-line react-hooks/exhaustive-deps
    [columns, rows, isThere, fonts],
  );
  useEffect(() => {
    if (measured.isWithFonts) return undefined;
    let isHere = true;
    void document.fonts.ready.then(() => isHere && setFonts((times) => times + 1));
    return () => {
      isHere = false;
    };
  }, [measured]);
  return useMemo(
    () =>
      fitted(
        columns.map((column) => column.width),
        measured.contents,
        space,
      ),
    [columns, measured, space],
  );
}
