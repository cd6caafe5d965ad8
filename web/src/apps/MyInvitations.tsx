import { contract, type MyInvitation } from '@bibliona/core';
import Button from '@mui/material/Button';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { call, messageOf } from '../state/api.js';
import { keys } from '../state/keys.js';
import { Note } from '../ui/Note.js';

/** Apps that someone is invited to: they join or decline, and are in none without that. */
export function MyInvitations() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [problem, setProblem] = useState<string | null>(null);
  const { data } = useQuery({ queryKey: keys.myInvitations, queryFn: () => call(contract.myInvitations) });
  const answer = async (invitation: MyInvitation, join: boolean): Promise<void> => {
    try {
      const { app } = await call(contract.answerInvitation, { params: { invitation: invitation.id }, body: { join } });
      setProblem(null);
      if (app !== null) await navigate(`/desk/${app}`);
    } catch (error) {
      setProblem(messageOf(error));
    }
    await Promise.all([client.invalidateQueries({ queryKey: keys.myInvitations }), client.invalidateQueries({ queryKey: keys.apps })]);
  };
  if (data === undefined || data.invitations.length === 0) return problem === null ? null : <Note kind="bad">{problem}</Note>;
  return (
    <section aria-label="Invitations" className="invitations">
      {problem !== null && <Note kind="bad">{problem}</Note>}
      <ul className="app-rows">
        {data.invitations.map((invitation) => (
          <li key={invitation.id}>
            <span>
              {invitation.by ?? 'Someone'} invites you to <b>{invitation.app}</b>
            </span>
            <span className="end">
              <Button aria-label={`Decline ${invitation.app}`} onClick={() => void answer(invitation, false)}>
                Decline
              </Button>
              <Button variant="outlined" aria-label={`Join ${invitation.app}`} onClick={() => void answer(invitation, true)}>
                Join
              </Button>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
