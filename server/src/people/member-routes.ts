import { contract } from '@bibliona/core';
import type { Context } from 'koa';
import type { DataSource } from 'typeorm';
import type { AppsService } from '../apps/apps.js';
import { forAnyone, forMember, type Served } from '../http/serve.js';
import type { Mails } from '../mail/mails.js';
import { explain } from './explain.js';
import { invitationPath, type Members } from './members.js';

export function memberRoutes(
  database: DataSource,
  members: Members,
  apps: AppsService,
  mails: Mails,
  keep: (context: Context, token: string) => void,
): readonly Served[] {
  return [
    forMember(contract.readPeople, (_, { app }) => members.list(app)),
    forMember(contract.changePerson, async ({ params, body }, { app }) => {
      await members.change(app, params.person, body);
      return {};
    }),
    forMember(contract.removePerson, async ({ params }, { app }) => {
      await members.remove(app, params.person);
      return {};
    }),
    forMember(contract.invite, async ({ body }, { app, person }) => {
      const token = await members.invite(app, person, body.email, body);
      return { link: token === null ? null : invitationPath(token), goesOut: !mails.standIn };
    }),
    forMember(contract.withdrawInvitation, async ({ body }, { app }) => {
      await members.withdraw(app, body.email);
      return {};
    }),
    forAnyone(contract.readInvitation, async ({ params }) => {
      const { appId, email } = await members.invitation(params.token);
      return { app: await apps.nameOf(appId), email };
    }),
    forAnyone(contract.acceptInvitation, async ({ params, body, context }) => {
      const { person, session, app } = await members.accept(params.token, body.name, body.password);
      keep(context, session);
      return { person, app };
    }),
    forMember(contract.explainAccess, async ({ params, query }, { app }) =>
      explain(database, app, await members.person(app, query.person), params.table, params.id),
    ),
  ];
}
