/** What someone picks of the rows of a query, as it is in the address. */
import { ColumnNarrowing, type RowsPicked } from '@bibliona/core';
import { useSearchParams } from 'react-router';

/** The same as the server is asked with it. */
export interface AskedRows {
  readonly search: string;
  readonly only?: string;
  readonly sort?: string | undefined;
  readonly direction: 'up' | 'down';
}

export function readPicked(search: URLSearchParams): RowsPicked {
  const sort = search.get('sort');
  return {
    search: search.get('q') ?? '',
    only: readNarrowed(search.get('only')),
    ...(sort === null ? {} : { sort }),
    direction: search.get('dir') === 'down' ? 'down' : 'up',
  };
}

/** What is not there, or is no list of such things, is nothing. */
function readNarrowed(text: string | null): RowsPicked['only'] {
  if (text === null) return [];
  try {
    const read = ColumnNarrowing.array().max(12).safeParse(JSON.parse(text));
    return read.success ? read.data : [];
  } catch {
    return [];
  }
}

export function writePicked({ search, only, sort, direction }: RowsPicked): URLSearchParams {
  return new URLSearchParams({
    ...(search === '' ? {} : { q: search }),
    ...(only.length === 0 ? {} : { only: JSON.stringify(only) }),
    ...(sort === undefined ? {} : { sort, ...(direction === 'down' ? { dir: 'down' } : {}) }),
  });
}

export const askedRows = ({ only, ...others }: RowsPicked): AskedRows => ({ ...others, ...(only.length === 0 ? {} : { only: JSON.stringify(only) }) });

export interface Picking {
  readonly picked: RowsPicked;
  readonly change: (part: { readonly [K in keyof RowsPicked]?: RowsPicked[K] | undefined }) => void;
}
export function usePicked(): Picking {
  const [search, setSearch] = useSearchParams();
  const picked = readPicked(search);
  return { picked, change: (part) => setSearch(writePicked({ ...picked, ...part } as RowsPicked), { replace: true }) };
}
