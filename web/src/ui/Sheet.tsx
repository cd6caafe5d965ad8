import Dialog from '@mui/material/Dialog';
import type { FormEvent, ReactNode } from 'react';

/** A small form of its own: a title, its fields, one contained button. Enter sends it, Esc leaves it. */
export function FormDialog(props: {
  readonly title: string;
  readonly says?: string;
  readonly onClose: () => void;
  readonly onSubmit: () => void;
  readonly children: ReactNode;
  readonly foot: ReactNode;
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
        <div className="dialog-fields">{props.children}</div>
        <div className="ask-foot">{props.foot}</div>
      </form>
    </Dialog>
  );
}
