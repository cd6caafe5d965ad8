import { useEffect } from 'react';

/** What a pressed key asks for; in an input it is the input's own. */
export function undoAsked(event: KeyboardEvent): 'undo' | 'redo' | null {
  const typing = event.target instanceof HTMLElement && (event.target.isContentEditable || /^(?:INPUT|TEXTAREA|SELECT)$/u.test(event.target.tagName));
  if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z' || typing) return null;
  return event.shiftKey ? 'redo' : 'undo';
}

/**
 * Gives the keys for undo and redo to what was done last on a sheet and is no change of the app yet. Where there is nothing (null),
 * they are for the changes of the app.
 */
export function useUndoKeys(undo: (() => void) | null, redo: (() => void) | null): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      const asked = undoAsked(event);
      const step = asked === null ? null : { undo, redo }[asked];
      if (step === null) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      step();
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, [undo, redo]);
}
