import Button from '@mui/material/Button';
import { isRouteErrorResponse, Link, useRouteError } from 'react-router';
import { ApiRefusal } from '../state/api.js';
import { Empty } from './Empty.js';

/** Where an address leads nowhere, or a screen could not be shown. */
export function Broken() {
  const error = useRouteError();
  // It is null where nothing was thrown: at an address that no screen has.
  const isNowhere = error === null || error === undefined || isRouteErrorResponse(error) || (error instanceof ApiRefusal && error.code === 'not_found');
  return (
    <main className="alone">
      <Empty
        isPage
        title={isNowhere ? "This page doesn't exist, or you don't have access to it." : 'This page could not be shown.'}
        action={
          <Button variant="contained" component={Link} to="/" reloadDocument>
            To my apps
          </Button>
        }
      >
        {error instanceof ApiRefusal
          ? error.message
          : isNowhere
            ? 'Check the address, or ask the person who sent it to you.'
            : 'Load it again; what was saved is safe.'}
      </Empty>
    </main>
  );
}
