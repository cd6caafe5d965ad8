/** The part of a design that stands in the database: formulas are computed when they are shown and have no column. */
import { isStored, type AppDesign, type StoredField, type Table } from '../design/design.js';

export type StoredTable = Omit<Table, 'fields'> & { readonly fields: readonly StoredField[] };
export type StoredDesign = Pick<AppDesign, 'relationships' | 'lists' | 'routes'> & { readonly tables: readonly StoredTable[] };

export const storedPart = ({ tables, relationships, lists, routes }: AppDesign): StoredDesign => ({
  routes,
  relationships,
  lists,
  tables: tables.map((table) => ({ ...table, fields: table.fields.filter(isStored) })),
});
