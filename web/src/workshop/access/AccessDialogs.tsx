import TextField from '@mui/material/TextField';
import { contract, feelName, shownTables, tableOf } from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import pluralize from 'pluralize';
import { useState } from 'react';
import { Link } from 'react-router';
import { ApiRefusal, call, messageOf } from '../../state/api.js';
import { newId, useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { useSession } from '../../state/session.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { Note } from '../../ui/Note.js';
import { useMaking } from '../use-making.js';
import { TableField } from '../parts/TableField.js';
import { NameField } from '../parts/NameField.js';
import { AssignmentFields, type Assignment } from './AssignmentFields.js';

interface DialogProps {
  readonly onClose: () => void;
}

/** A new role, which can do nothing until it is granted. */
export function RoleDialog({ onClose, onMade }: DialogProps & { readonly onMade: (role: string) => void }) {
  const { isSending, problemAt, say, clear, make } = useMaking('role');
  const [name, setName] = useState('');
  const send = (): void => {
    if (name.trim() === '') return say('name', 'Enter a name, such as Keepers or Office');
    const id = newId('ro');
    void make([{ kind: 'put', part: 'role', value: { id, name, description: '', everything: false, grants: [], menu: [] } }], () => onMade(id));
  };
  return (
    <FormDialog
      title="A new role"
      intro="A new role can't do anything yet. Next, choose what it can do with each table."
      onClose={onClose}
      onSubmit={send}
      verb="Make the role"
      isSending={isSending}
    >
      <NameField value={name} onChange={(typed) => (setName(typed), clear())} problem={problemAt('name') ?? problemAt('form')} />
    </FormDialog>
  );
}

/** Ties people to records: what `me.` is followed by in conditions. */
export function TieDialog({ onClose }: DialogProps) {
  const { design } = useApp();
  const { isSending, problemAt, say, clear, make } = useMaking('tie');
  const [table, setTable] = useState(shownTables(design)[0]?.id ?? '');
  const [name, setName] = useState('');
  const send = (): void => {
    if (name.trim() === '') return say('name', 'Enter a name, such as the singular of the table');
    void make([{ kind: 'put', part: 'tie', value: { id: newId('tie'), name, table } }], onClose);
  };
  return (
    <FormDialog
      title="Link people to records"
      intro="Link each person to a record of a table. Conditions can then say: only what belongs to them."
      onClose={onClose}
      onSubmit={send}
      verb="Add the link"
      isSending={isSending}
    >
      <TableField label="A person is a record of" value={table} tables={shownTables(design)} onChange={(id) => setTable(id)} />
      <NameField
        label="Called"
        value={name}
        onChange={(typed) => (setName(typed), clear())}
        problem={problemAt('name') ?? problemAt('form')}
        hint={`In conditions it is me.${feelName(name.trim() === '' ? pluralize.singular(tableOf(design, table).name) : name)}`}
      />
    </FormDialog>
  );
}

/** Invites someone by mail. They join by its link, or from their own list of apps. */
export function InviteDialog({ onClose }: DialogProps) {
  const app = useApp();
  const isAdmin = useSession().person?.isAdmin === true;
  const client = useQueryClient();
  const [email, setEmail] = useState('');
  const [assignment, setAssignment] = useState<Assignment>({ role: 'member', roles: [], ties: {} });
  const [problem, setProblem] = useState<string | null>(null);
  const [isSending, setSending] = useState(false);
  const [goesOut, setGoesOut] = useState<boolean | null>(null);
  const send = async (): Promise<void> => {
    if (goesOut !== null) return onClose();
    setSending(true);
    try {
      const answer = await call(contract.invite, {
        params: { app: app.id },
        body: { email, role: assignment.role, roles: [...assignment.roles], ties: { ...assignment.ties } },
      });
      setGoesOut(answer.goesOut);
      setProblem(null);
      await client.invalidateQueries({ queryKey: keys.people(app.id) });
    } catch (error) {
      setProblem(error instanceof ApiRefusal ? (error.issues[0]?.message ?? error.message) : messageOf(error));
    }
    setSending(false);
  };
  return (
    <FormDialog
      title="Invite someone"
      intro="They get a mail with a link. They join the app when they accept."
      onClose={onClose}
      onSubmit={() => void send()}
      verb={goesOut === null ? 'Invite' : 'Done'}
      isDone={goesOut !== null}
      isSending={isSending}
    >
      {goesOut === null ? (
        <>
          <TextField
            label="Mail address"
            type="email"
            value={email}
            autoFocus
            required
            onChange={(event) => (setEmail(event.target.value), setProblem(null))}
            error={problem !== null}
            helperText={problem ?? undefined}
          />
          <AssignmentFields assignment={assignment} tiedTo={{}} onChange={setAssignment} />
        </>
      ) : goesOut ? (
        <Note kind="good">The invitation is on its way to {email}. Its link works for 14 days.</Note>
      ) : (
        <Note kind="look">
          {email} is invited, but no mail relay is set up on this server.{' '}
          {isAdmin ? 'Pass on the link that you find on the page ' : 'Ask an administrator of the server to pass on the link.'}
          {isAdmin && (
            <Link className="lk" to="/server">
              Server
            </Link>
          )}
          {isAdmin && '.'}
        </Note>
      )}
    </FormDialog>
  );
}
