import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import { contract, type Dashboard, type Tile } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams } from 'react-router';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { Empty } from '../../ui/Empty.js';
import { Note } from '../../ui/Note.js';
import { ResultRows } from '../../ui/ResultRows.js';
import { labelWords, type Point } from '../../ui/tiles/point-words.js';
import { TileView } from '../../ui/tiles/TileView.js';
import { Waiting } from '../../ui/Waiting.js';
import { Favourite } from '../Favourite.js';
import { NotHere } from '../NotHere.js';

/** A dashboard at work: tiles in their places; a press on what they show opens the records behind it. */
export default function DashboardScreen() {
  const app = useApp();
  const { dashboard: id = '' } = useParams();
  const dashboard = app.design.dashboards.find((each) => each.id === id);
  if (dashboard === undefined) return <NotHere what="dashboard" />;
  // On a phone the tiles are below each other, in the order in which one reads them.
  const tiles = [...dashboard.tiles].sort((a, b) => a.place.y - b.place.y || a.place.x - b.place.x);
  return (
    <div className="list-screen">
      <header className="list-head">
        <h1>{dashboard.name}</h1>
        <div className="end">
          <Favourite link={{ kind: 'page', page: { kind: 'dashboard', dashboard: dashboard.id } }} />
        </div>
      </header>
      {dashboard.description !== '' && <p className="q query-says">{dashboard.description}</p>}
      {tiles.length === 0 && <Empty title="No tiles yet.">A builder can add figures and charts in the Workshop.</Empty>}
      <div className="tiles">
        {tiles.map((tile) => (
          <div
            key={tile.id}
            className="tile-place"
            style={{ gridColumn: `${tile.place.x + 1} / span ${tile.place.w}`, gridRow: `${tile.place.y + 1} / span ${tile.place.h}` }}
          >
            <LiveTile dashboard={dashboard} tile={tile} />
          </div>
        ))}
      </div>
    </div>
  );
}

function LiveTile({ dashboard, tile }: { readonly dashboard: Dashboard; readonly tile: Tile }) {
  const app = useApp();
  const [open, setOpen] = useState<{ readonly point: Point | null } | null>(null);
  const answer = useQuery({
    queryKey: keys.tile(app.id, dashboard.id, tile.id),
    queryFn: ({ signal }) => call(contract.readTile, { params: { app: app.id, dashboard: dashboard.id, tile: tile.id }, signal }),
    retry: false,
  });
  const { data } = answer;
  const named = open === null || open.point === null || data?.kind !== 'series' ? '' : `, ${labelWords(data)(open.point.label)}`;
  return (
    <>
      <TileView tile={tile} answer={data} problem={answer.isError ? messageOf(answer.error) : null} onPoint={(point) => setOpen({ point })} />
      {open !== null && (
        <Behind
          title={`${tile.name}${named}`}
          dashboard={dashboard.id}
          tile={tile.id}
          label={open.point === null ? '' : JSON.stringify(open.point.label)}
          onClose={() => setOpen(null)}
        />
      )}
    </>
  );
}

const most = 200;

/** The records of which a figure or a point is made. */
function Behind(props: { readonly title: string; readonly dashboard: string; readonly tile: string; readonly label: string; readonly onClose: () => void }) {
  const { title, dashboard, tile, label, onClose } = props;
  const app = useApp();
  const answer = useQuery({
    queryKey: keys.behind(app.id, dashboard, tile, label),
    queryFn: ({ signal }) => call(contract.readBehind, { params: { app: app.id, dashboard, tile }, query: { label, limit: most }, signal }),
    retry: false,
  });
  const { data } = answer;
  return (
    <Dialog open onClose={onClose} aria-labelledby="behind-title" transitionDuration={0} slotProps={{ paper: { className: 'dialog behind' } }}>
      <div className="behind-head">
        <h2 id="behind-title" className="el">
          {title}
        </h2>
        <span className="q" role="status">
          {data !== undefined &&
            (data.rows.length >= most ? `the first ${most} records` : `${data.rows.length} ${data.rows.length === 1 ? 'record' : 'records'}`)}
        </span>
        <Button onClick={onClose}>Close</Button>
      </div>
      <div className="behind-rows" tabIndex={0} role="group" aria-label="Records">
        {answer.isError && <Note kind="bad">{messageOf(answer.error)}</Note>}
        {answer.isPending && <Waiting />}
        {data !== undefined && data.rows.length > 0 && <ResultRows result={data} table={data.table} />}
        {data !== undefined && data.rows.length === 0 && <Empty title="No records match this value now." />}
      </div>
    </Dialog>
  );
}
