/** How the keys of the keyboard go about a grid. */

/** A cell by its place; row -1 is the heads of the columns. */
export interface Place {
  readonly row: number;
  readonly column: number;
}

export interface Key {
  readonly key: string;
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
  readonly altKey: boolean;
  readonly shiftKey: boolean;
}

export interface Extent {
  readonly rows: number;
  readonly columns: number;
  /** How many rows are in view. */
  readonly page: number;
}

/** Where a key leads from a cell; null: it is no key of going about. */
export function stepOf(from: Place, { key, ctrlKey, metaKey, altKey, shiftKey }: Key, { rows, columns, page }: Extent): Place | null {
  if (altKey) return null;
  const isFar = ctrlKey || metaKey;
  const to = (row: number, column: number): Place => ({
    row: Math.min(Math.max(row, -1), rows - 1),
    column: Math.min(Math.max(column, 0), columns - 1),
  });
  const { row, column } = from;
  // From the heads one goes down into the rows, and never by accident back into the heads from far below.
  const top = row < 0 ? -1 : 0;
  switch (key) {
    case 'ArrowUp':
      return isFar ? to(top, column) : to(row - 1, column);
    case 'ArrowDown':
      return isFar ? to(rows - 1, column) : to(row + 1, column);
    case 'ArrowLeft':
      return isFar ? to(row, 0) : to(row, column - 1);
    case 'ArrowRight':
      return isFar ? to(row, columns - 1) : to(row, column + 1);
    case 'Home':
      return isFar ? to(0, column) : to(row, 0);
    case 'End':
      return isFar ? to(rows - 1, column) : to(row, columns - 1);
    case 'Tab': {
      const next = column + (shiftKey ? -1 : 1);
      // At either end of a row the key leaves the grid, as it leaves any other part of a page.
      return next < 0 || next >= columns ? null : to(row, next);
    }
    case 'PageUp':
      return to(Math.max(row - page, top), column);
    case 'PageDown':
      return to(row + page, column);
    default:
      return null;
  }
}

/** How far a key goes from a cell that it ends to edit; null: it does not end it. */
export function endOf({ key, shiftKey }: Pick<Key, 'key' | 'shiftKey'>): Place | null {
  const way = shiftKey ? -1 : 1;
  return key === 'Enter' ? { row: way, column: 0 } : key === 'Tab' ? { row: 0, column: way } : null;
}

/** Whether a key writes a sign, and with that begins to edit a cell. */
export const isSign = ({ key, ctrlKey, metaKey, altKey }: Omit<Key, 'shiftKey'>): boolean => [...key].length === 1 && !((ctrlKey || metaKey) && !altKey);

/** What a key on a cell begins to edit it with: null is its value, a text takes the place of it; undefined: the key does not begin it. */
export function beginOf(key: Omit<Key, 'shiftKey'>): string | null | undefined {
  if (key.key === 'Enter' || key.key === 'F2') return null;
  if (key.key === 'Delete' || key.key === 'Backspace') return '';
  return isSign(key) ? key.key : undefined;
}

/** What keys have made of a cell before its editor is there. */
export interface BeforeEditor {
  /** What it begins with in place of its value; null: the value, all of it selected. */
  readonly text: string | null;
  /** Set once the value is not selected any more: what was typed behind it. */
  readonly added?: string;
  /** Set when a key has ended the editing: how far to go from the cell. */
  readonly ends?: Place;
  /** The keys that came after that one. */
  readonly after?: readonly Key[];
}

/** A cell after another key: none is lost while its editor is loaded. Null: it is not edited any more; undefined: the key is none of the cell's. */
export function beforeEditor<C extends BeforeEditor>(cell: C, key: Key): C | null | undefined {
  if (cell.ends !== undefined) return { ...cell, after: [...(cell.after ?? []), keyOf(key)] };
  if (key.key === 'Escape') return null;
  const ends = endOf(key);
  if (ends !== null) return { ...cell, ends };
  if (key.key === 'End') return cell.text === null ? { ...cell, added: cell.added ?? '' } : cell;
  if (!isSign(key)) return undefined;
  return cell.added === undefined ? { ...cell, text: `${cell.text ?? ''}${key.key}` } : { ...cell, added: `${cell.added}${key.key}` };
}

const keyOf = ({ key, ctrlKey, metaKey, altKey, shiftKey }: Key): Key => ({ key, ctrlKey, metaKey, altKey, shiftKey });
