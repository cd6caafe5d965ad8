import { useEffect, useMemo, useState } from 'react';
import { messageOf } from '../../state/api.js';
import { Rows, type RowSource } from './rows.js';

/**
 * The rows of a source; those of another order or search are shown when the first of them have come.
 * @param key tells one source from another
 */
export function useShownRows<R>(
  key: string,
  source: () => Omit<RowSource<R>, 'onFailure'>,
): { readonly rows: Rows<R> | null; readonly failure: string | null; readonly again: () => void } {
  const [failure, setFailure] = useState<string | null>(null);
  const wanted = useMemo(
    () => new Rows<R>({ ...source(), onFailure: (error) => setFailure(messageOf(error)) }),
    // The source is made anew with each drawing; it is the same as long as its key is.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
    [key],
  );
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
