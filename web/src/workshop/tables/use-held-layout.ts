import { useEffect, useRef, useState, type RefObject } from 'react';
import type { Layout } from './diagram-layout.js';

/** The layout that is shown: one that comes while something in the frame is pressed waits until it is let go, so that no card moves away under the pointer. */
export function useHeldLayout(newest: Layout | undefined, frame: RefObject<HTMLElement | null>): Layout | undefined {
  const [shown, setShown] = useState(newest);
  const isPressed = useRef(false);
  useEffect(() => {
    const box = frame.current;
    const press = (): void => {
      isPressed.current = true;
    };
    const letGo = (): void => {
      isPressed.current = false;
    };
    box?.addEventListener('pointerdown', press, { capture: true });
    window.addEventListener('pointerup', letGo);
    window.addEventListener('pointercancel', letGo);
    return () => {
      box?.removeEventListener('pointerdown', press, { capture: true });
      window.removeEventListener('pointerup', letGo);
      window.removeEventListener('pointercancel', letGo);
    };
  }, [frame]);
  useEffect(() => {
    if (!isPressed.current) {
      setShown(newest);
      return;
    }
    // What the press does comes first.
    const later = (): unknown => setTimeout(() => setShown(newest));
    window.addEventListener('pointerup', later, { once: true });
    window.addEventListener('pointercancel', later, { once: true });
    return () => {
      window.removeEventListener('pointerup', later);
      window.removeEventListener('pointercancel', later);
    };
  }, [newest]);
  return shown;
}
