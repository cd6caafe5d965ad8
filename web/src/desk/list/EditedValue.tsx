import type { Field, RecordAnswer, Typed } from '@bibliona/core';
import { lazy, Suspense, useEffect } from 'react';
import type { BeforeEditor, Place } from '../../ui/grid/keys.js';
import { typedOf } from '../record/draft.js';
import { shownIn } from './shown.js';

// Most people look at a list before they change something in it: the cell editor is loaded after the list is shown.
const loadEditor = () => import('./CellEditor.js');
const CellEditor = lazy(loadEditor);
/** In milliseconds. */
const patience = 500;

export function useEditorSoon(): void {
  useEffect(() => {
    const timer = setTimeout(() => void loadEditor(), patience);
    return () => clearTimeout(timer);
  }, []);
}

/** The value of a cell while it is edited. */
export function EditedValue(props: {
  readonly field: Field;
  readonly cell: BeforeEditor;
  readonly record: RecordAnswer;
  /** The record as it was when its cell was opened. */
  readonly begun: RecordAnswer;
  readonly onSave: (value: Typed) => void;
  readonly onLeave: (by: Place) => void;
}) {
  const { field, cell, record, begun, onSave, onLeave } = props;
  return (
    <Suspense fallback={shownIn(field, record)}>
      <CellEditor field={field} value={typedOf(field, begun.values[field.id] ?? null)} begun={cell} onSave={onSave} onLeave={onLeave} />
    </Suspense>
  );
}
