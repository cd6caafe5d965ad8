import { useEffect, useRef, useState, type RefObject } from 'react';
import { useShortcut } from '../../state/shortcuts.js';

/**
 * Whether a record is only read for now, in a form that says so. The focus goes along: into the form, and back to the button
 * that opens it.
 * @param canRead the form is read first, and there is something to change
 * @param isSaved it was saved just now: it is drawn anew, and the input that had the focus is gone
 */
export function useReading({ canRead, isDirty, isSaved }: { readonly canRead: boolean; readonly isDirty: boolean; readonly isSaved: boolean }): {
  readonly isReading: boolean;
  readonly isChanging: boolean;
  readonly setChanging: (isChanging: boolean) => void;
  /** The form, within which the focus goes. */
  readonly main: RefObject<HTMLFormElement | null>;
} {
  const [isChanging, setChanging] = useState(false);
  const isReading = canRead && !isChanging && !isDirty;
  useShortcut('change', isReading ? () => setChanging(true) : null);
  const main = useRef<HTMLFormElement>(null);
  const wasReading = useRef(isReading && !isSaved);
  useEffect(() => {
    if (wasReading.current === isReading) return;
    wasReading.current = isReading;
    const next = isReading ? '.record-head .change' : '.fields-grid :is(input, textarea, [role=combobox])';
    main.current?.querySelector<HTMLElement>(next)?.focus();
  }, [isReading]);
  return { isReading, isChanging, setChanging, main };
}
