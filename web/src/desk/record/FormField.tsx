import type { Field } from '@bibliona/core';
import { Controller, useFormContext } from 'react-hook-form';
import { FieldInput } from './FieldInput.js';
import type { FormValues } from './use-record-form.js';

/** A field's input at its place in the form, with what is wrong with it. */
export function FormField({ field, name, isInRow }: { readonly field: Field; readonly name: string; readonly isInRow: boolean }) {
  const { control } = useFormContext<FormValues>();
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
