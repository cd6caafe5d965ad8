/**
 * Sends the mails of the outbox, one after another and in one process at a time. Each attempt is on record before it
 * begins: SMTP cannot tell whether a mail was taken when the connection ends before the answer (RFC 5321, 4.1.1.4), so
 * such a mail is sent again under the same Message-ID, and the log says that it might have come twice.
 */
import { createTransport, type Transporter } from 'nodemailer';
import type { DataSource } from 'typeorm';
import { Lead } from '../db/lead.js';
import type { Notices } from '../db/notices.js';
import { runOwn } from '../db/own.js';

interface Claimed {
  readonly id: string;
  readonly recipient: string;
  readonly subject: string;
  readonly body: string;
  readonly kind: string;
  readonly attempts: number;
  readonly createdAt: Date;
}

const lookAgainAfter = 5000;
const patience = 20_000;
const closingPatience = 5000;
/** About two days, since the pauses grow to six hours. */
const mostAttempts = 14;

/** Seconds until a mail is tried again that could not be sent. */
const pauseAfter = (attempts: number): number => Math.min(30 * 4 ** (attempts - 1), 6 * 3600);

const claim = `
  UPDATE bibliona.mail SET attempts = attempts + 1, doubtful = doubtful OR begun_at IS NOT NULL, begun_at = clock_timestamp()
  WHERE id = (SELECT id FROM bibliona.mail WHERE state = 'waiting' AND next_at <= now() ORDER BY next_at, created_at LIMIT 1)
  RETURNING id, recipient, subject, body, kind, attempts, created_at AS "createdAt"`;
// Anyone who has a link into an account can use it, so it is deleted as early as possible.
const sent = `
  UPDATE bibliona.mail SET state = $2, sent_at = clock_timestamp(), begun_at = NULL, error = NULL,
    body = CASE WHEN kind IN ('automation', 'comment') THEN body ELSE '' END
  WHERE id = $1`;
const notSent = `
  UPDATE bibliona.mail SET state = $2, begun_at = NULL, error = $3, doubtful = doubtful OR $4, next_at = now() + make_interval(secs => $5)
  WHERE id = $1`;

/** How the mail of an id is named wherever it arrives (RFC 5322, 3.6.4). */
export const messageIdOf = (id: string): string => `<${id}@bibliona>`;

/** What nodemailer tells of a mail that was not taken. */
interface SmtpError extends Error {
  readonly command?: string;
  readonly responseCode?: number;
}

export class MailSender {
  private readonly lead: Lead;
  private readonly transport: Transporter;
  private timer: NodeJS.Timeout | null = null;
  private isClosed = false;
  private underway: Promise<void> = Promise.resolve();
  private isAsked = false;
  private isBusy = false;

  constructor(
    private readonly database: DataSource,
    private readonly options: {
      readonly notices: Notices;
      readonly smtp: string;
      /** The relay is the mailbox here: nothing goes out. */
      readonly keeps: boolean;
      readonly from: string;
      readonly onFault: (error: Error) => void;
    },
  ) {
    this.transport = createTransport({ url: options.smtp, connectionTimeout: patience, greetingTimeout: patience, socketTimeout: patience });
    this.lead = new Lead(options.notices, 7_022_027);
    this.wake();
  }

  /** Looks for mails to send: some were written, or this process might have the lead now. */
  wake(): void {
    this.isAsked = true;
    if (this.isBusy || this.isClosed) return;
    this.isBusy = true;
    this.underway = this.work().finally(() => {
      this.isBusy = false;
      if (!this.isClosed) this.timer = setTimeout(() => this.wake(), lookAgainAfter).unref();
    });
  }

  private async work(): Promise<void> {
    if (this.timer !== null) clearTimeout(this.timer);
    try {
      while (this.isAsked && !this.isClosed) {
        this.isAsked = false;

        while (!this.isClosed && (await this.lead.has()) && (await this.sendNext()));
      }
    } catch (error) {
      this.options.onFault(error as Error);
    }
  }

  /** Whether there was one to send. */
  private async sendNext(): Promise<boolean> {
    const [mail] = await runOwn<Claimed>(this.database, 'claim mail', claim, []);
    if (mail === undefined) return false;
    try {
      await this.transport.sendMail({
        from: this.options.from,
        to: { name: '', address: mail.recipient },
        subject: mail.subject,
        text: mail.body,
        messageId: messageIdOf(mail.id),
        date: mail.createdAt,
      });
      await runOwn(this.database, 'mail sent', sent, [mail.id, this.options.keeps ? 'kept' : 'sent']);
    } catch (error) {
      const { message, command, responseCode } = error as SmtpError;
      // Only when the whole text was under way can it have been taken without our knowing.
      const isDoubtful = command === 'DATA' && responseCode === undefined;
      // Replies from 500 on are for good (RFC 5321, 4.2.1).
      const isOver = (responseCode ?? 0) >= 500 || mail.attempts >= mostAttempts;
      await runOwn(this.database, 'mail not sent', notSent, [mail.id, isOver ? 'failed' : 'waiting', message, isDoubtful, pauseAfter(mail.attempts)]);
    }
    return true;
  }

  /** Ends when the mail that is being sent has been sent, or its relay takes too long: then it is tried again at the next start. */
  async close(): Promise<void> {
    this.isClosed = true;
    if (this.timer !== null) clearTimeout(this.timer);
    await Promise.race([this.underway, new Promise((resolve) => setTimeout(resolve, closingPatience).unref())]);
    this.transport.close();
  }
}
