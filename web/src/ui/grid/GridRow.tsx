import { memo, type PointerEvent, type ReactNode } from 'react';
import type { EditedCell, GridColumn } from './DataGrid.js';
import type { Span } from './geometry.js';
import type { Place } from './keys.js';

export interface EditorProps<R> {
  readonly row: R;
  readonly cell: EditedCell;
  /** Ends the editing and goes this far from the cell. */
  readonly onLeave: (by: Place) => void;
}

interface GridRowProps<R> {
  readonly index: number;
  /** Undefined: it has not come yet. */
  readonly row: R | undefined;
  readonly top: number;
  readonly columns: readonly GridColumn<R>[];
  readonly edges: readonly number[];
  readonly frozen: number;
  /** The columns in view beside the frozen ones. */
  readonly first: number;
  readonly end: number;
  /** The column with the focus, -1: none of this row. */
  readonly focused: number;
  /** The columns of the block of cells that is chosen, as far as it reaches into this row; null: it does not. */
  readonly chosen: Span | null;
  readonly editing: EditedCell | null;
  readonly onFocus: (column: number) => void;
  /** The pointer goes down on a cell, or comes to it while it is down. */
  readonly onPress: (column: number, event: PointerEvent) => void;
  readonly onEdit: (column: number) => void;
  readonly onLeave: (by: Place) => void;
  readonly renderEditor: (props: EditorProps<R>) => ReactNode;
}

function Row<R>(props: GridRowProps<R>) {
  const { index, row, top, columns, edges, frozen, first, end, focused, chosen, editing, onFocus, onPress, onEdit, onLeave, renderEditor } = props;
  return (
    <div role="row" aria-rowindex={index + 2} className="grid-row" style={{ transform: `translateY(${top}px)` }}>
      {columns.map((column, at) => {
        const isFrozen = at < frozen;
        if (!isFrozen && (at < first || at >= end) && at !== focused) return null;
        const isEdited = editing?.column === column.id && row !== undefined;
        const isChosen = chosen !== null && at >= chosen.first && at < chosen.end;
        const left = edges[at] ?? 0;
        return (
          <div
            key={column.id}
            role="gridcell"
            aria-colindex={at + 1}
            className={`grid-cell${column.isRight ? ' right' : ''}${isFrozen ? ' frozen' : ''}${isEdited ? ' edited' : ''}${isChosen ? ' chosen-cell' : ''}`}
            aria-selected={isChosen}
            style={{ left, width: (edges[at + 1] ?? 0) - left }}
            tabIndex={at === focused ? 0 : -1}
            {...(at === focused ? { 'data-focus': '' } : {})}
            onFocus={() => at !== focused && onFocus(at)}
            onPointerDown={(event) => onPress(at, event)}
            onPointerEnter={(event) => onPress(at, event)}
            onDoubleClick={() => onEdit(at)}
          >
            {row === undefined ? null : isEdited ? renderEditor({ row, cell: editing, onLeave }) : (column.draw?.(row, at === focused) ?? column.textOf(row))}
          </div>
        );
      })}
    </div>
  );
}

const sameRow = <R,>(a: GridRowProps<R>, b: GridRowProps<R>): boolean =>
  a.row === b.row &&
  a.top === b.top &&
  a.index === b.index &&
  a.columns === b.columns &&
  a.edges === b.edges &&
  a.frozen === b.frozen &&
  a.first === b.first &&
  a.end === b.end &&
  a.focused === b.focused &&
  a.chosen?.first === b.chosen?.first &&
  a.chosen?.end === b.chosen?.end &&
  a.editing === b.editing &&
  // A row that is edited is drawn with what it is told now; the others only pass on where they are.
  a.editing === null;

/** One row; it is drawn again only when something in it has changed. */
export const GridRow = memo(Row, sameRow) as typeof Row;
