import { contract, type Cursor, type RecordAnswer, type Selection, type Table } from '@bibliona/core';
import { useInfiniteQuery, useQueryClient, type InfiniteData } from '@tanstack/react-query';
import { useMemo } from 'react';
import { call } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { asked } from './selection.js';
import type { Markable } from './use-marks.js';

interface Page {
  readonly records: readonly RecordAnswer[];
  readonly next: Cursor | null;
}
const allIn = (read: InfiniteData<Page> | undefined): readonly RecordAnswer[] => read?.pages.flatMap((page) => page.records) ?? [];
const recordsKey = (app: string, table: string) => [...keys.table(app, table), 'records'] as const;

/** Records of a list page by page, for arrangements that show more of them at the press of a button. */
export function useRecords(table: Table, selection: Selection, limit: number) {
  const app = useApp();
  const pages = useInfiniteQuery({
    queryKey: [...recordsKey(app.id, table.id), limit, selection],
    queryFn: ({ pageParam }) =>
      call(contract.readPage, {
        params: { app: app.id, table: table.id },
        query: { ...asked(selection), limit, ...(pageParam === null ? {} : { after: JSON.stringify(pageParam) }) },
      }),
    initialPageParam: null as Cursor | null,
    getNextPageParam: (page) => page.next,
  });
  return { ...pages, records: allIn(pages.data) };
}

/** So many are read at once to be chosen. */
const pageOfMarks = 500;

/** The records of a list that is read page by page, or group by group, to choose among them. @param limit of the pages of the list itself */
export function useMarkable(table: Table, selection: Selection, limit: number): Markable {
  const app = useApp();
  const client = useQueryClient();
  const written = JSON.stringify(selection);
  return useMemo(() => {
    const list = JSON.parse(written) as Selection;
    const key = recordsKey(app.id, table.id);
    return {
      find: (id) => {
        const own = allIn(client.getQueryData([...key, limit, list]));
        const index = own.findIndex((record) => record.id === id);
        const row = own[index];
        if (row !== undefined) return { row, index };
        const others = client.getQueriesData<InfiniteData<Page>>({ queryKey: key }).flatMap(([, read]) => allIn(read));
        const other = others.find((record) => record.id === id);
        return other === undefined ? null : { row: other };
      },
      load: async ({ first, end }) => {
        const records: RecordAnswer[] = [];
        for (let after: Cursor | null | undefined; records.length < end && after !== null;) {
          const query = { ...asked(list), limit: pageOfMarks, ...(after === undefined ? {} : { after: JSON.stringify(after) }) };
          const page: Page = await call(contract.readPage, { params: { app: app.id, table: table.id }, query });
          records.push(...page.records);
          after = page.next;
        }
        return records.slice(first, end);
      },
    };
  }, [app.id, client, limit, table.id, written]);
}
