import { contract } from '@bibliona/core';
import type { Context } from 'koa';
import { forAnyone, forPerson, type Served } from '../http/serve.js';
import type { Account } from './account.js';
import type { Cookies } from '../http/cookies.js';
import type { Invitations } from './invitations.js';
import type { People } from './people.js';
import type { ServerPeople } from './server-people.js';
import type { Sessions } from './sessions.js';
import type { SigningIn } from './sign-in.js';
import type { WhoAsks } from './who-asks.js';

export interface PeopleParts {
  readonly people: People;
  readonly sessions: Sessions;
  readonly signingIn: SigningIn;
  readonly account: Account;
  readonly invitations: Invitations;
  readonly server: ServerPeople;
  readonly whoAsks: WhoAsks;
  readonly cookies: Cookies;
  /** What went wrong after a request was answered. */
  readonly onFault: (error: unknown) => void;
}

export function peopleRoutes(parts: PeopleParts): readonly Served[] {
  const { people, sessions, signingIn, account, invitations, server, whoAsks, cookies } = parts;
  const leave = async (context: Context): Promise<void> => {
    const token = cookies.session(context);
    if (token !== undefined) await sessions.end(token);
  };
  /** Begins a session in this browser. One that was there ends, so that nobody can plant one and wait. */
  const enter = async (context: Context, personId: number): Promise<void> => {
    await leave(context);
    cookies.keepSession(context, await sessions.start(personId, context.get('user-agent')));
  };
  return [
    forAnyone(contract.whoAmI, async ({ context }) => {
      const caller = await whoAsks.callerOf(cookies.session(context), null);
      return { person: caller.kind === 'nobody' ? null : caller.signedIn, needsSetUp: caller.kind === 'nobody' && (await people.needsSetUp()) };
    }),
    forAnyone(contract.signIn, async ({ body, context }) => {
      const { person, device } = await signingIn.check(body.email, body.password, { address: context.ip, device: cookies.device(context) });
      await enter(context, person.id);
      cookies.keepDevice(context, device);
      return { person };
    }),
    forAnyone(contract.signOut, async ({ context }) => {
      await leave(context);
      cookies.dropSession(context);
      return {};
    }),
    forAnyone(contract.setUp, async ({ body, context }) => {
      const person = await people.setUp(body.key, body.name, body.email, body.password);
      await enter(context, person.id);
      return { person };
    }),
    forPerson(contract.changeProfile, async ({ body }, { id }) => ({ person: await account.change(id, body) })),
    forPerson(contract.changePassword, async ({ body, context }, { id }) => {
      await account.changePassword(id, body.current, body.password);
      await enter(context, id);
      return {};
    }),
    forPerson(contract.readSessions, async ({ context }, { id }) => ({ sessions: await sessions.list(id, cookies.session(context) ?? '') })),
    forPerson(contract.endSessions, async ({ body, context }, { id }) => {
      await sessions.endOf(id, body.session === 'others' ? { allBut: cookies.session(context) ?? '' } : { id: body.session });
      return {};
    }),
    forAnyone(contract.askReset, async ({ body, context }) => {
      await account.countReset(body.email, context.ip);
      void account.mailReset(body.email).catch(parts.onFault);
      return {};
    }),
    forAnyone(contract.readReset, ({ params }) => account.readReset(params.token)),
    forAnyone(contract.resetPassword, async ({ params, body, context }) => {
      const person = await account.reset(params.token, body.password);
      await enter(context, person.id);
      return { person };
    }),
    forAnyone(contract.readInvitation, ({ params }) => invitations.read(params.token)),
    forAnyone(contract.acceptInvitation, async ({ params, body, context }) => {
      const { person, app } = await invitations.accept(params.token, body.name, body.password);
      await enter(context, person.id);
      return { person, app };
    }),
    forPerson(contract.joinByLink, async ({ params }, signedIn) => ({ app: await invitations.joinByLink(params.token, signedIn) })),
    forPerson(contract.myInvitations, async (_, signedIn) => ({ invitations: await invitations.mine(signedIn) })),
    forPerson(contract.answerInvitation, async ({ params, body }, signedIn) => ({ app: await invitations.answer(params.invitation, signedIn, body.join) })),
    forPerson(contract.readServer, () => server.read()),
    forPerson(contract.changeServerPerson, async ({ params, body }) => {
      await server.change(params.person, body);
      return {};
    }),
  ];
}
