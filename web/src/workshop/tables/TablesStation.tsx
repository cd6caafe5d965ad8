import { shownTables } from '@bibliona/core';
import Button from '@mui/material/Button';
import { FileArrowUpIcon, GitForkIcon, PlusIcon } from '@phosphor-icons/react';
import { usePrefetchQuery } from '@tanstack/react-query';
import { lazy, Suspense, useEffect } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { useApp } from '../../state/app.js';
import { useRemembered } from '../../state/remembered.js';
import { lazyBrought } from '../../ui/brought.js';
import { startElkAhead } from '../../ui/elk-worker.js';
import { Empty } from '../../ui/Empty.js';
import { StarterLinks } from './StarterLinks.js';
import { Roller } from '../../ui/Roller.js';
import { Waiting } from '../../ui/Waiting.js';
import { layoutQuery } from './diagram-layout.js';
import { drawnOf } from './drawn-design.js';
import { loadDiagram } from './load-diagram.js';
import { TableShelf } from './TableShelf.js';
import { placementQuery } from './use-placement.js';

const Diagram = lazyBrought(loadDiagram);
startElkAhead();

// The diagram is drawn before what is beside it.
const AppDetails = lazy(() => import('./AppDetails.js'));
// The language of expressions comes with these: they are loaded once the diagram is drawn, or when one of them is opened.
const [loadDetails, loadProof] = [() => import('./TableDetails.js'), () => import('./TableProof.js')];
const [loadTableDialog, loadRelationshipDialog] = [() => import('./TableDialog.js'), () => import('./RelationshipDialog.js')];
const forLater = [loadDetails, loadProof, loadTableDialog, loadRelationshipDialog, () => import('./NoteDialog.js'), () => import('./SectionDialog.js')];
const TableDetails = lazy(loadDetails);
const TableProof = lazy(loadProof);
const TableDialog = lazy(loadTableDialog);
const RelationshipDialog = lazy(loadRelationshipDialog);
/** In milliseconds: by then the diagram is drawn. */
const whenDrawn = 1500;

/** Tables, fields and relationships: the diagram is the table list and the plan at once. */
export default function TablesStation() {
  const app = useApp();
  const { table: tableId, field: fieldId } = useParams();
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const [proofHeight, setProofHeight] = useRemembered<number>('proof tables', 276);
  usePrefetchQuery(layoutQuery(drawnOf(app)));
  usePrefetchQuery(placementQuery(app.id));
  useEffect(() => {
    const timer = setTimeout(() => {
      for (const load of forLater) void load().catch(() => undefined);
    }, whenDrawn);
    return () => clearTimeout(timer);
  }, []);
  const table = app.design.tables.find((each) => each.id === tableId);
  const add = search.get('add');
  const closeDialog = (): void => setSearch({}, { replace: true });
  const openTable = (id: string): void => void navigate(`/workshop/${app.id}/tables/${id}`);
  const tables = shownTables(app.design);
  const isEmpty = tables.length === 0;
  return (
    <div className={table === undefined ? 'station without-proof' : 'station'} style={{ '--proof-h': `${proofHeight}px` } as React.CSSProperties}>
      <TableShelf selected={tableId} />
      <main className="sheet" data-region="sheet">
        <div className="sheet-head">
          <h1>Relationships between the tables</h1>
          {!isEmpty && (
            <span className="q el">
              {tables.length} {tables.length === 1 ? 'table' : 'tables'}
            </span>
          )}
          {!isEmpty && (
            <div className="end">
              <Button startIcon={<FileArrowUpIcon />} component={Link} to={`/workshop/${app.id}/import`}>
                Spreadsheet
              </Button>
              <Button startIcon={<GitForkIcon />} onClick={() => setSearch({ add: 'relationship' })}>
                Relationship
              </Button>
              <Button variant="contained" startIcon={<PlusIcon />} onClick={() => setSearch({ add: 'table' })}>
                Table
              </Button>
            </div>
          )}
        </div>
        {isEmpty ? (
          <Empty
            title="No tables yet."
            action={
              <>
                <div className="row">
                  <Button variant="contained" startIcon={<PlusIcon />} onClick={() => setSearch({ add: 'table' })}>
                    Table
                  </Button>
                  <Button variant="outlined" startIcon={<FileArrowUpIcon />} component={Link} to={`/workshop/${app.id}/import`}>
                    Start with a spreadsheet
                  </Button>
                </div>
                <StarterLinks />
              </>
            }
          >
            A table holds one kind of thing, such as people, places or orders. Start with the one you use most.
          </Empty>
        ) : (
          <Suspense fallback={<Waiting />}>
            <Diagram selected={tableId} onSelect={openTable} onConnect={(parent, child) => setSearch({ add: 'relationship', parent, child })} />
          </Suspense>
        )}
      </main>
      <aside className="details" aria-label="Details" data-region="details">
        {/* A boundary of its own for either: else the first table that is opened would be waited for with nothing said. */}
        <Suspense key={table === undefined ? 'app' : 'table'} fallback={<Waiting />}>
          {table === undefined ? !isEmpty && <AppDetails key={app.version} /> : <TableDetails key={table.id} table={table} fieldId={fieldId} />}
        </Suspense>
      </aside>
      {table !== undefined && (
        <section className="proof" aria-label="Proof" data-region="proof">
          <Roller height={proofHeight} onHeight={setProofHeight} />
          <Suspense fallback={<Waiting />}>
            <TableProof key={table.id} table={table} fieldId={fieldId} />
          </Suspense>
        </section>
      )}
      <Suspense>
        {add === 'table' && <TableDialog onClose={closeDialog} onMade={openTable} />}
        {add === 'relationship' && (
          <RelationshipDialog parent={search.get('parent') ?? undefined} child={search.get('child') ?? tableId} onClose={closeDialog} onMade={openTable} />
        )}
      </Suspense>
    </div>
  );
}
