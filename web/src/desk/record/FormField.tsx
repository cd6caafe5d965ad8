import type { Field } from '@bibliona/core';
import { Controller, useFormContext } from 'react-hook-form';
import { FieldInput } from './FieldInput.js';
import { FormulaValue } from './FormulaValue.js';
import type { FormValues } from './use-record-form.js';

/** A field's input at its place in the form, with what is wrong with it. */
export function FormField(props: {
  readonly field: Field;
  readonly name: string;
  /** The table and the place in the form of the record it belongs to: `own`, or a relationship and the place of a row. */
  readonly table: string;
  readonly of: string;
  readonly isInRow: boolean;
}) {
  const { field, name, table, of, isInRow } = props;
  const { control } = useFormContext<FormValues>();
  if (field.kind === 'formula') return <FormulaValue field={field} table={table} of={of} isInRow={isInRow} />;
  return (
    <Controller
      // The form library spells paths as types; ours are made of ids that only the design knows.
      name={name as `own.${string}`}
      control={control}
      render={({ field: input, fieldState }) => (
        <FieldInput
          field={field}
          value={input.value ?? null}
          onChange={input.onChange}
          onBlur={input.onBlur}
          inputRef={input.ref}
          problem={fieldState.error?.message}
          isInRow={isInRow}
        />
      )}
    />
  );
}
