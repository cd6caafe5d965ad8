/** Typing in a large form: a key is drawn at once, and the form is told of it when typing pauses. */
import { useCallback, useEffect, useRef, useState } from 'react';

/** In milliseconds. */
const pause = 100;
/** What forms are to be told yet. */
const waiting = new Set<() => void>();

/** Whether something has been typed that its form does not know yet. */
export const isTyping = (): boolean => waiting.size > 0;

/** Tells forms at once what was typed: before a save, which is made of what they know. */
export function tellTyped(): void {
  for (const tell of [...waiting]) tell();
}

/**
 * The text of an input, and how it is changed. The form library copies all values of the form each time that it is told of
 * one, which in a form of very many rows takes longer than a key may.
 */
export function useTyped(value: string, onChange: (text: string) => void): readonly [string, (text: string) => void, () => void] {
  const [typed, setTyped] = useState(value);
  const [seen, setSeen] = useState(value);
  const [told, setTold] = useState(value);
  if (seen !== value) {
    setSeen(value);
    // What the form says by itself is taken over, and not its echo: more might have been typed since.
    if (value !== told) setTyped(value);
  }
  const pending = useRef<string | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const latest = useRef(onChange);
  useEffect(() => {
    latest.current = onChange;
  });
  const tell = useCallback((): void => {
    waiting.delete(tell);
    clearTimeout(timer.current);
    const text = pending.current;
    pending.current = null;
    if (text === null) return;
    setTold(text);
    latest.current(text);
  }, []);
  const type = (text: string): void => {
    setTyped(text);
    pending.current = text;
    waiting.add(tell);
    clearTimeout(timer.current);
    timer.current = setTimeout(tell, pause);
  };
  useEffect(() => tell, [tell]);
  return [typed, type, tell];
}
