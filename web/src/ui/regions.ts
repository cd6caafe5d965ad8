import { useEffect } from 'react';

// Down and across the page: those of the Workshop, and the menu of the Desk, whose work is a sheet too.
const order = ['bar', 'menu', 'shelf', 'sheet', 'details', 'proof'] as const;

/** F6 goes from region to region (Shift+F6 back), to the first thing in each that takes the focus. */
export function useRegions(): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.key !== 'F6') return;
      event.preventDefault();
      const regions = order.flatMap((name) => [...document.querySelectorAll<HTMLElement>(`[data-region=${name}]`)]);
      const here = regions.findIndex((region) => region.contains(document.activeElement));
      const next = regions[(here + (event.shiftKey ? -1 : 1) + regions.length) % regions.length];
      // What is hidden at this width takes no focus.
      const first = [...(next?.querySelectorAll<HTMLElement>('a[href], button:not([disabled]), input:not([disabled]), [tabindex="0"]') ?? [])];
      first.find((each) => each.checkVisibility({ visibilityProperty: true }))?.focus();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
}
