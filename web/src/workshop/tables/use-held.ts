import { useEffect, useRef, useState, type RefObject } from 'react';

/** The newest value. While something in the frame is pressed it stays the one before, so that no card moves away under the pointer. */
export function useHeld<T>(newest: T, frame: RefObject<HTMLElement | null>): T {
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

/** The height of the frame in pixels, followed in steps that are larger than a message above it: 0 until it is drawn. */
export function useHeight(frame: RefObject<HTMLElement | null>, step: number): number {
  const [height, setHeight] = useState(0);
  useEffect(() => {
    const { current: box } = frame;
    if (box === null) return undefined;
    const observer = new ResizeObserver(() => setHeight((before) => (Math.abs(box.clientHeight - before) > step ? box.clientHeight : before)));
    observer.observe(box);
    return () => observer.disconnect();
  }, [frame, step]);
  return height;
}
