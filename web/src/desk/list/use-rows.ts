import { contract, type RecordAnswer, type Selection, type Table } from '@bibliona/core';
import { arrivedOf, call } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { blockSize } from '../../ui/grid/rows.js';
import { useShownRows } from '../../ui/grid/use-shown-rows.js';
import { pageSource } from './page-source.js';
import { asked } from './selection.js';

/** The rows of a list. */
export function useRows(table: Table, selection: Selection): ReturnType<typeof useShownRows<RecordAnswer>> {
  const { id } = useApp();
  const query = asked(selection);
  const params = { app: id, table: table.id };
  return useShownRows<RecordAnswer>(JSON.stringify([params, query]), () => ({
    ...pageSource({
      first: arrivedOf(contract.readPage, { params, query: { ...query, limit: blockSize } }),
      page: (part) => call(contract.readPage, { params, query: { ...query, ...part } }),
      place: (part) => call(contract.readPlace, { params, query: { ...query, ...part } }),
    }),
    idOf: (record) => record.id,
  }));
}
