import { kindOf, printValue, type Field, type Value } from '@bibliona/core';
import { useContext, useEffect, useRef } from 'react';
import { Controller, useFormContext } from 'react-hook-form';
import { viewOf } from '../../fields/kinds.js';
import { oncePressed } from '../../ui/pressing.js';
import { Output } from '../../fields/Output.js';
import { useApp, useRights } from '../../state/app.js';
import { RecordAt } from '../../ui/files/held.js';
import { valueOf } from './draft.js';
import { FormulaValue } from './FormulaValue.js';
import { useInputsAt } from './mark.js';
import { ShownFiles } from './ShownFiles.js';
import type { FormValues } from './form-values.js';
import { useToldCheck } from './told-checks.js';
import { locale } from '../../state/locale.js';
import { isAlignedRight } from '../../fields/aligned.js';

/** A field's input at its place in the form, with what is wrong with it. */
export function FormField(props: {
  readonly field: Field;
  readonly name: string;
  /** The table and the place in the form of the record it belongs to: `own`, or a relationship and the place of a row. */
  readonly table: string;
  readonly of: string;
  readonly isInRow: boolean;
  /** The form doesn't let it be changed as it is filled now. */
  readonly isReadOnly?: boolean;
}) {
  const { field, name, table, of, isInRow, isReadOnly = false } = props;
  const { locked } = useRights(table);
  const at = useContext(RecordAt);
  if (field.kind === 'formula') return <FormulaValue field={field} table={table} of={of} isInRow={isInRow} />;
  const isFixed = field.fixed === true && at?.record !== null && at?.record !== undefined;
  if (isReadOnly || isFixed || locked.includes(field.id)) return <LockedValue field={field} name={name} isInRow={isInRow} />;
  return <EditedField field={field} name={name} isInRow={isInRow} />;
}

function EditedField({ field, name, isInRow }: { readonly field: Field; readonly name: string; readonly isInRow: boolean }) {
  const { control, getValues, getFieldState, setError, clearErrors } = useFormContext<FormValues>();
  const { Input } = viewOf(field);
  const { told, setTyping } = useToldCheck(name);
  useInputsAt(name);
  // The form library spells paths as types; ours are made of ids that only the design knows.
  const path = name as `own.${string}`;
  /** What can't be read is told as soon as one leaves it, until something else is typed. */
  const check = (): void => {
    const typed = getValues(path);
    const read = typeof typed === 'string' && typed.trim() !== '' ? valueOf(field, typed) : null;
    if (read?.ok === false) setError(path, { message: read.problem });
  };
  const latest = useRef(check);
  useEffect(() => {
    latest.current = check;
  });
  // The input of a row goes as it is left, and tells only then what was typed last.
  useEffect(() => (isInRow ? () => queueMicrotask(() => latest.current()) : undefined), [isInRow]);
  return (
    <Controller
      name={path}
      control={control}
      render={({ field: input, fieldState }) => (
        <Input
          field={field}
          name={name}
          value={input.value ?? null}
          onChange={(typed) => {
            input.onChange(typed);
            setTyping(true);
            const { error } = fieldState;
            // Unless a save has marked it again by then.
            if (error !== undefined) oncePressed(() => getFieldState(path).error === error && clearErrors(path));
          }}
          onBlur={() => {
            input.onBlur();
            oncePressed(() => {
              check();
              setTyping(false);
            });
          }}
          inputRef={input.ref}
          problem={fieldState.error?.message ?? told}
          isInRow={isInRow}
        />
      )}
    />
  );
}

/** A value that this person sees and does not change. */
function LockedValue({ field, name, isInRow }: { readonly field: Field; readonly name: string; readonly isInRow: boolean }) {
  const { getValues } = useFormContext<FormValues>();
  const typed = getValues(name as `own.${string}`);
  const parsed = typeof typed === 'string' ? valueOf(field, typed) : null;
  const value = parsed === null ? (typed ?? null) : parsed.ok ? parsed.value : null;
  return <ReadValue field={field} value={value} isInRow={isInRow} />;
}

/** A value to be read, as its kind shows it. The files that it holds are those of the record around it. */
export function ReadValue({
  field,
  value,
  isInRow,
  none = 'empty',
}: {
  readonly field: Field;
  readonly value: Value;
  readonly isInRow: boolean;
  /** What is said where there is none. */ readonly none?: string;
}) {
  const app = useApp();
  const text = printValue(field, value, locale());
  const files = kindOf(field).files?.in(value) ?? [];
  const { Shown } = viewOf(field);
  return (
    <Output field={field} isInRow={isInRow} isRight={isAlignedRight(app, field)} none={text === '' ? none : null}>
      {files.length > 0 ? <ShownFiles field={field} files={files} isNamed={!isInRow} /> : Shown === undefined ? text : <Shown field={field} value={value} />}
    </Output>
  );
}
