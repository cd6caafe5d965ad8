import { contract, printValue, routeOf, type HistoryEntry, type Table } from '@bibliona/core';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { ArrowUUpLeftIcon, GearIcon } from '@phosphor-icons/react';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { lookedAs } from '../../state/look-as.js';
import { initials } from '../../state/session.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import { TakeBack } from './TakeBack.js';

const dayOf = (at: string): string => {
  const date = new Date(at);
  const isToday = date.toDateString() === new Date().toDateString();
  return isToday ? 'Today' : date.toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });
};
const timeOf = (at: string): string => new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });

/** What happened to the record, the newest first, by day. */
export function History({ table, id, isDirty }: { readonly table: Table; readonly id: number; readonly isDirty: boolean }) {
  const app = useApp();
  const history = useQuery({
    queryKey: keys.history(app.id, table.id, id),
    queryFn: () => call(contract.readHistory, { params: { app: app.id, table: table.id, id } }),
  });
  const entries = history.data?.entries ?? [];
  const [asking, setAsking] = useState<string | null>(null);
  const navigate = useNavigate();
  const route = routeOf(app.design, table.id);
  const isLooking = lookedAs(app.id) !== null;
  // A move is taken back by another move; what an automation did goes with the save that set it off; what was removed is here again.
  const mayTakeBack = (entry: HistoryEntry): boolean =>
    entry.save !== null &&
    !entry.automatic &&
    !isLooking &&
    entry.kind !== 'remove' &&
    !(entry.kind === 'change' && entry.changes.some((one) => one.field === route?.field));
  const days = [...new Set(entries.map((entry) => dayOf(entry.at)))];
  return (
    <aside className="history" aria-label="History">
      <h2>History</h2>
      {history.isPending && <Waiting />}
      {history.isError && <Note kind="bad">{messageOf(history.error)}</Note>}
      {history.isSuccess && entries.length === 0 && <p className="q">Nothing has been written down about this record.</p>}
      {days.map((day) => (
        <section key={day}>
          <h3>{day}</h3>
          <ul>
            {entries
              .filter((entry) => dayOf(entry.at) === day)
              .map((entry) => (
                <li key={entry.id}>
                  <span className="face s" aria-hidden="true">
                    {entry.automatic ? <GearIcon size={14} /> : initials(entry.person ?? '?')}
                  </span>
                  <div className="grow">
                    <div className="row">
                      <b className="el">{entry.automatic ? 'By itself' : (entry.person ?? 'Someone who is gone')}</b>
                      {mayTakeBack(entry) && (
                        <Tooltip title={isDirty ? 'Save or give up your changes first' : 'Take this save back'}>
                          <IconButton
                            aria-disabled={isDirty}
                            size="small"
                            aria-label={`Take back what ${entry.person ?? 'someone'} did at ${timeOf(entry.at)}`}
                            onClick={() => isDirty || setAsking(entry.save)}
                          >
                            <ArrowUUpLeftIcon size={14} />
                          </IconButton>
                        </Tooltip>
                      )}
                      <time className="q" dateTime={entry.at}>
                        {timeOf(entry.at)}
                      </time>
                    </div>
                    <Words entry={entry} table={table} />
                    {entry.automatic && <p className="q sm">set off by {entry.person ?? 'someone who is gone'}</p>}
                  </div>
                </li>
              ))}
          </ul>
        </section>
      ))}
      {asking !== null && (
        <TakeBack
          save={asking}
          onClose={() => setAsking(null)}
          onDone={(effects) => {
            setAsking(null);
            if (effects.some((one) => one.kind === 'remove' && one.table === table.id && one.id === id)) void navigate(`/desk/${app.id}/${table.id}`);
          }}
        />
      )}
    </aside>
  );
}

function Words({ entry, table }: { readonly entry: HistoryEntry; readonly table: Table }) {
  const route = routeOf(useApp().design, table.id);
  if (entry.kind === 'import') return <p>brought it in with a file</p>;
  if (entry.kind === 'add') return <p>added it</p>;
  if (entry.kind === 'remove') return <p>removed it</p>;
  if (entry.kind === 'restore') return <p>brought it back</p>;
  return (
    <>
      {entry.changes.map((change) => {
        const field = table.fields.find((one) => one.id === change.field);
        if (field === undefined) return null;
        if (field.id === route?.field)
          return (
            <p key={change.field}>
              moved it to <b>{printValue(field, change.after)}</b>
            </p>
          );
        const before = printValue(field, change.before);
        return (
          <p key={change.field}>
            {field.name}: {before !== '' && <s>{before}</s>}
            {change.beforeHidden && <span className="q">not visible to you, now</span>} <b>{printValue(field, change.after) || 'empty'}</b>
          </p>
        );
      })}
    </>
  );
}
