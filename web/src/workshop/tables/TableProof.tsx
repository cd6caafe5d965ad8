import {
  contract,
  hasOwnNumber,
  isAlignedRight,
  printValue,
  type Field,
  type FieldStatistics,
  type RecordAnswer,
  type Table,
  type Value,
} from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import Button from '@mui/material/Button';
import { PlusIcon } from '@phosphor-icons/react';
import { Link } from 'react-router';
import { call, messageOf } from '../../state/api.js';
import { kindsQuery, useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { Empty } from '../../ui/Empty.js';
import { RegisterMark } from '../../ui/Mark.js';
import { Note } from '../../ui/Note.js';
import { OpenRecord } from '../../ui/OpenRecord.js';
import { Waiting } from '../../ui/Waiting.js';
import { FieldPicture } from './FieldPicture.js';
import { locale } from '../../state/locale.js';

const shownRows = 60;

/** The table's real records, and in the heads what is really in each field. */
export default function TableProof({ table, fieldId }: { readonly table: Table; readonly fieldId: string | undefined }) {
  const app = useApp();
  const params = { app: app.id, table: table.id };
  // It shows its rows at once, and what is written better with more is written so when that is there.
  useQuery(kindsQuery([table]));
  const sample = useQuery({ queryKey: keys.sample(app.id, table.id), queryFn: () => call(contract.readPage, { params, query: { limit: shownRows } }) });
  const statistics = useQuery({ queryKey: keys.statistics(app.id, table.id), queryFn: () => call(contract.readStatistics, { params }) });
  const rows = statistics.data?.fields[0]?.rows;
  const updated = locale().time(statistics.dataUpdatedAt);
  return (
    <div className={statistics.isFetching ? 'pull stale' : 'pull'}>
      <div className="slug">
        <RegisterMark />
        <b>Proof</b>
        <span>{table.name}</span>
        {rows !== undefined && sample.data !== undefined && sample.data.records.length > 0 && (
          <span className="q el">
            First {Math.min(sample.data.records.length, shownRows)} of{' '}
            {sample.data.next === null ? locale().count(sample.data.records.length) : statistics.data?.sampled === true ? 'many' : locale().count(rows)}{' '}
            records, updated {updated}.
            {statistics.data?.sampled === true
              ? ` The summaries are from a sample of ${locale().count(rows)}.`
              : ' Under each column: % filled, distinct values.'}
          </span>
        )}
        {statistics.isFetching && <span className="q">updating …</span>}
        <span className="end">
          <RegisterMark />
        </span>
      </div>
      <div className="trim bleed" tabIndex={0} role="group" aria-label={`Records of ${table.name}`}>
        <i className="cm tl" />
        <i className="cm tr" />
        {sample.isError && <Note kind="bad">{messageOf(sample.error)}</Note>}
        {sample.isPending && <Waiting />}
        {sample.data !== undefined && sample.data.records.length === 0 && (
          <Empty
            title={`No records in ${table.name} yet.`}
            action={
              <Button variant="outlined" startIcon={<PlusIcon />} component={Link} to={`/desk/${app.id}/${table.id}/new`}>
                First record
              </Button>
            }
          >
            The proof shows real records and what each field holds.
          </Empty>
        )}
        {sample.data !== undefined && sample.data.records.length > 0 && (
          <Rows table={table} records={sample.data.records} statistics={statistics.data?.fields ?? []} fieldId={fieldId} />
        )}
      </div>
    </div>
  );
}

function Rows(props: {
  readonly table: Table;
  readonly records: readonly RecordAnswer[];
  readonly statistics: readonly FieldStatistics[];
  readonly fieldId: string | undefined;
}) {
  const app = useApp();
  const right = (field: Field): string => `${isAlignedRight(app.design, props.table, field) ? 'n' : ''} ${field.id === props.fieldId ? 'on' : ''}`;
  return (
    <table className="rows stat">
      <thead>
        <tr>
          <th className="no" scope="col">
            {hasOwnNumber(props.table) ? <span className="vh">Open</span> : <span className="hn">No.</span>}
          </th>
          {props.table.fields.map((field) => (
            <th key={field.id} className={right(field)} scope="col">
              <span className="hn el">{field.name}</span>
              <FieldPicture field={field} statistics={props.statistics.find((statistic) => statistic.field === field.id)} />
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {props.records.map((record) => (
          <tr key={record.id}>
            <td className="no">
              <OpenRecord table={props.table} record={record} fields={props.table.fields} to={`/desk/${app.id}/${props.table.id}/${record.id}`} />
            </td>
            {props.table.fields.map((field) => (
              <td key={field.id} className={right(field)}>
                <Cell field={field} value={record.values[field.id] ?? null} />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Cell({ field, value }: { readonly field: Field; readonly value: Value }) {
  if (value === null) return <span className="nil">empty</span>;
  const text = printValue(field, value, locale());
  return field.kind === 'reference' ? <span className="lk">{text}</span> : <>{text}</>;
}
