import { contract } from '@bibliona/core';
import type { Context } from 'koa';
import { sessionCookie } from '../http/application.js';
import { forAnyone, type Served } from '../http/serve.js';
import type { WhoAsks } from './who-asks.js';
import { sessionMilliseconds, type People } from './people.js';

/** Keeps the session of whoever has just signed in. `secure`: the cookie travels by TLS alone. */
export const keepSession =
  (secure: boolean) =>
  (context: Context, token: string): void => {
    context.cookies.set(sessionCookie, token, { httpOnly: true, sameSite: 'lax', secure, maxAge: sessionMilliseconds, overwrite: true });
  };

export function peopleRoutes(people: People, whoAsks: WhoAsks, keep: (context: Context, token: string) => void): readonly Served[] {
  const leave = async (context: Context): Promise<void> => {
    const token = context.cookies.get(sessionCookie);
    if (token !== undefined) await people.endSession(token);
  };
  return [
    forAnyone(contract.whoAmI, async ({ context }) => {
      const caller = await whoAsks.callerOf(context.cookies.get(sessionCookie), null);
      return { person: caller.kind === 'nobody' ? null : caller.signedIn, needsSetUp: caller.kind === 'nobody' && (await people.needsSetUp()) };
    }),
    forAnyone(contract.signIn, async ({ body, context }) => {
      const { person, token } = await people.signIn(body.email, body.password, context.ip);
      // A session that was there before ends, so that nobody can plant one and wait.
      await leave(context);
      keep(context, token);
      return { person };
    }),
    forAnyone(contract.signOut, async ({ context }) => {
      await leave(context);
      context.cookies.set(sessionCookie, null, { overwrite: true });
      return {};
    }),
    forAnyone(contract.setUp, async ({ body, context }) => {
      const { person, token } = await people.setUp(body.key, body.name, body.email, body.password);
      keep(context, token);
      return { person };
    }),
  ];
}
