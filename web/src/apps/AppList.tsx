import { contract } from '@bibliona/core';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useQueryClient, useSuspenseQuery } from '@tanstack/react-query';
import { PlusIcon } from '@phosphor-icons/react';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { call, messageOf } from '../state/api.js';
import { keys } from '../state/keys.js';
import { browserRegion } from '../state/locale.js';
import { Empty } from '../ui/Empty.js';
import { FormDialog } from '../ui/FormDialog.js';
import { StartWith } from './StartWith.js';
import { useStarters } from '../state/starters.js';
import { HomeFrame } from './HomeFrame.js';
import { MyInvitations } from './MyInvitations.js';

/** The apps of a person, those they are invited to, and the start of a new one. */
export function AppList() {
  const { data } = useSuspenseQuery({ queryKey: keys.apps, queryFn: () => call(contract.listApps) });
  const [isMaking, setMaking] = useState(false);
  const add = data.mayMake ? (
    <Button variant="contained" startIcon={<PlusIcon />} onClick={() => setMaking(true)}>
      App
    </Button>
  ) : null;
  return (
    <HomeFrame title="My apps" end={data.apps.length > 0 && add}>
      <MyInvitations />
      {data.apps.length === 0 ? (
        <Empty title="No apps yet" action={add}>
          {data.mayMake
            ? 'An app is the tables, forms and lists of one piece of work, with its records and its people.'
            : 'Apps appear here once someone invites you. Ask an administrator for permission to make your own.'}
        </Empty>
      ) : (
        <ul className="app-rows">
          {data.apps.map((app) => (
            <li key={app.id}>
              <Link className="app-name" to={`/desk/${app.id}`}>
                {app.name}
              </Link>
              {app.tables !== null && (
                <span className="q">
                  {app.tables} {app.tables === 1 ? 'table' : 'tables'}
                </span>
              )}
              <span className="end">
                {app.role === 'builder' && (
                  <Button variant="outlined" component={Link} to={`/workshop/${app.id}/tables`} aria-label={`Workshop of ${app.name}`}>
                    Workshop
                  </Button>
                )}
                <Button variant="outlined" component={Link} to={`/desk/${app.id}`} aria-label={`Desk of ${app.name}`}>
                  Desk
                </Button>
              </span>
            </li>
          ))}
        </ul>
      )}
      {isMaking && <NewApp onClose={() => setMaking(false)} />}
    </HomeFrame>
  );
}

function NewApp({ onClose }: { readonly onClose: () => void }) {
  const [name, setName] = useState('');
  const [start, setStart] = useState('empty');
  const starters = useStarters();
  const [problem, setProblem] = useState<string | null>(null);
  const [isSending, setSending] = useState(false);
  const client = useQueryClient();
  const navigate = useNavigate();
  const send = async (): Promise<void> => {
    if (name.trim() === '') return setProblem('Enter a name for the app');
    setSending(true);
    try {
      const open = await call(contract.makeApp, { body: { name, timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone, region: browserRegion() } });
      void client.invalidateQueries({ queryKey: keys.apps });
      const isDesign = starters.some((starter) => starter.id === start);
      const begun = isDesign ? await call(contract.useStarter, { params: { app: open.id }, body: { version: open.version, starter: start } }) : open;
      client.setQueryData(keys.app(open.id), begun);
      await navigate(`/workshop/${open.id}/${start === 'spreadsheet' ? 'import' : 'tables'}`);
    } catch (error) {
      setProblem(messageOf(error));
      setSending(false);
    }
  };
  return (
    <FormDialog title="New app" onClose={onClose} onSubmit={() => void send()} verb="Make the app" isSending={isSending}>
      <TextField
        label="Name"
        value={name}
        autoFocus
        required
        error={problem !== null}
        helperText={problem}
        onChange={(event) => (setName(event.target.value), setProblem(null))}
      />
      <StartWith starters={starters} value={start} onChange={setStart} />
    </FormDialog>
  );
}
