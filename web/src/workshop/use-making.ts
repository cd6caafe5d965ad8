import type { DesignChange, PartName } from '@bibliona/core';
import { useState } from 'react';
import { useDesignChange } from '../state/design.js';

/**
 * A new part of the design as a dialog asks for it: sent once, and what is wrong with it said where it was written. `part` is
 * its kind: when its name is taken, this is said at the name.
 */
export function useMaking(part: PartName | 'field') {
  const { change } = useDesignChange();
  const [problem, setProblem] = useState<{ readonly at: string; readonly text: string } | null>(null);
  const [isSending, setSending] = useState(false);
  return {
    isSending,
    /** What is wrong at a place of the dialog; `form`: with all of it. */
    problemAt: (place: string): string | undefined => (problem?.at === place ? problem.text : undefined),
    say: (at: string, text: string): void => setProblem({ at, text }),
    clear: (): void => setProblem(null),
    /** Sends the changes; `done` when they were made. */
    make: async (changes: readonly DesignChange[], done: () => void): Promise<void> => {
      setSending(true);
      const outcome = await change(...changes);
      if (outcome === true) return done();
      setSending(false);
      setProblem({ at: outcome.nameTaken === part ? 'name' : 'form', text: outcome.text });
    },
  };
}
