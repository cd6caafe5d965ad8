import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { PersonMenu } from '../people/PersonMenu.js';
import { Mark } from '../ui/Mark.js';

/** The frame of the pages that belong to no app: my apps, my profile, the server. */
export function HomeFrame({ title, end, children }: { readonly title: string; readonly end?: ReactNode; readonly children: ReactNode }) {
  return (
    <div className="apps">
      <header className="bar">
        <Link className="app" to="/" aria-label="My apps">
          <Mark />
          <b>Bibliona</b>
        </Link>
        <div className="grow" />
        <div className="tools">
          <PersonMenu />
        </div>
      </header>
      <main className="apps-body">
        <div className="sheet-head">
          <h1>{title}</h1>
          <div className="end">{end}</div>
        </div>
        {children}
      </main>
    </div>
  );
}
