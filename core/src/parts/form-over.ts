/** A form made of fields of several tables: of which of them it can be, and what it then shows. */
import type { AppDesign, Field, Relationship, Table } from '../design/design.js';
import { mostSteps, type FormItem } from '../design/form.js';
import { childrenOf, otherSide, parentOf, tableOf } from '../design/read.js';
import { kindOf } from '../fields/kinds.js';

/** The fields that were picked, by their table. */
export type Picked = ReadonlyMap<string, ReadonlySet<string>>;

/** One way to read what was picked: one record of `table`, with records that it refers to, and rows that belong to it. */
export interface FormReading {
  readonly table: Table;
  /** `name`: what the last reference on the way is called. */
  readonly parents: readonly { readonly table: Table; readonly name: string; readonly through: readonly string[]; readonly fields: readonly Field[] }[];
  readonly children: readonly { readonly table: Table; readonly relationship: Relationship; readonly fields: readonly Field[] }[];
}

interface Way {
  readonly table: Table;
  readonly name: string;
  readonly through: readonly string[];
}
/** The shortest ways from a table to those that its records refer to. */
function waysUp(design: AppDesign, from: Table): ReadonlyMap<string, Way> {
  const ways = new Map<string, Way>();
  let ends: readonly Way[] = [{ table: from, name: '', through: [] }];
  for (let step = 0; step < mostSteps; step += 1) {
    ends = ends.flatMap(({ table, through }) =>
      table.fields
        .filter((field) => field.kind === 'reference')
        .map((field) => ({ table: parentOf(design, field), name: field.name, through: [...through, field.id] })),
    );
    for (const end of ends) if (end.table.id !== from.id && !ways.has(end.table.id)) ways.set(end.table.id, end);
  }
  return ways;
}

const pickedOf = (table: Table, picked: Picked): readonly Field[] => table.fields.filter((field) => picked.get(table.id)?.has(field.id) === true);

/** Every way to read what was picked, in the order of the tables; none where no record leads to all of it. */
export function readingsOf(design: AppDesign, picked: Picked): readonly FormReading[] {
  const tables = design.tables.filter((table) => pickedOf(table, picked).length > 0);
  return tables.flatMap((table): FormReading[] => {
    const up = waysUp(design, table);
    const below = childrenOf(design, table.id).filter((child) => otherSide(design, child) === null);
    const parents: FormReading['parents'][number][] = [];
    const children: FormReading['children'][number][] = [];
    for (const other of tables) {
      if (other === table) continue;
      const fields = pickedOf(other, picked);
      const way = up.get(other.id);
      const relationship = below.find((each) => each.child === other.id);
      // Rows can be added and changed, so they come first where both ways lead there.
      if (relationship !== undefined) children.push({ table: other, relationship, fields });
      else if (way !== undefined) parents.push({ ...way, fields });
      else return [];
    }
    return [{ table, parents, children }];
  });
}

/** Those of the fields that make a record complete: picked, required, or leading to what is shown besides. */
function wholeFields(table: Table, picked: readonly Field[], leading: ReadonlySet<string>): readonly Field[] {
  const isNeeded = (field: Field): boolean => (field.required && field.default === null) || leading.has(field.id);
  return table.fields.filter((field) => picked.includes(field) || isNeeded(field));
}

/**
 * What the form of a reading begins with: the fields of its record, those of records around it, then the rows. What a record
 * needs to be saved is there, whether it was picked or not. @param newId gives an id that nothing has yet
 */
export function itemsOfReading(design: AppDesign, { table, parents, children }: FormReading, picked: Picked, newId: () => string): readonly FormItem[] {
  const leading = new Set(parents.flatMap(({ through }) => through.slice(0, 1)));
  return [
    ...wholeFields(table, pickedOf(table, picked), leading).map((field): FormItem => ({
      kind: 'field',
      field: field.id,
      width: kindOf(field).traits.formWidth,
    })),
    ...parents.flatMap(({ through, fields }) =>
      fields.map((field): FormItem => ({ kind: 'parent', id: newId(), through: [...through], field: field.id, width: kindOf(field).traits.formWidth })),
    ),
    ...children.map(({ relationship, fields }): FormItem => {
      const child = tableOf(design, relationship.child);
      const columns = wholeFields(child, fields, new Set()).filter((field) => field.id !== relationship.field);
      return { kind: 'children', relationship: relationship.id, ...(columns.length === 0 ? {} : { columns: columns.map((field) => field.id) }) };
    }),
  ];
}
