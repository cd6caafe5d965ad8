import { contract, type RecordAnswer, type Selection, type Table } from '@bibliona/core';
import { useEffect, useMemo, useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { Rows } from '../../ui/grid/rows.js';
import { pageSource } from './page-source.js';

/** The rows of a list; those of another order or search are shown when the first of them have come. */
export function useRows(
  table: Table,
  selection: Selection,
): { readonly rows: Rows<RecordAnswer> | null; readonly failure: string | null; readonly again: () => void } {
  const { id } = useApp();
  const { search, sort, direction } = selection;
  const [shown, setShown] = useState<Rows<RecordAnswer> | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const asked = useMemo(() => {
    const params = { app: id, table: table.id };
    const query = { search, direction, ...(sort === undefined ? {} : { sort }) };
    return new Rows<RecordAnswer>({
      read: pageSource({
        page: (part) => call(contract.readPage, { params, query: { ...query, ...part } }),
        place: (part) => call(contract.readPlace, { params, query: { ...query, ...part } }),
      }),
      idOf: (record) => record.id,
      onFailure: (error) => setFailure(messageOf(error)),
    });
  }, [id, table.id, search, sort, direction]);
  useEffect(() => {
    const see = (): void => {
      if (asked.first() === null) return;
      setFailure(null);
      setShown(asked);
    };
    const stop = asked.subscribe(see);
    asked.refresh();
    return stop;
  }, [asked]);
  return { rows: shown, failure, again: () => asked.refresh() };
}
