import { contract } from '@bibliona/core';
import { useQuery } from '@tanstack/react-query';
import { call } from '../../state/api.js';
import { useApp } from '../../state/app.js';
import { keys } from '../../state/keys.js';

/** What waits for whoever looks: asked again every minute, for others move records too. */
export function useWaiting() {
  const app = useApp();
  return useQuery({
    queryKey: keys.waiting(app.id),
    queryFn: () => call(contract.readWaiting, { params: { app: app.id } }),
    enabled: app.moves,
    refetchInterval: 60_000,
  });
}
