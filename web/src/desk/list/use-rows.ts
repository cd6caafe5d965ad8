import { contract, type RecordAnswer, type Selection, type Table } from '@bibliona/core';
import { useEffect, useMemo, useState } from 'react';
import { arrivedOf, call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { blockSize, Rows } from '../../ui/grid/rows.js';
import { pageSource } from './page-source.js';
import { asked } from './selection.js';

/** The rows of a list; those of another order or search are shown when the first of them have come. */
export function useRows(
  table: Table,
  selection: Selection,
): { readonly rows: Rows<RecordAnswer> | null; readonly failure: string | null; readonly again: () => void } {
  const { id } = useApp();
  const query = asked(selection);
  const key = JSON.stringify(query);
  const [failure, setFailure] = useState<string | null>(null);
  const wanted = useMemo(() => {
    const params = { app: id, table: table.id };
    return new Rows<RecordAnswer>({
      ...pageSource({
        first: arrivedOf(contract.readPage, { params, query: { ...query, limit: blockSize } }),
        page: (part) => call(contract.readPage, { params, query: { ...query, ...part } }),
        place: (part) => call(contract.readPlace, { params, query: { ...query, ...part } }),
      }),
      idOf: (record) => record.id,
      onFailure: (error) => setFailure(messageOf(error)),
    });
    // The selection is made anew with each drawing; what is asked is the same as long as its text is.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [id, table.id, key]);
  const [shown, setShown] = useState(wanted.first() === null ? null : wanted);
  useEffect(() => {
    const see = (): void => {
      if (wanted.first() === null) return;
      setFailure(null);
      setShown(wanted);
    };
    const stop = wanted.subscribe(see);
    if (wanted.first() === null) wanted.refresh();
    return stop;
  }, [wanted]);
  return { rows: shown, failure, again: () => wanted.refresh() };
}
