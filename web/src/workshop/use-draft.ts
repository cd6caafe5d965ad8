import type { DesignChange } from '@bibliona/core';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { useDesignChange } from '../state/design.js';

/** A part of the design while it is being worked on: saved by a press, cancelled, or removed. */
export interface Draft<Part> {
  readonly part: Part;
  readonly isDirty: boolean;
  readonly isSending: boolean;
  /** Why the last attempt to save or remove it failed. */
  readonly problem: string | null;
  readonly edit: (next: Part) => void;
  readonly discard: () => void;
  readonly save: () => Promise<void>;
  readonly remove: () => Promise<void>;
  /** True while it is being removed: then there is nothing left to lose. */
  readonly mayLeave: () => boolean;
  /** Goes back and on through the edits since it was saved; null where there is none. */
  readonly undo: (() => void) | null;
  readonly redo: (() => void) | null;
}

interface Edits<Part> {
  /** Null: as it is saved. */
  readonly draft: Part | null;
  readonly past: readonly (Part | null)[];
  readonly future: readonly (Part | null)[];
  readonly lastAt: number;
}
const untouched = { draft: null, past: [], future: [], lastAt: 0 };
const mostUndone = 100;
/** In milliseconds. */
const oneEdit = 400;

export function useDraft<Part>(
  saved: Part,
  parts: {
    readonly put: (part: Part) => DesignChange;
    readonly remove: DesignChange;
    /** Where one is when it is gone. */ readonly back: string;
  },
): Draft<Part> {
  const { change } = useDesignChange();
  const navigate = useNavigate();
  const [{ draft, past, future }, setEdits] = useState<Edits<Part>>(untouched);
  const [problem, setProblem] = useState<string | null>(null);
  const [isSending, setSending] = useState(false);
  const isRemoved = useRef(false);
  const part = draft ?? saved;
  const isDirty = draft !== null && JSON.stringify(draft) !== JSON.stringify(saved);
  return {
    part,
    isDirty,
    isSending,
    problem,
    edit: (next) => {
      setEdits(({ draft: now, past: before, lastAt }) => {
        const at = Date.now();
        // Keys that follow each other closely are one edit to undo.
        const isSame = now !== null && at - lastAt < oneEdit;
        return { draft: next, past: isSame ? before : [...before, now].slice(-mostUndone), future: [], lastAt: at };
      });
      setProblem(null);
    },
    discard: () => (setEdits(untouched), setProblem(null)),
    undo: past.length === 0 ? null : () => setEdits({ draft: past.at(-1) ?? null, past: past.slice(0, -1), future: [draft, ...future], lastAt: 0 }),
    redo: future.length === 0 ? null : () => setEdits({ draft: future[0] ?? null, past: [...past, draft], future: future.slice(1), lastAt: 0 }),
    save: async () => {
      if (!isDirty) return;
      setSending(true);
      const outcome = await change(parts.put(part));
      setSending(false);
      if (outcome === true) setEdits(untouched);
      setProblem(outcome === true ? null : outcome.text);
    },
    remove: async () => {
      isRemoved.current = true;
      const outcome = await change(parts.remove);
      if (outcome === true) return void navigate(parts.back);
      isRemoved.current = false;
      setProblem(outcome.text);
    },
    mayLeave: () => isRemoved.current,
  };
}
