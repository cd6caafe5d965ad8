import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { partKind, whereUsed, type TargetName } from '@bibliona/core';
import { useId, useState } from 'react';
import { Link } from 'react-router';
import { useApp } from '../../state/app.js';
import { partPaths } from './part-paths.js';

/** The parts of the app that name this one, each with the way to it. */
export function WhereUsed({ to, id }: { readonly to: TargetName; readonly id: string }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const title = useId();
  return (
    <>
      <Button size="small" className="where-used" aria-haspopup="dialog" onClick={(event) => setAnchor(event.currentTarget)}>
        Where used
      </Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { className: 'uses', role: 'dialog', 'aria-labelledby': title } }}
      >
        <h2 id={title}>Where it is used</h2>
        {anchor !== null && <Uses to={to} id={id} onGone={() => setAnchor(null)} />}
      </Popover>
    </>
  );
}

function Uses({ to, id, onGone }: { readonly to: TargetName; readonly id: string; readonly onGone: () => void }) {
  const app = useApp();
  const uses = whereUsed(app.design, to, id);
  if (uses.length === 0) return <p className="q">Nothing else in this app uses it.</p>;
  return (
    <ul>
      {uses.map((use) => {
        const table = use.field === null ? undefined : app.design.tables.find((each) => each.id === use.id);
        const field = table?.fields.find((each) => each.id === use.field);
        const path = field === undefined ? partPaths[use.part](use.id, app.design) : `tables/${use.id}/fields/${field.id}`;
        return (
          <li key={`${use.part} ${use.id} ${use.field ?? ''}`}>
            <Link className="lk" to={`/workshop/${app.id}/${path}`} onClick={onGone}>
              {field === undefined ? use.name : `${field.name} of ${use.name}`}
            </Link>{' '}
            <span className="q">{field === undefined ? partKind(use.part).word : 'field'}</span>
            {use.places.map((place) => (
              <span key={place} className="use-place">
                {place}
              </span>
            ))}
          </li>
        );
      })}
    </ul>
  );
}
