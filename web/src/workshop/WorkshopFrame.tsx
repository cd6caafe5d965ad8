import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { ArrowRightIcon, ArrowUUpLeftIcon, ArrowUUpRightIcon, ClockCounterClockwiseIcon, MagnifyingGlassIcon } from '@phosphor-icons/react';
import { Suspense, useEffect } from 'react';
import { Link, Navigate, Outlet } from 'react-router';
import '../look/workshop/frame.css';
import '../look/workshop/shelf.css';
import '../look/workshop/details.css';
import '../look/workshop/proof.css';
import '../look/workshop/diagram.css';
import '../look/workshop/table-proof.css';
import '../look/workshop/import.css';
import '../look/workshop/versions.css';
import '../look/workshop/narrow.css';
import '../look/workshop/expressions.css';
import '../look/workshop/queries.css';
import '../look/workshop/access.css';
import { PersonMenu } from '../people/PersonMenu.js';
import { useApp } from '../state/app.js';
import { useDesignChange } from '../state/design.js';
import { useLive } from '../state/live.js';
import { Mark } from '../ui/Mark.js';
import { Palette, usePalette } from '../ui/Palette.js';
import { Waiting } from '../ui/Waiting.js';
import { DesignNotices } from './DesignNotices.js';
import { undoAsked } from './use-undo-keys.js';
import { Workline } from './Workline.js';
import { useRegions } from '../ui/regions.js';
import { useLocaleIn } from '../state/locale.js';

/** The side where an app is designed: the bar with the workline above, the station below. */
export default function WorkshopFrame() {
  const app = useApp();
  useLocaleIn(app.design);
  const { step } = useDesignChange();
  const openPalette = usePalette((state) => state.open);
  useRegions();
  // A draft is saved on the design that it was begun with, so that two builders see when they meet.
  useLive({ followsDesign: false });
  useEffect(() => {
    document.title = `${app.design.name} · Workshop`;
    const onKey = (event: KeyboardEvent): void => {
      const asked = undoAsked(event);
      if (asked === null) return;
      event.preventDefault();
      void step(asked);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
  if (app.role !== 'builder') return <Navigate to={`/desk/${app.id}`} replace />;
  return (
    <div className="workshop">
      <header className="bar" data-region="bar">
        <Link className="app" to="/" aria-label={`${app.design.name}, Workshop: to my apps`}>
          <Mark />
          <div className="grow">
            <b className="el">{app.design.name}</b>
            <span>Workshop</span>
          </div>
        </Link>
        <Workline />
        <div className="tools">
          <Button aria-label="Search or run a command" onClick={openPalette} startIcon={<MagnifyingGlassIcon />}>
            <span className="key">Ctrl K</span>
          </Button>
          <Tooltip title={app.undo === null ? 'Nothing to undo' : `Undo: ${app.undo}`}>
            <span>
              <IconButton aria-label="Undo" disabled={app.undo === null} onClick={() => void step('undo')}>
                <ArrowUUpLeftIcon size={16} />
              </IconButton>
            </span>
          </Tooltip>
          <Tooltip title={app.redo === null ? 'Nothing to redo' : `Redo: ${app.redo}`}>
            <span>
              <IconButton aria-label="Redo" disabled={app.redo === null} onClick={() => void step('redo')}>
                <ArrowUUpRightIcon size={16} />
              </IconButton>
            </span>
          </Tooltip>
          <Tooltip title="Versions of the app">
            <IconButton aria-label="Versions of the app" component={Link} to={`/workshop/${app.id}/versions`}>
              <ClockCounterClockwiseIcon size={16} />
            </IconButton>
          </Tooltip>
          <span className="gap" />
          <Button variant="outlined" className="go" component={Link} to={`/desk/${app.id}`} endIcon={<ArrowRightIcon size={16} />}>
            Desk
          </Button>
          <PersonMenu />
        </div>
      </header>
      <Suspense fallback={<Waiting />}>
        <Outlet />
      </Suspense>
      <DesignNotices />
      <Palette side="workshop" />
    </div>
  );
}
