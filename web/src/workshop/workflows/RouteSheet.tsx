import Button from '@mui/material/Button';
import { checkRoute, contract, fixesOf, statusesOf, type Route, type RouteFinding } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useMemo, useState } from 'react';
import { call } from '../../state/api.js';
import { newId, useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { useRemembered } from '../../state/remembered.js';
import { Roller } from '../../ui/Roller.js';
import { Waiting } from '../../ui/Waiting.js';
import { DraftSheet } from '../DraftSheet.js';
import { Finding, Findings } from '../parts/Findings.js';
import { useDraft } from '../use-draft.js';
import { RouteDetails } from './RouteDetails.js';
import { RouteProof } from './RouteProof.js';
import { withMove, type Spot } from './route-draft.js';
import { locale } from '../../state/locale.js';

const RouteDiagram = lazy(() => import('./RouteDiagram.js'));

/** A route: the diagram is its definition; what is doubtful about it is below, each with its fix. */
export function RouteSheet({ saved, shelf }: { readonly saved: Route; readonly shelf: React.ReactNode }) {
  const app = useApp();
  const [height, setHeight] = useRemembered<number>('proof workflows', 210);
  const [spot, setSpot] = useState<Spot>({ kind: 'route' });
  const draft = useDraft(saved, {
    put: (route) => ({ kind: 'put', part: 'route', value: route }),
    remove: { kind: 'remove', part: 'route', id: saved.id },
    back: `/workshop/${app.id}/workflows`,
  });
  const { part: route, edit } = draft;
  const findings = useMemo(() => checkRoute(app.design, route), [app.design, route]);
  const counts = useQuery({
    queryKey: keys.statuses(app.id, saved.id),
    queryFn: () => call(contract.countStatuses, { params: { app: app.id, route: saved.id } }),
  }).data?.counts;
  const statuses = statusesOf(app.design, route);
  const connect = (from: string, to: string): void => {
    const id = newId('mo');
    edit(
      withMove(
        route,
        statuses,
        id,
        from,
        to,
        app.design.roles.slice(0, 1).map((role) => role.id),
      ),
    );
    setSpot({ kind: 'move', id });
  };
  return (
    <div className="station" style={{ '--proof-h': `${height}px` } as React.CSSProperties}>
      {shelf}
      <DraftSheet
        draft={draft}
        what="route"
        facts={`${statuses.length} statuses, ${route.moves.length} ${route.moves.length === 1 ? 'move' : 'moves'}`}
        desk={`/desk/${app.id}/waiting`}
        adds={spot.kind === 'route' ? undefined : <Button onClick={() => setSpot({ kind: 'route' })}>The route</Button>}
      >
        <Suspense fallback={<Waiting />}>
          <RouteDiagram route={route} counts={counts} findings={findings} spot={spot} onSpot={setSpot} onConnect={connect} />
        </Suspense>
        {findings.length > 0 && <RouteFindings route={route} findings={findings} counts={counts} onChange={edit} onSpot={setSpot} />}
      </DraftSheet>
      <aside className="details" aria-label="Details" data-region="details">
        <RouteDetails route={route} spot={spot} onChange={edit} onSpot={setSpot} onRemove={() => void draft.remove()} />
      </aside>
      <section className="proof" aria-label="Proof" data-region="proof">
        <Roller height={height} onHeight={setHeight} />
        <RouteProof route={saved} findings={findings} isDirty={draft.isDirty} />
      </section>
    </div>
  );
}

const findingText: Readonly<Record<RouteFinding['kind'], (name: string) => string>> = {
  no_way_out: (name) => `${name} has no move out.`,
  unreachable: (name) => `No move leads to ${name}.`,
  nobody: (name) => `Nobody can move a record on from ${name}.`,
};

function RouteFindings(props: {
  readonly route: Route;
  readonly findings: readonly RouteFinding[];
  readonly counts: Readonly<Record<string, number>> | undefined;
  readonly onChange: (route: Route) => void;
  readonly onSpot: (spot: Spot) => void;
}) {
  const { route, findings, counts, onChange, onSpot } = props;
  const { design } = useApp();
  return (
    <Findings what="route" count={findings.length}>
      {findings.map((finding) => {
        const { status, kind } = finding;
        const existing = counts?.[status.id] ?? 0;
        return (
          <Finding
            key={`${kind} ${status.id}`}
            fixes={fixesOf(finding, design, route, newId).map((fix) => (
              <Button key={fix.words} variant="outlined" onClick={() => onChange(fix.route)}>
                {fix.words}
              </Button>
            ))}
          >
            <button type="button" className="lk" onClick={() => onSpot({ kind: 'status', id: status.id })}>
              {findingText[kind](status.name)}
            </button>{' '}
            <span className="q">
              {locale().count(existing)} {existing === 1 ? 'record is' : 'records are'} at this status.
            </span>
          </Finding>
        );
      })}
    </Findings>
  );
}
