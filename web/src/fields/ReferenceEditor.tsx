import type { CustomCellEditorProps } from 'ag-grid-react';
import { isReference, type Field, type RecordAnswer, type Typed } from '@bibliona/core';
import { ReferencePicker } from './ReferencePicker.js';

/** Picks the record of a reference inside a cell of the grid. */
export function ReferenceEditor({ value, onValueChange, stopEditing, field }: CustomCellEditorProps<RecordAnswer, Typed> & { readonly field: Field }) {
  return (
    <div className="cell-picker">
      <ReferencePicker
        field={field}
        value={isReference(value) ? value : null}
        autoOpen
        onChange={(picked) => {
          onValueChange(picked);
          setTimeout(() => stopEditing(), 0);
        }}
      />
    </div>
  );
}
