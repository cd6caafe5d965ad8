import { useSyncExternalStore } from 'react';
import { flushSync } from 'react-dom';

/**
 * A page goes to paper as the screen shows it, without what is there to be pressed (see print.css), in the light colours
 * and with all of its rows: those out of sight are drawn while it is printed.
 */
let isPrinting = false;
let theme: string | null = null;
const listeners = new Set<() => void>();

function begin(): void {
  const { documentElement: page } = document;
  isPrinting = true;
  theme = page.getAttribute('data-theme');
  page.setAttribute('data-theme', 'light');
  flushSync(() => listeners.forEach((listener) => listener()));
}
function end(): void {
  isPrinting = false;
  if (theme !== null) document.documentElement.setAttribute('data-theme', theme);
  for (const listener of listeners) listener();
}

window.addEventListener('beforeprint', begin);
window.addEventListener('afterprint', end);

export const printPage = (): void => window.print();

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Whether the page is being printed. */
export const useIsPrinting = (): boolean => useSyncExternalStore(subscribe, () => isPrinting);
