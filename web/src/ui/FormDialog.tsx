import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import type { FormEvent, ReactNode } from 'react';
import { Note } from './Note.js';

/** A small form of its own: a title, its fields, one contained button. Enter sends it, Esc leaves it. */
export function FormDialog(props: {
  readonly title: string;
  readonly says?: string;
  readonly onClose: () => void;
  readonly onSubmit: () => void;
  readonly children: ReactNode;
  /** What the button that sends it says. */
  readonly verb: string;
  readonly isSending: boolean;
  /** What is wrong with all of it. */
  readonly problem?: string | undefined;
  /** To the question before. */
  readonly onBack?: (() => void) | undefined;
  /** It has been sent, and what came of it stands here: there is nothing left to leave. */
  readonly isDone?: boolean;
}) {
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    props.onSubmit();
  };
  return (
    <Dialog open onClose={props.onClose} aria-labelledby="dialog-title" transitionDuration={0} slotProps={{ paper: { className: 'dialog' } }}>
      <form className="ask" onSubmit={submit} noValidate>
        <h2 id="dialog-title">{props.title}</h2>
        {props.says !== undefined && <p className="q">{props.says}</p>}
        <div className="dialog-fields">
          {props.children}
          {props.problem !== undefined && <Note kind="bad">{props.problem}</Note>}
        </div>
        <div className="ask-foot">
          {props.onBack !== undefined && <Button onClick={props.onBack}>Back</Button>}
          {props.isDone !== true && <Button onClick={props.onClose}>Not now</Button>}
          <Button type="submit" variant="contained" loading={props.isSending}>
            {props.verb}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
