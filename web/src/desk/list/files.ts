import { contract, type Selection, type Table } from '@bibliona/core';
import type { FileToSave } from '../../ui/SaveFile.js';
import { asked } from './selection.js';

/** The files that a list can be saved as. */
export function filesOf(
  app: string,
  list: {
    readonly table: Table;
    readonly name: string;
    readonly selection: Selection;
    /** What is on paper: of each record these fields. */
    readonly columns: readonly string[];
    /** Of its records these alone; absent: all. */
    readonly only?: readonly number[];
  },
): { readonly csv: FileToSave; readonly pdf: FileToSave } {
  const params = { app, table: list.table.id };
  const query = { ...asked(list.selection), ...(list.only === undefined ? {} : { only: JSON.stringify(list.only) }) };
  return {
    csv: { route: contract.exportRecords, params, query, name: `${list.name}.csv` },
    pdf: { route: contract.printRecords, params, query: { ...query, columns: JSON.stringify(list.columns) }, name: `${list.name}.pdf` },
  };
}
