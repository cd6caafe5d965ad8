/** What a form can show of the tables around its own. */
import { parentOf, shownTables, type AppDesign, type Field, type FormItemOf, type List, type Table } from '@bibliona/core';

/** The field that an item shows of another record, whose table is `owner`, and the names of the references that lead there. */
export function parentPath(
  design: AppDesign,
  table: Table,
  item: Pick<FormItemOf<'parent'>, 'through' | 'field'>,
): { readonly field: Field | undefined; readonly owner: Table; readonly names: readonly string[] } {
  const names: string[] = [];
  let at = table;
  for (const id of item.through) {
    const reference = at.fields.find((field) => field.id === id);
    if (reference?.kind !== 'reference') break;
    names.push(reference.name);
    at = parentOf(design, reference);
  }
  return { field: at.fields.find((field) => field.id === item.field), owner: at, names };
}

/** A list whose records refer to others by a field of theirs. */
interface Beside {
  readonly list: List;
  readonly of: Table;
  readonly by: Field;
}
/** Tells one from another, by the ids of the list and the field. */
export const besideKey = (list: string, by: string): string => `${list} ${by}`;
export const besideName = ({ list, of, by }: Beside): string => `${list.name}: ${of.name} by ${by.name}`;

/** The lists whose records refer to records of a table, each with the reference by which they do. */
export const listsBeside = (design: AppDesign, table: Table): readonly Beside[] =>
  shownTables(design).flatMap((of) =>
    of.fields
      .filter((field) => field.kind === 'reference' && parentOf(design, field).id === table.id)
      .flatMap((by) => design.lists.filter((list) => list.table === of.id).map((list) => ({ list, of, by }))),
  );
