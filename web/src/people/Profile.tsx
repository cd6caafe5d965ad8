import { contract, type Region, type Session } from '@bibliona/core';
import Button from '@mui/material/Button';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { HomeFrame } from '../apps/HomeFrame.js';
import { call, messageOf } from '../state/api.js';
import { keys } from '../state/keys.js';
import { locale } from '../state/locale.js';
import { useSession } from '../state/session.js';
import { Note } from '../ui/Note.js';
import { RegionPicker } from '../ui/RegionPicker.js';
import { Waiting } from '../ui/Waiting.js';
import { DoorForm, newPassword } from './Door.js';

/** What someone is called, their password, and where they are signed in. */
export default function Profile() {
  const { person } = useSession();
  const client = useQueryClient();
  const [done, setDone] = useState<string | null>(null);
  if (person === null) return null;
  const change = async (body: { readonly name: string; readonly region: Region | null }): Promise<void> => {
    const answer = await call(contract.changeProfile, { body });
    client.setQueryData(keys.me, { person: answer.person, needsSetUp: false });
  };
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
              await change({ name: body.name, region: person.region });
              setDone('Your name is saved.');
            }}
          />
        </section>
        <section aria-labelledby="profile-region">
          <h2 id="profile-region">Numbers and dates</h2>
          <p className="q">How you read and type them, in all apps. Without a choice each app's own way is used.</p>
          <ChooseRegion
            key={person.region}
            region={person.region}
            onSend={async (region) => {
              await change({ name: person.name, region });
              setDone('Numbers and dates are saved.');
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

function ChooseRegion({ region, onSend }: { readonly region: Region | null; readonly onSend: (region: Region | null) => Promise<void> }) {
  const [picked, setPicked] = useState(region);
  const [problem, setProblem] = useState<string | null>(null);
  const [isSending, setSending] = useState(false);
  return (
    <form
      className="door-form"
      onSubmit={(event) => {
        event.preventDefault();
        setSending(true);
        setProblem(null);
        onSend(picked)
          .catch((error: unknown) => setProblem(messageOf(error)))
          .finally(() => setSending(false));
      }}
    >
      <RegionPicker value={picked} onChange={setPicked} otherwise="As in each app" />
      {problem !== null && <Note kind="bad">{problem}</Note>}
      <Button type="submit" variant="outlined" disabled={picked === region} loading={isSending}>
        Save numbers and dates
      </Button>
    </form>
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
        setTurn((each) => each + 1);
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
        {all.map((each) => (
          <li key={each.id}>
            <div>
              <b>{each.browser}</b>
              <p className="q sm">
                Signed in {locale().moment(each.startedAt)}, last used {locale().moment(each.seenAt)}
              </p>
            </div>
            <span className="end">
              {each.isThis ? (
                <span className="q">this browser</span>
              ) : (
                <Button variant="outlined" aria-label={`Sign out ${each.browser}, last used ${locale().moment(each.seenAt)}`} onClick={() => void end(each.id)}>
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
