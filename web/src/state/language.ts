/**
 * The language of expressions at the Desk. It is larger than the rest of a form, so it is loaded after the form is shown, and
 * only where something is computed.
 */
import type * as Core from '@bibliona/core/language';
import { useEffect, useState } from 'react';

export type Language = typeof Core;

let loaded: Language | null = null;
let loading: Promise<Language> | null = null;

export function loadLanguage(): Promise<Language> {
  loading ??= import('@bibliona/core/language').then(
    (all) => (loaded = all),
    (error: unknown) => {
      // The next caller tries again.
      loading = null;
      throw error;
    },
  );
  return loading;
}

/** For what is only done after `loadLanguage`. */
export function language(): Language {
  if (loaded === null) throw new Error('The language of expressions is not loaded yet');
  return loaded;
}

/** In milliseconds: how long a screen that is never idle keeps the language waiting. */
const longestWait = 1000;

/** Does something when the screen has been drawn and nothing else is to be done. Returns what cancels it. */
function whenIdle(work: () => void): () => void {
  // Not every browser has it.
  if (!('requestIdleCallback' in window)) {
    const timer = setTimeout(work, longestWait / 2);
    return () => clearTimeout(timer);
  }
  const handle = window.requestIdleCallback(work, { timeout: longestWait });
  return () => window.cancelIdleCallback(handle);
}

/** Null until it is there; what shows it is then drawn again. */
export function useLanguage(): Language | null {
  const [there, setThere] = useState(loaded);
  useEffect(() => {
    if (there !== null) return undefined;
    let isShown = true;
    const cancel = whenIdle(() => {
      loadLanguage().then(
        (all) => isShown && setThere(all),
        () => undefined,
      );
    });
    return () => {
      isShown = false;
      cancel();
    };
  }, [there]);
  return there;
}
