import type { Field } from '@bibliona/core';
import { useId, type ReactNode } from 'react';

/** A value that nobody types here: computed, given, or not this person's to change. */
export function Output(props: {
  readonly field: Field;
  /** In a row of a table the column's head is the label. */
  readonly isInRow: boolean;
  readonly isRight?: boolean;
  /** What is written where there is no value, in italics. */
  readonly none?: string | null;
  /** The label, if it is more than the name of the field. */
  readonly label?: (id: string) => ReactNode;
  /** What is written below, beside the description. */
  readonly note?: ReactNode;
  readonly children: ReactNode;
}) {
  const { field, isInRow, isRight = false, none = null, children } = props;
  const id = useId();
  const output = (
    <output
      aria-labelledby={isInRow ? undefined : id}
      aria-label={isInRow ? field.name : undefined}
      className={`worked-out ${isRight ? 'right' : ''} ${none === null ? '' : 'none'}`}
    >
      {none ?? children}
    </output>
  );
  if (isInRow) return output;
  return (
    <div className="worked-out-field">
      {props.label?.(id) ?? (
        <span className="worked-out-label" id={id}>
          {field.name}
        </span>
      )}
      {output}
      {props.note}
      {field.description !== '' && <span className="q sm">{field.description}</span>}
    </div>
  );
}
