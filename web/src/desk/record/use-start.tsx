import type { OpenRecord } from '@bibliona/core';
import { useState, type ReactNode } from 'react';
import { useFormState } from 'react-hook-form';
import { useLocation } from 'react-router';
import { create } from 'zustand';
import { useActs } from '../../state/moves.js';
import { Note } from '../../ui/Note.js';
import { JustDone, type Done } from '../list/JustDone.js';
import { useLeavingIfGone } from './leave-if-gone.js';
import type { FormValues } from './form-values.js';

/** What was run last, and where: the form begins anew with what that changed in its record, and still says so. */
const useJustRun = create<{ readonly done: Done | null; readonly at: string }>(() => ({ done: null, at: '' }));
const forget = (): void => useJustRun.setState({ done: null, at: '' });

/** Runs automations for the record in the form, and says what came of it. */
export function useStart(table: string, open: OpenRecord) {
  const { isDoing, problem, act } = useActs();
  const leaveIfGone = useLeavingIfGone(table, open);
  const { isDirty } = useFormState<FormValues>();
  const [isUnsaved, setUnsaved] = useState(false);
  const { id, rev } = open.record;
  const { key } = useLocation();
  const justRun = useJustRun();
  const start = (automation: { readonly id: string; readonly name: string }): void => {
    const at = `${key} ${automation.id}`;
    forget();
    setUnsaved(isDirty);
    if (isDirty) return;
    void act({ kind: 'start', table, id, rev, automation: automation.id }, async (save) => {
      useJustRun.setState({ done: { save, message: `${automation.name}: done.` }, at });
      await leaveIfGone();
    });
  };
  /** What came of an automation that was run here. */
  const saysOf = (automation: string): ReactNode => {
    if (problem !== null) return <Note kind="bad">{problem}</Note>;
    if (isUnsaved && isDirty) return <Note kind="look">Save your changes first, then run it.</Note>;
    return justRun.done !== null && justRun.at === `${key} ${automation}` && !isDirty ? <JustDone done={justRun.done} onClose={forget} /> : null;
  };
  return { isDoing, saysOf, start };
}
