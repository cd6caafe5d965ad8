/**
 * Sends a mail of the outbox. Each attempt is on record before it begins: SMTP cannot tell whether a mail was taken when
 * the connection ends before the answer (RFC 5321, 4.1.1.4), so such a mail is sent again under the same Message-ID, and
 * the log says that it might have come twice.
 */
import { createTransport } from 'nodemailer';
import type { DataSource } from 'typeorm';
import { z } from 'zod';
import { runOwn } from '../db/own.js';
import { TryAgain, type JobKind } from '../jobs/jobs.js';
import { mostAttempts, sendJob } from './outbox.js';

interface Claimed {
  readonly id: string;
  readonly recipient: string;
  readonly subject: string;
  readonly body: string;
  readonly createdAt: Date;
}

/** In milliseconds. */
const patience = 20_000;

const Asked = z.looseObject({ mail: z.uuid() });

const claim = `
  UPDATE bibliona.mail SET attempts = attempts + 1, doubtful = doubtful OR begun_at IS NOT NULL, begun_at = clock_timestamp()
  WHERE id = $1 AND state = 'waiting' RETURNING id, recipient, subject, body, created_at AS "createdAt"`;
// Anyone who has a link into an account can use it, so it is deleted as early as possible.
const sent = `
  UPDATE bibliona.mail SET state = $2, sent_at = clock_timestamp(), begun_at = NULL, error = NULL,
    body = CASE WHEN kind IN ('automation', 'comment') THEN body ELSE '' END
  WHERE id = $1`;
const notSent = `UPDATE bibliona.mail SET state = $2, begun_at = NULL, error = $3, doubtful = doubtful OR $4 WHERE id = $1`;

/** How the mail of an id is named wherever it arrives (RFC 5322, 3.6.4). */
export const messageIdOf = (id: string): string => `<${id}@bibliona>`;

/** What nodemailer tells of a mail that was not taken. */
interface SmtpError extends Error {
  readonly command?: string;
  readonly responseCode?: number;
}

export interface Sending {
  readonly smtp: string;
  /** The relay is the mailbox here: nothing goes out. */
  readonly keeps: boolean;
  readonly from: string;
}

export function sendMail(database: DataSource, { smtp, keeps, from }: Sending): JobKind {
  const transport = createTransport({ url: smtp, connectionTimeout: patience, greetingTimeout: patience, socketTimeout: patience });
  return {
    name: sendJob,
    // Relays take few connections of one server at a time.
    atMost: 2,
    run: async (payload, attempt) => {
      const [mail] = await runOwn<Claimed>(database, 'claim mail', claim, [Asked.parse(payload).mail]);
      // It was taken back, or has been sent meanwhile.
      if (mail === undefined) return;
      try {
        await transport.sendMail({
          from,
          to: { name: '', address: mail.recipient },
          subject: mail.subject,
          text: mail.body,
          messageId: messageIdOf(mail.id),
          date: mail.createdAt,
        });
      } catch (error) {
        const { message, command, responseCode } = error as SmtpError;
        // Only when the whole text was under way can it have been taken without our knowing.
        const isDoubtful = command === 'DATA' && responseCode === undefined;
        // Replies from 500 on are for good (RFC 5321, 4.2.1).
        const isOver = (responseCode ?? 0) >= 500 || attempt >= mostAttempts;
        await runOwn(database, 'mail not sent', notSent, [mail.id, isOver ? 'failed' : 'waiting', message, isDoubtful]);
        if (isOver) return;
        throw new TryAgain(message);
      }
      await runOwn(database, 'mail sent', sent, [mail.id, keeps ? 'kept' : 'sent']);
    },
  };
}
