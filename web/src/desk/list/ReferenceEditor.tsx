import type { CustomCellEditorProps } from 'ag-grid-react';
import type { Field, RecordAnswer } from '@bibliona/core';
import { ReferencePicker } from '../record/ReferencePicker.js';
import type { Typed } from '../record/draft.js';

/** Picks the record of a reference inside a cell of the grid. */
export function ReferenceEditor({ value, onValueChange, stopEditing, field }: CustomCellEditorProps<RecordAnswer, Typed> & { readonly field: Field }) {
  return (
    <div className="cell-picker">
      <ReferencePicker
        field={field}
        value={typeof value === 'object' ? value : null}
        autoOpen
        onChange={(picked) => {
          onValueChange(picked);
          setTimeout(() => stopEditing(), 0);
        }}
      />
    </div>
  );
}
