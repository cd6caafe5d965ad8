import { z } from 'zod';
import { Label } from '../shapes/shapes.js';
import { Region } from '../values/regions.js';
import { route } from './route.js';

export const nothingAsked = z.object({});
export const Email = z.string().trim().toLowerCase().max(200).pipe(z.email('must be a mail address'));
export const Password = z.string().min(10, 'needs at least 10 characters').max(200);
export const PersonId = z.coerce.number().int().min(1).max(Number.MAX_SAFE_INTEGER);
/** The secret part of a mailed link. */
export const LinkToken = z.object({ token: z.string().max(1000) });

export const SignedIn = z.object({
  id: z.number(),
  name: z.string(),
  email: z.string(),
  /** Administers the server: its people, and its mails about accounts. */
  isAdmin: z.boolean(),
  mayMakeApps: z.boolean(),
  /** How they write numbers and dates; null: as each app does. */
  region: Region.nullable(),
});
export type SignedIn = z.infer<typeof SignedIn>;

export const whoAmI = route({
  method: 'GET',
  path: '/api/me',
  access: 'anyone',
  params: nothingAsked,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({ person: SignedIn.nullable(), needsSetUp: z.boolean() }),
});
export const signIn = route({
  method: 'POST',
  path: '/api/sign-in',
  access: 'anyone',
  params: nothingAsked,
  query: nothingAsked,
  body: z.object({ email: z.string().trim().toLowerCase().min(1).max(200), password: z.string().min(1).max(200) }),
  answer: z.object({ person: SignedIn }),
});
export const signOut = route({
  method: 'POST',
  path: '/api/sign-out',
  access: 'anyone',
  params: nothingAsked,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({}),
});
/** Makes the first person of an installation; the key is printed where the server was started. */
export const setUp = route({
  method: 'POST',
  path: '/api/set-up',
  access: 'anyone',
  params: nothingAsked,
  query: nothingAsked,
  body: z.object({ key: z.string().min(1).max(100), name: Label, email: Email, password: Password }),
  answer: z.object({ person: SignedIn }),
});

export const changeProfile = route({
  method: 'POST',
  path: '/api/me/profile',
  access: 'person',
  params: nothingAsked,
  query: nothingAsked,
  body: z.object({ name: Label, region: Region.nullable() }),
  answer: z.object({ person: SignedIn }),
});
/** All sessions of the person end; the browser that asked gets a new one. */
export const changePassword = route({
  method: 'POST',
  path: '/api/me/password',
  access: 'person',
  params: nothingAsked,
  query: nothingAsked,
  body: z.object({ current: z.string().min(1).max(200), password: Password }),
  answer: z.object({}),
});
const Session = z.object({ id: z.string(), browser: z.string(), startedAt: z.string(), seenAt: z.string(), isThis: z.boolean() });
export type Session = z.infer<typeof Session>;
export const readSessions = route({
  method: 'GET',
  path: '/api/me/sessions',
  access: 'person',
  params: nothingAsked,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({ sessions: z.array(Session) }),
});
/** Ends one session of the person, or all but the one that asks. */
export const endSessions = route({
  method: 'POST',
  path: '/api/me/sessions/end',
  access: 'person',
  params: nothingAsked,
  query: nothingAsked,
  body: z.object({ session: z.union([z.uuid(), z.literal('others')]) }),
  answer: z.object({}),
});

/** Mails a link to set a new password. The answer is the same whether or not the address has an account. */
export const askReset = route({
  method: 'POST',
  path: '/api/resets',
  access: 'anyone',
  params: nothingAsked,
  query: nothingAsked,
  body: z.object({ email: Email }),
  answer: z.object({}),
});
export const readReset = route({
  method: 'GET',
  path: '/api/resets/:token',
  access: 'anyone',
  params: LinkToken,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({ email: z.string() }),
});
/** Sets the new password, ends all sessions, and signs this browser in. The link works once. */
export const resetPassword = route({
  method: 'POST',
  path: '/api/resets/:token',
  access: 'anyone',
  params: LinkToken,
  query: nothingAsked,
  body: z.object({ password: Password }),
  answer: z.object({ person: SignedIn }),
});
