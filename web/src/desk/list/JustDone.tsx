import { useState } from 'react';
import { Note } from '../../ui/Note.js';
import { TakeBack } from '../record/TakeBack.js';

/** What a save has done to records of a list. */
export interface Done {
  readonly save: string;
  readonly message: string;
}

/** Says what a save has done, and takes it back. */
export function JustDone({
  done,
  onClose,
  restores,
}: {
  readonly done: Done;
  readonly onClose: () => void;
  /** What comes back, where a record does. */ readonly restores?: string;
}) {
  const [isAsking, setAsking] = useState(false);
  const words = restores === undefined ? {} : { title: `Restore ${restores}?`, verb: 'Restore' };
  return (
    <>
      <Note
        kind="good"
        action={
          <>
            <button type="button" className="btn bare" onClick={() => setAsking(true)}>
              {words.verb ?? 'Undo'}
            </button>
            <button type="button" className="btn bare" onClick={onClose}>
              Close
            </button>
          </>
        }
      >
        {done.message}
      </Note>
      {isAsking && <TakeBack save={done.save} {...words} onClose={() => setAsking(false)} onDone={onClose} />}
    </>
  );
}
