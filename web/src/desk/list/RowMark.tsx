import type { RecordAnswer } from '@bibliona/core';
import type { useMarks } from './use-marks.js';

/** The box by which a record is chosen; with Shift all from the one before it on. */
export function RowMark(props: {
  readonly record: RecordAnswer;
  readonly marks: ReturnType<typeof useMarks>;
  readonly label: string;
  /** Of a box in a grid: that is walked cell by cell. */
  readonly tabIndex?: number;
}) {
  const { record, marks, label, tabIndex } = props;
  return (
    <input
      type="checkbox"
      className="row-mark"
      checked={marks.marked.has(record.id)}
      tabIndex={tabIndex}
      aria-label={label}
      onChange={(event) => marks.mark(record, (event.nativeEvent as MouseEvent).shiftKey)}
    />
  );
}
