import { contract } from '@bibliona/core';
import { forMember, type Served } from '../http/serve.js';
import type { Mails } from './mails.js';

export const mailRoutes = (mails: Mails): readonly Served[] => [
  forMember(contract.readMails, ({ query }, { app }) => mails.list(app, query.before)),
  forMember(contract.readMail, ({ params }, { app }) => mails.mail(app, params.mail)),
  forMember(contract.sendMailAgain, async ({ params }, { app }) => {
    await mails.again(app, params.mail);
    return {};
  }),
];
