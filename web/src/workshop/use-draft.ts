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
}

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
  const [draft, setDraft] = useState<Part | null>(null);
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
    edit: (next) => (setDraft(next), setProblem(null)),
    discard: () => (setDraft(null), setProblem(null)),
    save: async () => {
      if (!isDirty) return;
      setSending(true);
      const outcome = await change(parts.put(part));
      setSending(false);
      if (outcome === true) setDraft(null);
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
