/** From the cells of a file to the lines that PostgreSQL's COPY reads or to values, with a complaint for each cell that does not fit. */
import type { Field } from '../design/design.js';
import { withoutGuard } from '../export/csv.js';
import type { RecordFinder } from './matching.js';
import type { ReferenceValue, Value } from '../fields/value.js';
import type { CaptionIndex, CellReader, Misfit, Reading } from '../fields/kind.js';
import { kindOf } from '../fields/kinds.js';

export interface Complaint {
  /** Line of the file, counted from 1, on which the row begins. */
  readonly line: number;
  readonly column: string;
  readonly value: string;
  readonly reason: string;
}

const apostrophe = 39;

/** Text format of COPY (PostgreSQL, "COPY", File Formats): backslash, tab and line ends are escaped. */
export function copyText(text: string): string {
  return /[\\\t\n\r]/u.test(text) ? text.replaceAll('\\', '\\\\').replaceAll('\t', '\\t').replaceAll('\n', '\\n').replaceAll('\r', '\\r') : text;
}

/** COPY's own word for empty. */
const emptyCell = '\\N';

/** A value of a field as a cell of COPY. */
export const copyCell = (value: Exclude<Value, ReferenceValue>): string =>
  value === null ? emptyCell : typeof value === 'boolean' ? (value ? 't' : 'f') : copyText(String(value));

export interface CellColumn {
  /** Heading of the column in the file. */
  readonly name: string;
  /** Its place in the row, from 0. */
  readonly at: number;
  readonly field: Field;
  readonly reading: Reading;
  readonly captions: CaptionIndex | null;
}

/** A row about a record that is there: what its fields are to be. */
export interface NumberedRow {
  readonly kind: 'numbered';
  readonly record: number;
  readonly line: number;
  /** For each column; a reference whose caption names none or several records as that caption, with the problem. */
  readonly cells: readonly (Exclude<Value, ReferenceValue> | { readonly caption: string; readonly problem: string })[];
}

export interface RowConverterOptions {
  readonly columns: readonly CellColumn[];
  /** Which record a row is about; null: each adds one. */
  readonly find: RecordFinder | null;
  /** Whether a row without a record adds one. */
  readonly canAdd: boolean;
  /** Whether texts that look like a calculation have a mark in front. */
  readonly isGuarded: boolean;
  /** Cells that each row has; a filled cell beyond is a complaint. */
  readonly width: number;
  /** COPY text that ends each line: who added the record. */
  readonly tail: string;
  /** `empty`: a cell that does not fit is left empty where the field allows it. */
  readonly badCells: 'refuse' | 'empty';
  /** Whether an empty cell leaves the field of a record as it is. */
  readonly keepsEmpty: boolean;
  /** Values that a unique field has in the table already, by field id. */
  readonly taken: ReadonlyMap<string, ReadonlySet<string>>;
  readonly complain: (complaint: Complaint) => void;
  /** A cell that did not fit and was left empty. */
  readonly emptied: (complaint: Complaint) => void;
}

/** A row that matches no record and is not to add one. */
export interface LeftOut {
  readonly kind: 'left_out';
}
const leftOut: LeftOut = { kind: 'left_out' };

/** A column that no file fills: plans with one are refused before. */
const unread: CellReader = () => ({ problem: 'is not read from a file' });

/**
 * Makes the function that turns one row into one line of COPY text, or into a numbered row when it is about a record; null when
 * the row has a complaint. A cell of a numbered row that does not fit is a complaint in any case: emptied, it would lose a value.
 */
export function rowConverter(options: RowConverterOptions): (cells: readonly string[], line: number) => string | NumberedRow | LeftOut | null {
  const { columns, find, canAdd, keepsEmpty, width, isGuarded, tail, complain, emptied, badCells } = options;
  const readers = columns.map(({ field, reading, captions }) => kindOf(field).cells.reader?.(field, reading, captions) ?? unread);
  const firstLines = columns.map((column) => (column.field.unique ? new Map<string, number>() : null));
  const printed = new Array<string | Misfit | null>(columns.length);

  let isGood = true;
  // Made once: a function made for every row costs more than converting it.
  const bad = (line: number, name: string, value: string, reason: string): void => {
    complain({ line, column: name, value: value.slice(0, 200), reason });
    isGood = false;
  };
  const recordOf = (cells: readonly string[], line: number): number | null => {
    const found = find === null ? null : find(cells, line);
    if (found === null || typeof found === 'number') return found;
    if (found !== 'unreadable') bad(line, found.column, found.value, found.problem);
    // Its cells are read as those of a record that is there, which none is: nothing is emptied in silence.
    return 0;
  };
  return (cells, line) => {
    isGood = true;
    if (cells.length > width) {
      const extra = cells.slice(width).filter((cell) => cell.trim() !== '');
      if (extra.length > 0) bad(line, '(beyond the last column)', extra.join(' | '), `the row has ${cells.length} cells, the heading ${width}`);
    }
    const record = recordOf(cells, line);
    if (record === null && !canAdd) return leftOut;
    for (let i = 0; i < columns.length; i += 1) {
      const column = columns[i] as CellColumn;
      const raw = cells[column.at] ?? '';
      const text = isGuarded && raw.charCodeAt(0) === apostrophe ? withoutGuard(raw) : raw;
      let value: string | Misfit | null = null;
      if (text !== '' && (text.charCodeAt(0) > 32 || text.trim() !== '')) {
        const converted = (readers[i] as CellReader)(text);
        // The record itself can tell which of several is meant: the one that it refers to already.
        if (typeof converted === 'string' || (record !== null && column.captions !== null)) value = converted;
        else if (badCells === 'refuse' || record !== null) bad(line, column.name, text, converted.problem);
        else if (column.field.required) bad(line, column.name, text, `${converted.problem}, and ${column.field.name} is required`);
        else emptied({ line, column: column.name, value: text.slice(0, 200), reason: converted.problem });
      } else if (column.field.required && !(keepsEmpty && record !== null)) bad(line, column.name, '', 'is empty, but required');
      const seen = firstLines[i];
      if (seen !== null && seen !== undefined && typeof value === 'string' && record !== 0) {
        const { key: keyOf } = kindOf(column.field).cells;
        const key = keyOf(value, column.field);
        const first = seen.get(key);
        if (first !== undefined) bad(line, column.name, text, `is in line ${first} already, and it must be unique`);
        else if (record === null && options.taken.get(column.field.id)?.has(key) === true)
          bad(line, column.name, text, 'is in the table already, and it must be unique. Change matching records instead, or leave the row out');
        else seen.set(key, line);
      }
      printed[i] = value;
    }
    if (!isGood) return null;
    if (record === null) return `${printed.map((each) => (typeof each === 'string' ? copyText(each) : emptyCell)).join('\t')}\t${tail}\n`;
    return {
      kind: 'numbered',
      record,
      line,
      cells: columns.map((column, i) => {
        const found = printed[i] ?? null;
        return found === null
          ? null
          : typeof found === 'string'
            ? kindOf(column.field).cells.value(found)
            : { caption: (cells[column.at] ?? '').trim(), problem: found.problem };
      }),
    };
  };
}
