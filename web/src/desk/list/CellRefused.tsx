import { Note } from '../../ui/Note.js';
import type { RefusedCell } from './use-cell-save.js';

/** Says why a cell was not saved. @param onAgain called with what was typed, to enter it again */
export function CellRefused(props: { readonly refused: RefusedCell; readonly onAgain: (text: string | null) => void; readonly onDismiss: () => void }) {
  const { refused, onAgain, onDismiss } = props;
  return (
    <Note
      kind="bad"
      action={
        <>
          <button type="button" className="btn bare" onClick={() => onAgain(typeof refused.typed === 'string' ? refused.typed : null)}>
            Enter it again
          </button>
          <button type="button" className="btn bare" onClick={onDismiss}>
            Leave it as it was
          </button>
        </>
      }
    >
      {refused.field.name} of record {refused.record} was not saved: {refused.message}
    </Note>
  );
}
