import { Narrowing, namedList, type AskedSelection, type List, type Selection, type Table } from '@bibliona/core';
import { useSearchParams } from 'react-router';
import { rolesInHand, useApp } from '../../state/app.js';
import { readNarrowed } from '../narrowed.js';

/** The state of a list as it is in the address: which list, what is searched and narrowed, how it is sorted and grouped. */
export function readSelection(search: URLSearchParams, table: Table): Selection {
  const isField = (id: string): boolean => table.fields.some((field) => field.id === id);
  const [list, sort, by] = ['list', 'sort', 'by'].map((name) => search.get(name) ?? undefined);
  const narrowed = readNarrowed(search.get('only'), Narrowing.array().max(12)).filter((each) => isField(each.field));
  return {
    ...(list === undefined ? {} : { list }),
    search: search.get('q') ?? '',
    ...(sort !== undefined && isField(sort) ? { sort } : {}),
    direction: search.get('dir') === 'down' ? 'down' : 'up',
    ...(narrowed.length === 0 ? {} : { narrowed: [...narrowed] }),
    ...(by === undefined ? {} : { by: by.split(',').filter(isField) }),
  };
}

export function withSelection(path: string, selection: Selection): string {
  const search = new URLSearchParams();
  if (selection.list !== undefined) search.set('list', selection.list);
  if (selection.search !== '') search.set('q', selection.search);
  if (selection.sort !== undefined) {
    search.set('sort', selection.sort);
    if (selection.direction === 'down') search.set('dir', 'down');
  }
  if (selection.narrowed !== undefined && selection.narrowed.length > 0) search.set('only', JSON.stringify(selection.narrowed));
  if (selection.by !== undefined) search.set('by', selection.by.join(','));
  return search.size === 0 ? path : `${path}?${search.toString()}`;
}

/** The state of a list as the server is asked with it. */
export function asked({ narrowed, by, ...selection }: Selection): AskedSelection {
  return {
    ...selection,
    ...(narrowed === undefined ? {} : { narrowed: JSON.stringify(narrowed) }),
    ...(by === undefined ? {} : { by: JSON.stringify(by) }),
  };
}

const viewNames: ReadonlySet<string> = new Set(['view', 'on', 'month']);
/** How much of a calendar or a timeline is in view, and where, as the address says it: that stays when other records are chosen. */
export const inView = (search: URLSearchParams): [name: string, value: string][] => [...search].filter(([name]) => viewNames.has(name));

export function useSelection(table: Table) {
  const [search, setSearch] = useSearchParams();
  const selection = readSelection(search, table);
  return {
    selection,
    change: (part: { readonly [K in keyof Selection]?: Selection[K] | undefined }): void => {
      const next = { ...selection, ...part } as Selection;
      setSearch([...new URLSearchParams(withSelection('', next).slice(1)), ...inView(search)], { replace: true });
    },
  };
}

/** The list that a selection is of. */
export function useList(table: string, selection: Pick<Selection, 'list'>): List {
  const app = useApp();
  return namedList(app.design, table, selection.list, rolesInHand(app));
}
