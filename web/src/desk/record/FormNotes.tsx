import { useFormState } from 'react-hook-form';
import { locale } from '../../state/locale.js';
import { Note } from '../../ui/Note.js';
import type { KeptDraft } from './kept-draft.js';
import type { FormValues } from './form-values.js';
import type { SaveState } from './use-record-form.js';

/** Over a form: what was typed here before, and what is wrong with what is typed now. */
export function FormNotes(props: { readonly kept: KeptDraft | null; readonly bringBack: () => void; readonly forget: () => void; readonly state: SaveState }) {
  const { kept, bringBack, forget, state } = props;
  const problems = problemCount(useFormState<FormValues>().errors);
  return (
    <>
      {kept !== null && (
        <Note
          kind="look"
          action={
            <>
              <button type="button" className="btn bare" onClick={bringBack}>
                Restore them
              </button>
              <button type="button" className="btn bare" onClick={forget}>
                Discard them
              </button>
            </>
          }
        >
          You made changes here that were not saved ({locale().moment(kept.at)}).
        </Note>
      )}
      {state.kind === 'incorrect' && problems > 0 && (
        <Note
          kind="bad"
          action={
            <button type="button" className="btn bare" onClick={() => focusFirstProblem()}>
              Go to the first
            </button>
          }
        >
          {problems === 1 ? 'One value needs correction.' : `${problems} values need correction.`} Nothing was saved.
        </Note>
      )}
      {state.kind === 'incorrect' && state.others.length > 0 && (
        <Note kind="bad">
          {problems === 0 && 'Nothing was saved. '}
          {state.others.join(' ')}
        </Note>
      )}
      {state.kind === 'refused' && <Note kind="bad">{state.message}</Note>}
    </>
  );
}

function problemCount(errors: object): number {
  if ('message' in errors && typeof errors.message === 'string') return 1;
  return Object.entries(errors).reduce(
    (sum, [key, inner]) => sum + (key !== 'ref' && key !== 'root' && typeof inner === 'object' && inner !== null ? problemCount(inner as object) : 0),
    0,
  );
}

const focusFirstProblem = (): void => document.querySelector<HTMLElement>('.record-main [aria-invalid=true]')?.focus();
