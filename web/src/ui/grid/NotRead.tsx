import { Note } from '../Note.js';

/** Says above rows that others could not be read. */
export function NotRead({ failure, again }: { readonly failure: string | null; readonly again: () => void }) {
  if (failure === null) return null;
  return (
    <Note
      kind="bad"
      action={
        <button type="button" className="btn bare" onClick={again}>
          Try again
        </button>
      }
    >
      {failure}
    </Note>
  );
}
