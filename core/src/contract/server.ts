/** What server administrators do: its people, and the mails that carry links into accounts. */
import { z } from 'zod';
import { Mail } from './mails.js';
import { nothingAsked, PersonId } from './people.js';
import { route } from './route.js';

const ServerPerson = z.object({
  id: z.number(),
  name: z.string(),
  email: z.string(),
  isAdmin: z.boolean(),
  mayMakeApps: z.boolean(),
  /** How many apps they are in. */
  apps: z.number(),
  lastSeen: z.string().nullable(),
});
export type ServerPerson = z.infer<typeof ServerPerson>;

export const readServer = route({
  method: 'GET',
  path: '/api/server',
  access: 'admin',
  params: nothingAsked,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({
    people: z.array(ServerPerson),
    /** Everyone can make apps, whatever is set for each person. */
    everyoneMakesApps: z.boolean(),
    /** No relay is set up: mails stay in the mailbox. */
    standIn: z.boolean(),
    /** The latest invitations and account mails. `text` is null once a relay has taken the mail: the link was for its reader alone. */
    mails: z.array(z.object({ mail: Mail, text: z.string().nullable() })),
  }),
});
export type ServerAnswer = z.infer<typeof readServer.answer>;
export const changeServerPerson = route({
  method: 'POST',
  path: '/api/server/people/:person',
  access: 'admin',
  params: z.object({ person: PersonId }),
  query: nothingAsked,
  body: z.object({ isAdmin: z.boolean(), mayMakeApps: z.boolean() }),
  answer: z.object({}),
});
