import { contract, kindsToLoad, loadKinds, type AppDesign, type Circumstances, type OpenApp, type OpenRecord, type Table } from '@bibliona/core';
import { useQuery, useSuspenseQuery } from '@tanstack/react-query';
import { createContext, useContext, useMemo } from 'react';
import { useParams } from 'react-router';
import { call } from './api.js';
import { keys } from './keys.js';
import { locale } from './locale.js';

/** An app as opened, with its design typed as what the server has parsed it to be. */
export type AppInHand = Omit<OpenApp, 'design'> & { readonly design: AppDesign };
export const inHand = (open: OpenApp): AppInHand => open as AppInHand;

export function useAppId(): string {
  const { app } = useParams();
  if (app === undefined) throw new Error('A screen of an app outside of its address');
  return app;
}

export const appQuery = (id: string) => ({ queryKey: keys.app(id), queryFn: () => call(contract.openApp, { params: { app: id } }) });

/** The app of the address as it was opened; what is waited for until it is. */
export const useOpenedApp = (): AppInHand => inHand(useSuspenseQuery(appQuery(useAppId())).data);

/** The app that is worked in: several hundred places ask for it, and each that asked the queries would be a watcher of its own. */
export const AppContext = createContext<AppInHand | null>(null);

/** The app at hand. Raises an error outside of an app. */
export function useApp(): AppInHand {
  const app = useContext(AppContext);
  if (app === null) throw new Error('What belongs to an app is outside of one');
  return app;
}

/** What the values of these tables are printed with; most need nothing. */
export function kindsQuery(tables: readonly Table[]) {
  const kinds = kindsToLoad(tables.flatMap((table) => table.fields));
  const load = async (): Promise<boolean> => {
    await loadKinds(kinds);
    return true;
  };
  return { queryKey: keys.kinds(kinds), queryFn: load, staleTime: Infinity, ...(kinds.length === 0 ? { initialData: true } : {}) };
}
/** Waits for it. */
export const useKindsOf = (tables: readonly Table[]): unknown => useSuspenseQuery(kindsQuery(tables));

/** Set around what is only read for now, whatever the person at hand can do. */
export const OnlyRead = createContext(false);

/** What the person at hand can do with a table; where a record decides, the server is asked. */
export function useRights(table: string): OpenApp['rights'][string] {
  const { design, rights } = useApp();
  const isOnlyRead = useContext(OnlyRead);
  const own = rights[table] ?? noRights;
  return useMemo(() => {
    if (!isOnlyRead) return own;
    const locked = design.tables.find((each) => each.id === table)?.fields.map((field) => field.id) ?? [];
    return { ...own, add: false, change: false, remove: false, locked };
  }, [own, isOnlyRead, design, table]);
}
/** The same for one record: a grant can depend on what is in it. Null: a new one. */
export const rightsIn = (rights: OpenApp['rights'][string], open: OpenRecord | null): OpenApp['rights'][string] =>
  open?.may === undefined ? rights : { ...rights, change: rights.change && open.may.change, remove: rights.remove && open.may.remove };
const noRights: OpenApp['rights'][string] = { see: false, add: false, change: false, remove: false, export: false, hidden: [], locked: [], partial: [] };

/** Fields that are not this person's to write. */
export const closedFields = (rights: OpenApp['rights']): ReadonlySet<string> =>
  new Set(Object.values(rights).flatMap((right) => [...right.hidden, ...right.locked]));

/** The roles whose forms and lists come first: a builder's own are those of everybody. */
export const rolesInHand = ({ role, design }: AppInHand): readonly string[] => (role === 'builder' ? [] : design.roles.map((each) => each.id));

export function useCounts(app: string) {
  return useQuery({ queryKey: keys.counts(app), queryFn: () => call(contract.countRecords, { params: { app } }) }).data;
}

export const printCount = (counts: { readonly counts: Record<string, number>; readonly countedTo: number } | undefined, table: string): string => {
  const count = counts?.counts[table];
  if (count === undefined || counts === undefined) return '';
  return `${locale().count(count)}${count >= counts.countedTo ? '+' : ''}`;
};

/** What expressions can know besides the records: the time of opening, the time zone of the app, and who looks. */
export function useCircumstances(): Circumstances {
  const { design, me, ties } = useApp();
  const zone = design.timeZone;
  return useMemo(() => ({ now: Date.now(), zone, me, ties }), [zone, me, ties]);
}

/** A new stable id for a part of a design: the prefix tells what it is. */
export const newId = (prefix: string): string => `${prefix}_${crypto.randomUUID().replaceAll('-', '').slice(0, 12)}`;
