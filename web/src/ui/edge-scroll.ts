/** In pixels: so near to an edge a pointer that holds something scrolls; and so far with each picture at most. */
export const nearEdge = 48;
const farthest = 14;

/** How far to scroll, in pixels, for a pointer at `y`: the more the nearer it is to an edge of what is in sight, or beyond it. */
export function scrollAt(y: number, { top, bottom }: { readonly top: number; readonly bottom: number }): number {
  // Of a low view the two edges share the height.
  const near = Math.min(nearEdge, (bottom - top) / 3);
  const beyond = y < top + near ? y - top - near : y > bottom - near ? y - bottom + near : 0;
  return Math.round((Math.max(-1, Math.min(1, beyond / near)) || 0) * farthest);
}

/** What scrolls an element up and down, from the inside out. */
function scrollersOf(element: Element): readonly Element[] {
  const scrollers: Element[] = [];
  for (let around = element.parentElement; around !== null; around = around.parentElement)
    if (around === document.documentElement || /auto|scroll/u.test(getComputedStyle(around).overflowY)) scrollers.push(around);
  return scrollers;
}

/** The part of a view that is in sight. */
function sightOf(scroller: Element): { readonly top: number; readonly bottom: number } {
  if (scroller === document.documentElement) return { top: 0, bottom: window.innerHeight };
  const { top, bottom } = scroller.getBoundingClientRect();
  return { top: Math.max(top, 0), bottom: Math.min(bottom, window.innerHeight) };
}

/**
 * Scrolls what is around an element while something is dragged near its edges, until `signal` ends it.
 * @param pointer where the pointer is now; null: nowhere yet
 * @param onScroll called after each step: what is under the pointer is something else
 */
export function scrollAtEdges(element: Element, pointer: () => { readonly y: number } | null, onScroll: () => void, signal: AbortSignal): void {
  const scrollers = scrollersOf(element);
  const step = (): void => {
    if (signal.aborted) return;
    const at = pointer();
    const hasMoved =
      at !== null &&
      scrollers.some((scroller) => {
        const sight = sightOf(scroller);
        const by = scrollAt(at.y, sight);
        const { top, bottom } = element.getBoundingClientRect();
        // Beyond its own ends there is nothing to come to.
        if (by === 0 || (by > 0 ? bottom < sight.bottom - nearEdge : top > sight.top + nearEdge)) return false;
        const before = scroller.scrollTop;
        scroller.scrollTop += by;
        return scroller.scrollTop !== before;
      });
    if (hasMoved) onScroll();
    requestAnimationFrame(step);
  };
  requestAnimationFrame(step);
}
