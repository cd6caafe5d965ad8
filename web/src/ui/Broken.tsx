import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import { isRouteErrorResponse, Link, useRouteError } from 'react-router';
import { ApiRefusal } from '../state/api.js';
import { Empty } from './Empty.js';

/** Whether what was thrown says that an address leads nowhere. */
export const leadsNowhere = (error: unknown): boolean => isRouteErrorResponse(error) || (error instanceof ApiRefusal && error.code === 'not_found');

/** Where an address leads nowhere, or a screen could not be shown. */
export function Broken() {
  const error = useRouteError();
  // It is null where nothing was thrown: at an address that no screen has.
  const isNowhere = error === null || error === undefined || leadsNowhere(error);
  const toApps = (isMain: boolean) => (
    <Button variant={isMain ? 'contained' : 'outlined'} component={Link} to="/" reloadDocument>
      To my apps
    </Button>
  );
  return (
    <main className="alone">
      {isNowhere ? (
        <Empty isPage title="This page doesn't exist, or you don't have access to it." action={toApps(true)}>
          {error instanceof ApiRefusal ? error.message : 'Check the address, or ask the person who sent it to you.'}
        </Empty>
      ) : (
        <NotShown error={error} other={toApps(false)} />
      )}
    </main>
  );
}

/** In the place of a page that could not be shown: mostly because a script of it could not be loaded. `other`: what else to do. */
export function NotShown({ error, other }: { readonly error: unknown; readonly other?: ReactNode }) {
  return (
    <Empty
      isPage
      title="This page could not be shown."
      action={
        <div className="row">
          <Button variant="contained" onClick={() => window.location.reload()}>
            Load it again
          </Button>
          {other}
        </div>
      }
    >
      {error instanceof ApiRefusal ? error.message : 'Perhaps the connection broke, or Bibliona has been updated. What was saved is safe.'}
    </Empty>
  );
}
