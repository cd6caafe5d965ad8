import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { ArrowUUpLeftIcon, ArrowUUpRightIcon } from '@phosphor-icons/react';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { Note } from '../ui/Note.js';
import { Unsaved } from '../ui/Unsaved.js';
import type { Draft } from './use-draft.js';
import { useUndoKeys } from './use-undo-keys.js';

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
  useUndoKeys(draft.undo, draft.redo);
  return (
    <main className={`sheet ${props.className ?? ''}`} data-region="sheet">
      <div className="sheet-head">
        <h1 className="el">{draft.part.name}</h1>
        <span className="q el">{props.facts}</span>
        <div className="end">
          {props.adds}
          {(draft.undo !== null || draft.redo !== null) && (
            <>
              <Tooltip title="Undo the last edit (Ctrl Z)">
                <span>
                  <IconButton aria-label="Undo the last edit" disabled={draft.undo === null} onClick={() => draft.undo?.()}>
                    <ArrowUUpLeftIcon size={16} />
                  </IconButton>
                </span>
              </Tooltip>
              <Tooltip title="Redo (Ctrl Shift Z)">
                <span>
                  <IconButton aria-label="Redo the edit" disabled={draft.redo === null} onClick={() => draft.redo?.()}>
                    <ArrowUUpRightIcon size={16} />
                  </IconButton>
                </span>
              </Tooltip>
            </>
          )}
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
