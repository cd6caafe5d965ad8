import { contract, type Placed } from '@bibliona/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useMemo, useState } from 'react';
import { call, messageOf } from '../../state/api.js';
import { useDesignNotice } from '../../state/design.js';
import { keys } from '../../state/keys.js';
import type { Point } from './diagram-layout.js';

type Places = Readonly<Record<string, Placed | null>>;

interface Move {
  /** The version of the app when it was made. */
  readonly version: number;
  readonly before: Places;
  readonly after: Places;
}
interface Moves {
  readonly done: readonly Move[];
  readonly undone: readonly Move[];
}

export interface Placement {
  /** Where builders have put tables and notes themselves, by their ids; undefined: not known yet. */
  readonly own: ReadonlyMap<string, Point> | undefined;
  /** Shows at once what the server is told then. Null takes the place of its own from a table. Gives what undoes this move. */
  readonly move: (places: Places) => () => void;
  /** The same for what has just come: there was no place before it. */
  readonly begin: (places: Places) => void;
  /** Null: nothing was moved since the app itself was changed, so undoing is about that change. */
  readonly undo: (() => void) | null;
  readonly redo: (() => void) | null;
}

export const placementQuery = (app: string) => ({ queryKey: keys.placement(app), queryFn: () => call(contract.readPlacement, { params: { app } }) });

/** The places of tables and notes in the diagram of an app: the same for all who build it. */
export function usePlacement(app: string, version: number): Placement {
  const client = useQueryClient();
  const key = keys.placement(app);
  const { data, isError } = useQuery(placementQuery(app));
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
  const begin = useCallback(
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
  const [{ done, undone }, setMoves] = useState<Moves>({ done: [], undone: [] });
  const move = (after: Places): (() => void) => {
    const made = { version, before: Object.fromEntries(Object.keys(after).map((id) => [id, own?.get(id) ?? null])), after };
    setMoves({ done: [...done, made], undone: [] });
    begin(after);
    return () => {
      setMoves((moves) => ({ done: moves.done.filter((each) => each !== made), undone: [...moves.undone, made] }));
      begin(made.before);
    };
  };
  const [last, next] = [done.at(-1), undone.at(-1)];
  const undo =
    last?.version !== version
      ? null
      : () => {
          setMoves({ done: done.slice(0, -1), undone: [...undone, last] });
          begin(last.before);
        };
  const redo =
    next?.version !== version
      ? null
      : () => {
          setMoves({ done: [...done, next], undone: undone.slice(0, -1) });
          begin(next.after);
        };
  return { own, move, begin, undo, redo };
}
