import { tablesOfPage } from '@bibliona/core';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { ListIcon, MagnifyingGlassIcon } from '@phosphor-icons/react';
import { lazy, Suspense, useEffect, useState } from 'react';
import { Link, NavLink, Outlet, useLocation } from 'react-router';
import '../look/desk.js';
import { PersonMenu } from '../people/PersonMenu.js';
import { printCount, rolesInHand, useApp, useCounts } from '../state/app.js';
import { useLive } from '../state/live.js';
import { useLocaleIn } from '../state/locale.js';
import { lookedAs, stopLooking } from '../state/look-as.js';
import { useSession } from '../state/session.js';
import { Palette, usePalette } from '../ui/Palette.js';
import { useRegions } from '../ui/regions.js';
import { Shortcuts } from '../ui/Shortcuts.js';
import { Waiting } from '../ui/Waiting.js';
import { addressOf, shownOwnLists } from './own-list.js';
import { OwnSections, RecentRecords } from './OwnMenu.js';
import { AddingRecords } from './record/AddingRecords.js';
import { printWaiting, useWaiting } from './waiting/use-waiting.js';
import { sectionsOf } from '../state/sections.js';
import { menuEntries } from '../state/pages.js';
import { useMadeFiles } from '../state/made-files.js';

const MadeFiles = lazy(() => import('./MadeFiles.js'));

/** Whether one is at a page of the menu, or at a record of it: the address is below its own, and names the same list or form. */
function isAt(to: string, pathname: string, search: string): boolean {
  const [path = '', its = ''] = to.split('?');
  const named = (text: string): string => {
    const parts = new URLSearchParams(text);
    return parts.get('list') ?? parts.get('form') ?? '';
  };
  return (pathname === path || pathname.startsWith(`${path}/`)) && named(its) === named(search);
}

const marked = (isHere: boolean) => (isHere ? ({ className: 'on', 'aria-current': 'page' } as const) : {});

/** The side where people work: the green bar, the menu of lists, the work. */
export default function DeskFrame() {
  const app = useApp();
  useLocaleIn(app.design);
  useRegions();
  useLive({ followsDesign: true });
  const { person } = useSession();
  const counts = useCounts(app.id);
  const looking = lookedAs(app.id);
  // A builder's own files are not those of the person they look as.
  const hasFiles = useMadeFiles((state) => Object.values(state.asked).includes(app.id)) && looking === null;
  const waiting = printWaiting(useWaiting().data?.routes ?? []);
  const openPalette = usePalette((state) => state.open);
  const { pathname, search } = useLocation();
  const own = shownOwnLists(app).map((list) => ({ ...list, to: addressOf(app, list.of) }));
  const here = `${pathname}${search}`;
  const isOwn = own.some((list) => list.to === here);
  // The menu that covers a phone's screen belongs to the place where it was opened: going elsewhere closes it.
  const [menuAt, setMenuAt] = useState<string | null>(null);
  const isMenuOpen = menuAt === pathname;
  useEffect(() => {
    document.title = app.design.name;
  }, [app.design.name]);
  return (
    <div className={looking === null ? 'deskapp' : 'deskapp with-looking'}>
      {looking !== null && (
        <div className="looking" role="status">
          <span>
            You look as <b>{looking.name}</b>: this is what they see, and nothing is saved.
          </span>
          <Button variant="outlined" onClick={() => stopLooking(`/workshop/${app.id}/access`)}>
            Stop looking
          </Button>
        </div>
      )}
      <header className="deskbar" data-region="bar">
        <span className="menub">
          <IconButton aria-label="Menu" aria-expanded={isMenuOpen} onClick={() => setMenuAt(isMenuOpen ? null : pathname)}>
            <ListIcon size={20} />
          </IconButton>
        </span>
        <Link className="nm el" to={`/desk/${app.id}`}>
          {app.design.name}
        </Link>
        <button type="button" className="seek" onClick={openPalette} aria-label="Find a record">
          <MagnifyingGlassIcon size={16} />
          <span>Find a record</span>
          <span className="key">Ctrl K</span>
        </button>
        <div className="end">
          {app.role === 'builder' && (
            <Button variant="outlined" className="to-workshop" component={Link} to={`/workshop/${app.id}/tables`}>
              Workshop
            </Button>
          )}
          <PersonMenu hasShortcuts />
        </div>
      </header>
      <nav className={isMenuOpen ? 'menu open' : 'menu'} aria-label="Lists" data-region="menu">
        <div className="menu-lists">
          {app.moves && (
            <section>
              <NavLink to={`/desk/${app.id}/waiting`} className={({ isActive }) => (isActive ? 'on' : '')}>
                <span className="el">Waiting for me</span>
                <span className="k">{waiting}</span>
              </NavLink>
            </section>
          )}
          <OwnSections />
          {own.length > 0 && (
            <section>
              <h3>My lists</h3>
              {own.map((list) => (
                <Link key={list.id} to={list.to} {...marked(list.to === here)}>
                  <span className="el">{list.name}</span>
                </Link>
              ))}
            </section>
          )}
          {sectionsOf(menuEntries(app.design, app.id, app.menu, rolesInHand(app))).map((section) => (
            <section key={section.name}>
              <h3>{section.name === '' ? 'Lists' : section.name}</h3>
              {section.parts.map((entry) => (
                <Link key={entry.to} to={entry.to} {...marked(isAt(entry.to, pathname, search) && !isOwn)}>
                  <span className="el">{entry.name}</span>
                  {entry.page.kind === 'list' && entry.isOpening && (
                    <span className="k">{printCount(counts, tablesOfPage(app.design, entry.page)[0] ?? '')}</span>
                  )}
                </Link>
              ))}
            </section>
          ))}
          <RecentRecords />
        </div>
        <div className="who">
          You work as
          <b>{looking === null ? `${person?.name ?? ''}, ${app.role}` : looking.name}</b>
        </div>
      </nav>
      <main className="work" data-region="sheet">
        <Suspense fallback={<Waiting />}>
          <Outlet />
        </Suspense>
      </main>
      {hasFiles && (
        <Suspense>
          <MadeFiles app={app.id} />
        </Suspense>
      )}
      <AddingRecords />
      <Palette side="desk" />
      <Shortcuts />
    </div>
  );
}
