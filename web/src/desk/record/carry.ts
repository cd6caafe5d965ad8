/**
 * A saved record is read anew, and its form begins anew with it. What was typed meanwhile goes on into the new form, and the
 * focus stays where it was.
 */
import { useEffect, useLayoutEffect, useRef } from 'react';
import type { UseFormReturn } from 'react-hook-form';
import type { RecordDraft, TypedValues } from './draft.js';
import { tellTyped } from '../../fields/typed.js';
import type { FormValues } from './use-record-form.js';

interface Carried {
  /** Which record it is for. */
  readonly record: string;
  readonly own: TypedValues;
  /** Of child rows, by their numbers. */
  readonly rows: readonly { readonly relationship: string; readonly id: number; readonly values: TypedValues }[];
  /** Of records that are referred to. */
  readonly referred: NonNullable<RecordDraft['referred']>;
  readonly focus: Focused | null;
}
/** An input by its name, with what is marked in it; or a button by its words. */
type Focused =
  | { readonly kind: 'input'; readonly name: string; readonly from: number | null; readonly to: number | null }
  | { readonly kind: 'button'; readonly says: string };
let carried: Carried | null = null;

const changedIn = (now: TypedValues, before: TypedValues): TypedValues =>
  Object.fromEntries(Object.entries(now).filter(([field, value]) => JSON.stringify(value) !== JSON.stringify(before[field])));

function lateIn(record: string, now: RecordDraft, saved: RecordDraft): Carried {
  const rows = Object.entries(now.children).flatMap(([relationship, all]) =>
    all.flatMap((row) => {
      const before = saved.children[relationship]?.find((one) => one.key === row.key);
      const values = row.id === null || before === undefined ? {} : changedIn(row.values, before.values);
      return row.id === null || Object.keys(values).length === 0 ? [] : [{ relationship, id: row.id, values }];
    }),
  );
  return { record, own: changedIn(now.own, saved.own), rows, referred: now.referred ?? {}, focus: focusNow() };
}

const wordsOf = (button: HTMLButtonElement): string => button.getAttribute('aria-label') ?? button.textContent;

function focusNow(): Focused | null {
  const at = document.activeElement;
  if (at instanceof HTMLButtonElement) return { kind: 'button', says: wordsOf(at) };
  const isText = at instanceof HTMLInputElement || at instanceof HTMLTextAreaElement;
  return isText && at.name !== '' ? { kind: 'input', name: at.name, from: at.selectionStart, to: at.selectionEnd } : null;
}

function focusAgain(focus: Focused): void {
  if (focus.kind === 'button') {
    // What lies behind a window is out of reach.
    const within = [...document.querySelectorAll('[role=dialog]')].at(-1) ?? document;
    [...within.querySelectorAll('button')].find((button) => wordsOf(button) === focus.says)?.focus();
    return;
  }
  const input = [...document.getElementsByName(focus.name)].find((one) => one instanceof HTMLInputElement || one instanceof HTMLTextAreaElement);
  input?.focus();
  if (focus.from !== null) input?.setSelectionRange(focus.from, focus.to);
}

/** @returns to be called with what a save has just written */
export function useCarried(record: string | null, form: UseFormReturn<FormValues>): (saved: RecordDraft) => void {
  const saved = useRef<RecordDraft | null>(null);
  // While the inputs are still there: afterwards nothing tells any more where the focus was.
  useLayoutEffect(
    () => () => {
      if (saved.current === null || record === null) return;
      tellTyped();
      carried = lateIn(record, form.getValues(), saved.current);
    },
    // A form is of one record for as long as it lives.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
    [],
  );
  // Before any key can be pressed: one that is pressed while nothing has the focus is lost.
  useLayoutEffect(() => {
    const focus = carried?.record === record ? carried.focus : null;
    if (focus !== null && document.activeElement === document.body) focusAgain(focus);
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  useEffect(() => {
    const here = carried;
    carried = null;
    if (here === null || here.record !== record) return;
    for (const [field, value] of Object.entries(here.own)) form.setValue(`own.${field}`, value, { shouldDirty: true });
    for (const { relationship, id, values } of here.rows) {
      const place = (form.getValues().children[relationship] ?? []).findIndex((row) => row.id === id);
      if (place < 0) continue;
      for (const [field, value] of Object.entries(values)) form.setValue(`children.${relationship}.${place}.values.${field}`, value, { shouldDirty: true });
    }
    if (Object.keys(here.referred).length > 0) form.setValue('referred', here.referred, { shouldDirty: true });
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  return (draft) => {
    saved.current = draft;
  };
}
