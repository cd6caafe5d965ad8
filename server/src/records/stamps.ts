import { kindOf, type Table, type WrittenValue } from '@bibliona/core';

type Values = Readonly<Record<string, WrittenValue>>;

/**
 * Values with who gave them and when, in the fields that keep it. Whatever was sent of that is replaced: nobody signs for another.
 * @param now in milliseconds since 1970
 */
export function stamped(table: Table, values: Values, who: string, now: number): Values {
  const fields = table.fields.filter((field) => typeof values[field.id] === 'string' && kindOf(field).stamp !== undefined);
  if (fields.length === 0) return values;
  const when = `${new Date(now).toISOString().slice(0, 19)}Z`;
  const signed = fields.map((field) => [field.id, kindOf(field).stamp?.(String(values[field.id]), who, when) ?? null] as const);
  return { ...values, ...Object.fromEntries(signed) };
}
