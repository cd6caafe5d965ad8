import Button from '@mui/material/Button';
import { Link, Navigate } from 'react-router';
import { useApp } from '../state/app.js';
import { menuEntries } from '../state/pages.js';
import { Empty } from '../ui/Empty.js';

/** Where the Desk opens: the first page of its menu. */
export default function DeskStart() {
  const app = useApp();
  const [first] = menuEntries(app.design, app.id, app.menu);
  if (first !== undefined) return <Navigate to={first.to} replace />;
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
