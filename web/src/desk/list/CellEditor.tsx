import type { Field, Typed } from '@bibliona/core';
import { useLayoutEffect, useRef, useState, type FocusEvent, type KeyboardEvent } from 'react';
import { TextCell } from '../../fields/cells.js';
import { textOf } from '../../fields/kind.js';
import { viewOf } from '../../fields/kinds.js';
import { endOf, type BeforeEditor, type Place } from '../../ui/grid/keys.js';

export interface CellEditorProps {
  readonly field: Field;
  readonly value: Typed;
  readonly begun: BeforeEditor;
  readonly onSave: (value: Typed) => void;
  readonly onLeave: (by: Place) => void;
}

const stay: Place = { row: 0, column: 0 };

/** Edits a cell: Enter keeps what was entered and goes down, Tab goes to the side, Escape leaves the cell as it was. */
export default function CellEditor({ field, value, begun: { text: typed, added, ends }, onSave, onLeave }: CellEditorProps) {
  const { CellEditor: Editor } = viewOf(field);
  const text = added === undefined ? typed : `${textOf(value)}${added}`;
  const [draft, setDraft] = useState<Typed>(Editor === TextCell && text !== null ? text : value);
  // A cell is left once: taking the editor away takes the focus from it too.
  const isLeft = useRef(false);
  const leave = (by: Place, entered: Typed): void => {
    if (isLeft.current) return;
    isLeft.current = true;
    if (entered !== value) onSave(entered);
    onLeave(by);
  };
  const cancel = (): void => {
    isLeft.current = true;
    onLeave(stay);
  };
  // Before the next key can come to it.
  useLayoutEffect(() => {
    // What is picked has to be seen first.
    if (ends !== undefined && Editor === TextCell) leave(ends, draft);
    // Once, when it comes.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  if (Editor === null) return null;

  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.defaultPrevented) return;
    const by = endOf(event);
    if (event.key === 'Escape') cancel();
    else if (by !== null) leave(by, draft);
    else return;
    event.preventDefault();
  };
  const onBlur = ({ currentTarget, relatedTarget }: FocusEvent): void => {
    if (!currentTarget.contains(relatedTarget)) leave(stay, draft);
  };
  return (
    <div className="cell-editor" data-editor onKeyDown={onKeyDown} onBlur={onBlur}>
      <Editor
        field={field}
        value={draft}
        text={text}
        onChange={setDraft}
        onPick={(picked) => {
          setDraft(picked);
          leave({ row: 1, column: 0 }, picked);
        }}
        onCancel={cancel}
      />
    </div>
  );
}
