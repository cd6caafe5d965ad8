/** What a save was refused for, at its places in the form. */
import { useFormState, type FieldError, type UseFormReturn } from 'react-hook-form';
import type { DraftIssue } from './draft.js';
import type { FormValues } from './form-values.js';

/** Says at its place what is wrong, and goes to the first. Rows bring theirs into sight themselves: they have inputs only while they are worked on. */
export function mark(form: UseFormReturn<FormValues>, marks: readonly DraftIssue[]): void {
  for (const [i, { path, message }] of marks.entries()) form.setError(path as never, { message }, { shouldFocus: i === 0 && path.startsWith('own.') });
  form.setError('root.marked', { type: 'marked' });
}

/** Another one each time that a save was refused: then what is wrong is brought into sight, and not when it is only left. */
export const useMarked = (): FieldError | undefined => useFormState<FormValues>().errors.root?.['marked'] as FieldError | undefined;
