import IconButton from '@mui/material/IconButton';
import { DotsSixVerticalIcon } from '@phosphor-icons/react';
import type { PointerEvent } from 'react';

/** Moves a row of a table among the others: dragged, or by the arrow keys. Rows are found by their `data-index`. */
export function RowGrip({ index, label, onMove }: { readonly index: number; readonly label: string; readonly onMove: (to: number) => void }) {
  const drag = (event: PointerEvent<HTMLElement>): void => {
    if (event.button !== 0) return;
    const body = event.currentTarget.closest('tbody');
    const over = ({ clientX, clientY }: globalThis.PointerEvent): HTMLElement | null => {
      const row = document.elementFromPoint(clientX, clientY)?.closest<HTMLElement>('tr[data-index]') ?? null;
      return row !== null && body?.contains(row) === true ? row : null;
    };
    let target: HTMLElement | null = null;
    const mark = (row: HTMLElement | null): void => {
      target?.removeAttribute('data-drop');
      target = row;
      if (target !== null) target.dataset['drop'] = Number(target.dataset['index']) > index ? 'below' : 'above';
    };
    const end = new AbortController();
    const { signal } = end;
    window.addEventListener('pointermove', (at) => mark(over(at)), { signal });
    window.addEventListener(
      'pointerup',
      () => {
        const to = target === null ? index : Number(target.dataset['index']);
        mark(null);
        end.abort();
        if (to !== index) onMove(to);
      },
      { signal },
    );
    for (const given of ['pointercancel', 'blur'] as const) window.addEventListener(given, () => (mark(null), end.abort()), { signal });
  };
  return (
    <IconButton
      className="row-grip"
      aria-label={label}
      title="Drag, or press the arrow keys"
      onPointerDown={drag}
      onKeyDown={(event) => {
        const step = { ArrowUp: -1, ArrowDown: 1 }[event.key];
        if (step === undefined) return;
        event.preventDefault();
        event.stopPropagation();
        onMove(index + step);
      }}
    >
      <DotsSixVerticalIcon size={14} />
    </IconButton>
  );
}
