import Button from '@mui/material/Button';
import { CaretDownIcon, CaretRightIcon } from '@phosphor-icons/react';
import { written, type Field, type GroupAnswer, type Selection, type Table, type Value } from '@bibliona/core';
import { Fragment, useState } from 'react';
import { isAlignedRight } from '../../fields/aligned.js';
import { ChosenLine, hasTones } from '../../fields/ChoiceMark.js';
import { messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { locale } from '../../state/locale.js';
import { useIsNarrow } from '../../ui/narrow.js';
import { Note } from '../../ui/Note.js';
import { OpenRecord } from '../../ui/OpenRecord.js';
import { Waiting } from '../../ui/Waiting.js';
import type { ArrangedProps } from './arrangements.js';
import { ChosenBar, useMayChoose } from './ChosenBar.js';
import { MarkAll } from './MarkAll.js';
import { RowMark } from './RowMark.js';
import { useMarks } from './use-marks.js';
import { withSelection } from './selection.js';
import { shownIn } from './shown.js';
import { isByMonth, listedFields, narrowedTo, valueWords } from './values.js';
import { shownSum, useGroups } from './use-groups.js';
import { useMarkable, useRecords } from './use-records.js';

const pageOfGroup = 50;

const keyOf = (values: readonly Value[]): string => JSON.stringify(values.map(written));

/** Records under the values that they share, level by level, with counts and sums; a group opens at a press. */
export function GroupedRows({ table, list, selection, choosing }: ArrangedProps) {
  const app = useApp();
  const mayChoose = useMayChoose(table) && choosing !== undefined;
  const marks = useMarks(useMarkable(table, selection, pageOfGroup));
  const isNarrow = useIsNarrow();
  const { data, error } = useGroups(table, selection, selection.by);
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
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
  const sumIn = (field: Field, group: GroupAnswer): string => {
    const sum = group.sums[data.sums.indexOf(field.id)];
    return sum == null ? '' : shownSum(field, sum);
  };
  const toggle = (key: string): void =>
    setOpen((now) => {
      const next = new Set(now);
      if (!next.delete(key)) next.add(key);
      return next;
    });
  const firstSum = fields.findIndex((field) => data.sums.includes(field.id));
  const named = firstSum < 0 ? fields.length : firstSum;
  const sums = (group: GroupAnswer) =>
    fields.slice(named).map((field) => (
      <td key={field.id} className={isAlignedRight(app, field) ? 'n' : ''}>
        {sumIn(field, group)}
      </td>
    ));
  const level = (depth: number, above: readonly Value[]): React.ReactNode =>
    data.levels[depth]?.groups
      .filter((group) => keyOf(group.values.slice(0, depth - 1)) === keyOf(above))
      .map((group) => {
        const key = keyOf(group.values);
        const isOpen = open.has(key);
        const field = by[depth - 1];
        const value = group.values[depth - 1] ?? null;
        if (field === undefined) return null;
        return (
          <Fragment key={key}>
            <tr className={`group-head depth-${depth}`}>
              <th scope="rowgroup" colSpan={1 + named}>
                <button type="button" aria-expanded={isOpen} onClick={() => toggle(key)}>
                  {isOpen ? <CaretDownIcon size={14} /> : <CaretRightIcon size={14} />}
                  <b className={value === null ? 'nil' : ''}>{valueWords(app, field, value)}</b>
                  <span className="q">
                    {locale().count(group.count)} {group.count === 1 ? 'record' : 'records'}
                  </span>
                </button>
              </th>
              {sums(group)}
            </tr>
            {isOpen &&
              (depth < by.length ? (
                level(depth + 1, group.values)
              ) : (
                <GroupRecords table={table} fields={fields} selection={withinGroup(selection, by, group.values)} marks={mayChoose ? marks : null} />
              ))}
          </Fragment>
        );
      });
  const [all] = data.levels[0]?.groups ?? [];
  return (
    <>
      {choosing !== undefined && <ChosenBar {...{ table, selection, marks, ...choosing }} name={list.name} columns={list.columns} />}
      <div className="grouped">
        <table className="rows" aria-label={list.name}>
          <thead>
            <tr>
              <th scope="col" className="first">
                {mayChoose && (
                  <MarkAll
                    isAll={marks.isAll(choosing.count)}
                    isSome={marks.marked.size > 0}
                    onAll={() => marks.markAll(choosing.count)}
                    onNone={marks.clear}
                  />
                )}
                <span className="vh">Open</span>
              </th>
              {fields.map((field) => (
                <th key={field.id} scope="col" className={isAlignedRight(app, field) ? 'n' : ''}>
                  {field.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>{level(1, [])}</tbody>
          {all !== undefined && data.sums.length > 0 && (
            <tfoot>
              <tr>
                <td colSpan={1 + named}>All</td>
                {sums(all)}
              </tr>
            </tfoot>
          )}
        </table>
        {data.levels.some((each) => each.more) && <p className="q">Only the first 500 groups are shown. Narrow the list to see the others.</p>}
      </div>
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
