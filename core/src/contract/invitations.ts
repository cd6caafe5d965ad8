/** Invitations to an app, as the person who was invited meets them. What a builder does with them: access.ts. */
import { z } from 'zod';
import { Label } from '../shapes/shapes.js';
import { LinkToken, nothingAsked, Password, SignedIn } from './people.js';
import { route } from './route.js';

export const readInvitation = route({
  method: 'GET',
  path: '/api/invitations/:token',
  access: 'anyone',
  params: LinkToken,
  query: nothingAsked,
  body: nothingAsked,
  /** `hasAccount`: told to nobody but who has the link, which only the addressee gets. */
  answer: z.object({ app: z.string(), by: z.string().nullable(), email: z.string(), hasAccount: z.boolean() }),
});
/** Makes an account for the address of the invitation and joins the app. */
export const acceptInvitation = route({
  method: 'POST',
  path: '/api/invitations/:token',
  access: 'anyone',
  params: LinkToken,
  query: nothingAsked,
  body: z.object({ name: Label, password: Password }),
  answer: z.object({ person: SignedIn, app: z.string() }),
});
/** Joins with the account that is signed in, when the invitation is for its address. */
export const joinByLink = route({
  method: 'POST',
  path: '/api/invitations/:token/join',
  access: 'person',
  params: LinkToken,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({ app: z.string() }),
});

const MyInvitation = z.object({ id: z.string(), app: z.string(), by: z.string().nullable(), expires: z.string() });
export type MyInvitation = z.infer<typeof MyInvitation>;
/** Invitations for the signed-in person's address, after they have proved that it is theirs. */
export const myInvitations = route({
  method: 'GET',
  path: '/api/me/invitations',
  access: 'person',
  params: nothingAsked,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({ invitations: z.array(MyInvitation) }),
});
export const answerInvitation = route({
  method: 'POST',
  path: '/api/me/invitations/:invitation',
  access: 'person',
  params: z.object({ invitation: z.uuid() }),
  query: nothingAsked,
  body: z.object({ join: z.boolean() }),
  /** Null: declined. */
  answer: z.object({ app: z.string().nullable() }),
});
