/** Where an arrangement has its records from: a table, or what else gives rows that look like records. */
import { contract, type Cursor, type GroupLevels, type RecordAnswer, type Selection, type Table } from '@bibliona/core';
import { createContext, useContext, useMemo } from 'react';
import { call } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { useAskedAs, type AskedAs } from '../../state/asked-as.js';
import { keys } from '../../state/keys.js';
import { asked, withSelection } from './selection.js';

export interface Page {
  readonly records: readonly RecordAnswer[];
  /** What the next page is asked for with; null: there is none. */
  readonly next: string | null;
}
export interface RecordSource {
  /** Its answers are kept under keys that begin so. */
  readonly key: readonly unknown[];
  /** @param after as the page before gave it; null: from the first record on */
  readonly page: (selection: Selection, limit: number, after: string | null) => Promise<Page>;
  readonly groups: (selection: Selection) => Promise<GroupLevels>;
  /** Where a record opens; null: nowhere. */
  readonly addressOf: (record: number, selection: Selection) => string | null;
}
/** Set around what is arranged as a list is, without being one. */
export const RecordSourceContext = createContext<RecordSource | null>(null);

export function useRecordSource(table: Table): RecordSource {
  const { id } = useApp();
  const as = useAskedAs();
  const given = useContext(RecordSourceContext);
  return useMemo(() => given ?? ofTable(id, table.id, as), [given, id, table.id, as]);
}

const ofTable = (app: string, table: string, as: AskedAs): RecordSource => ({
  key: keys.table(app, table),
  page: async (selection, limit, after) => {
    const query = { ...asked(selection), limit, ...(after === null ? {} : { after }) };
    const { records, next }: { records: readonly RecordAnswer[]; next: Cursor | null } = await call(contract.readPage, { params: { app, table }, query });
    return { records, next: next === null ? null : JSON.stringify(next) };
  },
  groups: (selection) => call(contract.readGroups, { params: { app, table }, query: asked(selection), ...as }),
  addressOf: (record, selection) => withSelection(`/desk/${app}/${table}/${record}`, selection),
});
