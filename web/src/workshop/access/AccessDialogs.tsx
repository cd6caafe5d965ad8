import TextField from '@mui/material/TextField';
import { contract } from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ApiRefusal, call, messageOf } from '../../state/api.js';
import { newId, useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { FormDialog } from '../../ui/FormDialog.js';
import { Note } from '../../ui/Note.js';
import { useMaking } from '../use-making.js';
import { TableField } from '../parts/TableField.js';
import { NameField } from '../parts/NameField.js';
import { PlaceFields, type Place } from './PlaceFields.js';

interface DialogProps {
  readonly onClose: () => void;
}

/** A new role, which may do nothing until it is granted. */
export function RoleDialog({ onClose, onMade }: DialogProps & { readonly onMade: (role: string) => void }) {
  const { isSending, problemAt, say, clear, make } = useMaking(() => 'name');
  const [name, setName] = useState('');
  const send = (): void => {
    if (name.trim() === '') return say('name', 'Give it a name: what are these people to you?');
    const id = newId('ro');
    void make([{ kind: 'put_role', role: { id, name, description: '', everything: false, grants: [], menu: [] } }], () => onMade(id));
  };
  return (
    <FormDialog
      title="A new role"
      says="It may do nothing at first. What it may do with each table is chosen next."
      onClose={onClose}
      onSubmit={send}
      verb="Make the role"
      isSending={isSending}
    >
      <NameField value={name} onChange={(typed) => (setName(typed), clear())} problem={problemAt('name')} />
    </FormDialog>
  );
}

/** Ties people to records: what `me.` is followed by in conditions. */
export function TieDialog({ onClose }: DialogProps) {
  const { design } = useApp();
  const { isSending, problemAt, say, clear, make } = useMaking(() => 'name');
  const [table, setTable] = useState(design.tables[0]?.id ?? '');
  const [name, setName] = useState('');
  const send = (): void => {
    if (name.trim() === '') return say('name', 'Give it a name, best in the singular: Keeper');
    void make([{ kind: 'put_tie', tie: { id: newId('tie'), name, table } }], onClose);
  };
  return (
    <FormDialog
      title="Tie people to records"
      says="Each person of the app can be one record of a table. Conditions can then say: only what belongs to them."
      onClose={onClose}
      onSubmit={send}
      verb="Make the tie"
      isSending={isSending}
    >
      <TableField label="A person is a record of" value={table} tables={design.tables} onChange={(id) => setTable(id)} />
      <NameField
        label="Called"
        value={name}
        onChange={(typed) => (setName(typed), clear())}
        problem={problemAt('name')}
        hint={`In conditions it is me.${name.trim() === '' ? 'Keeper' : name.trim()}`}
      />
    </FormDialog>
  );
}

/** Lets someone in: at once when they are known here, else by a link at which they set their password. */
export function InviteDialog({ onClose }: DialogProps) {
  const app = useApp();
  const client = useQueryClient();
  const [email, setEmail] = useState('');
  const [place, setPlace] = useState<Place>({ role: 'member', roles: app.design.roles.slice(0, 1).map((role) => role.id), ties: {} });
  const [problem, setProblem] = useState<string | null>(null);
  const [isSending, setSending] = useState(false);
  const [done, setDone] = useState<{ readonly link: string | null; readonly goesOut: boolean } | null>(null);
  const send = async (): Promise<void> => {
    if (done !== null) return onClose();
    setSending(true);
    try {
      const { link, goesOut } = await call(contract.invite, {
        params: { app: app.id },
        body: { email, role: place.role, roles: [...place.roles], ties: { ...place.ties } },
      });
      setDone({ link: link === null ? null : new URL(link, window.location.href).toString(), goesOut });
      setProblem(null);
      await client.invalidateQueries({ queryKey: keys.people(app.id) });
    } catch (error) {
      setProblem(error instanceof ApiRefusal ? (error.issues[0]?.message ?? error.message) : messageOf(error));
    }
    setSending(false);
  };
  return (
    <FormDialog
      title="Let someone in"
      says="Whoever is known here is in at once. Anyone else gets a mail with a link of their own, at which they set a password."
      onClose={onClose}
      onSubmit={() => void send()}
      verb={done === null ? 'Invite' : 'Done'}
      isDone={done !== null}
      isSending={isSending}
    >
      {done === null ? (
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
          <PlaceFields place={place} tiedTo={{}} onChange={setPlace} />
        </>
      ) : done.link === null ? (
        <Note kind="good">{email} is known here and is in.</Note>
      ) : (
        <>
          <Note kind="good">
            {done.goesOut
              ? `A mail with this link is on its way to ${email}.`
              : `No relay is set up, so the mail stays in the mailbox of the Workshop: send this link to ${email} yourself.`}{' '}
            The link is shown this once, works once, and for fourteen days.
          </Note>
          <TextField label="Link" value={done.link} slotProps={{ htmlInput: { readOnly: true } }} onFocus={(event) => event.target.select()} autoFocus />
        </>
      )}
    </FormDialog>
  );
}
