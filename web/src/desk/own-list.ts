/** Lists that someone keeps for themselves: where they are, and which of them they look at. */
import type { KeptList } from '@bibliona/core';
import type { AppInHand } from '../state/app.js';
import { withSelection } from './list/selection.js';
import { writePicked } from './query/picked.js';

export type OwnList = AppInHand['ownLists'][number];

/** The address at which it is looked at like that. */
export function addressOf(app: AppInHand, of: KeptList): string {
  if (of.kind === 'table') return withSelection(`/desk/${app.id}/${of.table}`, of.selection);
  const picked = writePicked(of.picked).toString();
  return `/desk/${app.id}/q/${of.query}${picked === '' ? '' : `?${picked}`}`;
}

/** Those of tables and queries that were removed, or are out of reach now, are kept and not shown. */
export const shownOwnLists = (app: AppInHand): readonly OwnList[] =>
  app.ownLists.filter(({ of }) => (of.kind === 'table' ? app.rights[of.table]?.see === true : app.design.queries.some((query) => query.id === of.query)));

/** The one that is searched, narrowed, sorted and grouped the same. */
export const ownListAt = (app: AppInHand, of: KeptList): OwnList | undefined => {
  const here = addressOf(app, of);
  return app.ownLists.find((own) => addressOf(app, own.of) === here);
};

/** Whether a list or a query is looked at in any other way than it was made. */
export function isChanged(of: KeptList): boolean {
  if (of.kind === 'query') return of.picked.search !== '' || of.picked.sort !== undefined || of.picked.only.length > 0 || of.picked.by.length > 0;
  const { search, sort, narrowed, by } = of.selection;
  return search !== '' || sort !== undefined || narrowed !== undefined || by !== undefined;
}
