import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import { useId, useState, type FormEvent, type ReactNode } from 'react';
import { Ask } from './Ask.js';
import { Note } from './Note.js';

/** A small form of its own: a title, its fields, one contained button. Enter sends it, Esc leaves it. */
export function FormDialog(props: {
  readonly title: string;
  readonly intro?: string;
  readonly onClose: () => void;
  readonly onSubmit: () => void;
  readonly children: ReactNode;
  /** What the button that sends it says. */
  readonly verb: string;
  /** What the button that leaves it says. */
  readonly cancel?: string;
  readonly isSending: boolean;
  /** What is wrong with all of it. */
  readonly problem?: string | undefined;
  /** To the question before. */
  readonly onBack?: (() => void) | undefined;
  /** It has been sent, and what came of it is here: there is nothing left to leave. */
  readonly isDone?: boolean;
  /** There is more in it than a column of inputs. */
  readonly isWide?: boolean;
}) {
  // Escape and a click beside it come by mistake: where something was typed, leaving is asked about.
  const [isTyped, setTyped] = useState(false);
  const [isAsking, setAsking] = useState(false);
  // One can be over another.
  const titleId = useId();
  const slip = (): void => (isTyped && props.isDone !== true ? setAsking(true) : props.onClose());
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    props.onSubmit();
  };
  return (
    <Dialog
      open
      onClose={slip}
      aria-labelledby={titleId}
      transitionDuration={0}
      slotProps={{ paper: { className: props.isWide === true ? 'dialog wide' : 'dialog' } }}
    >
      <form className="ask" onSubmit={submit} onInput={() => setTyped(true)} noValidate>
        <h2 id={titleId}>{props.title}</h2>
        {props.intro !== undefined && <p className="q">{props.intro}</p>}
        <div className="dialog-fields">
          {props.children}
          {props.problem !== undefined && <Note kind="bad">{props.problem}</Note>}
        </div>
        <div className="ask-foot">
          {props.onBack !== undefined && <Button onClick={props.onBack}>Back</Button>}
          {props.isDone !== true && <Button onClick={props.onClose}>{props.cancel ?? 'Cancel'}</Button>}
          <Button type="submit" variant="contained" loading={props.isSending}>
            {props.verb}
          </Button>
        </div>
      </form>
      {isAsking && (
        <Ask title="Leave without sending?" verb="Leave" keep="Go on" onAnswer={(yes) => (setAsking(false), yes ? props.onClose() : undefined)}>
          What you entered here will be lost.
        </Ask>
      )}
    </Dialog>
  );
}
