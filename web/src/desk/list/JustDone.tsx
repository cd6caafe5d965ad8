import { useState } from 'react';
import { Note } from '../../ui/Note.js';
import { TakeBack } from '../record/TakeBack.js';

// One save takes no more writes.
export const mostChosen = 2000;

/** What was done to records that were chosen in a list. */
export interface Done {
  readonly save: string;
  readonly says: string;
}

/** Says what was done to many records, and undoes it. */
export function JustDone({ done, onClose }: { readonly done: Done; readonly onClose: () => void }) {
  const [isAsking, setAsking] = useState(false);
  return (
    <>
      <Note
        kind="good"
        action={
          <>
            <button type="button" className="btn bare" onClick={() => setAsking(true)}>
              Undo
            </button>
            <button type="button" className="btn bare" onClick={onClose}>
              Close
            </button>
          </>
        }
      >
        {done.says}
      </Note>
      {isAsking && <TakeBack save={done.save} onClose={() => setAsking(false)} onDone={onClose} />}
    </>
  );
}
