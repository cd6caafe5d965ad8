import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { Note } from '../ui/Note.js';
import { Unsaved } from '../ui/Unsaved.js';
import type { Draft } from './use-draft.js';

/** The sheet on which a part of the design is worked on: its name and facts, saving and giving up, and below them itself. */
export function DraftSheet(props: {
  readonly draft: Omit<Draft<{ readonly name: string }>, 'edit'>;
  /** What it is called in a sentence: "query". */
  readonly what: string;
  readonly facts: ReactNode;
  /** Where it is worked with. */
  readonly desk: string;
  readonly adds?: ReactNode;
  readonly className?: string;
  readonly children: ReactNode;
}) {
  const { draft, what } = props;
  return (
    <main className={`sheet ${props.className ?? ''}`} data-region="sheet">
      <div className="sheet-head">
        <h1 className="el">{draft.part.name}</h1>
        <span className="q el">{props.facts}</span>
        <div className="end">
          {props.adds}
          {draft.isDirty && <Button onClick={draft.discard}>Discard changes</Button>}
          <Button component={Link} to={props.desk}>
            On the Desk
          </Button>
          <Button variant="contained" onClick={() => void draft.save()} loading={draft.isSending} disabled={!draft.isDirty}>
            Save {what}
          </Button>
        </div>
      </div>
      {draft.problem !== null && <Note kind="bad">{draft.problem}</Note>}
      {props.children}
      <Unsaved isDirty={draft.isDirty} mayLeave={draft.mayLeave} onSave={() => void draft.save()}>
        What you changed in this {what} has not been saved yet.
      </Unsaved>
    </main>
  );
}
