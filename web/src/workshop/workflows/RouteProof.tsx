import { contract, statusesOf, type Route, type RouteFinding, type WalkAnswer } from '@bibliona/core';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { Empty } from '../../ui/Empty.js';
import { RegisterMark } from '../../ui/Mark.js';
import { Note } from '../../ui/Note.js';
import { StatusSpine } from '../../ui/StatusSpine.js';
import { Waiting } from '../../ui/Waiting.js';
import { RecordPicker } from '../RecordPicker.js';
import { locale } from '../../state/locale.js';

/** A real record, walked through its history, and of every person: could they move it on? */
export function RouteProof({ route, findings, isDirty }: { readonly route: Route; readonly findings: readonly RouteFinding[]; readonly isDirty: boolean }) {
  const app = useApp();
  const [record, setRecord] = useState<number | null>(null);
  const walk = useQuery({
    queryKey: keys.walk(app.id, route.id, record),
    queryFn: () => call(contract.walkRoute, { params: { app: app.id, route: route.id }, query: record === null ? {} : { id: record } }),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const { data } = walk;
  const checks = statusesOf(app.design, route);
  return (
    <div className={walk.isFetching ? 'pull stale' : 'pull'}>
      <div className="slug">
        <RegisterMark />
        <b>Proof</b>
        {data?.record != null && (
          <>
            <span>{data.record.caption}</span>
            <span className="q el">the history of a real record{isDirty ? ', on the saved route' : ''}</span>
          </>
        )}
        <span className="end">
          <span className="strip" aria-hidden="true">
            {checks.map((status) => (
              <i key={status.id} className={findings.some((finding) => finding.status.id === status.id) ? 'look' : ''} />
            ))}
          </span>
          <span>{findings.length === 0 ? `${checks.length} statuses pass` : `${findings.length} to look at`}</span>
          <RecordPicker table={route.table} name="Another record" placeholder="Another record" onPick={setRecord} />
          <RegisterMark />
        </span>
      </div>
      <div className="trim walk-proof">
        {walk.isError && <Note kind="bad">{messageOf(walk.error)}</Note>}
        {walk.isPending && <Waiting />}
        {data?.record === null && <Empty title="No records yet">Add a record to see its path here. New records start at the first status.</Empty>}
        {data?.record != null && (
          <>
            <Walk route={route} data={data} />
            <People route={route} people={data.people} />
          </>
        )}
      </div>
    </div>
  );
}

const day = 86_400_000;
function lengthOf(from: string, to: string | number): string {
  const ms = new Date(to).getTime() - new Date(from).getTime();
  const [amount, word] =
    ms >= day ? [Math.round(ms / day), 'day'] : ms >= 3_600_000 ? [Math.round(ms / 3_600_000), 'hour'] : [Math.max(1, Math.round(ms / 60_000)), 'minute'];
  return `${locale().count(amount)} ${word}${amount === 1 ? '' : 's'}`;
}

function Walk({ route, data }: { readonly route: Route; readonly data: WalkAnswer }) {
  const { design } = useApp();
  const statuses = statusesOf(design, route);
  // When the walk was asked for: the last stretch goes on until then.
  const [now] = useState(() => Date.now());
  return (
    <ol className="walk" tabIndex={0} aria-label="Its path so far">
      {data.walk.map((item, i) => {
        const status = statuses.find((each) => each.id === item.status);
        const next = data.walk[i + 1];
        return (
          <li key={i}>
            <b className="walk-stop">
              {status !== undefined && <StatusSpine kind={status.kind} />}
              {status?.name ?? 'unknown'}
            </b>
            <span className="walk-line">
              <i />
              <em>{lengthOf(item.at, next?.at ?? now)}</em>
            </span>
            <span>{locale().moment(item.at)}</span>
            <span className="q sm el">{item.by ?? 'someone who left'}</span>
          </li>
        );
      })}
      {data.walk.length === 0 && <li className="q">No history yet.</li>}
    </ol>
  );
}

const whyWords: Readonly<Record<WalkAnswer['people'][number]['why'], string>> = {
  can: '',
  end: 'at the end of the route',
  no_role: 'has no move from here',
  not_seen: 'does not see it',
  guard: 'held back by a condition',
};

function People({ route, people }: { readonly route: Route; readonly people: WalkAnswer['people'] }) {
  const isNobody = people.every((person) => person.moves.length === 0);
  const name = (id: string): string => route.moves.find((move) => move.id === id)?.name ?? '';
  return (
    <div className="movers" tabIndex={0} role="group" aria-label="Who can move it on">
      <table>
        <thead>
          <tr>
            <th scope="col" colSpan={2}>
              Who can move it on?
            </th>
          </tr>
        </thead>
        <tbody>
          {people.map((person) => (
            <tr key={person.id}>
              <th scope="row">
                {person.name} <span className="q sm">{person.roles.join(', ')}</span>
              </th>
              <td className={person.why === 'can' ? 'can' : 'q'}>{person.why === 'can' ? person.moves.map(name).join(', ') : whyWords[person.why]}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {isNobody && people.some((person) => person.why !== 'end') && (
        <p className="sm nobody">
          <b>Nobody.</b> The route ends here.
        </p>
      )}
    </div>
  );
}
