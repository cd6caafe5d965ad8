/** What someone picks of the rows of a query, as it is in the address. */
import { ColumnNarrowing, mostLevels, type RowsPicked } from '@bibliona/core';
import { useSearchParams } from 'react-router';
import { inView } from '../list/selection.js';
import { readNarrowed } from '../narrowed.js';

/** The same as the server is asked with it for rows. */
export interface AskedRows {
  readonly search: string;
  readonly only?: string;
  readonly sort?: string | undefined;
  readonly direction: 'up' | 'down';
}

const isId = (text: string): boolean => /^[a-z][a-z0-9_]{1,39}$/u.test(text);

export function readPicked(search: URLSearchParams): RowsPicked {
  const sort = search.get('sort');
  return {
    search: search.get('q') ?? '',
    only: [...readNarrowed(search.get('only'), ColumnNarrowing.array().max(12))],
    ...(sort === null ? {} : { sort }),
    direction: search.get('dir') === 'down' ? 'down' : 'up',
    by: (search.get('by') ?? '').split(',').filter(isId).slice(0, mostLevels),
  };
}

export function writePicked({ search, only, sort, direction, by }: RowsPicked): URLSearchParams {
  return new URLSearchParams({
    ...(search === '' ? {} : { q: search }),
    ...(only.length === 0 ? {} : { only: JSON.stringify(only) }),
    ...(sort === undefined ? {} : { sort, ...(direction === 'down' ? { dir: 'down' } : {}) }),
    ...(by.length === 0 ? {} : { by: by.join(',') }),
  });
}

export const askedRows = ({ only, by: _, ...others }: RowsPicked): AskedRows => ({ ...others, ...(only.length === 0 ? {} : { only: JSON.stringify(only) }) });

export interface Picking {
  readonly picked: RowsPicked;
  readonly change: (part: { readonly [K in keyof RowsPicked]?: RowsPicked[K] | undefined }) => void;
}
export function usePicked(): Picking {
  const [search, setSearch] = useSearchParams();
  const picked = readPicked(search);
  const change: Picking['change'] = (part) => setSearch([...writePicked({ ...picked, ...part } as RowsPicked), ...inView(search)], { replace: true });
  return { picked, change };
}
