/** Asking for the link that sets a new password. */
import { contract } from '@bibliona/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { call } from '../state/api.js';
import { Note } from '../ui/Note.js';
import { Door, DoorForm, mailAddress } from './Door.js';

export default function ForgotPassword() {
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
