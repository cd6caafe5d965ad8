import { z } from 'zod';
import { appParams } from './apps.js';
import { nothingAsked } from './people.js';
import { route } from './route.js';

export const Mail = z.object({
  id: z.string(),
  /** `account`: about someone's own account, such as a link to set a new password. */
  kind: z.enum(['automation', 'invitation', 'account', 'comment']),
  to: z.string(),
  subject: z.string(),
  at: z.string(),
  /** `sent`: a relay took it. `kept`: it stays in the mailbox here, because no relay is set up. */
  state: z.enum(['waiting', 'sent', 'kept', 'failed']),
  attempts: z.number(),
  sentAt: z.string().nullable(),
  /** Why the last attempt failed. */
  error: z.string().nullable(),
  /** An attempt broke off before it was known how it ended: the mail might have come twice. */
  doubtful: z.boolean(),
});
export type Mail = z.infer<typeof Mail>;

/** The mails of an app, the latest first. */
export const readMails = route({
  method: 'GET',
  path: '/api/apps/:app/mails',
  access: 'builder',
  params: appParams,
  /** `before`: only those that are behind this one. */
  query: z.object({ before: z.uuid().optional() }),
  body: nothingAsked,
  answer: z.object({ mails: z.array(Mail), more: z.boolean(), /** They go to the mailbox here and nowhere else: no relay is set up. */ standIn: z.boolean() }),
});
export type MailsAnswer = z.infer<typeof readMails.answer>;

const mailParams = appParams.extend({ mail: z.uuid() });
/** One mail: as it was written, and as it came in where the mailbox replaces a relay. */
export const readMail = route({
  method: 'GET',
  path: '/api/apps/:app/mails/:mail',
  access: 'builder',
  params: mailParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({
    mail: Mail,
    /** Null: an invitation. Only its reader can have its link. */
    body: z.string().nullable(),
    arrived: z.array(z.object({ at: z.string(), from: z.string(), to: z.array(z.string()), subject: z.string(), body: z.string() })),
  }),
});
export type MailAnswer = z.infer<typeof readMail.answer>;

/** Tries a mail again at once that could not be sent. */
export const sendMailAgain = route({
  method: 'POST',
  path: '/api/apps/:app/mails/:mail/again',
  access: 'builder',
  params: mailParams,
  query: nothingAsked,
  body: nothingAsked,
  answer: z.object({}),
});
