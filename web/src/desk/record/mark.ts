/** What a save was refused for, at its places in the form. */
import { useEffect } from 'react';
import { get, useFormContext, useFormState, type Control, type FieldError, type UseFormReturn } from 'react-hook-form';
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

type Marking = Pick<UseFormReturn<FormValues>, 'control' | 'setError' | 'setFocus' | 'getFieldState'>;

/** Brings what is wrong at this path into sight, with the focus there. Child rows do so by themselves: a row has inputs only while it is edited. */
function goTo(form: Marking, path: string): void {
  form.setError('root.marked', { type: 'marked', message: path });
  // Its tab is shown first.
  if (!path.startsWith('children.')) requestAnimationFrame(() => form.setFocus(path as never));
}

/**
 * Marks each field that is wrong, and goes to the first.
 * @returns sentences about what is wrong with fields that are not on the form
 */
export function mark(form: Marking, marks: readonly DraftIssue[]): readonly string[] {
  const shown = [...placesIn(form.control).values()].flat();
  const placeOf = ({ path }: DraftIssue): number => shown.indexOf(path.replace(inRow, '$1'));
  const isShown = (issue: DraftIssue): boolean => placeOf(issue) >= 0;
  const placed = marks.filter(isShown);
  for (const { path, message } of placed) form.setError(path as never, { message });
  const [first] = placed.toSorted((a, b) => placeOf(a) - placeOf(b));
  if (first !== undefined) goTo(form, first.path);
  return marks
    .filter((each) => !isShown(each))
    .map(({ path, message }) => {
      const row = inRow.exec(path)?.groups?.['row'];
      const where = ofField.test(path) ? (row === undefined ? ' (not on this form)' : ' (not in the rows of this form)') : '';
      return `${row === undefined ? '' : `Row ${Number(row) + 1}: `}${message.replace(/\.$/u, '')}${where}.`;
    });
}

/** Goes once more to the first value that is wrong. */
export function goToFirst(form: Marking): void {
  const first = [...placesIn(form.control).values()].flat().find((path) => {
    const [, rows = '', field = ''] = /^(children\.[^.]+)\.(.+)$/u.exec(path) ?? [];
    const at: unknown = form.getFieldState((rows === '' ? path : rows) as never).error;
    return rows === '' ? at !== undefined : Array.isArray(at) && at.some((row) => get(row, `values.${field}`) !== undefined);
  });
  if (first !== undefined) goTo(form, first);
}

/** Another one each time that something wrong is to be brought into sight, with the path of it; what is only left is not. */
export const useMarked = (): FieldError | undefined => useFormState<FormValues>().errors.root?.['marked'] as FieldError | undefined;
