import { contract, type HttpRoute } from '@bibliona/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useAppId } from '../../state/app.js';
import { keys } from '../../state/keys.js';

const askEvery = 300;

/** An import as it is now, asked for again while it is at work. */
export function useImport(id: string) {
  const app = useAppId();
  const client = useQueryClient();
  const [problem, setProblem] = useState<string | null>(null);
  const key = keys.import(app, id);
  const { data: answer, error } = useQuery({
    queryKey: key,
    queryFn: () => call(contract.readImport, { params: { app, import: id } }),
    refetchInterval: ({ state }) => (state.data?.state === 'reading' || state.data?.state === 'running' ? askEvery : false),
  });
  const state = answer?.state;
  useEffect(() => {
    // What came in shows everywhere: in the design, the counts and the lists.
    if (state === 'done') void client.invalidateQueries({ queryKey: keys.app(app), predicate: (query) => query.queryKey[2] !== 'import' });
  }, [state, client, app]);
  const act = async (route: HttpRoute, body: unknown = {}): Promise<void> => {
    setProblem(null);
    try {
      client.setQueryData(key, await call(route, { params: { app, import: id }, body }));
    } catch (refusal) {
      setProblem(messageOf(refusal));
      void client.invalidateQueries({ queryKey: keys.app(app) });
    }
  };
  return { answer, problem: problem ?? (error === null ? null : messageOf(error)), act };
}
