import { written, type Field, type RecordAnswer, type Selection, type Typed, type Value } from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { isAlignedRight } from '../../fields/aligned.js';
import { messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { touched } from '../../state/live.js';
import { useIsNarrow } from '../../ui/narrow.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import type { ArrangedProps } from './arrangements.js';
import { CellRefused } from './CellRefused.js';
import { ChosenBar, useMayChoose } from './ChosenBar.js';
import { useEditorSoon } from './EditedValue.js';
import { GroupRecords, pageOfGroup } from './GroupRecords.js';
import { GroupTable } from './GroupTable.js';
import { MarkAll } from './MarkAll.js';
import { useCanEdit, useCellSave, type RefusedCell } from './use-cell-save.js';
import { useGroupCells } from './use-group-cells.js';
import { shownSum, useGroups } from './use-groups.js';
import { useMarks } from './use-marks.js';
import { useMarkable } from './use-records.js';
import { isByMonth, listedFields, narrowedTo, valueWords } from './values.js';

/** Records under the values that they share, level by level, with counts and sums; a group opens at a press. */
export function GroupedRows({ table, list, selection, choosing }: ArrangedProps) {
  const app = useApp();
  const mayChoose = useMayChoose(table) && choosing !== undefined;
  const records = useMarkable(table, selection, pageOfGroup);
  const marks = useMarks(records);
  const isNarrow = useIsNarrow();
  const canEdit = useCanEdit(table);
  // A phone has the space for it where the record is opened, and a proof is there to be looked at.
  const cells = useGroupCells((record, field) => choosing !== undefined && !isNarrow && canEdit(record, field));
  const { refused, save, dismiss } = useCellSave(table, records);
  const client = useQueryClient();
  useEditorSoon();
  const saveCell = async (begun: RecordAnswer, field: Field, typed: Typed): Promise<void> => {
    // What else shows this record, such as the sums, is of the group that it is in by now.
    if (await save(begun, field, typed)) await touched(client, app, [table.id]);
  };
  const enterAgain = (cell: RefusedCell, text: string | null): void => {
    const record = records.find(cell.record)?.row;
    if (record !== undefined) cells.edit(record, cell.field, text);
  };
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
      {refused !== null && <CellRefused refused={refused} onAgain={(text) => enterAgain(refused, text)} onDismiss={dismiss} />}
      {choosing !== undefined && <ChosenBar {...{ table, selection, marks, ...choosing }} name={list.name} columns={list.columns} />}
      <GroupTable
        label={list.name}
        frame={cells.frame}
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
        rowsOf={(values) => (
          <GroupRecords {...{ table, fields, cells }} selection={withinGroup(selection, by, values)} marks={mayChoose ? marks : null} onSave={saveCell} />
        )}
      />
    </>
  );
}

const withinGroup = (selection: Selection, by: readonly Field[], values: readonly Value[]): Selection =>
  by.reduce<Selection>((within, field, i) => ({ ...within, narrowed: narrowedTo(within, field.id, [written(values[i] ?? null)]) }), selection);
