import Button from '@mui/material/Button';
import { Link, useParams, useRouteError } from 'react-router';
import type { Table } from '@bibliona/core';
import { useApp, useRights } from '../state/app.js';
import { leadsNowhere, NotShown } from '../ui/Broken.js';
import { Empty } from '../ui/Empty.js';

/** In place of a page of the Desk that is not there for this person. Whether it exists for others is not told. */
export function NotHere({ what }: { readonly what: string }) {
  const { app } = useParams();
  return (
    <Empty
      isPage
      title={`This ${what} doesn't exist, or you don't have access to it.`}
      action={
        <Button variant="outlined" component={Link} to={`/desk/${app ?? ''}`}>
          Go to the first page
        </Button>
      }
    >
      Check the address, or ask the person who builds this app.
    </Empty>
  );
}

/** In place of a record that was there when it was opened. It comes back by itself where it is restored. */
export function GoneRecord({ table, caption }: { readonly table: Table; readonly caption: string }) {
  const app = useApp();
  const { see, remove } = useRights(table.id);
  return (
    <Empty
      isPage
      title={`${caption} is no longer here`}
      action={
        <div className="row">
          <Button variant="outlined" component={Link} to={`/desk/${app.id}${see ? `/${table.id}` : ''}`}>
            {see ? `Go to ${table.name}` : 'Go to the first page'}
          </Button>
          {see && remove && (
            <Button component={Link} to={`/desk/${app.id}/${table.id}/removed`}>
              Removed from {table.name}
            </Button>
          )}
        </div>
      }
    >
      Someone removed it, or you no longer have access to it.
    </Empty>
  );
}

/** In place of the form for a new record, for a person who can't add any. */
export function CannotAdd({ table }: { readonly table: Table }) {
  const app = useApp();
  const { see } = useRights(table.id);
  return (
    <Empty
      isPage
      title={`You can't add records to ${table.name}`}
      action={
        <Button variant="outlined" component={Link} to={`/desk/${app.id}${see ? `/${table.id}` : ''}`}>
          {see ? `Go to ${table.name}` : 'Go to the first page'}
        </Button>
      }
    >
      You don't have permission to. Ask a builder of this app.
    </Empty>
  );
}

/** What became of a page of the Desk that could not be shown: the bar and the menu stay around it. */
export function BrokenPage() {
  const error = useRouteError();
  const { record } = useParams();
  return leadsNowhere(error) ? <NotHere what={record === undefined ? 'page' : 'record'} /> : <NotShown error={error} />;
}
