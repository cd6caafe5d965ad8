import type { OpenRecord } from '@bibliona/core';
import { useState, type ReactNode } from 'react';
import { useFormState } from 'react-hook-form';
import { useLocation } from 'react-router';
import { create } from 'zustand';
import { useActs } from '../../state/moves.js';
import { Note } from '../../ui/Note.js';
import { useLeavingIfGone } from './leave-if-gone.js';
import type { FormValues } from './use-record-form.js';

/** What was run last, and where: the form begins anew with what that changed in its record, and still says so. */
const useJustRun = create<{ readonly name: string; readonly at: string }>(() => ({ name: '', at: '' }));

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
    useJustRun.setState({ name: '', at: '' });
    setUnsaved(isDirty);
    if (isDirty) return;
    void act({ kind: 'start', table, id, rev, automation: automation.id }, async () => {
      useJustRun.setState({ name: automation.name, at });
      await leaveIfGone();
    });
  };
  /** What came of an automation that was run here. */
  const saysOf = (automation: string): ReactNode => {
    if (problem !== null) return <Note kind="bad">{problem}</Note>;
    if (isUnsaved && isDirty) return <Note kind="look">Save your changes first, then run it.</Note>;
    return justRun.at === `${key} ${automation}` && !isDirty ? <Note kind="good">{justRun.name}: done.</Note> : null;
  };
  return { isDoing, saysOf, start };
}
