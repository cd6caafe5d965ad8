import { contract, exportFormatNames, exportFormats, type Selection, type Table } from '@bibliona/core';
import type { FileChoice } from '../../ui/SaveMenu.js';
import { asked } from './selection.js';

/** The files that a list can be saved as. */
export function filesOf(
  app: string,
  list: {
    readonly table: Table;
    readonly name: string;
    readonly selection: Selection;
    /** The columns that one sees. */
    readonly columns: readonly string[];
    /** Of its records these alone; absent: all. */
    readonly only?: readonly number[];
    /** Whether files have only the columns that one sees, as paper always has. */
    readonly isShort?: boolean;
  },
): readonly FileChoice[] {
  const params = { app, table: list.table.id };
  const query = { ...asked(list.selection), ...(list.only === undefined ? {} : { only: JSON.stringify(list.only) }) };
  const columns = JSON.stringify(list.columns);
  return [
    ...exportFormatNames.map((format) => ({
      word: exportFormats[format].word,
      file: {
        route: contract.exportRecords,
        params,
        query: { ...query, format, ...(list.isShort === true ? { columns } : {}) },
        name: `${list.name}.${format}`,
      },
    })),
    { word: 'PDF, for printing', file: { route: contract.printRecords, params, query: { ...query, columns }, name: `${list.name}.pdf` } },
  ];
}
