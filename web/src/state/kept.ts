/** What is kept in this browser until it is dealt with or no longer of use, of the person who is signed in here. */
const prefix = 'bibliona kept ';
/** In milliseconds: what nobody came back to for so long is let go. */
const longest = 30 * 24 * 60 * 60 * 1000;
/** In characters. More would leave no room for anything else. */
const largest = 500_000;

const keys = (): readonly string[] => Array.from({ length: localStorage.length }, (_, i) => localStorage.key(i) ?? '').filter((key) => key.startsWith(prefix));

export function keep<T extends { readonly at: number }>(name: string, value: T): void {
  const text = JSON.stringify(value);
  if (text.length > largest) return;
  try {
    localStorage.setItem(prefix + name, text);
  } catch {
    // The browser keeps no more: then it is as it was without it.
  }
}
export const letGo = (name: string): void => localStorage.removeItem(prefix + name);
/** Everything, when its person signs out. */
export const letGoOfAll = (): void => keys().forEach((key) => localStorage.removeItem(key));

/** Null: nothing is kept under this name, or nothing that is still of use. */
export function readKept<T extends { readonly at: number }>(name: string): T | null {
  const text = localStorage.getItem(prefix + name);
  if (text === null) return null;
  try {
    const stored = JSON.parse(text) as T;
    if (Date.now() - stored.at < longest) return stored;
  } catch {
    // Somebody else wrote there.
  }
  letGo(name);
  return null;
}
