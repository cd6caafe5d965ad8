import { kindOf, type Field, type RecordAnswer, type Table } from '@bibliona/core';
import type { ReactNode } from 'react';
import { ChosenLine, hasTones } from '../../fields/ChoiceMark.js';
import { useApp } from '../../state/app.js';
import { HeldFiles } from '../../ui/files/HeldFiles.js';
import { shownIn } from './shown.js';

interface CellValueProps {
  readonly table: Table;
  readonly field: Field;
  readonly record: RecordAnswer;
  /** Whether Tab leads into what the cell holds. */
  readonly hasFocus: boolean;
}

/** A value that leads out of the app, in a tab of its own. */
function Linked({ field, record, hasFocus }: CellValueProps) {
  const to = kindOf(field).link?.(record.values[field.id] ?? null) ?? null;
  if (to === null) return shownIn(field, record);
  return (
    <a className="lk" href={to} target="_blank" rel="noopener noreferrer" tabIndex={hasFocus ? 0 : -1}>
      {shownIn(field, record)}
    </a>
  );
}

/** Files are shown in the list, and changed where the record is opened. */
function Held({ table, field, record, hasFocus }: CellValueProps) {
  const app = useApp();
  const files = kindOf(field).files?.in(record.values[field.id]) ?? [];
  return <HeldFiles files={files} place={{ app: app.id, table: table.id, record: record.id, field: field.id }} most={3} isReached={hasFocus} />;
}

/** What a cell shows in place of the text of its value; null: the text. */
export function drawCell(props: CellValueProps): ReactNode {
  const { field, record } = props;
  if (kindOf(field).files !== undefined) return <Held {...props} />;
  if (hasTones(field)) return <ChosenLine field={field} value={record.values[field.id] ?? null} />;
  return kindOf(field).link === undefined ? null : <Linked {...props} />;
}
