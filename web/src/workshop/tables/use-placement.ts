import { contract, type Placed } from '@bibliona/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useMemo } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useDesignNotice } from '../../state/design.js';
import { keys } from '../../state/keys.js';
import type { Point } from './diagram-layout.js';

type Places = Readonly<Record<string, Placed | null>>;

export interface Placement {
  /** Where builders have put tables themselves, by their ids; undefined: not known yet. */
  readonly own: ReadonlyMap<string, Point> | undefined;
  /** Shows at once what the server is told then. Null takes the place of its own from a table. */
  readonly place: (places: Places) => void;
}

/** The places of tables in the diagram of an app: the same for all who build it. */
export function usePlacement(app: string): Placement {
  const client = useQueryClient();
  const key = keys.placement(app);
  const { data, isError } = useQuery({ queryKey: key, queryFn: () => call(contract.readPlacement, { params: { app } }) });
  const saving = useMutation({
    // One after another, as they were made.
    scope: { id: `placement ${app}` },
    mutationFn: (places: Places) => call(contract.placeTables, { params: { app }, body: { places } }),
    onError: (error) => {
      useDesignNotice.getState().say({ kind: 'message', text: messageOf(error), isGood: false });
      void client.invalidateQueries({ queryKey: key });
    },
  });
  const { mutate } = saving;
  const place = useCallback(
    (places: Places): void => {
      void client.cancelQueries({ queryKey: keys.placement(app) });
      client.setQueryData(keys.placement(app), (before: { places: Record<string, Placed> } | undefined) => {
        const after = new Map(Object.entries(before?.places ?? {}));
        for (const [id, at] of Object.entries(places)) {
          if (at === null) after.delete(id);
          else after.set(id, at);
        }
        return { places: Object.fromEntries(after) };
      });
      mutate(places);
    },
    [client, app, mutate],
  );
  const own = useMemo(
    // Without what the server knows, the automatic layout is shown.
    () => (data === undefined && !isError ? undefined : new Map(Object.entries(data?.places ?? {}))),
    [data, isError],
  );
  return { own, place };
}
