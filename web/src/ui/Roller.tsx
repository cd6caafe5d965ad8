import type { KeyboardEvent, PointerEvent } from 'react';

const [least, step] = [120, 16];
const most = (): number => Math.max(least, window.innerHeight - 260);
const within = (height: number): number => Math.round(Math.min(Math.max(height, least), most()));

/** The bar that pulls the proof up and down, by pointer and by arrow keys. */
export function Roller({ height, onHeight }: { readonly height: number; readonly onHeight: (height: number) => void }) {
  const drag = (event: PointerEvent<HTMLDivElement>): void => {
    event.preventDefault();
    const [from, start] = [event.clientY, height];
    const move = (moved: globalThis.PointerEvent): void => onHeight(within(start + from - moved.clientY));
    const end = (): void => {
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', end);
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', end);
  };
  const onKey = (event: KeyboardEvent): void => {
    const by = { ArrowUp: step, ArrowDown: -step, PageUp: step * 5, PageDown: -step * 5 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    onHeight(within(height + by));
  };
  return (
    <div
      className="roller"
      role="separator"
      aria-orientation="horizontal"
      aria-label="Height of the proof"
      aria-valuenow={height}
      aria-valuemin={least}
      aria-valuemax={most()}
      tabIndex={0}
      onPointerDown={drag}
      onKeyDown={onKey}
    >
      <i />
    </div>
  );
}
