import Button from '@mui/material/Button';
import { contract, type Run } from '@bibliona/core';
import { useInfiniteQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { locale } from '../../state/locale.js';
import { Empty } from '../../ui/Empty.js';
import { Note } from '../../ui/Note.js';
import { Waiting } from '../../ui/Waiting.js';
import { mailStates } from '../../state/mail-states.js';
import { StepsDone } from './StepsDone.js';

const lookAgainAfter = 5000;

/** The runs of an automation, the latest first, each with what its steps did. */
export function RunLog({ automation }: { readonly automation: string }) {
  const app = useApp();
  const log = useInfiniteQuery({
    queryKey: keys.runs(app.id, automation),
    queryFn: ({ pageParam }) => call(contract.readRuns, { params: { app: app.id, automation }, query: pageParam === null ? {} : { before: pageParam } }),
    initialPageParam: null as string | null,
    getNextPageParam: (page) => (page.more ? page.runs.at(-1)?.id : undefined),
    refetchInterval: lookAgainAfter,
  });
  const runs = log.data?.pages.flatMap((page) => page.runs) ?? [];
  if (log.isError) return <Note kind="bad">{messageOf(log.error)}</Note>;
  if (log.isPending) return <Waiting />;
  if (runs.length === 0) return <Empty title="No runs yet.">Each run is listed here with what it did.</Empty>;
  return (
    <>
      <ul className="run-log">
        {runs.map((run) => (
          <li key={run.id}>
            <OneRun run={run} />
          </li>
        ))}
      </ul>
      {log.hasNextPage && (
        <Button className="go" onClick={() => void log.fetchNextPage()} loading={log.isFetchingNextPage}>
          Earlier runs
        </Button>
      )}
    </>
  );
}

function OneRun({ run }: { readonly run: Run }) {
  const app = useApp();
  return (
    <details open={run.error !== null}>
      <summary>
        <time dateTime={run.at}>{locale().moment(run.at)}</time>
        {run.record.caption === null ? <span className="q el">No. {run.record.id}, deleted</span> : <b className="el">{run.record.caption}</b>}
        <span className="q el">triggered by {run.by ?? 'someone who left'}</span>
        <span className={run.error === null ? 'q' : 'madder'}>
          {run.error === null ? `${run.steps.length} ${run.steps.length === 1 ? 'step' : 'steps'} done` : 'refused'}
        </span>
      </summary>
      <StepsDone steps={run.steps} />
      {run.error !== null && (
        <p className="madder">
          Step {run.steps.length + 1} failed: {run.error}. The save was refused. None of the steps above took effect.
        </p>
      )}
      <p className="q sm run-links">
        {run.record.caption !== null && (
          <Link className="lk" to={`/desk/${app.id}/${run.table}/${run.record.id}`}>
            To {run.record.caption}
          </Link>
        )}
        {run.mails.map((mail) => (
          <span key={mail.id}>
            <Link className="lk" to={`/workshop/${app.id}/workflows/mails/${mail.id}`}>
              The mail to {mail.to}
            </Link>{' '}
            {mailStates[mail.state]}
          </span>
        ))}
      </p>
    </details>
  );
}
