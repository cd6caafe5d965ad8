import Button from '@mui/material/Button';
import { written, type Field, type Selection, type Table, type Value } from '@bibliona/core';
import { isAlignedRight } from '../../fields/aligned.js';
import { ChosenLine, hasTones } from '../../fields/ChoiceMark.js';
import { messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { useIsNarrow } from '../../ui/narrow.js';
import { Note } from '../../ui/Note.js';
import { OpenRecord } from '../../ui/OpenRecord.js';
import { Waiting } from '../../ui/Waiting.js';
import type { ArrangedProps } from './arrangements.js';
import { ChosenBar, useMayChoose } from './ChosenBar.js';
import { GroupTable } from './GroupTable.js';
import { MarkAll } from './MarkAll.js';
import { RowMark } from './RowMark.js';
import { useMarks } from './use-marks.js';
import { withSelection } from './selection.js';
import { shownIn } from './shown.js';
import { isByMonth, listedFields, narrowedTo, valueWords } from './values.js';
import { shownSum, useGroups } from './use-groups.js';
import { useMarkable, useRecords } from './use-records.js';

const pageOfGroup = 50;

/** Records under the values that they share, level by level, with counts and sums; a group opens at a press. */
export function GroupedRows({ table, list, selection, choosing }: ArrangedProps) {
  const app = useApp();
  const mayChoose = useMayChoose(table) && choosing !== undefined;
  const marks = useMarks(useMarkable(table, selection, pageOfGroup));
  const isNarrow = useIsNarrow();
  const { data, error } = useGroups(table, selection, selection.by);
  if (error !== null) return <Note kind="bad">{messageOf(error)}</Note>;
  if (data === undefined) return <Waiting />;
  const listed = listedFields(table, list).filter((field) => !data.by.includes(field.id) || isByMonth(app, field));
  // What is summed has a column, whether the list shows it or not.
  const summed = table.fields.filter((field) => data.sums.includes(field.id));
  // A phone has room for what tells a record apart, and its sums.
  const fields = isNarrow
    ? [...listed.filter((field) => !summed.includes(field)).slice(0, 1), ...summed.slice(0, 2)]
    : [...listed, ...summed.filter((field) => !listed.includes(field))];
  const by = data.by.flatMap((id) => table.fields.filter((field) => field.id === id));
  return (
    <>
      {choosing !== undefined && <ChosenBar {...{ table, selection, marks, ...choosing }} name={list.name} columns={list.columns} />}
      <GroupTable
        label={list.name}
        groups={data}
        columns={fields.map((field) => ({
          id: field.id,
          name: field.name,
          isRight: isAlignedRight(app, field),
          printSum: (sum) => shownSum(field, sum),
        }))}
        unit={['record', 'records']}
        mark={
          mayChoose && (
            <MarkAll isAll={marks.isAll(choosing.count)} isSome={marks.marked.size > 0} onAll={() => marks.markAll(choosing.count)} onNone={marks.clear} />
          )
        }
        wordsOf={(level, value) => {
          const field = by[level];
          return field === undefined ? '' : valueWords(app, field, value);
        }}
        rowsOf={(values) => <GroupRecords table={table} fields={fields} selection={withinGroup(selection, by, values)} marks={mayChoose ? marks : null} />}
      />
    </>
  );
}

const withinGroup = (selection: Selection, by: readonly Field[], values: readonly Value[]): Selection =>
  by.reduce<Selection>((within, field, i) => ({ ...within, narrowed: narrowedTo(within, field.id, [written(values[i] ?? null)]) }), selection);

/** The records of one group, as rows under its head. */
function GroupRecords(props: {
  readonly table: Table;
  readonly fields: readonly Field[];
  readonly selection: Selection;
  /** Null: this person can't do anything with chosen records. */
  readonly marks: ReturnType<typeof useMarks> | null;
}) {
  const { table, fields, selection, marks } = props;
  const app = useApp();
  const { records, isPending, error, hasNextPage, isFetchingNextPage, fetchNextPage } = useRecords(table, selection, pageOfGroup);
  const whole = (inner: React.ReactNode) => (
    <tr>
      <td colSpan={1 + fields.length}>{inner}</td>
    </tr>
  );
  if (error !== null) return whole(<Note kind="bad">{messageOf(error)}</Note>);
  if (isPending) return whole(<span className="q">Loading...</span>);
  return (
    <>
      {records.map((record) => (
        <tr key={record.id}>
          <td className="first">
            {record.tone !== undefined && <i className={`row-spine tone-${record.tone.tone}`} title={record.tone.name} />}
            {marks !== null && <RowMark record={record} marks={marks} label={`Choose record ${record.id}`} />}
            <OpenRecord table={table} record={record} fields={fields} to={withSelection(`/desk/${app.id}/${table.id}/${record.id}`, selection)} />
          </td>
          {fields.map((field) => (
            <td key={field.id} className={isAlignedRight(app, field) ? 'n' : ''}>
              {hasTones(field) ? <ChosenLine field={field} value={record.values[field.id] ?? null} /> : shownIn(field, record)}
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
