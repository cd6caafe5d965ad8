import type { SavedQuery } from '@bibliona/core';
import { useState } from 'react';
import { Navigate, useNavigate, useParams, useSearchParams } from 'react-router';
import { useApp } from '../../state/app.js';
import { useRemembered } from '../../state/remembered.js';
import { Roller } from '../../ui/Roller.js';
import { BareStation } from '../BareStation.js';
import { DraftSheet } from '../DraftSheet.js';
import { Shelf } from '../Shelf.js';
import { useDraft } from '../use-draft.js';
import { QueryDetails } from './QueryDetails.js';
import { QueryDialog } from './QueryDialog.js';
import { QueryLedger } from './QueryLedger.js';
import { QueryProof, useTriedQuery } from './QueryProof.js';
import { QuerySentence } from './QuerySentence.js';
import { orderedBy, type Spot } from './query-draft.js';

/** Queries: a question is a sentence; its rows are below while it is written, and where they went beside it. */
export default function QueriesStation() {
  const app = useApp();
  const { query: id } = useParams();
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const { queries, tables } = app.design;
  const query = queries.find((each) => each.id === id);
  const [first] = queries;
  if (id === undefined && first !== undefined && !search.has('add')) return <Navigate to={`/workshop/${app.id}/queries/${first.id}`} replace />;
  const add = `/workshop/${app.id}/queries${id === undefined ? '' : `/${id}`}?add=query`;
  const shelf = (
    <Shelf
      books={queries.map((each) => ({ ...each, to: `/workshop/${app.id}/queries/${each.id}`, words: each.columns.map((column) => column.name) }))}
      selected={id}
      heading="Queries"
      find="Find a query"
      none={{ at: 'No queries yet.', found: 'No queries match.' }}
      adds={[{ name: 'Query', to: add }]}
    />
  );
  return (
    <>
      {query !== undefined ? (
        <OpenQuery key={query.id} saved={query} shelf={shelf} />
      ) : (
        <BareStation
          heading="Queries"
          shelf={shelf}
          title={id === undefined ? 'No queries yet.' : 'This query no longer exists.'}
          hint="A query finds records, adds values of linked records, and summarises them."
          adds={[{ name: 'Query', to: add }]}
        />
      )}
      {search.get('add') === 'query' && tables.length > 0 && (
        <QueryDialog onClose={() => setSearch({}, { replace: true })} onMade={(made) => void navigate(`/workshop/${app.id}/queries/${made}`)} />
      )}
    </>
  );
}

function OpenQuery({ saved, shelf }: { readonly saved: SavedQuery; readonly shelf: React.ReactNode }) {
  const app = useApp();
  const [height, setHeight] = useRemembered<number>('proof queries', 320);
  const [spot, setSpot] = useState<Spot>({ kind: 'query' });
  const draft = useDraft(saved, {
    put: (query) => ({ kind: 'put', part: 'query', value: query }),
    remove: { kind: 'remove', part: 'query', id: saved.id },
    back: `/workshop/${app.id}/queries`,
  });
  const { part: query, edit } = draft;
  const answer = useTriedQuery(query);
  return (
    <div className="station" style={{ '--proof-h': `${height}px` } as React.CSSProperties}>
      {shelf}
      <DraftSheet draft={draft} what="query" facts={query.description} desk={`/desk/${app.id}/q/${saved.id}`} className="query-sheet">
        <div className="query-body">
          <QuerySentence query={query} spot={spot} onSpot={setSpot} wrong={new Set(answer.problems.map((problem) => problem.column ?? ''))} />
          {query.columns.length > 0 && answer.tried.data !== undefined && (
            <QueryLedger query={query} ledger={answer.tried.data.ledger} isOn={spot.kind === 'condition'} />
          )}
        </div>
      </DraftSheet>
      <aside className="details" aria-label="Details" data-region="details">
        <QueryDetails query={query} spot={spot} onChange={edit} onSpot={setSpot} onRemove={() => void draft.remove()} />
      </aside>
      <section className="proof" aria-label="Proof" data-region="proof">
        <Roller height={height} onHeight={setHeight} />
        <QueryProof query={query} answer={answer} spot={spot} onHead={(column) => (setSpot({ kind: 'column', id: column }), edit(orderedBy(query, column)))} />
      </section>
    </div>
  );
}
