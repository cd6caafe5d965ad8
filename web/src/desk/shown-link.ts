import type { OwnLink, OwnMenu } from '@bibliona/core';
import { rolesInHand, type AppInHand } from '../state/app.js';
import { shownRecord, type ShownLink } from '../state/own-menu.js';
import { menuEntries } from '../state/pages.js';
import { addressOf, shownOwnLists } from './own-list.js';

/** What a link is called, and where it leads; null: it is gone, or out of reach for now. */
export function shownLink(app: AppInHand, menu: OwnMenu, link: OwnLink): ShownLink | null {
  if (link.kind === 'page') {
    const [entry] = menuEntries(app.design, app.id, [link.page], rolesInHand(app));
    return entry === undefined ? null : { link, name: entry.name, of: '', to: entry.to };
  }
  if (link.kind === 'own_list') {
    const own = shownOwnLists(app).find((each) => each.id === link.id);
    return own === undefined ? null : { link, name: own.name, of: '', to: addressOf(app, own.of) };
  }
  const named = menu.records.find((record) => record.table === link.table && record.id === link.id);
  return named === undefined ? null : shownRecord(app, named);
}
