import type { RecordAnswer, Selection, Table } from '@bibliona/core';
import { useInfiniteQuery, useQueryClient, type InfiniteData } from '@tanstack/react-query';
import { useMemo } from 'react';
import { useRecordSource, type Page } from './record-source.js';
import type { HeldRecords } from './use-cell-save.js';
import type { Markable } from './use-marks.js';

const allIn = (read: InfiniteData<Page> | undefined): readonly RecordAnswer[] => read?.pages.flatMap((page) => page.records) ?? [];
const recordsKey = (source: readonly unknown[]) => [...source, 'records'] as const;

/** Records of a list page by page, for arrangements that show more of them at the press of a button. */
export function useRecords(table: Table, selection: Selection, limit: number) {
  const source = useRecordSource(table);
  const pages = useInfiniteQuery({
    queryKey: [...recordsKey(source.key), limit, selection],
    queryFn: ({ pageParam }) => source.page(selection, limit, pageParam),
    initialPageParam: null as string | null,
    getNextPageParam: (page) => page.next,
  });
  return { ...pages, records: allIn(pages.data) };
}

/** So many are read at once to be chosen. */
const pageOfMarks = 500;

/** The records of a list that is read page by page, or group by group, to choose among them and to change them. @param limit of the pages of the list itself */
export function useMarkable(table: Table, selection: Selection, limit: number): Markable & HeldRecords {
  const source = useRecordSource(table);
  const client = useQueryClient();
  const written = JSON.stringify(selection);
  return useMemo(() => {
    const list = JSON.parse(written) as Selection;
    const key = recordsKey(source.key);
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
      replace: (record) => {
        const put = (page: Page): Page => ({ ...page, records: page.records.map((each) => (each.id === record.id ? record : each)) });
        client.setQueriesData<InfiniteData<Page>>({ queryKey: key }, (read) => (read === undefined ? undefined : { ...read, pages: read.pages.map(put) }));
      },
      load: async ({ first, end }) => {
        const records: RecordAnswer[] = [];
        for (let after: string | null | undefined; records.length < end && after !== null;) {
          const page: Page = await source.page(list, pageOfMarks, after ?? null);
          records.push(...page.records);
          after = page.next;
        }
        return records.slice(first, end);
      },
    };
  }, [source, client, limit, written]);
}
