import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { PlusIcon, TrashIcon } from '@phosphor-icons/react';
import type { Dashboard } from '@bibliona/core';
import { useState } from 'react';
import { Navigate, useNavigate, useParams, useSearchParams } from 'react-router';
import { useApp } from '../../state/app.js';
import { useRemembered } from '../../state/remembered.js';
import { Empty } from '../../ui/Empty.js';
import { Roller } from '../../ui/Roller.js';
import { BareStation } from '../BareStation.js';
import { DraftSheet } from '../DraftSheet.js';
import { Shelf } from '../Shelf.js';
import { useDraft } from '../use-draft.js';
import { DetailsHead } from '../parts/DetailsHead.js';
import { DashboardDialog } from './DashboardDialog.js';
import { DashboardProof, useTriedTiles } from './DashboardProof.js';
import { TileDetails } from './TileDetails.js';
import { TileDialog } from './TileDialog.js';
import { TileGrid } from './TileGrid.js';
import { editTile, freePlace, placed, withoutTile, withTile } from './tile-draft.js';

/** Dashboards: tiles are on the sheet as they will be seen, on real records, and are dragged into their places. */
export default function DashboardsStation() {
  const app = useApp();
  const { dashboard: id } = useParams();
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const { dashboards } = app.design;
  const dashboard = dashboards.find((each) => each.id === id);
  const [first] = dashboards;
  const home = `/workshop/${app.id}/dashboards`;
  if (id === undefined && first !== undefined && !search.has('add')) return <Navigate to={`${home}/${first.id}`} replace />;
  const add = `${home}${id === undefined ? '' : `/${id}`}?add=dashboard`;
  const shelf = (
    <Shelf
      books={dashboards.map((each) => ({ ...each, to: `${home}/${each.id}`, words: each.tiles.map((tile) => tile.name), count: String(each.tiles.length) }))}
      selected={id}
      heading="Dashboards"
      find="Find a dashboard"
      none={{ at: 'No dashboards yet.', found: 'No dashboards match.' }}
      adds={[{ name: 'Dashboard', to: add }]}
    />
  );
  return (
    <>
      {dashboard !== undefined ? (
        <OpenDashboard key={dashboard.id} saved={dashboard} shelf={shelf} />
      ) : (
        <BareStation
          heading="Dashboards"
          shelf={shelf}
          title={id === undefined ? 'No dashboards yet.' : 'This dashboard no longer exists.'}
          hint="A dashboard shows figures and charts from your tables."
          adds={[{ name: 'Dashboard', to: add }]}
        />
      )}
      {search.get('add') === 'dashboard' && (
        <DashboardDialog onClose={() => setSearch({}, { replace: true })} onMade={(made) => void navigate(`${home}/${made}`)} />
      )}
    </>
  );
}

function OpenDashboard({ saved, shelf }: { readonly saved: Dashboard; readonly shelf: React.ReactNode }) {
  const app = useApp();
  const [height, setHeight] = useRemembered<number>('proof dashboards', 180);
  const [chosen, setChosen] = useState<string | null>(null);
  const [isAdding, setAdding] = useState(false);
  const draft = useDraft(saved, {
    put: (dashboard) => ({ kind: 'put', part: 'dashboard', value: dashboard }),
    remove: { kind: 'remove', part: 'dashboard', id: saved.id },
    back: `/workshop/${app.id}/dashboards`,
  });
  const { part: dashboard, edit } = draft;
  const tile = dashboard.tiles.find((each) => each.id === chosen);
  const tried = useTriedTiles(dashboard.tiles);
  const adds = (
    <Button startIcon={<PlusIcon />} onClick={() => setAdding(true)} disabled={app.design.tables.length === 0}>
      Tile
    </Button>
  );
  return (
    <div className="station" style={{ '--proof-h': `${height}px` } as React.CSSProperties}>
      {shelf}
      <DraftSheet
        draft={draft}
        what="dashboard"
        facts={`${dashboard.tiles.length} ${dashboard.tiles.length === 1 ? 'tile' : 'tiles'}`}
        desk={`/desk/${app.id}/d/${saved.id}`}
        adds={adds}
      >
        {dashboard.tiles.length === 0 ? (
          <Empty
            title="No tiles yet."
            action={
              <Button variant="contained" startIcon={<PlusIcon />} onClick={() => setAdding(true)} disabled={app.design.tables.length === 0}>
                Tile
              </Button>
            }
          >
            A tile shows one figure or a chart of your records.
          </Empty>
        ) : (
          <TileGrid dashboard={dashboard} tried={tried} chosen={chosen} onChoose={setChosen} onPlaces={(places) => edit(placed(dashboard, places))} />
        )}
      </DraftSheet>
      <aside className="details" aria-label="Details" data-region="details">
        {tile === undefined ? (
          <DashboardDetails dashboard={dashboard} onChange={edit} onRemove={() => void draft.remove()} />
        ) : (
          <TileDetails
            key={tile.id}
            tile={tile}
            dashboard={saved.id}
            isOpen={saved.tiles.find((each) => each.id === tile.id)?.public !== undefined}
            onChange={(next) => edit(editTile(dashboard, next))}
            onBack={() => setChosen(null)}
            onRemove={() => {
              setChosen(null);
              edit(withoutTile(dashboard, tile.id));
            }}
          />
        )}
      </aside>
      <section className="proof" aria-label="Proof" data-region="proof">
        <Roller height={height} onHeight={setHeight} />
        <DashboardProof tiles={dashboard.tiles} tried={tried} chosen={tile} onChoose={setChosen} />
      </section>
      {isAdding && (
        <TileDialog
          onClose={() => setAdding(false)}
          placeFor={(kind) => freePlace(dashboard.tiles, kind)}
          onMade={(made) => {
            setAdding(false);
            edit(withTile(dashboard, made));
            setChosen(made.id);
          }}
        />
      )}
    </div>
  );
}

function DashboardDetails(props: { readonly dashboard: Dashboard; readonly onChange: (dashboard: Dashboard) => void; readonly onRemove: () => void }) {
  const { dashboard, onChange, onRemove } = props;
  const set = (part: Partial<Dashboard>): void => onChange({ ...dashboard, ...part });
  return (
    <>
      <DetailsHead kind="Dashboard" title={dashboard.name} of={{ to: 'dashboard', id: dashboard.id }} />
      <div className="details-body details-form">
        <TextField label="Name" value={dashboard.name} onChange={(event) => set({ name: event.target.value })} required />
        <TextField label="Text below it" value={dashboard.description} onChange={(event) => set({ description: event.target.value })} multiline />
        <TextField label="Section of the shelf" value={dashboard.section} onChange={(event) => set({ section: event.target.value })} />
        {dashboard.tiles.length > 0 && <p className="q sm">Choose a tile to see its settings.</p>}
        <div className="details-foot">
          <Button startIcon={<TrashIcon />} onClick={onRemove}>
            Remove dashboard
          </Button>
        </div>
      </div>
    </>
  );
}
