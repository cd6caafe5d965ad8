import Button from '@mui/material/Button';
import { EyeIcon, TrashIcon } from '@phosphor-icons/react';
import { contract, type AppPerson } from '@bibliona/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { startLooking } from '../../state/look-as.js';
import { useSession } from '../../state/session.js';
import { useDesignNotice } from '../../state/design.js';
import { Ask } from '../../ui/Ask.js';
import { Note } from '../../ui/Note.js';
import { AssignmentFields, type Assignment } from './AssignmentFields.js';

/** One of the people of the app: their roles, what they are tied to. */
export function PersonDetails({ person }: { readonly person: AppPerson }) {
  const app = useApp();
  const client = useQueryClient();
  const navigate = useNavigate();
  const me = useSession().person;
  const start: Assignment = { role: person.role, roles: person.roles, ties: person.ties };
  const [assignment, setAssignment] = useState(start);
  const [problem, setProblem] = useState<string | null>(null);
  const [isSending, setSending] = useState(false);
  const params = { app: app.id, person: person.id };
  const done = async (work: () => Promise<unknown>): Promise<boolean> => {
    setSending(true);
    try {
      await work();
      setProblem(null);
      await client.invalidateQueries({ queryKey: keys.app(app.id) });
      return true;
    } catch (error) {
      setProblem(messageOf(error));
      return false;
    } finally {
      setSending(false);
    }
  };
  const save = (): Promise<boolean> =>
    done(() => call(contract.changePerson, { params, body: { role: assignment.role, roles: [...assignment.roles], ties: { ...assignment.ties } } }));
  const { say } = useDesignNotice();
  const [isAsking, setAsking] = useState(false);
  const restore = async (): Promise<void> => {
    try {
      await call(contract.restorePerson, { params });
      await client.invalidateQueries({ queryKey: keys.app(app.id) });
      say({ kind: 'message', isGood: true, text: `${person.name} is back in the app.` });
    } catch (error) {
      say({ kind: 'message', isGood: false, text: messageOf(error) });
    }
  };
  const remove = async (): Promise<void> => {
    setAsking(false);
    if (!(await done(() => call(contract.removePerson, { params })))) return;
    await navigate(`/workshop/${app.id}/access/people`);
    say({ kind: 'message', isGood: true, text: `${person.name} was removed from the app.`, undo: () => void restore() });
  };
  const roleNames = app.design.roles.filter((role) => person.roles.includes(role.id)).map((role) => role.name);
  return (
    <>
      <header>
        <div className="kind">Person</div>
        <h2>{person.name}</h2>
        <p className="q sm">{person.email}</p>
      </header>
      <form
        className="details-body details-form"
        onSubmit={(event) => {
          event.preventDefault();
          void save();
        }}
        noValidate
      >
        <AssignmentFields assignment={assignment} tiedTo={person.tiedTo} onChange={setAssignment} />
        {problem !== null && <Note kind="bad">{problem}</Note>}
        <div className="details-foot">
          <Button type="submit" variant="outlined" disabled={JSON.stringify(assignment) === JSON.stringify(start)} loading={isSending}>
            Save person
          </Button>
          {person.id !== me?.id && (
            <>
              <Button startIcon={<EyeIcon />} onClick={() => startLooking({ app: app.id, as: `person:${person.id}`, name: person.name })}>
                Look as
              </Button>
              <Button startIcon={<TrashIcon />} onClick={() => setAsking(true)}>
                Remove from the app
              </Button>
            </>
          )}
        </div>
      </form>
      {isAsking && (
        <Ask
          title={`Remove ${person.name} from ${app.design.name}?`}
          verb="Remove 1 person"
          keep="Cancel"
          onAnswer={(yes) => (yes ? void remove() : setAsking(false))}
        >
          They lose access at once. Their {roleNames.length === 1 ? 'role' : `${roleNames.length} roles`}
          {roleNames.length > 0 && ` (${roleNames.join(', ')})`} and {Object.keys(person.tiedTo).length} linked records are kept for 30 days, and so is all that
          they wrote. You can undo this.
        </Ask>
      )}
    </>
  );
}
