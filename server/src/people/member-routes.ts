import { localeFor, contract } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { forMember, type Served } from '../http/serve.js';
import type { Mails } from '../mail/mails.js';
import { explain } from './explain.js';
import type { Invitations } from './invitations.js';
import type { Members } from './members.js';

export function memberRoutes(database: DataSource, members: Members, invitations: Invitations, mails: Mails): readonly Served[] {
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
    forMember(contract.restorePerson, async ({ params }, { app }) => {
      await members.restore(app, params.person);
      return {};
    }),
    forMember(contract.invite, async ({ body }, { app, person }) => {
      await invitations.invite(app, person, body.email, { role: body.role, roles: body.roles, ties: body.ties });
      return { goesOut: !mails.standIn };
    }),
    forMember(contract.withdrawInvitation, async ({ body }, { app }) => {
      await invitations.withdraw(app, body.email);
      return {};
    }),
    forMember(contract.explainAccess, async ({ params, query }, { app, person }) =>
      explain(database, app, await members.person(app, query.person), params.table, params.id, localeFor(app.design, person)),
    ),
  ];
}
