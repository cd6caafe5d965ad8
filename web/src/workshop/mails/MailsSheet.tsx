import Button from '@mui/material/Button';
import { contract, type Mail, type MailAnswer } from '@bibliona/core';
import { useInfiniteQuery, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { mailStates } from '../../state/mail-states.js';
import { locale } from '../../state/locale.js';
import { useRemembered } from '../../state/remembered.js';
import { Empty } from '../../ui/Empty.js';
import { RegisterMark } from '../../ui/Mark.js';
import { Note } from '../../ui/Note.js';
import { Roller } from '../../ui/Roller.js';
import { Waiting } from '../../ui/Waiting.js';
import { DetailsHead } from '../parts/DetailsHead.js';

const lookAgainAfter = 5000;

/** Every mail that the app has written, whether it has gone out, and what came in where it went. */
export function MailsSheet({ shelf, selected }: { readonly shelf: ReactNode; readonly selected: string | undefined }) {
  const app = useApp();
  const [height, setHeight] = useRemembered<number>('proof mails', 300);
  const mails = useInfiniteQuery({
    queryKey: keys.mails(app.id),
    queryFn: ({ pageParam }) => call(contract.readMails, { params: { app: app.id }, query: pageParam === null ? {} : { before: pageParam } }),
    initialPageParam: null as string | null,
    getNextPageParam: (page) => (page.more ? page.mails.at(-1)?.id : undefined),
    refetchInterval: lookAgainAfter,
  });
  const shown = mails.data?.pages.flatMap((page) => page.mails) ?? [];
  const opened = useQuery({
    queryKey: keys.mail(app.id, selected ?? ''),
    queryFn: () => call(contract.readMail, { params: { app: app.id, mail: selected ?? '' } }),
    enabled: selected !== undefined,
    refetchInterval: (query) => (query.state.data?.mail.state === 'waiting' ? 1000 : false),
    retry: false,
  });
  return (
    <div className="station" style={{ '--proof-h': `${height}px` } as React.CSSProperties}>
      {shelf}
      <main className="sheet" data-region="sheet">
        <div className="sheet-head">
          <h1>Mails</h1>
          <span className="q el">
            {mails.data?.pages[0]?.standIn === true
              ? 'No mail relay is set up: mails stay in this mailbox, and nobody outside gets them'
              : 'Written by automations and invitations, sent by the mail relay'}
          </span>
        </div>
        <div className="matrix-scroll" tabIndex={0} role="group" aria-label="Mails of the app">
          {mails.isError && <Note kind="bad">{messageOf(mails.error)}</Note>}
          {mails.isPending && <Waiting />}
          {mails.isSuccess && shown.length === 0 && <Empty title="No mails yet">Mails that automations write and invitations appear here.</Empty>}
          {shown.length > 0 && <MailRows mails={shown} selected={selected} />}
          {mails.hasNextPage && (
            <Button className="go" onClick={() => void mails.fetchNextPage()} loading={mails.isFetchingNextPage}>
              Earlier mails
            </Button>
          )}
        </div>
      </main>
      <aside className="details" aria-label="Details" data-region="details">
        {opened.data !== undefined && selected !== undefined && <MailFacts key={selected} mail={opened.data.mail} />}
      </aside>
      <section className="proof" aria-label="Proof" data-region="proof">
        <Roller height={height} onHeight={setHeight} />
        <div className="pull">
          <div className="slug">
            <RegisterMark />
            <b>Proof</b>
            {opened.data !== undefined && <ArrivalWords answer={opened.data} />}
            <span className="end">
              <RegisterMark />
            </span>
          </div>
          <div className="trim letter" tabIndex={0} role="group" aria-label="The mail">
            {opened.isError && <Note kind="bad">{messageOf(opened.error)}</Note>}
            {selected === undefined && <p className="q">Choose a mail to read it.</p>}
            {opened.data !== undefined && <Letter answer={opened.data} />}
          </div>
        </div>
      </section>
    </div>
  );
}

function MailRows({ mails, selected }: { readonly mails: readonly Mail[]; readonly selected: string | undefined }) {
  const app = useApp();
  return (
    <table className="rows matrix">
      <thead>
        <tr>
          <th scope="col">Subject</th>
          <th scope="col">To</th>
          <th scope="col">Written</th>
          <th scope="col">State</th>
        </tr>
      </thead>
      <tbody>
        {mails.map((mail) => (
          <tr key={mail.id} className={mail.id === selected ? 'sel' : ''}>
            <th scope="row">
              <Link className="lk" to={`/workshop/${app.id}/workflows/mails/${mail.id}`}>
                {mail.subject === '' ? 'without a subject' : mail.subject}
              </Link>
            </th>
            <td>{mail.to}</td>
            <td>{locale().moment(mail.at)}</td>
            <td className={mail.state === 'failed' ? 'madder' : mail.state === 'waiting' ? '' : 'q'}>{mailStates[mail.state]}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** What became of a mail. */
const mailKinds: Readonly<Record<Mail['kind'], string>> = {
  automation: 'Mail of an automation',
  invitation: 'Invitation',
  account: 'Mail about an account',
  comment: 'Mail about a comment',
};

function MailFacts({ mail }: { readonly mail: Mail }) {
  const app = useApp();
  const client = useQueryClient();
  const [problem, setProblem] = useState<string | null>(null);
  const again = async (): Promise<void> => {
    try {
      await call(contract.sendMailAgain, { params: { app: app.id, mail: mail.id } });
      setProblem(null);
    } catch (error) {
      setProblem(messageOf(error));
    }
    await Promise.all([client.invalidateQueries({ queryKey: keys.mail(app.id, mail.id) }), client.invalidateQueries({ queryKey: keys.mails(app.id) })]);
  };
  return (
    <>
      <DetailsHead kind={mailKinds[mail.kind]} title={mail.subject} />
      <div className="details-body details-form">
        <dl className="mail-facts">
          <dt>To</dt>
          <dd>{mail.to}</dd>
          <dt>Written</dt>
          <dd>{locale().moment(mail.at)}</dd>
          <dt>State</dt>
          <dd>
            {mailStates[mail.state]}
            {mail.sentAt !== null && `, ${locale().moment(mail.sentAt)}`}
          </dd>
          <dt>Attempts</dt>
          <dd>{mail.attempts}</dd>
        </dl>
        {mail.doubtful && <Note kind="look">An attempt was interrupted, so the mail was sent again. It might arrive twice.</Note>}
        {mail.error !== null && <Note kind="bad">{mail.error}</Note>}
        {problem !== null && <Note kind="bad">{problem}</Note>}
        {mail.state !== 'sent' && mail.state !== 'kept' && (mail.attempts > 0 || mail.state === 'failed') && (
          <Button variant="outlined" onClick={() => void again()}>
            Send it again now
          </Button>
        )}
      </div>
    </>
  );
}

function ArrivalWords({ answer }: { readonly answer: MailAnswer }) {
  const [first] = answer.arrived;
  if (first === undefined) return <span className="q el">{answer.mail.state === 'sent' ? 'as it was written; the relay took it' : 'as it was written'}</span>;
  return (
    <>
      <span>{answer.mail.to}</span>
      <span className="q el">
        as it came into the mailbox, {locale().moment(first.at)}
        {answer.arrived.length > 1 && `, ${answer.arrived.length} times`}
      </span>
    </>
  );
}

function Letter({ answer }: { readonly answer: MailAnswer }) {
  const [arrived] = answer.arrived;
  const body = arrived?.body ?? answer.body;
  return (
    <article>
      <header>
        {arrived !== undefined && (
          <p className="q sm">
            From {arrived.from} to {arrived.to.join(', ')}
          </p>
        )}
        <h2>{arrived?.subject ?? answer.mail.subject}</h2>
      </header>
      {body === null ? <p className="q">Only the invited person can read this mail, because its link gives access.</p> : <p className="mail-text">{body}</p>}
    </article>
  );
}
