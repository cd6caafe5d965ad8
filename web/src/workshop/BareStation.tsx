import Button from '@mui/material/Button';
import { PlusIcon } from '@phosphor-icons/react';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { useApp } from '../state/app.js';
import { Empty } from '../ui/Empty.js';

/** A station at which nothing is open: what would be here, and how to begin. */
export function BareStation(props: {
  readonly heading: string;
  readonly shelf: ReactNode;
  readonly title: string;
  /** What is made here, and what it is made from. */
  readonly hint: string;
  readonly adds: readonly { readonly name: string; readonly to: string }[];
}) {
  const { id, design } = useApp();
  const hasTables = design.tables.length > 0;
  return (
    <div className="station without-proof">
      {props.shelf}
      <main className="sheet" data-region="sheet">
        <div className="sheet-head">
          <h1>{props.heading}</h1>
        </div>
        <Empty
          title={props.title}
          action={
            hasTables ? (
              <div className="row">
                {props.adds.map(({ name, to }, i) => (
                  <Button key={to} variant={i === 0 ? 'contained' : 'outlined'} startIcon={<PlusIcon />} component={Link} to={to}>
                    {name}
                  </Button>
                ))}
              </div>
            ) : (
              <Button variant="contained" component={Link} to={`/workshop/${id}/tables`}>
                To the tables
              </Button>
            )
          }
        >
          {hasTables ? props.hint : `${props.hint} Make a table first.`}
        </Empty>
      </main>
      <aside className="details" aria-label="Details" data-region="details" />
    </div>
  );
}
