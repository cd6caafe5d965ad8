/** Mails that are to be sent: they are in a table from the transaction that caused them on. */
import { randomUUID } from 'node:crypto';
import { runOwn } from '../db/own.js';
import type { Runner } from '../db/run.js';
import { putJobs } from '../db/job-queue.js';

export const sendJob = 'send_mail';
/** Over about 28 hours: the pauses between them grow to six hours. */
export const mostAttempts = 14;

/** Has the mails of a table expression sent, which gives their ids. */
export const sendAll = (mails: string): string => putJobs(sendJob, mostAttempts, `json_build_object('mail', id)`, `'mail ' || id`, mails);

export interface WrittenMail {
  /** Null: it is about an account, not about an app. */
  readonly app: string | null;
  readonly kind: 'automation' | 'invitation' | 'account' | 'comment';
  /** The run that wrote it. */
  readonly run: string | null;
  readonly to: readonly string[];
  readonly subject: string;
  readonly body: string;
}

const put = `
  WITH written AS (
    INSERT INTO bibliona.mail (id, app_id, kind, run_id, recipient, subject, body)
    SELECT id, $2, $3, $4::uuid, recipient, $6, $7 FROM unnest($1::uuid[], $5::text[]) AS one(id, recipient) RETURNING id
  )
  ${sendAll('written')}`;

const drop = `DELETE FROM bibliona.mail WHERE app_id = $1 AND kind = 'invitation' AND recipient = $2 AND state = 'waiting'`;

/** Takes back an invitation that has not been sent yet: its link leads nowhere any more. */
export async function dropInvitation(runner: Runner, app: string, to: string): Promise<void> {
  await runOwn(runner, 'drop invitation', drop, [app, to]);
}

/** Puts one mail for each recipient among those to be sent, within the transaction of `runner`. */
export async function putMails(runner: Runner, mail: WrittenMail): Promise<void> {
  if (mail.to.length === 0) return;
  const ids = mail.to.map(() => randomUUID());
  await runOwn(runner, 'put mails', put, [ids, mail.app, mail.kind, mail.run, mail.to, mail.subject, mail.body]);
}
