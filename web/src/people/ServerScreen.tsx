import { contract, type ServerAnswer, type ServerPerson } from '@bibliona/core';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { HomeFrame } from '../apps/HomeFrame.js';
import { call, messageOf } from '../state/api.js';
import { keys } from '../state/keys.js';
import { mailStates } from '../state/mail-states.js';
import { locale } from '../state/locale.js';
import { Empty } from '../ui/Empty.js';
import { Note } from '../ui/Note.js';
import { Waiting } from '../ui/Waiting.js';

/** For administrators: the people of the server, what they are allowed, and the mails that let people in. */
export default function ServerScreen() {
  const server = useQuery({ queryKey: keys.server, queryFn: () => call(contract.readServer), refetchInterval: 10_000 });
  return (
    <HomeFrame title="Server">
      {server.isError && <Note kind="bad">{messageOf(server.error)}</Note>}
      {server.isPending && <Waiting />}
      {server.data !== undefined && (
        <div className="server">
          <section aria-labelledby="server-people">
            <h2 id="server-people">People</h2>
            <p className="q">
              {server.data.everyoneMakesApps
                ? 'Everyone can make apps on this server. This is set when the server starts.'
                : 'Administrators see this page and can make apps. Allow others to make apps here.'}
            </p>
            <ServerPeople server={server.data} />
          </section>
          <section aria-labelledby="server-mails">
            <h2 id="server-mails">Invitations and account mails</h2>
            <p className="q">
              {server.data.standIn
                ? 'No mail relay is set up, so these mails stay here. Send each link to its reader only.'
                : 'The mail relay sends them. Only their readers see the links.'}
            </p>
            <ServerMails server={server.data} />
          </section>
        </div>
      )}
    </HomeFrame>
  );
}

/** What an administrator gives or takes in the list of people. */
type Rights = Pick<ServerPerson, 'isAdmin' | 'mayMakeApps'>;

function ServerPeople({ server }: { readonly server: ServerAnswer }) {
  const client = useQueryClient();
  const [problem, setProblem] = useState<string | null>(null);
  // What was just chosen shows at once, and until the server's answer is here: an answer that was asked for before it would turn the box back.
  const [chosen, setChosen] = useState<Readonly<Record<string, Rights>>>({});
  const change = async (person: ServerPerson, rights: Rights): Promise<void> => {
    setChosen((others) => ({ ...others, [person.id]: rights }));
    try {
      await call(contract.changeServerPerson, { params: { person: person.id }, body: rights });
      setProblem(null);
    } catch (error) {
      setProblem(messageOf(error));
    }
    await Promise.all([client.invalidateQueries({ queryKey: keys.server }), client.invalidateQueries({ queryKey: keys.me })]);
    setChosen(({ [person.id]: latest, ...others }) => (latest === undefined || latest === rights ? others : { ...others, [person.id]: latest }));
  };
  const people = server.people.map((person) => ({ ...person, ...chosen[person.id] }));
  return (
    <>
      {problem !== null && <Note kind="bad">{problem}</Note>}
      <div className="matrix-scroll" tabIndex={0} role="group" aria-label="People of the server">
        <table className="rows matrix">
          <thead>
            <tr>
              <th scope="col">Name</th>
              <th scope="col">Mail address</th>
              <th scope="col" className="n">
                Apps
              </th>
              <th scope="col">Last seen</th>
              <th scope="col">Can make apps</th>
              <th scope="col">Administrator</th>
            </tr>
          </thead>
          <tbody>
            {people.map((person) => (
              <tr key={person.id}>
                <th scope="row">{person.name}</th>
                <td>{person.email}</td>
                <td className="n">{person.apps}</td>
                <td className={person.lastSeen === null ? 'none' : ''}>{person.lastSeen === null ? 'never' : locale().moment(person.lastSeen)}</td>
                <td>
                  <Checkbox
                    checked={person.mayMakeApps || person.isAdmin || server.everyoneMakesApps}
                    disabled={person.isAdmin || server.everyoneMakesApps}
                    slotProps={{ input: { 'aria-label': `${person.name} can make apps` } }}
                    onChange={(event) => void change(person, { isAdmin: person.isAdmin, mayMakeApps: event.target.checked })}
                  />
                </td>
                <td>
                  <Checkbox
                    checked={person.isAdmin}
                    slotProps={{ input: { 'aria-label': `${person.name} is an administrator` } }}
                    onChange={(event) => void change(person, { isAdmin: event.target.checked, mayMakeApps: person.mayMakeApps })}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

function ServerMails({ server }: { readonly server: ServerAnswer }) {
  const [opened, setOpened] = useState<string | null>(null);
  if (server.mails.length === 0) return <Empty title="No mails yet">Invitations and links for a new password appear here.</Empty>;
  return (
    <ul className="app-rows">
      {server.mails.map(({ mail, text }) => (
        <li key={mail.id} className="server-mail">
          <div className="grow">
            <b>{mail.subject}</b>
            <p className="q sm">
              To {mail.to}, {locale().moment(mail.at)}, {mailStates[mail.state]}
              {mail.error !== null && `: ${mail.error}`}
            </p>
            {opened === mail.id && text !== null && <p className="mail-text">{text}</p>}
          </div>
          {text !== null && (
            <Button
              variant="outlined"
              aria-expanded={opened === mail.id}
              aria-label={`Read “${mail.subject}” to ${mail.to}`}
              onClick={() => setOpened(opened === mail.id ? null : mail.id)}
            >
              {opened === mail.id ? 'Close' : 'Read'}
            </Button>
          )}
        </li>
      ))}
    </ul>
  );
}
