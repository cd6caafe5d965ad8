/**
 * What others save shows here: an event says which tables can look otherwise, and what is made of them is read again. The
 * same is done for what this screen saves itself.
 */
import { contract, LiveEvent, tablesOfPage, tablesShowing, type AppDesign, type OwnMenu } from '@bibliona/core';
import { useQueryClient, type Query, type QueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { isTyping } from '../fields/typed.js';
import { pathOf, tab } from './api.js';
import { useApp } from './app.js';
import { keys } from './keys.js';
import { lookedAs } from './look-as.js';

type Heard = (tables: ReadonlySet<string>) => void;
const listeners = new Set<Heard>();
/** For what keeps its rows outside of the query cache. */
export function onTouched(hear: Heard): () => void {
  listeners.add(hear);
  return () => listeners.delete(hear);
}

/** Records with unsaved changes: a newer state waits until they are saved or cancelled. */
const inUse = new Set<string>();
export const recordName = (table: string, id: number): string => `${table} ${id}`;
export function useInUse(name: string | null, isInUse: boolean): void {
  useEffect(() => {
    if (name === null || !isInUse) return undefined;
    inUse.add(name);
    return () => {
      inUse.delete(name);
    };
  }, [name, isInUse]);
}

/** Records that this screen has just saved. Their new state replaces the form, even while someone types. */
export const justSaved = new Set<string>();
const isBeingTyped = (): boolean => isTyping() || document.activeElement?.closest('.record-main input, .record-main textarea') != null;
/** Whether another state of a record can take the place of the one that is shown. */
export const mayReplace = (name: string): boolean => justSaved.has(name) || !(inUse.has(name) || isBeingTyped());

/** Whether a query shows one of the tables; a member's design might not tell. */
export const isQueryOf = (design: AppDesign, id: string, tables: ReadonlySet<string>): boolean =>
  tablesOfPage(design, { kind: 'query', query: id }).some((each) => tables.has(each)) ||
  !design.queries.some((query) => query.id === id && query.columns.length > 0);

/** Whether an answer is made of one of the tables. */
function isMadeOf({ queryKey, state }: Query, design: AppDesign, tables: ReadonlySet<string>): boolean {
  const [, , kind, id] = queryKey as readonly string[];
  const has = (all: readonly string[]): boolean => all.some((each) => tables.has(each));
  switch (kind) {
    case 'table':
      return id !== undefined && tables.has(id);
    case 'query':
      return isQueryOf(design, id ?? '', tables);
    case 'report':
    case 'dashboard':
      // A member's design does not say what pages are made of: then they may be made of these.
      return true;
    case 'route':
      return design.routes.some((route) => route.id === id && tables.has(route.table));
    case 'own menu': {
      const { records = [], recent = [] } = (state.data ?? {}) as Partial<OwnMenu>;
      return has([...records, ...recent].map(({ table }) => table));
    }
    case 'counts':
    case 'waiting':
    case 'search':
    case 'runs':
    case 'mails':
    case 'log':
      return true;
    default:
      return false;
  }
}

/** Reads again what is made of the tables. `own`: this screen has saved it, and finds by itself what shows them. */
export async function touched(
  client: QueryClient,
  app: { readonly id: string; readonly design: AppDesign },
  tables: readonly string[],
  own = true,
): Promise<void> {
  const all = new Set(own ? tablesShowing(app.design, tables) : tables);
  if (all.size === 0) return;
  for (const hear of listeners) hear(all);
  await client.invalidateQueries({
    queryKey: keys.app(app.id),
    predicate: (query) => isMadeOf(query, app.design, all),
  });
}

// In milliseconds, between tries to listen again.
const [firstPause, longestPause] = [3000, 60_000];

/** Listens while the screen is visible. When it comes back, it reads again what it missed. */
export function useLive({ followsDesign }: { readonly followsDesign: boolean }): void {
  const app = useApp();
  const client = useQueryClient();
  const { id } = app;
  useEffect(() => {
    // Who looks as someone else sees what that person sees; the stream would be the builder's own.
    if (lookedAs(id) !== null) return undefined;
    let source: EventSource | null = null;
    let wasAway = false;
    const everything = (): void =>
      void touched(
        client,
        { id, design: latest().design },
        latest().design.tables.map((table) => table.id),
        false,
      );
    const latest = (): typeof app => client.getQueryData<typeof app>(keys.app(id)) ?? app;
    let pause = firstPause;
    let again: ReturnType<typeof setTimeout> | undefined;
    const close = (): void => {
      clearTimeout(again);
      source?.close();
      source = null;
    };
    const open = (): void => {
      if (source !== null || document.visibilityState === 'hidden') return;
      source = new EventSource(pathOf(contract.readLive, { app: id }, { tab }));
      source.onopen = () => {
        pause = firstPause;
        if (wasAway) everything();
        wasAway = false;
      };
      source.onerror = () => {
        wasAway = true;
        // The browser comes back by itself where the connection broke, but not where the server said no, as one that restarts does.
        if (source?.readyState !== EventSource.CLOSED) return;
        close();
        again = setTimeout(open, pause);
        pause = Math.min(pause * 2, longestPause);
      };
      source.onmessage = ({ data }: MessageEvent<string>) => {
        const event = LiveEvent.safeParse(JSON.parse(data));
        if (!event.success) return;
        if (followsDesign && event.data.version > latest().version) void client.invalidateQueries({ queryKey: keys.app(id), exact: true });
        void touched(client, latest(), event.data.tables, false);
      };
    };
    const onVisible = (): void => {
      if (document.visibilityState === 'visible') return open();
      wasAway = true;
      close();
    };
    open();
    document.addEventListener('visibilitychange', onVisible);
    return () => {
      document.removeEventListener('visibilitychange', onVisible);
      close();
      // What is saved from now on is not heard of: where it is shown again, it is read again, however little time has passed.
      void client.invalidateQueries({ queryKey: keys.app(id), refetchType: 'none' });
    };
    // One stream for each app; what it needs of the design it reads when something comes.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [id, client, followsDesign]);
}
