/** Where the link leads with which somebody sets a new password. */
import { contract } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useParams } from 'react-router';
import { call, messageOf } from '../state/api.js';
import { useEnter } from '../state/session.js';
import { Note } from '../ui/Note.js';
import { Door, DoorForm, newPassword } from './Door.js';

export default function NewPassword() {
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
