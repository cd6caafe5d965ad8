import Button from '@mui/material/Button';
import { contract, statusesOf, type OpenRecord, type Route, type Status } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { guardWords, useActs } from '../../state/moves.js';
import { Note } from '../../ui/Note.js';
import { StatusSpine } from '../../ui/StatusSpine.js';
import { locale } from '../../state/locale.js';
import { useLanguage } from '../../state/language.js';
import { useLeavingIfGone } from './leave-if-gone.js';

/** Where a record is on its route, when it came to each status, and the moves that are open to the person who looks. */
export function RecordPath({ route, open, isDirty }: { readonly route: Route; readonly open: OpenRecord; readonly isDirty: boolean }) {
  const app = useApp();
  const { id, rev } = open.record;
  const { isDoing, problem, act } = useActs();
  const leaveIfGone = useLeavingIfGone(route.table, open);
  const language = useLanguage();
  const [isUnsaved, setUnsaved] = useState(false);
  const answer = useQuery({
    queryKey: keys.moves(app.id, route.table, id),
    queryFn: () => call(contract.readMoves, { params: { app: app.id, table: route.table, id } }),
  });
  const { data } = answer;
  const statuses = statusesOf(app.design, route);
  const here = statuses.find((status) => status.id === data?.status);
  const cameTo = (status: Status): string | undefined => data?.walk.findLast((each) => each.status === status.id)?.at;
  const offered = (data?.moves ?? []).flatMap((item) => {
    const move = route.moves.find((each) => each.id === item.id);
    return move === undefined ? [] : [{ ...item, move }];
  });
  return (
    <section className="path" aria-label={route.name}>
      {answer.isError && <Note kind="bad">{messageOf(answer.error)}</Note>}
      {problem !== null && <Note kind="bad">{problem}</Note>}
      {isUnsaved && isDirty && <Note kind="look">Save your changes first, then move it on.</Note>}
      {here !== undefined && (
        <ol className="stops">
          {statuses.map((status) => {
            const at = cameTo(status);
            const isHere = status === here;
            return (
              <li key={status.id} className={isHere ? 'here' : at === undefined ? 'ahead' : 'been'} aria-current={isHere ? 'step' : undefined}>
                <span className="stop-line" aria-hidden="true">
                  {isHere && <i />}
                </span>
                <span className="stop-name">
                  <StatusSpine kind={status.kind} />
                  {status.name}
                </span>
                <span className="q sm">{at === undefined ? '' : locale().day(at)}</span>
              </li>
            );
          })}
        </ol>
      )}
      {offered.length > 0 && (
        <div className="moves" role="group" aria-label="Moves">
          {offered.map(({ move, isOpen }) => (
            <Button
              key={move.id}
              variant="outlined"
              disabled={!isOpen}
              loading={isDoing(move.id, id)}
              onClick={() => (isDirty ? setUnsaved(true) : void act({ kind: 'move', table: route.table, id, rev, move: move.id }, leaveIfGone))}
            >
              {move.name}
            </Button>
          ))}
          {offered
            .filter((each) => !each.isOpen)
            .map(({ move }) => (
              <span key={move.id} className="q sm">
                {move.name}: only when {guardWords(language, app.design, route, move)}
              </span>
            ))}
        </div>
      )}
    </section>
  );
}
