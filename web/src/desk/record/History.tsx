import { printValue, relationshipOf, routeOf, tableOf, type ChildEntry, type HistoryEntry, type Table } from '@bibliona/core';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { ArrowUUpLeftIcon, GearIcon } from '@phosphor-icons/react';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { lookedAs } from '../../state/look-as.js';
import { initials } from '../../state/session.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import { Comments } from './Comments.js';
import { historyQuery } from './record-history.js';
import { TakeBack } from './TakeBack.js';
import { locale } from '../../state/locale.js';

const dayOf = (at: string): string => {
  const day = locale().day(at);
  return day === locale().day(Date.now()) ? 'Today' : day;
};

/** What happened to the record, the newest first, by day. */
export function History({ table, id, isDirty }: { readonly table: Table; readonly id: number; readonly isDirty: boolean }) {
  const app = useApp();
  const history = useQuery(historyQuery(app.id, table.id, id));
  const { entries = [], children = [] } = history.data ?? {};
  const saves = savesOf(entries, children);
  const [asking, setAsking] = useState<string | null>(null);
  const navigate = useNavigate();
  const route = routeOf(app.design, table.id);
  const isLooking = lookedAs(app.id) !== null;
  // A move is undone by another move; what an automation did goes with the save that triggered it; what was removed is here again.
  const mayTakeBackChild = (entry: HistoryEntry): boolean => entry.save !== null && !entry.automatic && !isLooking;
  const mayTakeBack = (entry: HistoryEntry): boolean =>
    mayTakeBackChild(entry) && entry.kind !== 'remove' && !(entry.kind === 'change' && entry.changes.some((change) => change.field === route?.field));
  const days = [...new Set(saves.map(({ first }) => dayOf(first.at)))];
  return (
    <aside className="history" aria-label="Comments and history">
      <Comments table={table} id={id} />
      <h2>History</h2>
      {history.isPending && <Waiting />}
      {history.isError && <Note kind="bad">{messageOf(history.error)}</Note>}
      {history.isSuccess && entries.length === 0 && <p className="q">No history yet.</p>}
      {days.map((day) => (
        <section key={day}>
          <h3>{day}</h3>
          <ul>
            {saves
              .filter(({ first }) => dayOf(first.at) === day)
              .map(({ first, own, children: others }) => (
                <li key={first.id}>
                  <span className="face s" aria-hidden="true">
                    {first.automatic ? <GearIcon size={14} /> : initials(first.person ?? '?')}
                  </span>
                  <div className="grow">
                    <div className="row">
                      <b className="el">{first.automatic ? 'Automatic' : (first.person ?? 'Someone who left')}</b>
                      {own.every(mayTakeBack) && others.every(mayTakeBackChild) && (
                        <Tooltip title={isDirty ? 'Save or discard your changes first' : 'Undo this save'}>
                          <IconButton
                            aria-disabled={isDirty}
                            size="small"
                            aria-label={`Undo what ${first.person ?? 'someone'} did at ${locale().time(first.at)}`}
                            onClick={() => isDirty || setAsking(first.save)}
                          >
                            <ArrowUUpLeftIcon size={14} />
                          </IconButton>
                        </Tooltip>
                      )}
                      <time className="q" dateTime={first.at}>
                        {locale().time(first.at)}
                      </time>
                    </div>
                    {own.map((entry) => (
                      <Words key={entry.id} entry={entry} table={table} />
                    ))}
                    <ChildWords entries={others} />
                    {first.automatic && <p className="q sm">triggered by {first.person ?? 'someone who left'}</p>}
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
            if (effects.some((effect) => effect.kind === 'remove' && effect.table === table.id && effect.id === id))
              void navigate(`/desk/${app.id}/${table.id}`);
          }}
        />
      )}
    </aside>
  );
}

/** What one save wrote to the record and to its children. */
interface Save {
  readonly first: HistoryEntry;
  readonly own: readonly HistoryEntry[];
  readonly children: readonly ChildEntry[];
}

/** The lines of one save together, the newest first; those of automations apart from what triggered them. */
function savesOf(entries: readonly HistoryEntry[], children: readonly ChildEntry[]): readonly Save[] {
  const saves: { first: HistoryEntry; own: HistoryEntry[]; children: ChildEntry[] }[] = [];
  const at = (entry: HistoryEntry) => {
    // A save that is not theirs to take back has no name here: its lines were written at the same moment.
    const known = saves.find(
      ({ first }) => first.at === entry.at && first.person === entry.person && first.automatic === entry.automatic && first.save === entry.save,
    );
    if (known !== undefined) return known;
    const save = { first: entry, own: [], children: [] };
    saves.push(save);
    return save;
  };
  for (const entry of entries) at(entry).own.push(entry);
  for (const entry of children) at(entry).children.push(entry);
  return saves.sort((save, other) => other.first.at.localeCompare(save.first.at) || other.first.id - save.first.id);
}

const childVerbs = { add: 'added', import: 'imported', remove: 'removed', restore: 'brought back', change: 'changed' } as const;
// So many children of one save are told of one by one.
const mostTold = 3;

/** What a save did to children: one by one while they are few, else how many. */
function ChildWords({ entries }: { readonly entries: readonly ChildEntry[] }) {
  const { design } = useApp();
  const groups = new Map<string, ChildEntry[]>();
  for (const entry of entries) {
    const key = `${entry.relationship} ${entry.kind}`;
    groups.set(key, [...(groups.get(key) ?? []), entry]);
  }
  return (
    <>
      {[...groups].map(([key, group]) => {
        const [first] = group;
        if (first === undefined) return null;
        const { childrenName, child } = relationshipOf(design, first.relationship);
        if (group.length > mostTold)
          return (
            <p key={key}>
              {childVerbs[first.kind]} {group.length} of {childrenName}
            </p>
          );
        return group.map((entry) => (
          <div key={entry.id}>
            <p>
              {childVerbs[entry.kind]} <b>{entry.caption}</b> <span className="q">({childrenName})</span>
            </p>
            {entry.kind === 'change' && <Words entry={entry} table={tableOf(design, child)} />}
          </div>
        ));
      })}
    </>
  );
}

function Words({ entry, table }: { readonly entry: HistoryEntry; readonly table: Table }) {
  const route = routeOf(useApp().design, table.id);
  if (entry.kind === 'import') return <p>imported it from a file</p>;
  if (entry.kind === 'add') return <p>added it</p>;
  if (entry.kind === 'remove') return <p>removed it</p>;
  if (entry.kind === 'restore') return <p>restored it</p>;
  return (
    <>
      {entry.changes.map((change) => {
        const field = table.fields.find((each) => each.id === change.field);
        if (field === undefined) return null;
        if (field.id === route?.field)
          return (
            <p key={change.field}>
              moved it to <b>{printValue(field, change.after, locale())}</b>
            </p>
          );
        const before = printValue(field, change.before, locale());
        return (
          <p key={change.field}>
            {field.name}: {before !== '' && <s>{before}</s>}
            {change.beforeHidden && <span className="q">not visible to you, now</span>} <b>{printValue(field, change.after, locale()) || 'empty'}</b>
          </p>
        );
      })}
    </>
  );
}
