import { fieldKinds, filesIn, isImage, printValue, type Field, type RecordAnswer, type Table } from '@bibliona/core';
import Button from '@mui/material/Button';
import { Link } from 'react-router';
import { messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { addressOf } from '../../ui/files/held.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import type { ArrangedProps } from './arrangements.js';
import { ChosenBar, useMayChoose } from './ChosenBar.js';
import { RowMark } from './RowMark.js';
import { withSelection } from './selection.js';
import { useMarks } from './use-marks.js';
import { useMarkable, useRecords } from './use-records.js';
import { locale } from '../../state/locale.js';

const pageOfRows = 100;

/** The list on a phone: a record is a few lines, and more come at the end. */
export function NarrowList({ table, list, selection, choosing }: ArrangedProps) {
  const app = useApp();
  const mayChoose = useMayChoose(table) && choosing !== undefined;
  const marks = useMarks(useMarkable(table, selection, pageOfRows));
  const { records, isPending, error, hasNextPage, isFetchingNextPage, fetchNextPage } = useRecords(table, selection, pageOfRows);
  if (error !== null) return <Note kind="bad">{messageOf(error)}</Note>;
  if (isPending) return <Waiting />;
  const named = table.fields.filter((field) => app.captions[table.id]?.includes(field.id));
  const pictured = table.fields.find((field) => field.kind === 'image');
  const others = table.fields.filter((field) => !named.includes(field) && field !== pictured && fieldKinds[field.kind].traits.listed).slice(0, 4);
  const words = (record: RecordAnswer, fields: readonly Field[]): string =>
    fields
      .map((field) => printValue(field, record.values[field.id] ?? null, locale()))
      .filter((text) => text !== '')
      .join(' · ');
  return (
    <>
      {choosing !== undefined && <ChosenBar {...{ table, selection, marks, ...choosing }} name={list.name} columns={list.columns} />}
      <ul className="narrow-rows">
        {records.map((record) => {
          const called = words(record, named) || `No. ${record.id}`;
          return (
            <li key={record.id}>
              {mayChoose && <RowMark record={record} marks={marks} label={`Choose ${called}`} />}
              <Link to={withSelection(`/desk/${app.id}/${table.id}/${record.id}`, selection)}>
                <b>{called}</b>
                <span className="q">{words(record, others)}</span>
                {pictured !== undefined && <Picture field={pictured} table={table} record={record} />}
              </Link>
            </li>
          );
        })}
      </ul>
      {hasNextPage && (
        <Button className="more-rows" variant="outlined" loading={isFetchingNextPage} onClick={() => void fetchNextPage()}>
          More records
        </Button>
      )}
    </>
  );
}

/** The first image of a record; its name says nothing that the words beside it don't. */
function Picture({ field, table, record }: { readonly field: Field; readonly table: Table; readonly record: RecordAnswer }) {
  const app = useApp();
  const [first] = filesIn(record.values[field.id]).filter(isImage);
  if (first === undefined) return null;
  return <img src={addressOf({ app: app.id, table: table.id, record: record.id, field: field.id }, first, 'preview')} alt="" loading="lazy" />;
}
