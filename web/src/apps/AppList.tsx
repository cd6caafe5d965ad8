import { contract } from '@bibliona/core';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useQueryClient, useSuspenseQuery } from '@tanstack/react-query';
import { PlusIcon } from '@phosphor-icons/react';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { PersonMenu } from '../people/PersonMenu.js';
import { call, messageOf } from '../state/api.js';
import { keys } from '../state/keys.js';
import { Empty } from '../ui/Empty.js';
import { Mark } from '../ui/Mark.js';
import { FormDialog } from '../ui/FormDialog.js';

/** The apps of a person, and the beginning of a new one. */
export function AppList() {
  const { data } = useSuspenseQuery({ queryKey: keys.apps, queryFn: () => call(contract.listApps) });
  const [isMaking, setMaking] = useState(false);
  const add = (
    <Button variant="contained" startIcon={<PlusIcon />} onClick={() => setMaking(true)}>
      App
    </Button>
  );
  return (
    <div className="apps">
      <header className="bar">
        <div className="app">
          <Mark />
          <b>Bibliona</b>
        </div>
        <div className="grow" />
        <div className="tools">
          <PersonMenu />
        </div>
      </header>
      <main className="apps-body">
        <div className="sheet-head">
          <h1>My apps</h1>
          <div className="end">{data.apps.length > 0 && add}</div>
        </div>
        {data.apps.length === 0 ? (
          <Empty title="Here will stand the apps you build and work in." action={add}>
            An app is the tables, forms and lists of one piece of work, with its records and its people.
          </Empty>
        ) : (
          <ul className="app-rows">
            {data.apps.map((app) => (
              <li key={app.id}>
                <Link className="app-name" to={`/desk/${app.id}`}>
                  {app.name}
                </Link>
                <span className="q">
                  {app.tables} {app.tables === 1 ? 'table' : 'tables'}
                </span>
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
      </main>
      {isMaking && <NewApp onClose={() => setMaking(false)} />}
    </div>
  );
}

function NewApp({ onClose }: { readonly onClose: () => void }) {
  const [name, setName] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const [isSending, setSending] = useState(false);
  const client = useQueryClient();
  const navigate = useNavigate();
  const send = async (): Promise<void> => {
    if (name.trim() === '') return setProblem('Give it a name: what the work is called');
    setSending(true);
    try {
      const open = await call(contract.makeApp, { body: { name, timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone } });
      client.setQueryData(keys.app(open.id), open);
      void client.invalidateQueries({ queryKey: keys.apps });
      await navigate(`/workshop/${open.id}/tables`);
    } catch (error) {
      setProblem(messageOf(error));
      setSending(false);
    }
  };
  return (
    <FormDialog title="A new app" onClose={onClose} onSubmit={() => void send()} verb="Make the app" isSending={isSending}>
      <TextField
        label="Name"
        value={name}
        autoFocus
        required
        error={problem !== null}
        helperText={problem}
        onChange={(event) => (setName(event.target.value), setProblem(null))}
      />
    </FormDialog>
  );
}
