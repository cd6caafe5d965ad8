import { useLayoutEffect, useRef } from 'react';
import { beforeEditor, type BeforeEditor, type Key } from './keys.js';

/**
 * Keys that came after one that had ended to edit a cell, while its editor was still loaded: they are pressed once the cell is left.
 * @param canPress whether what has the focus now is what the next key is for
 */
export function useHeldKeys(canPress: () => boolean) {
  const held = useRef<readonly Key[]>([]);
  useLayoutEffect(() => {
    while (canPress()) {
      const [next, ...rest] = held.current;
      if (next === undefined) return;
      held.current = rest;
      document.activeElement?.dispatchEvent(new KeyboardEvent('keydown', { ...next, bubbles: true, cancelable: true }));
    }
  });
  return {
    hold: (keys: readonly Key[]): void => {
      held.current = keys;
    },
    /** A cell that begins to be edited, after the keys that are still held: they are all for it. Null: one of them ends it again. */
    pressedOn: <C extends BeforeEditor>(cell: C): C | null => {
      let now: C | null = cell;
      while (now !== null && held.current.length > 0) {
        const [next, ...rest] = held.current;
        held.current = rest;
        const then: C | null | undefined = next === undefined ? undefined : beforeEditor<C>(now, next);
        if (then !== undefined) now = then;
      }
      return now;
    },
  };
}
