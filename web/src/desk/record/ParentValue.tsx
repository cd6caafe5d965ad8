import {
  isOpenInPlace,
  isReference,
  parentOf,
  type Field,
  type FormItemOf,
  type RecordAnswer,
  type ReferenceValue,
  type Table,
  type Value,
} from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { useFormContext, useWatch } from 'react-hook-form';
import { viewOf } from '../../fields/kinds.js';
import { oncePressed } from '../../ui/pressing.js';
import { useApp, useKindsOf, useRights } from '../../state/app.js';
import { useAskedAs } from '../../state/asked-as.js';
import { RecordAt } from '../../ui/files/held.js';
import { ReadValue } from './FormField.js';
import type { ItemProps } from './form-items.js';
import { readAlone, useReferred } from './referred.js';
import { tablesOn } from './through.js';
import { useToldCheck } from './told-checks.js';
import type { FormValues } from './form-values.js';

/** A field of a record that this one refers to, read or changed in place. It follows the reference while another is picked. */
export default function ParentValue({ item, table, open }: ItemProps<FormItemOf<'parent'>>) {
  const app = useApp();
  const [first = '', ...further] = item.through;
  const { control } = useFormContext<FormValues>();
  const value = useWatch({ control, name: `own.${first}` }) as Value | undefined;
  const reference = table.fields.find((field) => field.id === first);
  const tables = useMemo(() => tablesOn(app.design, table, item.through), [app.design, table, item.through]);
  useKindsOf(tables);
  if (reference === undefined) return null;
  return (
    <Step
      {...{ further, item }}
      own={open === null ? null : { table: table.id, id: open.record.id }}
      table={parentOf(app.design, reference)}
      reference={isReference(value ?? null) ? (value as ReferenceValue) : null}
    />
  );
}

interface StepProps {
  /** The record of the form; null: a new one. */
  readonly own: { readonly table: string; readonly id: number } | null;
  readonly table: Table;
  readonly reference: ReferenceValue | null;
  /** The references that lead on from there. */
  readonly further: readonly string[];
  readonly item: FormItemOf<'parent'>;
}

/** One step on the way: the record is read as the person at hand sees it, and leads on or is shown. */
function Step({ own, table, reference, further, item }: StepProps) {
  const app = useApp();
  const rights = useRights(table.id);
  const as = useAskedAs();
  const id = reference?.id ?? null;
  const { data, isError } = useQuery({ ...readAlone(app.id, table.id, id ?? 0, as), enabled: id !== null });
  const at = useMemo(() => ({ table: table.id, record: id }), [table, id]);
  const [next, ...after] = further;
  const field = table.fields.find((each) => each.id === (next ?? item.field));
  if (field === undefined) return null;
  const value = (id === null ? null : data?.record.values[field.id]) ?? null;
  if (next !== undefined && !isError)
    return <Step own={own} table={parentOf(app.design, field)} reference={isReference(value) ? value : null} further={after} item={item} />;
  const shown: Field = { ...field, name: item.label ?? field.name };
  // A record that leads back to itself has its own fields for it.
  const isOwn = own?.table === table.id && own.id === id;
  const mayChange =
    item.inPlace === true &&
    !isOwn &&
    rights.change &&
    data?.may?.change !== false &&
    !rights.locked.includes(field.id) &&
    field.fixed !== true &&
    isOpenInPlace(app.design, field);
  if (mayChange && data !== undefined && !isError && data.record.cut?.includes(field.id) !== true)
    return (
      <RecordAt value={at}>
        <InPlace
          key={data.record.id}
          table={table}
          record={data.record}
          field={{ ...shown, description: `Of ${data.caption}. ${field.description}`.trim() }}
          item={item.id}
        />
      </RecordAt>
    );
  const none = isError ? 'no access' : id !== null && data === undefined ? 'loading' : 'empty';
  return (
    <RecordAt value={at}>
      <ReadValue field={{ ...shown, required: false }} value={next === undefined ? value : null} isInRow={false} none={none} />
    </RecordAt>
  );
}

function InPlace({ table, record, field, item }: { readonly table: Table; readonly record: RecordAnswer; readonly field: Field; readonly item: string }) {
  const { value, change, path, problem } = useReferred(table, record, field, item);
  const { told, setTyping } = useToldCheck(path);
  const { Input } = viewOf(field);
  return (
    <Input
      field={field}
      name={path}
      value={value}
      onChange={(typed) => {
        change(typed);
        setTyping(true);
      }}
      onBlur={() => oncePressed(() => setTyping(false))}
      inputRef={() => undefined}
      problem={problem ?? told}
      isInRow={false}
    />
  );
}
