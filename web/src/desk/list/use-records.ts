import { contract, type Cursor, type RecordAnswer, type Selection, type Table } from '@bibliona/core';
import { useInfiniteQuery } from '@tanstack/react-query';
import { call } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { asked } from './selection.js';

/** Records of a list page by page, for arrangements that show more of them at the press of a button. */
export function useRecords(table: Table, selection: Selection, limit: number) {
  const app = useApp();
  const pages = useInfiniteQuery({
    queryKey: [...keys.table(app.id, table.id), 'records', limit, selection],
    queryFn: ({ pageParam }) =>
      call(contract.readPage, {
        params: { app: app.id, table: table.id },
        query: { ...asked(selection), limit, ...(pageParam === null ? {} : { after: JSON.stringify(pageParam) }) },
      }),
    initialPageParam: null as Cursor | null,
    getNextPageParam: (page) => page.next,
  });
  const records: readonly RecordAnswer[] = pages.data?.pages.flatMap((page) => page.records) ?? [];
  return { ...pages, records };
}
