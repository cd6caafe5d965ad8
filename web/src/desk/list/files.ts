import { exportFormatNames, exportFormats, type Selection, type Table } from '@bibliona/core';
import type { FileChoice } from '../../ui/ExportMenu.js';
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
    /** How many there are, as far as that is known. */
    readonly count?: number | undefined;
    /** Whether files have only the columns that one sees, as paper always has. */
    readonly isShort?: boolean;
  },
): readonly FileChoice[] {
  const params = { app, table: list.table.id };
  const query = { ...asked(list.selection), ...(list.only === undefined ? {} : { only: JSON.stringify(list.only) }) };
  const columns = JSON.stringify(list.columns);
  const count = list.only?.length ?? list.count;
  const rows = count === undefined ? {} : { rows: count };
  return [
    ...exportFormatNames.map((format) => ({
      word: exportFormats[format].word,
      file: {
        route: 'exportRecords' as const,
        params,
        query: { ...query, format, ...(list.isShort === true ? { columns } : {}) },
        name: `${list.name}.${format}`,
        ...rows,
      },
    })),
    { word: 'PDF, for printing', file: { route: 'printRecords', params, query: { ...query, columns }, name: `${list.name}.pdf`, ...rows } },
  ];
}
