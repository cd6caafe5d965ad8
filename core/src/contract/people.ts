import { z } from 'zod';
import { Label } from '../design/basics.js';
import { route } from './route.js';

export const nothingAsked = z.object({});
export const Email = z.string().trim().toLowerCase().max(200).pipe(z.email('must be a mail address'));
export const Password = z.string().min(10, 'needs at least 10 characters').max(200);

export const SignedIn = z.object({ id: z.number(), name: z.string(), email: z.string() });
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
