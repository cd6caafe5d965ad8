import Button from '@mui/material/Button';
import { PlusIcon } from '@phosphor-icons/react';
import type { SavedQuery } from '@bibliona/core';
import { useRef, useState } from 'react';
import { Link, Navigate, useNavigate, useParams, useSearchParams } from 'react-router';
import { useApp } from '../../state/app.js';
import { useDesignChange } from '../../state/design.js';
import { useRemembered } from '../../state/remembered.js';
import { Empty } from '../../ui/Empty.js';
import { Note } from '../../ui/Note.js';
import { Roller } from '../../ui/Roller.js';
import { Unsaved } from '../../ui/Unsaved.js';
import { Shelf } from '../Shelf.js';
import { QueryDetails } from './QueryDetails.js';
import { QueryDialog } from './QueryDialog.js';
import { QueryLedger } from './QueryLedger.js';
import { QueryProof, useTriedQuery } from './QueryProof.js';
import { QuerySentence } from './QuerySentence.js';
import { orderedBy, type Spot } from './query-draft.js';

/** Queries: a question is a sentence; its rows stand below while it is written, and where they went beside it. */
export default function QueriesStation() {
  const app = useApp();
  const { query: id } = useParams();
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const { queries, tables } = app.design;
  const query = queries.find((one) => one.id === id);
  const [first] = queries;
  if (id === undefined && first !== undefined && !search.has('add')) return <Navigate to={`/workshop/${app.id}/queries/${first.id}`} replace />;
  const add = `/workshop/${app.id}/queries${id === undefined ? '' : `/${id}`}?add=query`;
  const shelf = (
    <Shelf
      books={queries.map((one) => ({ ...one, to: `/workshop/${app.id}/queries/${one.id}`, words: one.columns.map((column) => column.name) }))}
      selected={id}
      heading="Queries"
      find="Find a query"
      none={{ at: 'No queries yet.', found: 'No query is called so.' }}
      add={{ name: 'Query', to: add }}
    />
  );
  return (
    <>
      {query !== undefined ? (
        <OpenQuery key={query.id} saved={query} shelf={shelf} />
      ) : (
        <div className="station without-proof">
          {shelf}
          <main className="sheet" data-region="sheet">
            <div className="sheet-head">
              <h1>Queries</h1>
            </div>
            <Empty
              title={id === undefined ? 'Here will stand the questions of your app.' : 'This query is not part of the app any more.'}
              action={
                tables.length === 0 ? (
                  <Button variant="contained" component={Link} to={`/workshop/${app.id}/tables`}>
                    To the tables
                  </Button>
                ) : (
                  <Button variant="contained" startIcon={<PlusIcon />} component={Link} to={add}>
                    Query
                  </Button>
                )
              }
            >
              {tables.length === 0
                ? 'A query asks records of tables. Make a table first.'
                : 'A query picks records, walks to what belongs to them, and sums up.'}
            </Empty>
          </main>
          <aside className="details" aria-label="Details" data-region="details" />
        </div>
      )}
      {search.get('add') === 'query' && tables.length > 0 && (
        <QueryDialog onClose={() => setSearch({}, { replace: true })} onMade={(made) => void navigate(`/workshop/${app.id}/queries/${made}`)} />
      )}
    </>
  );
}

function OpenQuery({ saved, shelf }: { readonly saved: SavedQuery; readonly shelf: React.ReactNode }) {
  const app = useApp();
  const { change } = useDesignChange();
  const navigate = useNavigate();
  const [height, setHeight] = useRemembered<number>('proof queries', 320);
  const [draft, setDraft] = useState<SavedQuery | null>(null);
  const [spot, setSpot] = useState<Spot>({ kind: 'query' });
  const [problem, setProblem] = useState<string | null>(null);
  const [isSending, setSending] = useState(false);
  const isRemoved = useRef(false);
  const query = draft ?? saved;
  const isDirty = draft !== null && JSON.stringify(draft) !== JSON.stringify(saved);
  const answer = useTriedQuery(query);
  const edit = (next: SavedQuery): void => (setDraft(next), setProblem(null));
  const save = async (): Promise<void> => {
    if (!isDirty) return;
    setSending(true);
    const outcome = await change({ kind: 'put_query', query });
    setSending(false);
    if (outcome === true) setDraft(null);
    setProblem(outcome === true ? null : outcome);
  };
  const remove = async (): Promise<void> => {
    isRemoved.current = true;
    const outcome = await change({ kind: 'remove_query', query: saved.id });
    if (outcome === true) return void navigate(`/workshop/${app.id}/queries`);
    isRemoved.current = false;
    setProblem(outcome);
  };
  return (
    <div className="station" style={{ '--proof-h': `${height}px` } as React.CSSProperties}>
      {shelf}
      <main className="sheet query-sheet" data-region="sheet">
        <div className="sheet-head">
          <h1 className="el">{query.name}</h1>
          <span className="q el">{query.description}</span>
          <div className="end">
            {isDirty && <Button onClick={() => (setDraft(null), setProblem(null))}>Give up changes</Button>}
            <Button component={Link} to={`/desk/${app.id}/q/${saved.id}`}>
              On the Desk
            </Button>
            <Button variant="contained" onClick={() => void save()} loading={isSending} disabled={!isDirty}>
              Save query
            </Button>
          </div>
        </div>
        {problem !== null && <Note kind="bad">{problem}</Note>}
        <div className="query-body">
          <QuerySentence query={query} spot={spot} onSpot={setSpot} wrong={new Set(answer.problems.map((one) => one.column ?? ''))} />
          {query.columns.length > 0 && answer.tried.data !== undefined && (
            <QueryLedger query={query} ledger={answer.tried.data.ledger} isOn={spot.kind === 'condition'} />
          )}
        </div>
        <Unsaved isDirty={isDirty} mayLeave={() => isRemoved.current} onSave={() => void save()}>
          What you changed in this query has not been saved yet.
        </Unsaved>
      </main>
      <aside className="details" aria-label="Details" data-region="details">
        <QueryDetails query={query} spot={spot} onChange={edit} onSpot={setSpot} onRemove={() => void remove()} />
      </aside>
      <section className="proof" aria-label="Proof" data-region="proof">
        <Roller height={height} onHeight={setHeight} />
        <QueryProof query={query} answer={answer} spot={spot} onHead={(column) => (setSpot({ kind: 'column', id: column }), edit(orderedBy(query, column)))} />
      </section>
    </div>
  );
}
