import { contract, type Session } from '@bibliona/core';
import Button from '@mui/material/Button';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { HomeFrame } from '../apps/HomeFrame.js';
import { call, messageOf } from '../state/api.js';
import { keys } from '../state/keys.js';
import { printMoment } from '../state/moments.js';
import { useSession } from '../state/session.js';
import { Note } from '../ui/Note.js';
import { Waiting } from '../ui/Waiting.js';
import { DoorForm, newPassword } from './Door.js';

/** What someone is called, their password, and where they are signed in. */
export default function Profile() {
  const { person } = useSession();
  const client = useQueryClient();
  const [done, setDone] = useState<string | null>(null);
  if (person === null) return null;
  return (
    <HomeFrame title="Profile">
      <div className="profile">
        {done !== null && <Note kind="good">{done}</Note>}
        <section aria-labelledby="profile-name">
          <h2 id="profile-name">Name</h2>
          <p className="q">You sign in as {person.email}.</p>
          <DoorForm
            key={person.name}
            fields={[{ name: 'name', label: 'Your name', autoComplete: 'name', required: 'Enter your name' }]}
            start={{ name: person.name }}
            verb="Save name"
            isOneOfMany
            onSend={async (body) => {
              const answer = await call(contract.changeName, { body });
              client.setQueryData(keys.me, { person: answer.person, needsSetUp: false });
              setDone('Your name is saved.');
            }}
          />
        </section>
        <section aria-labelledby="profile-password">
          <h2 id="profile-password">Password</h2>
          <p className="q">Changing it signs you out everywhere else.</p>
          <ChangePassword onDone={() => setDone('Your password is changed. You are signed out everywhere else.')} />
        </section>
        <section aria-labelledby="profile-sessions">
          <h2 id="profile-sessions">Where you are signed in</h2>
          <Sessions />
        </section>
      </div>
    </HomeFrame>
  );
}

function ChangePassword({ onDone }: { readonly onDone: () => void }) {
  const client = useQueryClient();
  const [turn, setTurn] = useState(0);
  return (
    <DoorForm
      key={turn}
      fields={[
        { name: 'current', label: 'Current password', type: 'password', autoComplete: 'current-password', required: 'Enter your current password' },
        { ...newPassword, name: 'password' },
      ]}
      start={{ current: '', password: '' }}
      verb="Change password"
      isOneOfMany
      onSend={async (body) => {
        await call(contract.changePassword, { body });
        await client.invalidateQueries({ queryKey: keys.sessions });
        setTurn((one) => one + 1);
        onDone();
      }}
    />
  );
}

function Sessions() {
  const client = useQueryClient();
  const [problem, setProblem] = useState<string | null>(null);
  const sessions = useQuery({ queryKey: keys.sessions, queryFn: () => call(contract.readSessions) });
  const end = async (session: string): Promise<void> => {
    try {
      await call(contract.endSessions, { body: { session } });
      setProblem(null);
    } catch (error) {
      setProblem(messageOf(error));
    }
    await client.invalidateQueries({ queryKey: keys.sessions });
  };
  if (sessions.data === undefined) return sessions.isError ? <Note kind="bad">{messageOf(sessions.error)}</Note> : <Waiting />;
  const all: readonly Session[] = sessions.data.sessions;
  return (
    <>
      {problem !== null && <Note kind="bad">{problem}</Note>}
      <ul className="app-rows sessions">
        {all.map((one) => (
          <li key={one.id}>
            <div>
              <b>{one.browser}</b>
              <p className="q sm">
                Signed in {printMoment(one.startedAt)}, last used {printMoment(one.seenAt)}
              </p>
            </div>
            <span className="end">
              {one.isThis ? (
                <span className="q">this browser</span>
              ) : (
                <Button variant="outlined" aria-label={`Sign out ${one.browser}, last used ${printMoment(one.seenAt)}`} onClick={() => void end(one.id)}>
                  Sign out
                </Button>
              )}
            </span>
          </li>
        ))}
      </ul>
      {all.length > 2 && <Button onClick={() => void end('others')}>Sign out everywhere else</Button>}
    </>
  );
}
