import Button from '@mui/material/Button';
import { Link, Navigate } from 'react-router';
import { useApp } from '../state/app.js';
import { Empty } from '../ui/Empty.js';

/** Where the Desk opens: its first list. */
export default function DeskStart() {
  const app = useApp();
  const first = app.design.tables.find((table) => app.rights[table.id]?.see === true);
  if (first !== undefined) return <Navigate to={`/desk/${app.id}/${first.id}`} replace />;
  return (
    <Empty
      title="Here will stand the lists of this app."
      action={
        app.role === 'builder' ? (
          <Button variant="contained" component={Link} to={`/workshop/${app.id}/tables`}>
            To the Workshop
          </Button>
        ) : undefined
      }
    >
      {app.role === 'builder'
        ? 'It has no tables yet. Make the first one in the Workshop; its list and form are there at once.'
        : 'None of its lists is yours to see yet. Whoever builds the app can change that.'}
    </Empty>
  );
}
