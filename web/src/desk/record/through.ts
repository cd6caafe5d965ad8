import { parentOf, type AppDesign, type Table } from '@bibliona/core';

/** The tables that references in a row lead to, one after the other, without the first. */
export function tablesOn(design: AppDesign, from: Table, through: readonly string[]): readonly Table[] {
  const [id, ...further] = through;
  const field = from.fields.find((each) => each.id === id);
  if (field?.kind !== 'reference') return [];
  const parent = parentOf(design, field);
  return [parent, ...tablesOn(design, parent, further)];
}
