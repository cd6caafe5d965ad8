import IconButton from '@mui/material/IconButton';
import { ArrowSquareOutIcon, CaretDownIcon, CaretUpIcon, TreeViewIcon, XIcon } from '@phosphor-icons/react';
import { kindOf, printValue, type Field, type Table, type Typed } from '@bibliona/core';
import { useContext, useEffect, useMemo, useRef, type ClipboardEvent, type KeyboardEvent, type Ref } from 'react';
import { useFormContext, useFormState } from 'react-hook-form';
import { Link } from 'react-router';
import { useApp, useRights } from '../../state/app.js';
import { useIsNarrow } from '../../ui/narrow.js';
import { RecordAt } from '../../ui/files/held.js';
import { ShownFiles } from './ShownFiles.js';
import { valueOf } from './draft.js';
import { RowGrip } from './RowGrip.js';
import { FormField } from './FormField.js';
import { FormulaValue } from './FormulaValue.js';
import type { FormValues } from './form-values.js';
import { BrokenChecks } from './told-checks.js';
import { locale } from '../../state/locale.js';
import { isAlignedRight } from '../../fields/aligned.js';

/** The cell that is worked on. */
export interface Spot {
  readonly row: number;
  readonly column: number;
}

/** One row: texts, or inputs while it is worked on. On a phone it is a line that opens. */
export function ChildRow(props: {
  readonly index: number;
  readonly measure: Ref<HTMLTableRowElement>;
  readonly child: Table;
  readonly childrenName: string;
  /** Where its values are in the form. */
  readonly name: `children.${string}.${number}`;
  readonly of: string;
  /** Null: it has not been saved yet. */
  readonly record: number | null;
  readonly columns: readonly Field[];
  /** The column that is worked on; null: another row is, or none. */
  readonly spot: number | null;
  readonly onSpot: (column: number | null) => void;
  readonly onWalk: (event: KeyboardEvent, column: number) => void;
  readonly onPaste: (event: ClipboardEvent, column: number) => void;
  /** Puts it at the place of another row; absent: rows are in no order of their own. */
  readonly onMove?: (to: number) => void;
  /** What belongs to it can be shown; absent: nothing does. */
  readonly below?: { readonly isShown: boolean; readonly onToggle: () => void };
  readonly onRemove?: () => void;
}) {
  const { index, measure, child, childrenName, name, of, record, columns, spot, onSpot, onWalk, onPaste, onMove, below, onRemove } = props;
  const app = useApp();
  const { change } = useRights(child.id);
  const at = useMemo(() => ({ table: child.id, record }), [child, record]);
  const isNarrow = useIsNarrow();
  const isFolded = isNarrow && spot === null;
  const { getValues } = useFormContext<FormValues>();
  const cells = useRef<(HTMLTableCellElement | null)[]>([]);
  const isOpen = spot !== null && (change || record === null);
  useEffect(() => {
    if (spot === null) return;
    const cell = cells.current[spot];
    const input = cell?.querySelector<HTMLElement>('input, textarea, [role=combobox]');
    if (cell?.contains(document.activeElement) !== true || document.activeElement === cell) (input ?? cell)?.focus();
    if (input instanceof HTMLInputElement && input.type === 'text') input.select();
  }, [spot]);
  const tools = (
    <td className="tools-col">
      {onMove !== undefined && <RowGrip index={index} label={`Move row ${index + 1} of ${childrenName}`} onMove={onMove} />}
      {isNarrow && (
        <IconButton aria-label={`Fields of row ${index + 1} of ${childrenName}`} aria-expanded={!isFolded} onClick={() => onSpot(isFolded ? 0 : null)}>
          {isFolded ? <CaretDownIcon size={14} /> : <CaretUpIcon size={14} />}
        </IconButton>
      )}
      {below !== undefined && (
        <IconButton aria-label={`What belongs to row ${index + 1} of ${childrenName}`} aria-expanded={below.isShown} onClick={below.onToggle}>
          <TreeViewIcon size={14} weight={below.isShown ? 'fill' : 'regular'} />
        </IconButton>
      )}
      {record !== null && (
        <IconButton component={Link} to={`/desk/${app.id}/${child.id}/${record}`} aria-label={`Open row ${index + 1} of ${childrenName}`}>
          <ArrowSquareOutIcon size={14} />
        </IconButton>
      )}
      {onRemove !== undefined && (
        <IconButton className="row-remove" aria-label={`Remove row ${index + 1} of ${childrenName}`} onClick={onRemove}>
          <XIcon size={14} />
        </IconButton>
      )}
    </td>
  );
  const mark = isOpen || below?.isShown === true ? 'sel' : '';
  if (isFolded) {
    const values = getValues(`${name}.values` as `own.${string}`) as unknown as Readonly<Record<string, Typed>>;
    const isBlank = columns.every((field) => (values[field.id] ?? '') === '');
    return (
      <tr ref={measure} data-index={index} aria-rowindex={index + 2} className={`as-line ${mark}`}>
        <td className="child-line" onClick={() => onSpot(0)}>
          <RecordAt value={at}>
            {isBlank && <span className="q">Empty row</span>}
            {columns.map((field) => (
              <span key={field.id}>
                <Cell field={field} name={`${name}.values.${field.id}`} table={child.id} of={of} row={name} isOpen={false} />
              </span>
            ))}
          </RecordAt>
        </td>
        {tools}
      </tr>
    );
  }
  return (
    <tr ref={measure} data-index={index} aria-rowindex={index + 2} className={mark}>
      {columns.map((field, column) => (
        <td
          key={field.id}
          ref={(cell) => {
            cells.current[column] = cell;
          }}
          className={`of-${field.kind} ${isAlignedRight(app, field) ? 'n' : ''}`}
          data-label={field.name}
          tabIndex={isOpen ? -1 : 0}
          onFocus={() => spot !== column && onSpot(column)}
          onKeyDown={(event) => onWalk(event, column)}
          onPaste={(event) => onPaste(event, column)}
        >
          <RecordAt value={at}>
            <Cell field={field} name={`${name}.values.${field.id}`} table={child.id} of={of} row={name} isOpen={isOpen} />
          </RecordAt>
        </td>
      ))}
      {tools}
    </tr>
  );
}

function Cell(props: {
  readonly field: Field;
  readonly name: string;
  readonly table: string;
  readonly of: string;
  readonly row: `children.${string}.${number}`;
  readonly isOpen: boolean;
}) {
  const { field, name, table, of, row, isOpen } = props;
  const { getValues, getFieldState } = useFormContext<FormValues>();
  const { errors } = useFormState<FormValues>({ name: name as `own.${string}` });
  const broken = useContext(BrokenChecks).get(name);
  if (field.kind === 'formula') return <FormulaValue field={field} table={table} of={of} isInRow />;
  // A text that is shown in part cannot be changed here: the rest of it would be lost.
  const isCut = (getValues(`${row}.cut` as `own.${string}`) as unknown as readonly string[] | undefined)?.includes(field.id) === true;
  if (isOpen && !isCut) return <FormField field={field} name={name} table={table} of={of} isInRow />;
  const typed: Typed = getValues(name as `own.${string}`);
  const parsed = valueOf(field, typed ?? null);
  const text = parsed.ok ? printValue(field, parsed.value, locale()) : String(typed);
  const problem = getFieldState(name as `own.${string}`, { errors } as never).error?.message ?? broken;
  const files = kindOf(field).files?.in(typed) ?? [];
  return (
    <>
      {files.length > 0 ? (
        <span className="cell-text">
          <ShownFiles field={field} files={files} />
        </span>
      ) : (
        <span className={problem === undefined ? 'cell-text' : 'cell-text bad'} title={text.length > 30 ? text : undefined}>
          {text}
        </span>
      )}
      {problem !== undefined && <span className="cell-problem">{problem}</span>}
    </>
  );
}
