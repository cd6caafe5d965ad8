import Button from '@mui/material/Button';
import { LinkSimpleIcon, PlusIcon, UserPlusIcon } from '@phosphor-icons/react';
import { contract } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useLocation, useNavigate, useParams, useSearchParams } from 'react-router';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { useRemembered } from '../../state/remembered.js';
import { Empty } from '../../ui/Empty.js';
import { Note } from '../../ui/Note.js';
import { Roller } from '../../ui/Roller.js';
import { Waiting } from '../../ui/Waiting.js';
import { Shelf } from '../Shelf.js';
import { InviteDialog, RoleDialog, TieDialog } from './AccessDialogs.js';
import { AccessFindings } from './AccessFindings.js';
import { AccessProof, provenBy } from './AccessProof.js';
import { GrantDetails } from './GrantDetails.js';
import { PeopleList } from './PeopleList.js';
import { PersonDetails } from './PersonDetails.js';
import { RoleDetails } from './RoleDetails.js';
import { RoleMatrix } from './RoleMatrix.js';

/** Access: what each role can do with each table, who has the roles, and the proof of what they see. */
export default function AccessStation() {
  const app = useApp();
  const { role: roleId, table: tableId, person: personId } = useParams();
  const { pathname } = useLocation();
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const [height, setHeight] = useRemembered<number>('proof access', 260);
  const people = useQuery({ queryKey: keys.people(app.id), queryFn: () => call(contract.readPeople, { params: { app: app.id } }) });
  const base = `/workshop/${app.id}/access`;
  const isPeople = pathname.startsWith(`${base}/people`);
  const role = app.design.roles.find((each) => each.id === roleId);
  const table = app.design.tables.find((each) => each.id === tableId);
  const person = people.data?.people.find((each) => String(each.id) === personId);
  // Chosen in the proof, until another role or person is opened.
  const [chosen, setChosen] = useState<{ readonly at: string; readonly id: number } | null>(null);
  const at = `${personId ?? ''} ${roleId ?? ''}`;
  const all = people.data?.people ?? [];
  const proven = (chosen?.at === at ? all.find((each) => each.id === chosen.id) : undefined) ?? provenBy(all, { person: personId, role: roleId });
  const add = search.get('add');
  const close = (): void => setSearch({}, { replace: true });
  const hasTables = app.design.tables.length > 0;
  return (
    <div className={hasTables ? 'station' : 'station without-proof'} style={{ '--proof-h': `${height}px` } as React.CSSProperties}>
      <Shelf
        books={app.design.roles.map((each) => ({ id: each.id, name: each.name, section: '', to: `${base}/roles/${each.id}` }))}
        selected={roleId}
        heading="Roles"
        find="Find a role"
        none={{ at: 'No roles yet.', found: 'No roles match.' }}
        adds={[{ name: 'Role', to: `${pathname}?add=role` }]}
      />
      <main className="sheet query-sheet" data-region="sheet">
        <div className="sheet-head">
          <h1>{isPeople ? 'Who works in the app' : 'What each role can do'}</h1>
          <nav className="seg" aria-label="View">
            <Link to={base} className={isPeople ? '' : 'on'} aria-current={isPeople ? undefined : 'true'}>
              Roles
            </Link>
            <Link to={`${base}/people`} className={isPeople ? 'on' : ''} aria-current={isPeople ? 'true' : undefined}>
              People
            </Link>
          </nav>
          <div className="end">
            {hasTables && (
              <Button startIcon={<LinkSimpleIcon />} onClick={() => setSearch({ add: 'tie' })}>
                Linked record
              </Button>
            )}
            {!isPeople && (
              <Button startIcon={<PlusIcon />} onClick={() => setSearch({ add: 'role' })}>
                Role
              </Button>
            )}
            <Button variant="contained" startIcon={<UserPlusIcon />} onClick={() => setSearch({ add: 'person' })}>
              Person
            </Button>
          </div>
        </div>
        {people.isError && <Note kind="bad">{messageOf(people.error)}</Note>}
        {!isPeople && hasTables ? (
          <>
            <RoleMatrix role={roleId} table={tableId} />
            <AccessFindings />
          </>
        ) : !isPeople ? (
          <Empty
            title="No tables yet."
            action={
              <Button variant="contained" component={Link} to={`/workshop/${app.id}/tables`}>
                To the tables
              </Button>
            }
          >
            Permissions are set for each table. Make a table first. You can already invite people.
          </Empty>
        ) : people.data === undefined ? (
          <Waiting />
        ) : (
          <PeopleList people={people.data.people} invitations={people.data.invitations} selected={personId} />
        )}
      </main>
      <aside className="details" aria-label="Details" data-region="details">
        {person !== undefined ? (
          <PersonDetails key={`${person.id} ${JSON.stringify(person)}`} person={person} />
        ) : role !== undefined && table !== undefined ? (
          <GrantDetails key={`${role.id} ${table.id} ${app.version}`} role={role} table={table} of={proven} />
        ) : role !== undefined ? (
          <RoleDetails key={`${role.id} ${app.version}`} role={role} people={people.data?.people ?? []} />
        ) : (
          <p className="q details-none">
            {isPeople ? 'Choose a person to see and change what they are here.' : "Choose a role, or a role's permissions for a table."}
          </p>
        )}
      </aside>
      {hasTables && (
        <section className="proof" aria-label="Proof" data-region="proof">
          <Roller height={height} onHeight={setHeight} />
          {people.data !== undefined && (
            <AccessProof
              key={`${personId ?? ''} ${roleId ?? ''} ${tableId ?? ''}`}
              people={people.data.people}
              person={proven}
              start={{ table: tableId }}
              onPerson={(id) => setChosen({ at, id })}
            />
          )}
        </section>
      )}
      {add === 'role' && <RoleDialog onClose={close} onMade={(made) => void navigate(`${base}/roles/${made}`)} />}
      {add === 'tie' && <TieDialog onClose={close} />}
      {add === 'person' && <InviteDialog onClose={close} />}
    </div>
  );
}
