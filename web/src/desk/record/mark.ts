/** What a save was refused for, at its places in the form. */
import { useEffect } from 'react';
import { useFormContext, useFormState, type Control, type FieldError, type UseFormReturn } from 'react-hook-form';
import type { DraftIssue } from './draft.js';
import type { FormValues } from './form-values.js';

/** Of each form what has an input on it, by its path; for a column of child rows without the row. */
const places = new WeakMap<Control<FormValues>, Map<object, readonly string[]>>();
const placesIn = (control: Control<FormValues>): Map<object, readonly string[]> => {
  const known = places.get(control) ?? new Map<object, readonly string[]>();
  places.set(control, known);
  return known;
};

/** Says that there are inputs at these paths, for as long as what uses it is on the form. */
export function useInputsAt(...paths: readonly string[]): void {
  const { control } = useFormContext<FormValues>();
  const all = paths.join('\n');
  useEffect(() => {
    const known = placesIn(control);
    const key = {};
    known.set(key, all.split('\n'));
    return () => void known.delete(key);
  }, [control, all]);
}

const ofField = /^own\.|\.values\./u;
const inRow = /^(children\.[^.]+)\.(?<row>\d+)(?:\.values)?/u;

/**
 * Marks each field that is wrong, and moves the focus to the first. Child rows scroll to theirs by themselves: a row has inputs only while it is edited.
 * @returns sentences about what is wrong with fields that are not on the form
 */
export function mark(form: UseFormReturn<FormValues>, marks: readonly DraftIssue[]): readonly string[] {
  const shown = new Set([...placesIn(form.control).values()].flat());
  const isShown = ({ path }: DraftIssue): boolean => shown.has(path.replace(inRow, '$1'));
  const placed = marks.filter(isShown);
  for (const [i, { path, message }] of placed.entries()) form.setError(path as never, { message }, { shouldFocus: i === 0 && path.startsWith('own.') });
  form.setError('root.marked', { type: 'marked' });
  return marks
    .filter((each) => !isShown(each))
    .map(({ path, message }) => {
      const row = inRow.exec(path)?.groups?.['row'];
      const where = ofField.test(path) ? (row === undefined ? ' (not on this form)' : ' (not in the rows of this form)') : '';
      return `${row === undefined ? '' : `Row ${Number(row) + 1}: `}${message.replace(/\.$/u, '')}${where}.`;
    });
}

/** Another one each time that a save was refused: then what is wrong is brought into sight, and not when it is only left. */
export const useMarked = (): FieldError | undefined => useFormState<FormValues>().errors.root?.['marked'] as FieldError | undefined;
