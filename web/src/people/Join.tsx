import { contract } from '@bibliona/core';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { call, messageOf } from '../state/api.js';
import { useEnter, useSession, useSignOut } from '../state/session.js';
import { Note } from '../ui/Note.js';
import { Door, DoorForm, newPassword } from './Door.js';

/** Where the link of an invitation leads: a new account, or agreeing with the one that is there. */
export default function Join() {
  const { token = '' } = useParams();
  const { person } = useSession();
  const enter = useEnter();
  const navigate = useNavigate();
  const params = { token };
  const invitation = useQuery({ queryKey: ['invitation', token], queryFn: () => call(contract.readInvitation, { params }), retry: false });
  if (invitation.data === undefined) return <Door title="Bibliona">{invitation.isError && <Note kind="bad">{messageOf(invitation.error)}</Note>}</Door>;
  const { app, by, email, hasAccount } = invitation.data;
  return (
    <Door title={`Join ${app}`}>
      <p className="q">
        {by ?? 'Someone'} invites you, {email}.
      </p>
      {!hasAccount ? (
        <DoorForm
          fields={[
            { name: 'name', label: 'Your name', autoComplete: 'name', required: 'Enter your name' },
            { ...newPassword, name: 'password', label: 'Password' },
          ]}
          start={{ name: '', password: '' }}
          verb="Join"
          onSend={async (body) => {
            const joined = await call(contract.acceptInvitation, { params, body });
            enter(joined.person);
            await navigate(`/desk/${joined.app}`, { replace: true });
          }}
        />
      ) : person === null ? (
        <Button variant="contained" component={Link} to={`/sign-in?to=${encodeURIComponent(`/join/${token}`)}`}>
          Sign in to join
        </Button>
      ) : (
        <JoinAs token={token} email={email} as={person.email} />
      )}
    </Door>
  );
}

function JoinAs({ token, email, as }: { readonly token: string; readonly email: string; readonly as: string }) {
  const navigate = useNavigate();
  const signOut = useSignOut();
  const [problem, setProblem] = useState<string | null>(null);
  const join = async (): Promise<void> => {
    try {
      const { app } = await call(contract.joinByLink, { params: { token } });
      await navigate(`/desk/${app}`, { replace: true });
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  if (as !== email)
    return (
      <>
        <Note kind="look">
          You are signed in as {as}. Sign in as {email} to join.
        </Note>
        <Button variant="contained" onClick={() => void signOut(`/sign-in?to=${encodeURIComponent(`/join/${token}`)}`)}>
          Sign in as {email}
        </Button>
      </>
    );
  return (
    <>
      {problem !== null && <Note kind="bad">{problem}</Note>}
      <Button variant="contained" onClick={() => void join()}>
        Join
      </Button>
    </>
  );
}
