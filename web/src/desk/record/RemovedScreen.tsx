import Button from '@mui/material/Button';
import { contract, printValue, type Removed, type Table } from '@bibliona/core';
import { ArrowLeftIcon } from '@phosphor-icons/react';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { call, messageOf } from '../../state/api.js';
import { useApp, useRights } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { Empty } from '../../ui/Empty.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import { TakeBack } from './TakeBack.js';
import { locale } from '../../state/locale.js';

/** The records of a table that were removed, each to be brought back with what went with it. */
export default function RemovedScreen() {
  const app = useApp();
  const { table: id } = useParams();
  const table = app.design.tables.find((each) => each.id === id);
  const rights = useRights(table?.id ?? '');
  if (table === undefined || !rights.remove)
    return <Empty title="No access">You need permission to remove records of this table to see the removed ones.</Empty>;
  return <RemovedOf key={table.id} table={table} />;
}

function RemovedOf({ table }: { readonly table: Table }) {
  const app = useApp();
  const [asking, setAsking] = useState<Removed | null>(null);
  const [back, setBack] = useState<{ readonly id: number; readonly name: string } | null>(null);
  const { data, isPending, isError, error } = useQuery({
    queryKey: keys.removed(app.id, table.id),
    queryFn: () => call(contract.readRemoved, { params: { app: app.id, table: table.id } }),
  });
  const count = data?.removed.length ?? 0;
  return (
    <div className="list-screen">
      <header className="list-head">
        <div>
          <div className="record-back">
            <Link to={`/desk/${app.id}/${table.id}`}>
              <ArrowLeftIcon size={14} />
              {table.name}
            </Link>
          </div>
          <h1>Removed from {table.name}</h1>
        </div>
      </header>
      {isError && <Note kind="bad">{messageOf(error)}</Note>}
      {back !== null && (
        <Note
          kind="good"
          action={
            <Link className="btn bare" to={`/desk/${app.id}/${table.id}/${back.id}`}>
              Open it
            </Link>
          }
        >
          {back.name} is back.
        </Note>
      )}
      {isPending && <Waiting />}
      {data !== undefined && count === 0 && (
        <Empty title="No removed records">
          {app.role === 'builder'
            ? 'Records that anyone removes appear here. You can restore them.'
            : 'Records that you remove appear here. You can restore them.'}
        </Empty>
      )}
      {data !== undefined && count > 0 && (
        <div className="waiting-lists" tabIndex={0} role="group" aria-label={`Removed from ${table.name}`}>
          <ul className="waiting-list removed-list">
            {data.removed.map((each) => (
              <li key={each.id}>
                <span className="waiting-name">{nameOf(table, each)}</span>
                <span className="q sm">
                  {each.person ?? 'Someone who left'}, {locale().moment(each.at)}
                </span>
                <span className="moves">
                  <Button variant="outlined" onClick={() => setAsking(each)} aria-label={`Restore ${nameOf(table, each)}`}>
                    Restore
                  </Button>
                </span>
              </li>
            ))}
          </ul>
          {data.more && <p className="q sm">There are more; the latest {locale().count(count)} are shown.</p>}
        </div>
      )}
      {asking !== null && (
        <TakeBack
          save={asking.save}
          title={`Restore ${nameOf(table, asking)}?`}
          verb="Restore"
          onClose={() => setAsking(null)}
          onDone={() => {
            setAsking(null);
            setBack({ id: asking.id, name: nameOf(table, asking) });
          }}
        />
      )}
    </div>
  );
}

/** A removed record has no caption any more, which can ask records around it: its first values name it. */
function nameOf(table: Table, { id, values }: Removed): string {
  const filled = table.fields.map((field) => (field.id in values ? printValue(field, values[field.id] ?? null, locale()) : '')).filter((text) => text !== '');
  return filled.length === 0 ? `No. ${id}` : filled.slice(0, 3).join(' · ');
}
