import type { List } from '@bibliona/core';
import { useState } from 'react';
import { useApp } from '../../state/app.js';
import { useRemembered } from '../../state/remembered.js';
import { Roller } from '../../ui/Roller.js';
import { DraftSheet } from '../DraftSheet.js';
import { QueryLedger } from '../queries/QueryLedger.js';
import { QueryProof, useTriedQuery } from '../queries/QueryProof.js';
import { useDraft } from '../use-draft.js';
import { ListDetails } from './ListDetails.js';
import { ListSentence } from './ListSentence.js';
import { questionOfList, type Spot } from './list-draft.js';

/** One list on the sheet: the sentence that it is, and below it the first records that it shows. */
export function ListDesigner({ saved, shelf }: { readonly saved: List; readonly shelf: React.ReactNode }) {
  const app = useApp();
  const [height, setHeight] = useRemembered<number>('proof lists', 320);
  const [spot, setSpot] = useState<Spot>('list');
  const draft = useDraft(saved, {
    put: (list) => ({ kind: 'put', part: 'list', value: list }),
    remove: { kind: 'remove', part: 'list', id: saved.id },
    back: `/workshop/${app.id}/screens`,
  });
  const { part: list, edit } = draft;
  const question = questionOfList(list, app.design);
  const answer = useTriedQuery(question);
  const isOpening = saved.isDefault && saved.roles.length === 0;
  return (
    <div className="station" style={{ '--proof-h': `${height}px` } as React.CSSProperties}>
      {shelf}
      <DraftSheet
        draft={draft}
        what="list"
        facts={`List of ${app.design.tables.find((table) => table.id === list.table)?.name ?? ''}`}
        desk={`/desk/${app.id}/${saved.table}${isOpening ? '' : `?list=${saved.id}`}`}
        className="query-sheet"
      >
        <div className="query-body">
          <ListSentence list={list} spot={spot} onSpot={setSpot} isWrong={answer.problems.some((problem) => problem.column === null)} />
          {answer.tried.data !== undefined && list.condition !== '' && (
            <QueryLedger query={question} ledger={answer.tried.data.ledger} isOn={spot === 'condition'} />
          )}
        </div>
      </DraftSheet>
      <aside className="details" aria-label="Details" data-region="details">
        <ListDetails
          list={list}
          spot={spot}
          isOpen={saved.public !== undefined}
          onChange={edit}
          onSpot={setSpot}
          onRemove={isOpening ? null : () => void draft.remove()}
        />
      </aside>
      <section className="proof" aria-label="Proof" data-region="proof">
        <Roller height={height} onHeight={setHeight} />
        <QueryProof query={question} answer={answer} spot={{ kind: 'query' }} onHead={() => setSpot('columns')} />
      </section>
    </div>
  );
}
