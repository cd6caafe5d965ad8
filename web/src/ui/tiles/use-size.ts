import { useLayoutEffect, useRef, useState, type RefObject } from 'react';

/** The size of an element in pixels, as it changes. */
export function useSize(): readonly [RefObject<HTMLDivElement | null>, { readonly width: number; readonly height: number }] {
  const element = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const { current } = element;
    if (current === null) return undefined;
    const watch = new ResizeObserver(([entry]) => {
      if (entry !== undefined) setSize({ width: entry.contentRect.width, height: entry.contentRect.height });
    });
    watch.observe(current);
    return () => watch.disconnect();
  }, []);
  return [element, size];
}
