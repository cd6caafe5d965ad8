import { contract, isReference, parentOf, type AppDesign, type FormItemOf, type ReferenceValue, type Table, type Value } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { useFormContext, useWatch } from 'react-hook-form';
import { call } from '../../state/api.js';
import { useApp, useKindsOf } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { RecordAt } from '../../ui/files/held.js';
import { ReadValue } from './FormField.js';
import type { ItemProps } from './form-items.js';
import type { FormValues } from './use-record-form.js';

/** A field of a record that this one refers to. It follows the reference while another is picked. */
export default function ParentValue({ item, table }: ItemProps<FormItemOf<'parent'>>) {
  const app = useApp();
  const [first = '', ...further] = item.through;
  const { control } = useFormContext<FormValues>();
  const value = useWatch({ control, name: `own.${first}` }) as Value | undefined;
  const reference = table.fields.find((one) => one.id === first);
  const tables = useMemo(() => tablesOn(app.design, table, item.through), [app.design, table, item.through]);
  useKindsOf(tables);
  if (reference === undefined) return null;
  return <Step {...{ further, item }} table={parentOf(app.design, reference)} reference={isReference(value ?? null) ? (value as ReferenceValue) : null} />;
}

/** The tables on the way, without that of the form. */
function tablesOn(design: AppDesign, from: Table, through: readonly string[]): readonly Table[] {
  const [id, ...further] = through;
  const field = from.fields.find((one) => one.id === id);
  if (field?.kind !== 'reference') return [];
  const parent = parentOf(design, field);
  return [parent, ...tablesOn(design, parent, further)];
}

interface StepProps {
  readonly table: Table;
  readonly reference: ReferenceValue | null;
  /** The references that lead on from there. */
  readonly further: readonly string[];
  readonly item: FormItemOf<'parent'>;
}

/** One step on the way: the record is read as the person at hand sees it, and leads on or is shown. */
function Step({ table, reference, further, item }: StepProps) {
  const app = useApp();
  const id = reference?.id ?? null;
  const { data, isError } = useQuery({
    queryKey: [...keys.record(app.id, table.id, id ?? 0), 'without children'],
    queryFn: () => call(contract.readRecord, { params: { app: app.id, table: table.id, id: id ?? 0 }, query: { children: 'no' } }),
    enabled: id !== null,
    retry: false,
  });
  const at = useMemo(() => ({ table: table.id, record: id }), [table, id]);
  const [next, ...after] = further;
  const field = table.fields.find((one) => one.id === (next ?? item.field));
  if (field === undefined) return null;
  const value = (id === null ? null : data?.record.values[field.id]) ?? null;
  if (next !== undefined && !isError)
    return <Step table={parentOf(app.design, field)} reference={isReference(value) ? value : null} further={after} item={item} />;
  const none = isError ? 'no access' : id !== null && data === undefined ? 'loading' : 'empty';
  return (
    <RecordAt value={at}>
      <ReadValue field={{ ...field, name: item.label ?? field.name, required: false }} value={next === undefined ? value : null} isInRow={false} none={none} />
    </RecordAt>
  );
}
