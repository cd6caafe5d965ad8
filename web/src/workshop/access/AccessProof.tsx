import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { contract, shownTables, type AccessAnswer, type AppPerson } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { RegisterMark } from '../../ui/Mark.js';
import { Note } from '../../ui/Note.js';
import { locale } from '../../state/locale.js';

const shown = 60;

/** What a person really sees of a table, and for each record why, or why not. */
export function AccessProof({
  people,
  person,
  start,
  onPerson,
}: {
  readonly people: readonly AppPerson[];
  /** As whom it looks. */
  readonly person: AppPerson | undefined;
  readonly start: { readonly table: string | undefined };
  readonly onPerson: (id: number) => void;
}) {
  const app = useApp();
  const tables = shownTables(app.design);
  const [tableId, setTable] = useState<string | null>(null);
  const [asked, setAsked] = useState<number | null>(null);
  const table = tables.find((each) => each.id === (tableId ?? start.table)) ?? tables[0];
  const as = `person:${person?.id ?? 0}`;
  const params = { app: app.id, table: table?.id ?? '' };
  const isReady = person !== undefined && table !== undefined;
  const seen = useQuery({
    queryKey: [...keys.seenAs(app.id, params.table, as), app.version],
    queryFn: async () => {
      const [mine, theirs, all, found] = await Promise.all([
        call(contract.lookUp, { params }),
        call(contract.lookUp, { params, lookAs: as }),
        call(contract.countPage, { params, query: { exact: 'yes' } }),
        call(contract.countPage, { params, query: { exact: 'yes' }, lookAs: as }),
      ]);
      return { mine: mine.records, theirs: new Set(theirs.records.map((record) => record.id)), all: all.count, found: found.count, visible: theirs.records };
    },
    enabled: isReady,
  });
  if (!isReady) return <div className="pull" />;
  const records = [...(seen.data?.visible ?? []), ...(seen.data?.mine ?? []).filter((each) => !seen.data?.theirs.has(each.id))].slice(0, shown);
  return (
    <div className={seen.isFetching ? 'pull stale' : 'pull'}>
      <div className="slug">
        <RegisterMark />
        <b>Proof</b>
        <TextField
          select
          size="small"
          aria-label="As whom"
          value={person.id}
          onChange={(event) => (onPerson(Number(event.target.value)), setAsked(null))}
          slotProps={{ select: { inputProps: { 'aria-label': 'As whom' } } }}
        >
          {people.map((each) => (
            <MenuItem key={each.id} value={each.id}>
              {each.name}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          size="small"
          value={table.id}
          onChange={(event) => (setTable(event.target.value), setAsked(null))}
          slotProps={{ select: { inputProps: { 'aria-label': 'Which table' } } }}
        >
          {tables.map((each) => (
            <MenuItem key={each.id} value={each.id}>
              {each.name}
            </MenuItem>
          ))}
        </TextField>
        {seen.data !== undefined && (
          <span>
            sees {locale().count(seen.data.found)} of {locale().count(seen.data.all)} records
          </span>
        )}
        <span className="end">
          <RegisterMark />
        </span>
      </div>
      <div className="trim bleed" tabIndex={0} role="group" aria-label="What they see">
        <i className="cm tl" />
        <i className="cm tr" />
        {seen.isError && <Note kind="bad">{messageOf(seen.error)}</Note>}
        <div className="access-proof">
          <ul className="access-records" aria-label={`Records of ${table.name}`}>
            {records.map((record) => {
              const isSeen = seen.data?.theirs.has(record.id) === true;
              return (
                <li key={record.id}>
                  <button type="button" className={record.id === asked ? 'on' : ''} aria-pressed={record.id === asked} onClick={() => setAsked(record.id)}>
                    <span className="el">{record.caption}</span>
                    <span className={isSeen ? 'yes' : 'no'}>{isSeen ? 'seen' : 'not seen'}</span>
                  </button>
                </li>
              );
            })}
          </ul>
          {seen.data?.all === 0 ? (
            <p className="q access-why">No records in {table.name} yet.</p>
          ) : asked === null ? (
            <p className="q access-why">Choose a record to see why {person.name} can or can't see it.</p>
          ) : (
            <Why key={asked} table={table.id} id={asked} person={person.id} />
          )}
        </div>
      </div>
    </div>
  );
}

function Why({ table, id, person }: { readonly table: string; readonly id: number; readonly person: number }) {
  const app = useApp();
  const why = useQuery({
    queryKey: [...keys.why(app.id, table, id, person), app.version],
    queryFn: () => call(contract.explainAccess, { params: { app: app.id, table, id }, query: { person } }),
  });
  if (why.isError) return <Note kind="bad">{messageOf(why.error)}</Note>;
  if (why.data === undefined) return null;
  return <WhyAnswer answer={why.data} />;
}

function WhyAnswer({ answer }: { readonly answer: AccessAnswer }) {
  const { person, record, sees, changes, removes, isBuilder, grants, hidden } = answer;
  const also = [changes && 'change', removes && 'remove'].filter((each) => each !== false);
  return (
    <section className="access-why" aria-label={`Why ${person} ${sees ? 'sees' : 'does not see'} ${record}`}>
      <h3>
        {person} {sees ? 'can see' : "can't see"} {record}
        {sees && also.length > 0 && `, and ${also.join(' and ')} it`}.
      </h3>
      {isBuilder && <p>Builders can do everything in the app.</p>}
      {!isBuilder && grants.length === 0 && <p>None of their roles has permission for this table.</p>}
      <ul>
        {grants.map((grant, i) => (
          <li key={i} className={grant.holds}>
            <b>{grant.role}</b> can {grant.allows.join(', ') || 'do nothing with'}{' '}
            {grant.condition === '' ? 'every record' : `records where ${grant.condition}`}.{' '}
            {grant.holds === 'yes'
              ? 'This one is among them.'
              : grant.holds === 'no'
                ? 'This one is not among them.'
                : `It needs a linked record, and ${person} has none.`}
            {grant.hidden.length > 0 && ` Hidden: ${grant.hidden.join(', ')}.`}
            {grant.locked.length > 0 && ` Read-only: ${grant.locked.join(', ')}.`}
          </li>
        ))}
      </ul>
      {hidden.length > 0 && <p>Hidden from them in this record: {hidden.join(', ')}.</p>}
    </section>
  );
}

/** Whom the proof looks as at first: who is selected, someone of the role, or any member. */
export function provenBy(
  people: readonly AppPerson[],
  start: { readonly person: string | undefined; readonly role: string | undefined },
): AppPerson | undefined {
  return (
    people.find((person) => person.id === Number(start.person)) ??
    people.find((person) => start.role !== undefined && person.roles.includes(start.role)) ??
    people.find((person) => person.role === 'member') ??
    people[0]
  );
}
