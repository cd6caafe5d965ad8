/** The mails of an app, as the outbox and the mailbox keep them. */
import type { Mail, MailAnswer, MailsAnswer } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { runOwn } from '../db/own.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { sendAll } from './outbox.js';
import { messageIdOf } from './send-mail.js';

const shown = 50;
const keptDays = 180;

interface Row {
  readonly id: string;
  readonly kind: Mail['kind'];
  readonly to: string;
  readonly subject: string;
  readonly body: string;
  readonly at: Date;
  readonly state: Mail['state'];
  readonly attempts: number;
  readonly sentAt: Date | null;
  readonly error: string | null;
  readonly doubtful: boolean;
}

const columns = `id, kind, recipient AS "to", subject, body, created_at AS at, state, attempts, sent_at AS "sentAt", error, doubtful`;
const list = `SELECT ${columns} FROM bibliona.mail WHERE app_id = $1 AND ($2::uuid IS NULL OR (created_at, id) < (SELECT created_at, id FROM bibliona.mail WHERE id = $2)) ORDER BY created_at DESC, id DESC LIMIT $3`;
const mailById = `SELECT ${columns} FROM bibliona.mail WHERE app_id = $1 AND id = $2`;
const arrivals = `SELECT at, sender AS "from", recipients AS "to", subject, body FROM bibliona.mailbox WHERE message_id = $1 ORDER BY id`;
const again = `
  WITH due AS (UPDATE bibliona.mail SET state = 'waiting', attempts = 0 WHERE app_id = $1 AND id = $2 AND state NOT IN ('sent', 'kept') RETURNING id)
  ${sendAll('due')}`;
const ofAccounts = `
  SELECT m.id, m.kind, m.recipient AS "to", m.subject, m.body, m.created_at AS at, m.state, m.attempts, m.sent_at AS "sentAt", m.error, m.doubtful,
    (SELECT b.body FROM bibliona.mailbox AS b WHERE b.message_id = '<' || m.id || '@bibliona>' ORDER BY b.id LIMIT 1) AS kept
  FROM bibliona.mail AS m WHERE m.kind IN ('invitation', 'account') ORDER BY m.created_at DESC, m.id DESC LIMIT 100`;
const forget = `
  WITH gone AS (DELETE FROM bibliona.mail WHERE state <> 'waiting' AND created_at < $1 RETURNING id),
    runs AS (DELETE FROM bibliona.run WHERE at < $1)
  DELETE FROM bibliona.mailbox WHERE at < $1`;

const asMail = ({ body: _, ...row }: Row): Mail => ({ ...row, at: row.at.toISOString(), sentAt: row.sentAt?.toISOString() ?? null });

export class Mails {
  constructor(
    private readonly database: DataSource,
    /** Whether no relay is set up: then they go to the mailbox alone. */
    readonly standIn: boolean,
  ) {}

  async list(app: OpenedApp, before: string | undefined): Promise<MailsAnswer> {
    const rows = await runOwn<Row>(this.database, 'list mails', list, [app.id, before ?? null, shown + 1]);
    return { mails: rows.slice(0, shown).map(asMail), more: rows.length > shown, standIn: this.standIn };
  }

  /** @throws Refusal not_found */
  async mail(app: OpenedApp, id: string): Promise<MailAnswer> {
    const [row] = await runOwn<Row>(this.database, 'one mail', mailById, [app.id, id]);
    if (row === undefined) throw new Refusal('not_found', 'This mail no longer exists.');
    // The link of an invitation is its reader's alone, whatever has become of the mail.
    if (row.kind !== 'automation') return { mail: asMail(row), body: null, arrived: [] };
    const arrived = await runOwn<{ at: Date; from: string; to: string[]; subject: string; body: string }>(this.database, 'arrivals', arrivals, [
      messageIdOf(id),
    ]);
    return { mail: asMail(row), body: row.body, arrived: arrived.map((each) => ({ ...each, at: each.at.toISOString() })) };
  }

  /** The latest mails that carry links into accounts, for administrators; the links only where no relay is set up. */
  async ofAccounts(): Promise<{ mail: Mail; text: string | null }[]> {
    const rows = await runOwn<Row & { readonly kept: string | null }>(this.database, 'mails of accounts', ofAccounts, []);
    return rows.map(({ kept, ...row }) => ({ mail: asMail(row), text: this.standIn ? (kept ?? (row.body === '' ? null : row.body)) : null }));
  }

  /** @throws Refusal not_found when there is no such mail, or it has been sent */
  async again(app: OpenedApp, id: string): Promise<void> {
    const rows = await runOwn(this.database, 'mail again', again, [app.id, id]);
    if (rows.length === 0) throw new Refusal('not_found', 'This mail has already been sent.');
  }

  /** Drops mails and runs of long ago. */
  async forget(now: Date): Promise<void> {
    await runOwn(this.database, 'forget mails', forget, [new Date(now.getTime() - keptDays * 86_400_000)]);
  }
}
