/** A new password for someone who forgot theirs: asking for the link, and where it leads. */
import { contract } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { call, messageOf } from '../state/api.js';
import { useEnter } from '../state/session.js';
import { Note } from '../ui/Note.js';
import { Door, DoorForm, mailAddress, newPassword } from './Door.js';

export function Forgot() {
  const [sentTo, setSentTo] = useState<string | null>(null);
  return (
    <Door title="Set a new password">
      {sentTo === null ? (
        <>
          <p className="q">We mail you a link to set a new password.</p>
          <DoorForm
            fields={[{ ...mailAddress, name: 'email' }]}
            start={{ email: '' }}
            verb="Send the link"
            onSend={async (body) => {
              await call(contract.askReset, { body });
              setSentTo(body.email);
            }}
          />
        </>
      ) : (
        <Note kind="good">
          If {sentTo} has an account, the link is on its way. It works once, for two hours. No mail? Check the address, or ask the administrator of this server.
        </Note>
      )}
      <Link className="lk" to="/sign-in">
        Back to sign in
      </Link>
    </Door>
  );
}

export function Reset() {
  const { token = '' } = useParams();
  const enter = useEnter();
  const navigate = useNavigate();
  const asked = useQuery({ queryKey: ['reset', token], queryFn: () => call(contract.readReset, { params: { token } }), retry: false, staleTime: Infinity });
  return (
    <Door title="Set a new password">
      {asked.isError && (
        <>
          <Note kind="bad">{messageOf(asked.error)}</Note>
          <Link className="lk" to="/forgot">
            Ask for a new link
          </Link>
        </>
      )}
      {asked.data !== undefined && (
        <>
          <p className="q">For the account {asked.data.email}. You are signed out everywhere else.</p>
          <DoorForm
            fields={[{ ...newPassword, name: 'password' }]}
            start={{ password: '' }}
            verb="Set the password"
            onSend={async (body) => {
              enter((await call(contract.resetPassword, { params: { token }, body })).person);
              await navigate('/', { replace: true });
            }}
          />
        </>
      )}
    </Door>
  );
}
