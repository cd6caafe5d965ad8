import { contract } from '@bibliona/core';
import TextField from '@mui/material/TextField';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { call, messageOf } from '../state/api.js';
import { keys } from '../state/keys.js';
import { useEndedSession, useSession } from '../state/session.js';
import { FormDialog } from '../ui/FormDialog.js';

/** Over the page whose session ended: signing in on the spot keeps what was typed, and what was being done goes on. */
export function SignInAgain() {
  const { isEnded, settle } = useEndedSession();
  const { person } = useSession();
  return isEnded && person !== null ? <Again email={person.email} onSettled={settle} /> : null;
}

function Again({ email, onSettled }: { readonly email: string; readonly onSettled: (isBack: boolean) => void }) {
  const client = useQueryClient();
  const [password, setPassword] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const [isSending, setSending] = useState(false);
  const send = async (): Promise<void> => {
    if (password === '') return setProblem('Enter your password');
    setSending(true);
    try {
      const { person } = await call(contract.signIn, { body: { email, password } });
      client.setQueryData(keys.me, { person, needsSetUp: false });
      onSettled(true);
    } catch (error) {
      setProblem(messageOf(error));
      setSending(false);
    }
  };
  return (
    <FormDialog
      title="Sign in again"
      intro="Your session ended. Nothing you typed is lost."
      onClose={() => {
        onSettled(false);
        client.setQueryData(keys.me, { person: null, needsSetUp: false });
      }}
      onSubmit={() => void send()}
      verb="Sign in"
      cancel="Sign out"
      isSending={isSending}
    >
      <TextField label="Mail address" value={email} autoComplete="username" slotProps={{ htmlInput: { readOnly: true } }} />
      <TextField
        label="Password"
        type="password"
        autoComplete="current-password"
        autoFocus
        value={password}
        onChange={(event) => (setPassword(event.target.value), setProblem(null))}
        error={problem !== null}
        helperText={problem ?? undefined}
      />
    </FormDialog>
  );
}
