import { circumstancesOf, routeOf, startOf, startValue, type AppDesign, type Person, type Table, type WrittenValue } from '@bibliona/core';

/** What a new record starts with in the fields that were not given at all (an empty value was given): its defaults, and where its route begins. */
export function startValues(
  design: AppDesign,
  person: Person,
  table: Table,
  given: Readonly<Record<string, unknown>>,
): Record<string, Exclude<WrittenValue, object>> {
  const route = routeOf(design, table.id);
  const missing = table.fields.filter((field) => given[field.id] === undefined && (field.default !== null || field.id === route?.field));
  if (missing.length === 0) return {};
  const around = circumstancesOf(design, person, Date.now());
  return Object.fromEntries(
    missing.map((field) => {
      const value = field.id === route?.field ? startOf(route) : startValue(design, field, around);
      // Defaults are plain values: a reference has none.
      return [field.id, typeof value === 'object' ? null : value];
    }),
  );
}
