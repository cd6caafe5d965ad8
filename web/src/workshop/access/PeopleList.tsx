import Button from '@mui/material/Button';
import type { AppPerson, Invitation } from '@bibliona/core';
import { contract } from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { Note } from '../../ui/Note.js';
import { missingTies } from './AssignmentFields.js';

/** Who works in the app, and who is invited to. */
export function PeopleList(props: {
  readonly people: readonly AppPerson[];
  readonly invitations: readonly Invitation[];
  readonly selected: string | undefined;
}) {
  const app = useApp();
  const client = useQueryClient();
  const [problem, setProblem] = useState<string | null>(null);
  const { people, invitations, selected } = props;
  const rolesOf = (each: AppPerson | Invitation): string =>
    each.role === 'builder'
      ? 'builds the app'
      : app.design.roles
          .filter((role) => each.roles.includes(role.id))
          .map((role) => role.name)
          .join(', ') || 'no role yet';
  const withdraw = async (email: string): Promise<void> => {
    try {
      await call(contract.withdrawInvitation, { params: { app: app.id }, body: { email } });
      setProblem(null);
    } catch (error) {
      setProblem(messageOf(error));
    }
    await client.invalidateQueries({ queryKey: keys.people(app.id) });
  };
  return (
    <div className="matrix-scroll" tabIndex={0} role="group" aria-label="People of the app">
      {problem !== null && <Note kind="bad">{problem}</Note>}
      <table className="rows matrix">
        <thead>
          <tr>
            <th scope="col">Name</th>
            <th scope="col">Mail address</th>
            <th scope="col">Roles</th>
            {app.design.ties.map((tie) => (
              <th key={tie.id} scope="col">
                me.{tie.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {people.map((person) => (
            <tr key={person.id} className={String(person.id) === selected ? 'sel' : ''}>
              <th scope="row">
                <Link className="lk" to={`/workshop/${app.id}/access/people/${person.id}`}>
                  {person.name}
                </Link>
              </th>
              <td>{person.email}</td>
              <td>{rolesOf(person)}</td>
              {app.design.ties.map((tie) => (
                <td key={tie.id} className={person.tiedTo[tie.id] === undefined ? 'none' : ''}>
                  {person.tiedTo[tie.id] ?? (missingTies(app.design, person).some((each) => each.tie.id === tie.id) ? 'missing: their role needs it' : 'none')}
                </td>
              ))}
            </tr>
          ))}
          {invitations.map((invitation) => (
            <tr key={invitation.email}>
              <th scope="row" className="none">
                invited
              </th>
              <td>{invitation.email}</td>
              <td>
                {rolesOf(invitation)}
                <Button size="small" onClick={() => void withdraw(invitation.email)}>
                  Withdraw
                </Button>
              </td>
              {app.design.ties.map((tie) => {
                const isMissing = missingTies(app.design, invitation).some((each) => each.tie.id === tie.id);
                return (
                  <td key={tie.id} className={isMissing ? 'needed' : 'none'}>
                    {invitation.ties[tie.id] !== undefined ? 'chosen' : isMissing ? 'missing: their role needs it' : 'none'}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
