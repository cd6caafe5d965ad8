import { mostWrites } from '@bibliona/core';
import { useCallback, useRef, useState, type ClipboardEvent, type KeyboardEvent, type PointerEvent } from 'react';
import { blockBetween, isOneCell, pastedCells, textOfCells, type Block } from './block.js';
import type { GridColumn } from './DataGrid.js';
import type { Span } from './geometry.js';
import type { Place } from './keys.js';
import type { Rows } from './rows.js';

/** What is done with the cells of a block, whose columns are told by their ids. */
export interface CellsAtOnce {
  /** Cells from the clipboard come there: their first one into the first of the block. */
  readonly paste: (block: CellBlock, cells: readonly (readonly string[])[]) => void;
  /** The cells of its first row are those of all its rows. */
  readonly fill: (block: CellBlock) => void;
  readonly empty: (block: CellBlock) => void;
}
export interface CellBlock {
  readonly rows: Span;
  /** From its first column on to the last of the grid. */
  readonly columns: readonly string[];
  /** How many of them are of the block. */
  readonly width: number;
}

/** The block of cells that is chosen in a grid, by keys and by the pointer, and what is done with it. */
export function useCellBlock<R>(grid: {
  readonly focus: Place;
  /** Puts the focus on a cell. */
  readonly onFocus: (place: Place) => void;
  readonly columns: readonly GridColumn<R>[];
  readonly rows: Rows<R>;
  readonly count: number;
  readonly isEditing: boolean;
  readonly onCells: CellsAtOnce | undefined;
}) {
  const { focus, onFocus, columns, rows, count, isEditing, onCells } = grid;
  // The corner of the block across from the focus; null: the cell with the focus alone.
  const [anchor, setAnchor] = useState<Place | null>(null);
  const block = anchor === null || focus.row < 0 ? null : blockBetween(anchor, focus);
  const chosen = block ?? blockBetween(focus, focus);
  // Where the pointer went down, while it is down.
  const pressed = useRef<Place | null>(null);
  const latest = useRef(focus);
  latest.current = focus;
  const clear = useCallback(() => setAnchor(null), []);

  const told = ({ top, left, bottom, right }: Block): CellBlock => ({
    rows: { first: top, end: Math.min(bottom + 1, top + mostWrites) },
    columns: columns.slice(left).map((column) => column.id),
    width: right - left + 1,
  });
  const copy = async ({ top, left, bottom, right }: Block): Promise<void> => {
    const copied = await rows.load({ first: top, end: Math.min(bottom + 1, top + mostWrites) });
    const texts = copied.map((row) => columns.slice(left, right + 1).map((column) => (row === undefined ? '' : column.textOf(row))));
    const [only = ''] = texts.flat();
    await navigator.clipboard.writeText(isOneCell({ top, left, bottom, right }) ? only : textOfCells(texts));
  };

  return {
    block,
    clear,
    /** The focus goes on: with Shift the cells up to there are chosen, but Tab goes back with it. */
    walk: (to: Place, { shiftKey, key }: KeyboardEvent): void =>
      setAnchor(shiftKey && key !== 'Tab' && focus.row >= 0 && to.row >= 0 ? (anchor ?? focus) : null),
    /** Whether a key is one for what is chosen; then it is done. */
    takes: (event: KeyboardEvent): boolean => {
      const isCommand = (event.ctrlKey || event.metaKey) && !event.altKey;
      const isMany = block !== null && !isOneCell(block);
      // A text that is chosen within a cell is copied as any other.
      if (isCommand && event.key === 'c' && window.getSelection()?.isCollapsed !== false) void copy(chosen);
      else if (isCommand && event.key === 'a') {
        setAnchor({ row: 0, column: 0 });
        onFocus({ row: Math.min(count, mostWrites) - 1, column: columns.length - 1 });
      } else if (isCommand && event.key === 'd' && onCells !== undefined) {
        if (block !== null && block.top < block.bottom) onCells.fill(told(block));
      } else if (event.key === 'Escape' && block !== null) setAnchor(null);
      else if (isMany && onCells !== undefined && (event.key === 'Delete' || event.key === 'Backspace')) onCells.empty(told(block));
      else return false;
      return true;
    },
    onPaste: (event: ClipboardEvent): void => {
      if (isEditing || focus.row < 0 || onCells === undefined || (event.target as HTMLElement).closest('input, textarea') !== null) return;
      const text = event.clipboardData.getData('text/plain');
      if (text === '') return;
      event.preventDefault();
      onCells.paste(told(chosen), pastedCells(text) ?? [[text.replace(/\r?\n$/u, '')]]);
    },
    /** The pointer goes down on a cell, or comes to it while it is down: it chooses the cells between. */
    onPress: (place: Place, event: PointerEvent): void => {
      if (event.type === 'pointerdown') {
        if (event.button !== 0 || event.pointerType === 'touch') return;
        pressed.current = place;
        if (event.shiftKey && latest.current.row >= 0) setAnchor((corner) => corner ?? latest.current);
        else setAnchor(null);
        return;
      }
      const from = pressed.current;
      if (from === null || (event.buttons & 1) === 0) return;
      window.getSelection()?.removeAllRanges();
      setAnchor(from);
      onFocus(place);
    },
    onRelease: (): void => {
      pressed.current = null;
    },
  };
}
