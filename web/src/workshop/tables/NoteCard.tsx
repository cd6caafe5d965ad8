import type { Node, NodeProps } from '@xyflow/react';
import type { DiagramNote } from '@bibliona/core';
import { movedByKeys } from './diagram-keys.js';
import { linesOfNote, type Point } from './diagram-layout.js';

export type NoteNode = Node<
  { readonly note: DiagramNote; readonly onOpen: (() => void) | undefined; readonly onMove: ((by: Point) => void) | undefined },
  'note'
>;

/** A text on the diagram. */
export function NoteCard({ data: { note, onOpen, onMove } }: NodeProps<NoteNode>) {
  return (
    <button type="button" className={`note-card tint-${note.tone}`} onClick={onOpen} aria-label={`Note: ${note.text}`} {...movedByKeys(onMove)}>
      {linesOfNote(note.text).map((line, i) => (
        // Lines have nothing but their order.
        <span key={i}>{line}</span>
      ))}
    </button>
  );
}
