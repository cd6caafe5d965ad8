/**
 * A saved record is read anew, and its form begins anew with it. What was typed meanwhile goes on into the new form, and the
 * focus stays where it was.
 */
import { useEffect, useLayoutEffect, useRef, type RefObject } from 'react';
import type { UseFormReturn } from 'react-hook-form';
import type { RecordDraft } from './draft.js';
import { tellTyped } from '../../fields/typed.js';
import type { FormValues } from './form-values.js';
import { lateIn, rowsWith, type Late } from './late.js';

interface Carried extends Late {
  /** Which record it is for. */
  readonly record: string;
  readonly focus: Focused | null;
  /** Whether saving was asked for once more. */
  readonly savesAgain: boolean;
}
/** An input by its name, with what is marked in it; or a button by its words. */
type Focused =
  | { readonly kind: 'input'; readonly name: string; readonly from: number | null; readonly to: number | null }
  | { readonly kind: 'button'; readonly label: string };
let carried: Carried | null = null;

const wordsOf = (button: HTMLButtonElement): string => button.getAttribute('aria-label') ?? button.textContent;

function focusNow(): Focused | null {
  const at = document.activeElement;
  if (at instanceof HTMLButtonElement) return { kind: 'button', label: wordsOf(at) };
  const isText = at instanceof HTMLInputElement || at instanceof HTMLTextAreaElement;
  return isText && at.name !== '' ? { kind: 'input', name: at.name, from: at.selectionStart, to: at.selectionEnd } : null;
}

/** Gives the focus back, unless it is somewhere by now: on the page as a whole, or on the window around, it is nowhere. */
function focusAgain(focus: Focused): void {
  const isFree = (target: Element): boolean => document.activeElement?.contains(target) !== false;
  if (focus.kind === 'button') {
    // What lies behind a window is out of reach.
    const within = [...document.querySelectorAll('[role=dialog]')].at(-1) ?? document;
    const button = [...within.querySelectorAll('button')].find((each) => wordsOf(each) === focus.label);
    if (button !== undefined && isFree(button)) button.focus();
    return;
  }
  const input = [...document.getElementsByName(focus.name)].find((element) => element instanceof HTMLInputElement || element instanceof HTMLTextAreaElement);
  if (input === undefined || !isFree(input)) return;
  input.focus();
  if (focus.from !== null) input.setSelectionRange(focus.from, focus.to);
}

/** What a save has written. */
export interface JustSaved {
  readonly record: string;
  readonly draft: RecordDraft;
  /** The number that a child row got, by its relationship and its place in the draft. */
  readonly idOf: (relationship: string, index: number) => number | undefined;
}

/**
 * @param record null: a new one
 * @param asks whether saving is asked for while a save is under way
 * @param onAgain saves once more, in the form that goes on
 * @returns to be called when a save is done
 */
export function useCarried(record: string | null, form: UseFormReturn<FormValues>, asks: RefObject<boolean>, onAgain: () => void): (saved: JustSaved) => void {
  const saved = useRef<JustSaved | null>(null);
  // While the inputs are still there: afterwards nothing tells any more where the focus was.
  useLayoutEffect(
    () => () => {
      if (saved.current === null) return;
      tellTyped();
      const { record: now, draft, idOf } = saved.current;
      carried = { record: now, ...lateIn(form.getValues(), draft, idOf), focus: focusNow(), savesAgain: asks.current };
    },
    // A form is of one record for as long as it lives.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
    [],
  );
  // Before any key can be pressed: one that is pressed while nothing has the focus is lost.
  useLayoutEffect(() => {
    const focus = carried?.record === record ? carried.focus : null;
    if (focus !== null) focusAgain(focus);
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  useEffect(() => {
    const here = carried;
    carried = null;
    if (here === null || here.record !== record) return;
    for (const [field, value] of Object.entries(here.own)) form.setValue(`own.${field}`, value, { shouldDirty: true });
    for (const [relationship, rows] of Object.entries(rowsWith(here, form.getValues().children)))
      form.setValue(`children.${relationship}`, [...rows], { shouldDirty: true });
    if (Object.keys(here.referred).length > 0) form.setValue('referred', here.referred, { shouldDirty: true });
    // The other parts of the form first tell what they require.
    if (here.savesAgain) void Promise.resolve().then(onAgain);
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  return (now) => {
    saved.current = now;
  };
}
