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
import { Note } from '../../ui/Note.js';
import { PlaceFields, type Place } from './PlaceFields.js';

/** One of the people of the app: their roles, what they are tied to. */
export function PersonDetails({ person }: { readonly person: AppPerson }) {
  const app = useApp();
  const client = useQueryClient();
  const navigate = useNavigate();
  const me = useSession().person;
  const start: Place = { role: person.role, roles: person.roles, ties: person.ties };
  const [place, setPlace] = useState(start);
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
    done(() => call(contract.changePerson, { params, body: { role: place.role, roles: [...place.roles], ties: { ...place.ties } } }));
  const remove = async (): Promise<void> => {
    if (await done(() => call(contract.removePerson, { params }))) await navigate(`/workshop/${app.id}/access/people`);
  };
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
        <PlaceFields place={place} tiedTo={person.tiedTo} onChange={setPlace} />
        {problem !== null && <Note kind="bad">{problem}</Note>}
        <div className="details-foot">
          <Button type="submit" variant="outlined" disabled={JSON.stringify(place) === JSON.stringify(start)} loading={isSending}>
            Save person
          </Button>
          {person.id !== me?.id && (
            <>
              <Button startIcon={<EyeIcon />} onClick={() => startLooking({ app: app.id, as: `person:${person.id}`, name: person.name })}>
                Look as
              </Button>
              <Button startIcon={<TrashIcon />} onClick={() => void remove()}>
                Let go
              </Button>
            </>
          )}
        </div>
      </form>
    </>
  );
}
