import Button from '@mui/material/Button';
import { Link, Navigate } from 'react-router';
import { rolesInHand, useApp } from '../state/app.js';
import { menuEntries } from '../state/pages.js';
import { Empty } from '../ui/Empty.js';

/** Where the Desk opens: the first page of its menu. */
export default function DeskStart() {
  const app = useApp();
  const [first] = menuEntries(app.design, app.id, app.menu, rolesInHand(app));
  if (first !== undefined) return <Navigate to={first.to} replace />;
  return (
    <Empty
      title="No lists yet."
      action={
        app.role === 'builder' ? (
          <Button variant="contained" component={Link} to={`/workshop/${app.id}/tables`}>
            To the Workshop
          </Button>
        ) : undefined
      }
    >
      {app.role === 'builder'
        ? 'This app has no tables. Make the first one in the Workshop. Its list and form appear here.'
        : "You don't have access to any list. Ask a builder of this app."}
    </Empty>
  );
}
