import IconButton from '@mui/material/IconButton';
import { DotsSixVerticalIcon } from '@phosphor-icons/react';
import type { PointerEvent } from 'react';
import { nearEdge, scrollAtEdges } from '../../ui/edge-scroll.js';

/**
 * Moves a row of a table among the others: dragged, or by the arrow keys. Rows are found by their `data-index`; those that are not in
 * sight come as the pointer nears an edge.
 */
export function RowGrip({ index, label, onMove }: { readonly index: number; readonly label: string; readonly onMove: (to: number) => void }) {
  const drag = (event: PointerEvent<HTMLElement>): void => {
    if (event.button !== 0) return;
    const body = event.currentTarget.closest('tbody');
    let pointer: { readonly x: number; readonly y: number } | null = null;
    const under = (): HTMLElement | null => {
      if (pointer === null || body === null) return null;
      const row = document.elementFromPoint(pointer.x, pointer.y)?.closest<HTMLElement>('tr[data-index]') ?? null;
      if (row !== null && body.contains(row)) return row;
      // Held just beyond the rows, it goes to their end.
      const { top, bottom } = body.getBoundingClientRect();
      const rows = [...body.querySelectorAll<HTMLElement>('tr[data-index]')];
      if (pointer.y >= bottom && pointer.y < bottom + 2 * nearEdge) return rows.at(-1) ?? null;
      return pointer.y <= top && pointer.y > top - 2 * nearEdge ? (rows[0] ?? null) : null;
    };
    let target: HTMLElement | null = null;
    const mark = (row: HTMLElement | null): void => {
      target?.removeAttribute('data-drop');
      target = row;
      if (target !== null) target.dataset['drop'] = Number(target.dataset['index']) > index ? 'below' : 'above';
    };
    const end = new AbortController();
    const { signal } = end;
    window.addEventListener(
      'pointermove',
      ({ clientX: x, clientY: y }) => {
        pointer = { x, y };
        mark(under());
      },
      { signal },
    );
    if (body !== null)
      scrollAtEdges(
        body,
        () => pointer,
        () => mark(under()),
        signal,
      );
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
    const cancel = (): void => (mark(null), end.abort());
    for (const given of ['pointercancel', 'blur'] as const) window.addEventListener(given, cancel, { signal });
    const onKey = (pressed: KeyboardEvent): void => {
      if (pressed.key !== 'Escape') return;
      // It ends the drag, and leaves open what the rows are in.
      pressed.stopPropagation();
      cancel();
    };
    window.addEventListener('keydown', onKey, { signal, capture: true });
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
