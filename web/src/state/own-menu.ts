/** The part of the Desk's menu that each person makes for themselves. */
import { contract, mostOwnLinks, mostRecent, type NamedLink, type OwnLink, type OwnMenu, type OwnSection } from '@bibliona/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { ApiRefusal, call } from './api.js';
import { useApp, type AppInHand } from './app.js';
import { keys } from './keys.js';
import { lookedAs } from './look-as.js';

/** Where what is chosen goes at first. */
const firstSection = 'Favourites';

const keyOf = (link: OwnLink): string => {
  if (link.kind === 'own_list') return `own list ${link.id}`;
  return link.kind === 'page' ? JSON.stringify(Object.entries(link.page).sort()) : `${link.table} ${link.id}`;
};
export const isSameLink = (a: OwnLink, b: OwnLink): boolean => keyOf(a) === keyOf(b);

/** A link as the menu shows it. */
export interface ShownLink {
  readonly link: OwnLink;
  readonly name: string;
  /** What a record is one of; empty for a page. */
  readonly of: string;
  readonly to: string;
}

export const shownRecord = (app: AppInHand, { table, id, caption }: NamedLink): ShownLink => ({
  link: { kind: 'record', table, id },
  name: caption,
  of: app.design.tables.find((each) => each.id === table)?.name ?? '',
  to: `/desk/${app.id}/${table}/${id}`,
});

export const withLink = (sections: readonly OwnSection[], link: OwnLink): readonly OwnSection[] => {
  const at = sections.findIndex((section) => section.links.length < mostOwnLinks);
  return at === -1
    ? [...sections, { name: firstSection, links: [link] }]
    : sections.map((section, i) => (i === at ? { ...section, links: [...section.links, link] } : section));
};
export const withoutLink = (sections: readonly OwnSection[], link: OwnLink): readonly OwnSection[] =>
  sections
    .map((section) => ({ ...section, links: section.links.filter((each) => !isSameLink(each, link)) }))
    // A section that was only made to hold it goes along.
    .filter((section) => section.links.length > 0 || section.name !== firstSection);

export function useOwnMenu() {
  const app = useApp();
  const client = useQueryClient();
  const key = keys.ownMenu(app.id);
  const read = (): Promise<OwnMenu> => call(contract.readOwnMenu, { params: { app: app.id } });
  // What this window does to it is known here; what another one does comes in time.
  const { data } = useQuery({ queryKey: key, queryFn: read, staleTime: 60_000 });
  /** Keeps these sections in place of a menu. @throws what `call` throws: also where the menu was changed in another window meanwhile */
  const arrange = async ({ revision }: OwnMenu, sections: readonly OwnSection[]): Promise<void> => {
    await call(contract.keepOwnMenu, { params: { app: app.id }, body: { revision, sections: [...sections] } });
    await client.invalidateQueries({ queryKey: key });
  };
  /** Keeps what `change` makes of the menu as it is now: what was changed in another window meanwhile stays. @throws what `call` throws */
  const change = async (made: (sections: readonly OwnSection[]) => readonly OwnSection[]): Promise<void> => {
    const known = client.getQueryData<OwnMenu>(key) ?? (await read());
    try {
      await arrange(known, made(known.sections));
    } catch (error) {
      if (!(error instanceof ApiRefusal) || error.code !== 'invalid') throw error;
      const now = await read();
      await arrange(now, made(now.sections));
    }
  };
  /** Who looks as someone else changes nothing. */
  return { menu: data, change, arrange, mayKeep: lookedAs(app.id) === null };
}

/** Tells that a record was opened, so that it is among those that were opened last. */
export function useNoteOpened(record: NamedLink): void {
  const app = useApp();
  const client = useQueryClient();
  const { table, id, caption } = record;
  const isLooking = lookedAs(app.id) !== null;
  useEffect(() => {
    if (isLooking) return;
    // Nobody waits for it, and nothing is lost without it.
    void call(contract.noteOpened, { params: { app: app.id }, body: { table, id } }).catch(() => undefined);
  }, [app.id, isLooking, table, id]);
  useEffect(() => {
    client.setQueryData<OwnMenu>(
      keys.ownMenu(app.id),
      (menu) => menu && { ...menu, recent: [{ table, id, caption }, ...without(menu.recent, table, id)].slice(0, mostRecent) },
    );
  }, [client, app.id, table, id, caption]);
}
const without = (records: readonly NamedLink[], table: string, id: number): readonly NamedLink[] =>
  records.filter((each) => each.table !== table || each.id !== id);
