import { hasOwnNumber, kindOf, linksOf, type Field, type ListColumns, type RecordAnswer, type Relationship, type Selection, type Table } from '@bibliona/core';
import { useEffect, useMemo, useState } from 'react';
import { isAlignedRight } from '../../fields/aligned.js';
import { useApp, useRights } from '../../state/app.js';
import { onTouched } from '../../state/live.js';
import { DataGrid, type EditedCell, type GridColumn } from '../../ui/grid/DataGrid.js';
import type { Rows } from '../../ui/grid/rows.js';
import { Note } from '../../ui/Note.js';
import { OpenRecord } from '../../ui/OpenRecord.js';
import { CellRefused } from './CellRefused.js';
import { drawCell } from './CellValue.js';
import { ChosenBar, useMayChoose } from './ChosenBar.js';
import { EditedValue, useEditorSoon } from './EditedValue.js';
import { shownIn } from './shown.js';
import { withSelection } from './selection.js';
import type { Done } from './JustDone.js';
import { useCells } from './use-cells.js';
import { useCanEdit, useCellSave } from './use-cell-save.js';
import { MarkAll } from './MarkAll.js';
import { RowMark } from './RowMark.js';
import { useMarks } from './use-marks.js';
import { useSums } from './use-groups.js';

export interface GridProps {
  readonly table: Table;
  readonly rows: Rows<RecordAnswer>;
  /** The columns and their widths, in their order. */
  readonly columns: ListColumns;
  readonly onColumns: (columns: ListColumns) => void;
  readonly selection: Selection;
  /** How many records there are, as far as that is known. */
  readonly known: number;
  readonly onSort: (sort: string | undefined, direction: 'up' | 'down') => void;
  /** So many of its columns stay in sight when it is scrolled to the side. */
  readonly frozen: number;
  /** What the list is called. */
  readonly name: string;
  /** Whether some of its columns have their sum at the foot. */
  readonly hasSums: boolean;
  /** Called with what a save has done to several records: the grid itself goes when none is left in it. */
  readonly onDone: (done: Done) => void;
}

const idOf = (record: RecordAnswer): number => record.id;
const numberColumn = 'no';
/** How wide a column can be made, in pixels. */
const [narrowest, widest] = [40, 1200];

/** The names of what belongs to a record by a link. They are picked where the record is opened. */
const linkColumn = ({ id, childrenName }: Relationship, width: number | null): GridColumn<RecordAnswer> => ({
  id,
  name: childrenName,
  width,
  isRight: false,
  isNameUnseen: false,
  sorted: null,
  canSort: false,
  canMove: true,
  canEdit: () => false,
  textOf: ({ values }) => String(values[id] ?? ''),
});

/** The records of a list: read by the page, edited in place, and saved cell by cell as one leaves them. */
export function Grid({ table, rows, columns: chosen, onColumns, selection, known, onSort, frozen, name, hasSums, onDone }: GridProps) {
  const app = useApp();
  const rights = useRights(table.id);
  const [editing, setEditing] = useState<EditedCell | null>(null);
  // The record as it was when its cell was opened: what others save from then on is a conflict, and not written over.
  const [begun, setBegun] = useState<RecordAnswer | null>(null);
  const edit = (cell: EditedCell | null): void => {
    const goesOn = cell !== null && editing?.row === cell.row && editing.column === cell.column;
    if (!goesOn) setBegun(cell === null ? null : (rows.find(cell.row)?.row ?? null));
    setEditing(cell);
  };
  const { refused, save, dismiss } = useCellSave(table, rows);
  const canEdit = useCanEdit(table);
  const { atOnce, isAtWork, notDone, dismiss: closeNotDone } = useCells(table, rows, canEdit, onDone);
  const marks = useMarks(rows);
  const length = rows.length(known);
  const isAll = marks.isAll(length);
  const mayChoose = useMayChoose(table);
  useEditorSoon();
  useEffect(() => onTouched((tables) => tables.has(table.id) && rows.refresh()), [rows, table.id]);

  const fields = useMemo(() => chosen.flatMap((column) => table.fields.filter((field) => field.id === column.field)), [chosen, table]);
  const links = useMemo(() => linksOf(app.design, table.id), [app.design, table.id]);
  const sums = useSums(table, selection, hasSums);
  const columns = useMemo<readonly GridColumn<RecordAnswer>[]>(
    () => [
      {
        id: numberColumn,
        name: hasOwnNumber(table) ? 'Open' : 'No.',
        width: (hasOwnNumber(table) ? 36 : 84) + (mayChoose ? 24 : 0),
        isRight: false,
        isNameUnseen: hasOwnNumber(table),
        ...(mayChoose && length > 0
          ? { head: <MarkAll isAll={isAll} isSome={marks.marked.size > 0} onAll={() => marks.markAll(length)} onNone={marks.clear} /> }
          : {}),
        sorted: null,
        canSort: false,
        canMove: false,
        canEdit: () => false,
        textOf: (record) => String(record.id),
        draw: (record, hasFocus) => (
          <>
            {record.tone !== undefined && <i className={`row-spine of-row tone-${record.tone.tone}`} title={record.tone.name} />}
            {mayChoose && <RowMark record={record} marks={marks} label={`Choose record ${record.id}`} tabIndex={-1} />}
            <OpenRecord
              tabIndex={hasFocus ? 0 : -1}
              table={table}
              record={record}
              fields={fields}
              to={withSelection(`/desk/${app.id}/${table.id}/${record.id}`, selection)}
            />
          </>
        ),
      },
      ...chosen.flatMap((column): GridColumn<RecordAnswer> | [] => {
        const link = links.find((each) => each.id === column.field);
        if (link !== undefined) return linkColumn(link, column.width);
        const field = fields.find((each) => each.id === column.field);
        if (field === undefined) return [];
        return {
          id: field.id,
          name: field.name,
          // Files are as wide as they are drawn, not as their names.
          width: column.width ?? field.listWidth ?? (kindOf(field).files === undefined ? null : kindOf(field).traits.listWidth),
          isRight: isAlignedRight(app, field),
          isNameUnseen: false,
          sorted: selection.sort === field.id ? selection.direction : null,
          canSort: true,
          canMove: true,
          canEdit: (record) => canEdit(record, field),
          textOf: (record) => shownIn(field, record),
          sum: sums.get(field),
          draw: (record, hasFocus) => drawCell({ table, field, record, hasFocus }),
        };
      }),
    ],
    // The rights and the design are of the app's version.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
    [table, fields, links, chosen, app.version, JSON.stringify(selection), marks.marked, isAll, length, [...sums.values()].join(' ')],
  );
  const fieldOf = (id: string): Field | undefined => fields.find((field) => field.id === id);

  return (
    <div className="grid">
      {refused !== null && (
        <CellRefused refused={refused} onAgain={(text) => edit({ row: refused.record, column: refused.field.id, text })} onDismiss={dismiss} />
      )}
      {isAtWork && <Note kind="look">The cells are being changed …</Note>}
      {notDone !== null && (
        <Note
          kind="bad"
          action={
            <button type="button" className="btn bare" onClick={closeNotDone}>
              Close
            </button>
          }
        >
          {notDone.message}
          {notDone.problems.length > 0 && (
            <ul className="note-list">
              {notDone.problems.map((problem) => (
                <li key={problem}>{problem}</li>
              ))}
            </ul>
          )}
        </Note>
      )}
      <ChosenBar table={table} name={name} selection={selection} columns={chosen.map((column) => column.field)} marks={marks} count={length} onDone={onDone} />
      <DataGrid<RecordAnswer>
        onCells={rights.change ? atOnce : undefined}
        frozen={frozen}
        onMark={mayChoose ? (row) => marks.mark(row) : undefined}
        label={table.name}
        rows={rows}
        idOf={idOf}
        known={known}
        columns={columns}
        onSort={(column) => {
          const isSorted = selection.sort === column;
          if (isSorted && selection.direction === 'down') onSort(undefined, 'up');
          else onSort(column, isSorted ? 'down' : 'up');
        }}
        onWidth={(column, width) =>
          onColumns(chosen.map((each) => (each.field === column ? { ...each, width: Math.min(Math.max(width, narrowest), widest) } : each)))
        }
        onMove={(column, to) => {
          const moved = chosen.find((each) => each.field === column);
          const others = chosen.filter((each) => each.field !== column);
          // The first column of the grid is none of the list's.
          if (moved !== undefined) onColumns([...others.slice(0, to - 1), moved, ...others.slice(to - 1)]);
        }}
        editing={editing}
        onEdit={edit}
        renderEditor={({ row, cell, onLeave }) => {
          const field = fieldOf(cell.column);
          if (field === undefined) return null;
          return <EditedValue {...{ field, cell, onLeave }} record={row} begun={begun ?? row} onSave={(entered) => void save(begun ?? row, field, entered)} />;
        }}
      />
    </div>
  );
}
