/**
 * What was typed in a form and not saved, kept in this browser while it is there: a closed tab, a crash or a lost connection
 * do not lose it. It goes when it is saved, given up or left, and when its person signs out.
 */
import { useCallback, useEffect, useState } from 'react';
import type { UseFormReturn } from 'react-hook-form';
import { keep, letGo, readKept } from '../../state/kept.js';
import type { RecordDraft } from './draft.js';
import type { FormValues } from './form-values.js';

export interface KeptDraft {
  /** In milliseconds since 1970. */
  readonly at: number;
  /** Of the record when it was opened; null: a new one. */
  readonly rev: number | null;
  readonly start: RecordDraft;
  readonly values: RecordDraft;
}

/** In milliseconds. */
const pause = 400;

/** @param name of the record, and of who types; null: nothing is kept */
export function useKeptDraft(name: string | null, form: UseFormReturn<FormValues>, base: () => Pick<KeptDraft, 'rev' | 'start'>) {
  const [found, setFound] = useState<KeptDraft | null>(() => (name === null ? null : readKept<KeptDraft>(name)));
  const forget = useCallback((): void => {
    if (name !== null) letGo(name);
    setFound(null);
  }, [name]);
  const { subscribe, getValues } = form;
  useEffect(() => {
    if (name === null) return undefined;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let isTyped = false;
    const end = subscribe({
      formState: { values: true, isDirty: true },
      callback: ({ isDirty }) => {
        clearTimeout(timer);
        timer = setTimeout(() => {
          if (isDirty !== true) return;
          isTyped = true;
          keep<KeptDraft>(name, { at: Date.now(), ...base(), values: getValues() });
        }, pause);
      },
    });
    return () => {
      clearTimeout(timer);
      end();
      // Whoever leaves a form within the page in which they typed has saved it, or was asked.
      if (isTyped) letGo(name);
    };
    // The form and its record are the same as long as it lives.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [name, subscribe, getValues]);
  return { found, forget };
}
