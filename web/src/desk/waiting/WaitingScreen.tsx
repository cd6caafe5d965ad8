import Button from '@mui/material/Button';
import { statusesOf, tableOf, type Route, type WaitingAnswer } from '@bibliona/core';
import { Link, useLocation } from 'react-router';
import { messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { useMoves } from '../../state/moves.js';
import { Empty } from '../../ui/Empty.js';
import { Note } from '../../ui/Note.js';
import { StatusSpine } from '../../ui/StatusSpine.js';
import { Waiting } from '../../ui/Waiting.js';
import { useWaiting } from './use-waiting.js';

/** The records that wait for whoever looks, by route, the oldest first; each is moved on from here or opened. */
export default function WaitingScreen() {
  const app = useApp();
  const { data, isPending, isError, error } = useWaiting();
  const { moving, problem, make } = useMoves();
  const { moved } = (useLocation().state ?? {}) as { readonly moved?: string };
  const routes = (data?.routes ?? []).flatMap((one) => {
    const route = app.design.routes.find((each) => each.id === one.route);
    return route === undefined || one.records.length === 0 ? [] : [{ ...one, route }];
  });
  const all = routes.reduce((sum, one) => sum + one.records.length, 0);
  return (
    <div className="list-screen">
      <header className="list-head">
        <h1>Waiting for me</h1>
        <span className="q" role="status">
          {data !== undefined && `${all.toLocaleString('en-GB')} ${all === 1 ? 'record' : 'records'}`}
        </span>
      </header>
      {isError && <Note kind="bad">{messageOf(error)}</Note>}
      {moved !== undefined && <Note kind="good">{moved} was moved on, and is not yours to see any more.</Note>}
      {problem !== null && <Note kind="bad">{problem}</Note>}
      {isPending && app.moves && <Waiting />}
      {(data !== undefined || !app.moves) && all === 0 && (
        <Empty title="Nothing waits for you.">Records stand here that you can move on along their route.</Empty>
      )}
      <div className="waiting-lists" tabIndex={0} role="group" aria-label="Records that wait">
        {routes.map(({ route, records, more }) => (
          <section key={route.id}>
            <h2>{route.name}</h2>
            <ul className="waiting-list">
              {records.map((record) => (
                <Row
                  key={record.id}
                  route={route}
                  record={record}
                  moving={moving}
                  onMove={(move) => void make({ table: route.table, id: record.id, rev: record.rev, move })}
                />
              ))}
            </ul>
            {more && <p className="q sm">There are more; they come up as these are moved on.</p>}
          </section>
        ))}
      </div>
    </div>
  );
}

function Row(props: {
  readonly route: Route;
  readonly record: WaitingAnswer['routes'][number]['records'][number];
  readonly moving: string | null;
  readonly onMove: (move: string) => void;
}) {
  const app = useApp();
  const { route, record, moving, onMove } = props;
  const status = statusesOf(app.design, route).find((one) => one.id === record.status);
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
          const move = route.moves.find((one) => one.id === id);
          return (
            move !== undefined && (
              <Button
                key={id}
                variant="outlined"
                loading={moving === `${id} ${record.id}`}
                onClick={() => onMove(id)}
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
