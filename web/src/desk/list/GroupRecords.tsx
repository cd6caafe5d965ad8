import Button from '@mui/material/Button';
import type { Field, RecordAnswer, Selection, Table, Typed } from '@bibliona/core';
import type { ReactNode } from 'react';
import { isAlignedRight } from '../../fields/aligned.js';
import { messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { Note } from '../../ui/Note.js';
import { OpenRecord } from '../../ui/OpenRecord.js';
import { drawCell } from './CellValue.js';
import { EditedValue } from './EditedValue.js';
import { RowMark } from './RowMark.js';
import { withSelection } from './selection.js';
import { shownIn } from './shown.js';
import type { GroupCells } from './use-group-cells.js';
import type { useMarks } from './use-marks.js';
import { useRecords } from './use-records.js';

export const pageOfGroup = 50;

/** The records of one group, as rows under its head. */
export function GroupRecords(props: {
  readonly table: Table;
  readonly fields: readonly Field[];
  readonly selection: Selection;
  /** Null: this person can't do anything with chosen records. */
  readonly marks: ReturnType<typeof useMarks> | null;
  readonly cells: GroupCells;
  /** @param begun the record as it was when its cell was opened */
  readonly onSave: (begun: RecordAnswer, field: Field, typed: Typed) => Promise<void>;
}) {
  const { table, fields, selection, marks, cells, onSave } = props;
  const app = useApp();
  const { records, isPending, error, hasNextPage, isFetchingNextPage, fetchNextPage } = useRecords(table, selection, pageOfGroup);
  const whole = (inner: ReactNode) => (
    <tr>
      <td colSpan={1 + fields.length}>{inner}</td>
    </tr>
  );
  if (error !== null) return whole(<Note kind="bad">{messageOf(error)}</Note>);
  if (isPending) return whole(<span className="q">Loading...</span>);
  const shown = (record: RecordAnswer, field: Field): ReactNode => {
    const { edited, leave } = cells;
    if (edited?.row === record.id && edited.column === field.id)
      return (
        <EditedValue {...{ field, record }} cell={edited} begun={edited.begun} onLeave={leave} onSave={(typed) => void onSave(edited.begun, field, typed)} />
      );
    return drawCell({ table, field, record, hasFocus: true }) ?? shownIn(field, record);
  };
  return (
    <>
      {records.map((record, row) => (
        <tr key={record.id} data-record={record.id}>
          <td className="first">
            {record.tone !== undefined && <i className={`row-spine tone-${record.tone.tone}`} title={record.tone.name} />}
            {marks !== null && <RowMark record={record} marks={marks} label={`Choose record ${record.id}`} />}
            <OpenRecord table={table} record={record} fields={fields} to={withSelection(`/desk/${app.id}/${table.id}/${record.id}`, selection)} />
          </td>
          {fields.map((field, column) => (
            <td key={field.id} className={isAlignedRight(app, field) ? 'n' : ''} {...cells.cellProps(record, field, row === 0 && column === 0)}>
              {shown(record, field)}
            </td>
          ))}
        </tr>
      ))}
      {hasNextPage &&
        whole(
          <Button loading={isFetchingNextPage} onClick={() => void fetchNextPage()}>
            More records
          </Button>,
        )}
    </>
  );
}
