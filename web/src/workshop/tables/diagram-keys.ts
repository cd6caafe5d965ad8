import type { KeyboardEvent } from 'react';
import type { Point } from './diagram-layout.js';

/** How far a key moves what is in the diagram, in pixels. */
const step = 20;
const steps: Readonly<Record<string, Point>> = {
  ArrowUp: { x: 0, y: -step },
  ArrowDown: { x: 0, y: step },
  ArrowLeft: { x: -step, y: 0 },
  ArrowRight: { x: step, y: 0 },
};

/** What makes something in the diagram move by the keys as well; without a way to move it, nothing. */
export const movedByKeys = (onMove: ((by: Point) => void) | undefined) =>
  onMove === undefined
    ? {}
    : {
        'aria-keyshortcuts': 'Alt+ArrowUp Alt+ArrowDown Alt+ArrowLeft Alt+ArrowRight',
        onKeyDown: (event: KeyboardEvent) => {
          const by = event.altKey ? steps[event.key] : undefined;
          if (by === undefined) return;
          event.preventDefault();
          onMove(by);
        },
      };
