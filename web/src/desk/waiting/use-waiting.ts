import { contract } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { call } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';
import { locale } from '../../state/locale.js';

/** What waits for this person. Read again every minute, because other people move records too. */
export function useWaiting() {
  const app = useApp();
  return useQuery({
    queryKey: keys.waiting(app.id),
    queryFn: () => call(contract.readWaiting, { params: { app: app.id } }),
    enabled: app.moves,
    refetchInterval: 60_000,
  });
}

/** How many records wait in all, in words; empty while it is not known, or none waits. */
export function printWaiting(routes: readonly { readonly count: number; readonly atLeast: boolean }[]): string {
  const count = routes.reduce((sum, route) => sum + route.count, 0);
  return count === 0 ? '' : `${locale().count(count)}${routes.some((route) => route.atLeast) ? '+' : ''}`;
}
