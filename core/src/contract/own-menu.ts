/** What people put into the menu of their Desk themselves, and the records that they opened last. */
import { z } from 'zod';
import { Page } from '../design/page.js';
import { Id, Label } from '../shapes/shapes.js';
import { appParams } from './apps.js';
import { nothingAsked } from './people.js';
import { route } from './route.js';

const RecordLink = z.object({ table: Id, id: z.number().int().min(1).max(Number.MAX_SAFE_INTEGER) });
const OwnLink = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('page'), page: Page }),
  z.object({ kind: z.literal('record'), ...RecordLink.shape }),
  /** A list that they keep for themselves. */
  z.object({ kind: z.literal('own_list'), id: z.uuid() }),
]);
export type OwnLink = z.infer<typeof OwnLink>;

export const [mostOwnSections, mostOwnLinks] = [12, 40] as const;
const OwnSection = z.object({ name: Label, links: z.array(OwnLink).max(mostOwnLinks) });
export type OwnSection = z.infer<typeof OwnSection>;
export const OwnSections = z.array(OwnSection).max(mostOwnSections);

/** So many of the records that were opened last are told. */
export const mostRecent = 8;
/** A record with what it is called for this person, now. */
const NamedLink = z.object({ table: z.string(), id: z.number(), caption: z.string() });
export type NamedLink = z.infer<typeof NamedLink>;

export const readOwnMenu = route({
  method: 'GET',
  path: '/api/apps/:app/own-menu',
  access: 'member',
  params: appParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({
    /** It is told with a change: one that was made on another menu than this is refused. */
    revision: z.number(),
    sections: OwnSections,
    /** The records in them; those that are gone, or out of this person's reach, are missing. */
    records: z.array(NamedLink),
    /** The latest first. */
    recent: z.array(NamedLink),
  }),
});
export type OwnMenu = z.infer<typeof readOwnMenu.answer>;

export const keepOwnMenu = route({
  method: 'POST',
  path: '/api/apps/:app/own-menu',
  access: 'member',
  params: appParams,
  query: nothingAsked,
  body: z.object({ revision: z.number().int().min(0), sections: OwnSections }),
  answer: z.object({ revision: z.number() }),
});

/** Told by a browser when somebody has opened a record. */
export const noteOpened = route({
  method: 'POST',
  path: '/api/apps/:app/opened',
  access: 'member',
  params: appParams,
  query: nothingAsked,
  body: RecordLink,
  answer: z.object({}),
});
