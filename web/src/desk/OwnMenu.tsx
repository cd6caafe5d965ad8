import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { ListDashesIcon } from '@phosphor-icons/react';
import { lazy, Suspense, useState } from 'react';
import { Link, useLocation } from 'react-router';
import { useApp } from '../state/app.js';
import { shownRecord, useOwnMenu, type ShownLink } from '../state/own-menu.js';
import { shownLink } from './shown-link.js';

// Few arrange it, and seldom.
const OwnMenuDialog = lazy(() => import('./OwnMenuDialog.js'));

/** What somebody has put into the menu for themselves, in sections of their own. */
export function OwnSections() {
  const app = useApp();
  const { pathname, search } = useLocation();
  const { menu, mayKeep } = useOwnMenu();
  const [isArranging, setArranging] = useState(false);
  if (menu === undefined) return null;
  const here = `${pathname}${search}`;
  return (
    <>
      {menu.sections.map((section, i) => (
        <section key={i} className="own-section">
          <h3>{section.name}</h3>
          {i === 0 && mayKeep && (
            <Tooltip title="Arrange my menu">
              <IconButton size="small" aria-label="Arrange my menu" onClick={() => setArranging(true)}>
                <ListDashesIcon size={14} />
              </IconButton>
            </Tooltip>
          )}
          {section.links.map((link, at) => {
            const shown = shownLink(app, menu, link);
            return shown !== null && <OwnLink key={at} {...shown} isHere={shown.to === here} />;
          })}
        </section>
      ))}
      {isArranging && (
        <Suspense>
          <OwnMenuDialog menu={menu} onClose={() => setArranging(false)} />
        </Suspense>
      )}
    </>
  );
}

/** As many as are seen at a glance. */
const mostRecent = 5;

/** The records that were opened last; the one that is open needs no way to it. */
export function RecentRecords() {
  const app = useApp();
  const { pathname } = useLocation();
  const { menu } = useOwnMenu();
  const recent = (menu?.recent ?? []).map((record) => shownRecord(app, record));
  const others = recent.filter(({ to }) => to !== pathname).slice(0, mostRecent);
  if (others.length === 0) return null;
  return (
    <section>
      <h3>Opened last</h3>
      {others.map((shown) => (
        <OwnLink key={shown.to} {...shown} isHere={false} />
      ))}
    </section>
  );
}

/** Names of records are as long as they are: they wrap, and what they are records of stands beside them. */
function OwnLink({ name, of, to, isHere }: ShownLink & { readonly isHere: boolean }) {
  return (
    <Link to={to} className={`${of === '' ? '' : 'to-record'} ${isHere ? 'on' : ''}`} {...(isHere ? { 'aria-current': 'page' } : {})}>
      <span className={of === '' ? 'el' : 'called'}>{name}</span>
      <span className="k">{of}</span>
    </Link>
  );
}
