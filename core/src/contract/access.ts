import { z } from 'zod';
import { memberships } from '../access/membership.js';
import { Id } from '../shapes/shapes.js';
import { appParams } from './apps.js';
import { Email, nothingAsked, PersonId } from './people.js';
import { recordParams } from './records.js';
import { route } from './route.js';

const Ties = z.record(Id, z.number().int().min(1).max(Number.MAX_SAFE_INTEGER));

/** What someone is to an app. Roles and ties are a member's; a builder does everything. */
const Standing = z.object({ role: z.enum(memberships), roles: z.array(Id).max(100), ties: Ties });

const AppPerson = Standing.extend({
  id: z.number(),
  name: z.string(),
  email: z.string(),
  /** What the records are called that the person is tied to, by the id of the tie. */
  tiedTo: z.record(z.string(), z.string()),
});
export type AppPerson = z.infer<typeof AppPerson>;
const Invitation = Standing.extend({ email: z.string(), expires: z.string() });
export type Invitation = z.infer<typeof Invitation>;

export const readPeople = route({
  method: 'GET',
  path: '/api/apps/:app/people',
  access: 'builder',
  params: appParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({ people: z.array(AppPerson), invitations: z.array(Invitation) }),
});
export const changePerson = route({
  method: 'POST',
  path: '/api/apps/:app/people/:person',
  access: 'builder',
  params: appParams.extend({ person: PersonId }),
  query: nothingAsked,
  body: Standing,
  answer: z.object({}),
});
export const removePerson = route({
  method: 'POST',
  path: '/api/apps/:app/people/:person/remove',
  access: 'builder',
  params: appParams.extend({ person: PersonId }),
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({}),
});
/** Brings someone back who was removed in the last 30 days, as they were. */
export const restorePerson = route({
  method: 'POST',
  path: '/api/apps/:app/people/:person/restore',
  access: 'builder',
  params: appParams.extend({ person: PersonId }),
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({}),
});
/**
 * Mails an invitation. The addressee joins by its link, and nobody else learns it. The answer is the same whether or not
 * the address has an account.
 */
export const invite = route({
  method: 'POST',
  path: '/api/apps/:app/invitations',
  access: 'builder',
  params: appParams,
  query: nothingAsked,
  body: Standing.extend({ email: Email }),
  /** Whether the mail goes out, or stays in the mailbox of the server. */
  answer: z.object({ goesOut: z.boolean() }),
});
export const withdrawInvitation = route({
  method: 'POST',
  path: '/api/apps/:app/invitations/withdraw',
  access: 'builder',
  params: appParams,
  query: nothingAsked,
  body: z.object({ email: Email }),
  answer: z.object({}),
});

/** One grant as it is between a person and a record. */
const AskedGrant = z.object({
  role: z.string(),
  /** In plain words; empty: for every record. */
  condition: z.string(),
  /** `lacks_tie`: it speaks of a record that the person is not tied to. */
  holds: z.enum(['yes', 'no', 'lacks_tie']),
  allows: z.array(z.enum(['see', 'add', 'change', 'remove', 'export'])),
  hidden: z.array(z.string()),
  locked: z.array(z.string()),
});
export type AskedGrant = z.infer<typeof AskedGrant>;
/** Why a person can or can't reach a record: every grant of their roles for its table, and what comes of them. */
export const explainAccess = route({
  method: 'GET',
  path: '/api/apps/:app/tables/:table/records/:id/why',
  access: 'builder',
  params: recordParams,
  query: z.object({ person: PersonId }),
  body: nothingAsked,
  answer: z.object({
    person: z.string(),
    record: z.string(),
    isBuilder: z.boolean(),
    sees: z.boolean(),
    changes: z.boolean(),
    removes: z.boolean(),
    grants: z.array(AskedGrant),
    /** Fields that the person does not see of it, though they see the record. */
    hidden: z.array(z.string()),
  }),
});
export type AccessAnswer = z.infer<typeof explainAccess.answer>;
