import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import type { ReactNode } from 'react';

/** A question before something that cannot simply be undone. The safe answer has the focus. */
export function Ask(props: {
  readonly title: string;
  readonly children: ReactNode;
  readonly verb: string;
  readonly keep: string;
  readonly onAnswer: (yes: boolean) => void;
}) {
  const { title, children, verb, keep, onAnswer } = props;
  return (
    <Dialog open onClose={() => onAnswer(false)} aria-labelledby="ask-title" transitionDuration={0}>
      <div className="ask">
        <h2 id="ask-title">{title}</h2>
        <div className="ask-text">{children}</div>
        <div className="ask-foot">
          <Button autoFocus onClick={() => onAnswer(false)}>
            {keep}
          </Button>
          <Button variant="contained" color="error" className="danger" onClick={() => onAnswer(true)}>
            {verb}
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
