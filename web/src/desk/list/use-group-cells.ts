import type { Field, RecordAnswer } from '@bibliona/core';
import { useLayoutEffect, useRef, useState, type KeyboardEvent } from 'react';
import type { EditedCell } from '../../ui/grid/DataGrid.js';
import { beforeEditor, beginOf, stepOf, type Place } from '../../ui/grid/keys.js';
import { useHeldKeys } from '../../ui/grid/use-held-keys.js';

interface Edited extends EditedCell {
  /** The record as it was when its cell was opened. */
  readonly begun: RecordAnswer;
}

/** How many rows a page key goes. */
const page = 10;

// Groups open and close: which rows there are, one below the other, is what the table shows.
const rowsOf = (table: HTMLElement): HTMLElement[][] =>
  [...table.querySelectorAll<HTMLElement>('tr[data-record]')].map((row) => [...row.querySelectorAll<HTMLElement>('td[data-cell]')]);
const cellAt = (table: HTMLElement, record: number, column: string): HTMLElement | null =>
  table.querySelector<HTMLElement>(`tr[data-record="${record}"] td[data-cell="${column}"]`);
function placeOf(rows: HTMLElement[][], cell: HTMLElement): Place | null {
  const row = rows.findIndex((cells) => cells.includes(cell));
  return row < 0 ? null : { row, column: rows[row]?.indexOf(cell) ?? 0 };
}

/** The cells of grouped records: the keyboard goes about them and edits them as it does in a list without groups. */
export function useGroupCells(canEdit: (record: RecordAnswer, field: Field) => boolean) {
  const [edited, setEdited] = useState<Edited | null>(null);
  const [focus, setFocus] = useState<{ readonly record: number; readonly column: string } | null>(null);
  const frame = useRef<HTMLDivElement>(null);
  const hadFocus = useRef(false);
  // A save may put a record elsewhere, and its cell would lose the focus as it goes there.
  useLayoutEffect(() => {
    if (!hadFocus.current || focus === null || edited !== null || frame.current === null || document.activeElement !== document.body) return;
    cellAt(frame.current, focus.record, focus.column)?.focus({ preventScroll: true });
  });

  const { hold, pressedOn } = useHeldKeys(() => edited === null);
  const edit = (record: RecordAnswer, field: Field, text: string | null): void => {
    if (canEdit(record, field)) setEdited(pressedOn<Edited>({ row: record.id, column: field.id, text, begun: record }));
  };
  const goFrom = (cell: HTMLElement, to: (from: Place, extent: { rows: number; columns: number; page: number }) => Place | null): boolean => {
    if (frame.current === null) return false;
    const rows = rowsOf(frame.current);
    const from = placeOf(rows, cell);
    const next = from === null ? null : to(from, { rows: rows.length, columns: rows[0]?.length ?? 0, page });
    if (next === null) return false;
    rows[Math.max(next.row, 0)]?.[next.column]?.focus();
    return true;
  };
  const leave = (by: Place): void => {
    if (edited === null || frame.current === null) return;
    hold(by === edited.ends ? (edited.after ?? []) : []);
    setEdited(null);
    const cell = cellAt(frame.current, edited.row, edited.column);
    if (cell === null) return;
    goFrom(cell, (from, { rows, columns }) => ({
      row: Math.min(Math.max(from.row + by.row, 0), rows - 1),
      column: Math.min(Math.max(from.column + by.column, 0), columns - 1),
    }));
  };
  const onKeyDown = (event: KeyboardEvent<HTMLElement>, record: RecordAnswer, field: Field): void => {
    if (event.defaultPrevented) return;
    if (edited?.row === record.id && edited.column === field.id) {
      // The editor handles its keys itself; those that come before it is there are not lost.
      if ((event.target as HTMLElement).closest('[data-editor]') !== null) return;
      const next = beforeEditor(edited, event);
      if (next === undefined) return;
      setEdited(next);
      return event.preventDefault();
    }
    // A link within the cell has its keys to itself.
    if (event.target !== event.currentTarget) return;
    if (goFrom(event.currentTarget, (from, extent) => stepOf(from, event, extent))) return event.preventDefault();
    const begins = beginOf(event);
    if (begins === undefined || !canEdit(record, field)) return;
    event.preventDefault();
    edit(record, field, begins);
  };
  return {
    frame,
    edited,
    edit,
    leave,
    /** What a cell of a record has so that it can be reached and edited. @param isFirst whether Tab leads to it from outside */
    cellProps: (record: RecordAnswer, field: Field, isFirst: boolean) => ({
      'data-cell': field.id,
      tabIndex: isFirst || (focus?.record === record.id && focus.column === field.id) ? 0 : -1,
      onFocus: () => {
        hadFocus.current = true;
        setFocus({ record: record.id, column: field.id });
      },
      // Not called where the cell itself is taken away.
      onBlur: () => {
        hadFocus.current = false;
      },
      onDoubleClick: () => edit(record, field, null),
      onKeyDown: (event: KeyboardEvent<HTMLElement>) => onKeyDown(event, record, field),
    }),
  };
}

export type GroupCells = ReturnType<typeof useGroupCells>;
