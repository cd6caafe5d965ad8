import { ArrowDownIcon, ArrowUpIcon } from '@phosphor-icons/react';
import { useRef, useState, type PointerEvent } from 'react';
import type { GridColumn } from './DataGrid.js';

export interface ColumnHeadProps<R> {
  readonly column: GridColumn<R>;
  readonly at: number;
  readonly isFrozen: boolean;
  readonly edges: readonly number[];
  readonly columns: readonly GridColumn<R>[];
  readonly hasFocus: boolean;
  readonly onFocus: () => void;
  readonly onSort: () => void;
  readonly onWidth: (width: number) => void;
  /** The edge was pressed twice: as wide as what is in it. */
  readonly onFit: () => void;
  readonly onMove: (to: number) => void;
}

/** In pixels: how narrow a column can be pulled. */
const least = 40;
/** How far a pointer has to go before a press is a drag, in pixels. */
const slack = 5;

/** The head of a column: pressed it sorts, dragged it moves, and its edge makes it wider. */
export function ColumnHead<R>(props: ColumnHeadProps<R>) {
  const { column, at, isFrozen, edges, columns, hasFocus, onFocus, onSort, onWidth, onFit, onMove } = props;
  const [left, right] = [edges[at] ?? 0, edges[at + 1] ?? 0];
  const [pulled, setPulled] = useState<number | null>(null);
  const [target, setTarget] = useState<number | null>(null);
  const from = useRef<number | null>(null);
  const widthWith = (by: number): number => Math.max(least, right - left + by);

  /** The place of the column under the pointer, which the dragged one gets. */
  const placeUnder = ({ clientX, currentTarget }: PointerEvent): number => {
    const x = left + clientX - currentTarget.getBoundingClientRect().left;
    const index = edges.findIndex((edge, i) => i > 0 && x < edge) - 1;
    const free = columns.flatMap((gridColumn, i) => (gridColumn.canMove ? [i] : []));
    return Math.min(Math.max(index < 0 ? columns.length - 1 : index, free[0] ?? at), free.at(-1) ?? at);
  };
  const hold = (event: PointerEvent<HTMLElement>): void => {
    if (event.button !== 0) return;
    from.current = event.clientX;
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  const drop = (event: PointerEvent): void => {
    const start = from.current;
    from.current = null;
    setTarget(null);
    if (start === null) return;
    if (Math.abs(event.clientX - start) < slack) return column.canSort ? onSort() : undefined;
    if (!column.canMove) return;
    // Where the pointer is now, which the head need not have drawn yet.
    const to = placeUnder(event);
    if (to !== at) onMove(to);
  };

  return (
    <div
      role="columnheader"
      aria-colindex={at + 1}
      aria-sort={column.sorted === null ? undefined : column.sorted === 'up' ? 'ascending' : 'descending'}
      className={`grid-head${column.isRight ? ' right' : ''}${isFrozen ? ' frozen' : ''}${target === null ? '' : ' held'}`}
      style={{ left, width: right - left }}
      tabIndex={hasFocus ? 0 : -1}
      {...(hasFocus ? { 'data-focus': '' } : {})}
      onFocus={onFocus}
      onPointerDown={hold}
      onPointerMove={(event) => {
        if (from.current === null || !column.canMove || Math.abs(event.clientX - from.current) < slack) return;
        setTarget(placeUnder(event));
      }}
      onPointerUp={drop}
      onPointerCancel={() => {
        from.current = null;
        setTarget(null);
      }}
    >
      {column.head}
      <span className={column.isNameUnseen ? 'vh' : 'el'}>{column.name}</span>
      {column.sorted === 'up' && <ArrowUpIcon size={12} />}
      {column.sorted === 'down' && <ArrowDownIcon size={12} />}
      {target !== null && target !== at && (
        <span className="grid-drop" style={{ left: (target > at ? (edges[target + 1] ?? 0) : (edges[target] ?? 0)) - left - 1 }} />
      )}
      {!isFrozen && (
        <span
          className={`grid-edge${pulled === null ? '' : ' held'}`}
          // Where the edge would be is shown, and the columns follow when it is let go.
          style={{ left: widthWith(pulled ?? 0) - 5 }}
          onPointerDown={(event) => {
            event.stopPropagation();
            if (event.button !== 0) return;
            from.current = event.clientX;
            setPulled(0);
            event.currentTarget.setPointerCapture(event.pointerId);
          }}
          onPointerMove={(event) => {
            event.stopPropagation();
            if (from.current !== null) setPulled(event.clientX - from.current);
          }}
          onPointerUp={(event) => {
            event.stopPropagation();
            const by = from.current === null ? 0 : event.clientX - from.current;
            from.current = null;
            setPulled(null);
            if (Math.abs(by) >= 2) onWidth(widthWith(by));
          }}
          onPointerCancel={(event) => {
            event.stopPropagation();
            from.current = null;
            setPulled(null);
          }}
          onDoubleClick={onFit}
        />
      )}
    </div>
  );
}
