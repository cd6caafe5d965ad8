/** The part of a design that is in the database: formulas are computed when they are shown and have no column. */
import { isStored, type AppDesign, type StoredField, type Table } from '../design/design.js';

export type StoredTable = Omit<Table, 'fields'> & { readonly fields: readonly StoredField[] };
export type StoredDesign = Pick<AppDesign, 'relationships' | 'lists' | 'routes' | 'timeZone'> & { readonly tables: readonly StoredTable[] };

export const storedPart = ({ tables, relationships, lists, routes, timeZone }: AppDesign): StoredDesign => ({
  timeZone,
  routes,
  relationships,
  lists,
  tables: tables.map(storedTable),
});

// The same table for the same table: what two designs share is told by that alone.
const known = new WeakMap<Table, StoredTable>();
function storedTable(table: Table): StoredTable {
  const made = known.get(table) ?? { ...table, fields: table.fields.filter(isStored) };
  known.set(table, made);
  return made;
}
