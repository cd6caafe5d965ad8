import Button from '@mui/material/Button';
import { contract, statusesOf, tableOf, type Route, type WaitingAnswer } from '@bibliona/core';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useLocation } from 'react-router';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { useActs } from '../../state/moves.js';
import { Empty } from '../../ui/Empty.js';
import { Note } from '../../ui/Note.js';
import { StatusSpine } from '../../ui/StatusSpine.js';
import { Waiting } from '../../ui/Waiting.js';
import { printWaiting, useWaiting } from './use-waiting.js';

/** The records that wait for the person who looks, by route, the oldest first; each is moved on from here or opened. */
export default function WaitingScreen() {
  const app = useApp();
  const { data, isPending, isError, error } = useWaiting();
  const { isDoing, problem, act } = useActs();
  const { moved } = (useLocation().state ?? {}) as { readonly moved?: string };
  const routes = (data?.routes ?? []).flatMap((item) => {
    const route = app.design.routes.find((each) => each.id === item.route);
    return route === undefined || item.records.length === 0 ? [] : [{ ...item, route }];
  });
  const all = routes.reduce((sum, route) => sum + route.count, 0);
  return (
    <div className="list-screen">
      <header className="list-head">
        <h1>Waiting for me</h1>
        <span className="q" role="status">
          {data !== undefined && `${printWaiting(routes) || 'no'} ${all === 1 ? 'record' : 'records'}`}
        </span>
      </header>
      {isError && <Note kind="bad">{messageOf(error)}</Note>}
      {moved !== undefined && <Note kind="good">{moved} was moved on. You no longer have access to it.</Note>}
      {problem !== null && <Note kind="bad">{problem}</Note>}
      {isPending && app.moves && <Waiting />}
      {(data !== undefined || !app.moves) && all === 0 && (
        <Empty title="Nothing is waiting for you">Records that you should move on along their route appear here.</Empty>
      )}
      <div className="waiting-lists" tabIndex={0} role="group" aria-label="Records that wait">
        {routes.map(({ route, records, more, count, atLeast }) => (
          <section key={route.id}>
            <h2>
              {route.name} <span className="q sm">{printWaiting([{ count, atLeast }])}</span>
            </h2>
            <Rows route={route} records={records} acts={{ isDoing, act }} />
            {more && <Later route={route} after={records.at(-1)?.id ?? 1} acts={{ isDoing, act }} />}
          </section>
        ))}
      </div>
    </div>
  );
}

type Acts = Pick<ReturnType<typeof useActs>, 'isDoing' | 'act'>;

/** The records after those that are shown at first, a page at a time. */
function Later(props: { readonly route: Route; readonly after: number; readonly acts: Acts }) {
  const { route, after, acts } = props;
  const app = useApp();
  const [isAsked, setAsked] = useState(false);
  const pages = useInfiniteQuery({
    queryKey: [...keys.waiting(app.id), route.id, after],
    queryFn: ({ pageParam }) => call(contract.readWaiting, { params: { app: app.id }, query: { route: route.id, after: pageParam } }),
    initialPageParam: after,
    getNextPageParam: (page) => (page.routes[0]?.more === true ? page.routes[0].records.at(-1)?.id : undefined),
    enabled: isAsked,
  });
  const records = pages.data?.pages.flatMap((page) => page.routes[0]?.records ?? []) ?? [];
  return (
    <>
      {pages.isError && <Note kind="bad">{messageOf(pages.error)}</Note>}
      <Rows route={route} records={records} acts={acts} />
      {(!isAsked || pages.hasNextPage) && (
        <Button variant="outlined" loading={pages.isFetching} onClick={() => (isAsked ? void pages.fetchNextPage() : setAsked(true))}>
          More records
        </Button>
      )}
    </>
  );
}

type Waits = WaitingAnswer['routes'][number]['records'][number];

function Rows({ route, records, acts }: { readonly route: Route; readonly records: readonly Waits[]; readonly acts: Acts }) {
  return (
    <ul className="waiting-list">
      {records.map((record) => (
        <Row key={record.id} route={route} record={record} acts={acts} />
      ))}
    </ul>
  );
}

function Row({ route, record, acts }: { readonly route: Route; readonly record: Waits; readonly acts: Acts }) {
  const app = useApp();
  const status = statusesOf(app.design, route).find((each) => each.id === record.status);
  return (
    <li>
      <Link className="lk waiting-name" to={`/desk/${app.id}/${route.table}/${record.id}`} title={`Open it in ${tableOf(app.design, route.table).name}`}>
        {record.caption}
      </Link>
      <span className="stop-name">
        {status !== undefined && <StatusSpine kind={status.kind} />}
        {status?.name}
      </span>
      <span className="moves">
        {record.moves.map((id) => {
          const move = route.moves.find((each) => each.id === id);
          return (
            move !== undefined && (
              <Button
                key={id}
                variant="outlined"
                loading={acts.isDoing(id, record.id)}
                onClick={() => void acts.act({ kind: 'move', table: route.table, id: record.id, rev: record.rev, move: id })}
                aria-label={`${move.name}: ${record.caption}`}
              >
                {move.name}
              </Button>
            )
          );
        })}
      </span>
    </li>
  );
}
