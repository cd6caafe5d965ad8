import type { Selection, Table } from '@bibliona/core';
import { useSearchParams } from 'react-router';

/** The state of a list as it is in the address: what is searched and how it is sorted. */
export function readSelection(search: URLSearchParams, table: Table): Selection {
  const sort = search.get('sort') ?? undefined;
  return {
    search: search.get('q') ?? '',
    ...(sort !== undefined && table.fields.some((field) => field.id === sort) ? { sort } : {}),
    direction: search.get('dir') === 'down' ? 'down' : 'up',
  };
}

export function withSelection(path: string, selection: Selection): string {
  const search = new URLSearchParams();
  if (selection.search !== '') search.set('q', selection.search);
  if (selection.sort !== undefined) {
    search.set('sort', selection.sort);
    if (selection.direction === 'down') search.set('dir', 'down');
  }
  return search.size === 0 ? path : `${path}?${search.toString()}`;
}

export function useSelection(table: Table) {
  const [search, setSearch] = useSearchParams();
  const selection = readSelection(search, table);
  return {
    selection,
    change: (part: { readonly search?: string; readonly sort?: string | undefined; readonly direction?: 'up' | 'down' }): void => {
      const next = { ...selection, ...part } as Selection;
      setSearch(new URLSearchParams(withSelection('', next).slice(1)), { replace: true });
    },
  };
}
