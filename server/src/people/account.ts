/** What someone does with their own account: name, password, and a new password by a mailed link. */
import type { SignedIn } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { inTransaction } from '../db/database.js';
import { Persons } from '../db/entities.js';
import { runOwn } from '../db/own.js';
import { Refusal } from '../http/refusal.js';
import { putMails } from '../mail/outbox.js';
import { hashPassword, passwordHolds } from './passwords.js';
import { knownAs, newToken, tokenHash } from './people.js';
import type { Sessions } from './sessions.js';
import type { SlowDown } from './sign-in.js';

const resetHours = 2;
const putReset = `INSERT INTO bibliona.reset (token_hash, person_id, expires_at) VALUES ($1, $2, now() + make_interval(hours => ${resetHours}))`;
const readReset = `SELECT p.email FROM bibliona.reset AS r JOIN bibliona.person AS p ON p.id = r.person_id WHERE r.token_hash = $1 AND r.expires_at > now()`;
const useReset = `DELETE FROM bibliona.reset WHERE token_hash = $1 AND expires_at > now() RETURNING person_id AS id`;
const dropResets = `DELETE FROM bibliona.reset WHERE person_id = $1`;
const forgetResets = `DELETE FROM bibliona.reset WHERE expires_at < now()`;

export class Account {
  constructor(
    private readonly database: DataSource,
    private readonly sessions: Sessions,
    private readonly slowDown: SlowDown,
    private readonly changed: () => Promise<void>,
    /** Where the server is reached. */
    private readonly address: () => string,
  ) {}

  async change(id: number, profile: Pick<SignedIn, 'name' | 'region'>): Promise<SignedIn> {
    await this.database.getRepository(Persons).update({ id }, profile);
    await this.changed();
    return knownAs(await this.database.getRepository(Persons).findOneByOrFail({ id }));
  }

  /** Ends all sessions of the person. @throws Refusal invalid when the current password is wrong, too_many */
  async changePassword(id: number, current: string, password: string): Promise<void> {
    const key = `password ${id}`;
    await this.slowDown.count('tries', key, 'There were too many wrong tries.');
    const person = await this.database.getRepository(Persons).findOneByOrFail({ id });
    if (!(await passwordHolds(person.passwordHash, current)))
      throw new Refusal('invalid', 'The current password is wrong.', [{ path: 'current', message: 'is wrong' }]);
    await this.slowDown.clear('tries', key);
    await this.setPassword(id, password, null);
  }

  /** Sets a password and tells the person by mail. With the hash of a mailed token the address is proved, and the link is used up. */
  private async setPassword(known: number | null, password: string, resetHash: string | null): Promise<number> {
    const passwordHash = await hashPassword(password);
    const id = await inTransaction(this.database, async (manager, runner) => {
      const used = resetHash === null ? [] : await runOwn<{ id: number }>(runner, 'use reset', useReset, [resetHash]);
      const of = known ?? used[0]?.id;
      if (of === undefined) throw overdue();
      await manager.update(Persons, { id: of }, { passwordHash, ...(resetHash === null ? {} : { provedAt: () => 'now()' }) });
      await runOwn(runner, 'drop resets', dropResets, [of]);
      await this.sessions.endAll(manager, of);
      const person = await manager.findOneByOrFail(Persons, { id: of });
      const body = `The password of your account ${person.email} was changed, and you were signed out everywhere.\n\nIf you did not do this, set a new password at once:\n${this.address()}/forgot\n`;
      await putMails(runner, { app: null, kind: 'account', run: null, to: [person.email], subject: 'Your password was changed', body });
      return of;
    });
    await this.changed();
    return id;
  }

  /** Counts a request for a new password, the same for addresses with and without an account. @throws Refusal too_many */
  async countReset(email: string, from: string): Promise<void> {
    await this.slowDown.count('resetFrom', from, 'There were too many requests.');
    await this.slowDown.count('reset', email, 'There were too many requests for this address.');
  }

  /**
   * Mails a link to set a new password to an address that has an account, and nothing to others. The person who asks is answered
   * before this is done: neither the answer nor its time tells which it was.
   */
  async mailReset(email: string): Promise<void> {
    const person = await this.database.getRepository(Persons).findOneBy({ email });
    if (person === null) return;
    const token = newToken();
    const body = `Someone asked to set a new password for your account ${email}.\n\nSet it here:\n${this.address()}/reset/${token}\n\nThe link works once, for ${resetHours} hours. If it wasn't you, do nothing: your password stays as it is.\n`;
    await inTransaction(this.database, async (_, runner) => {
      await runOwn(runner, 'put reset', putReset, [tokenHash(token), person.id]);
      await putMails(runner, { app: null, kind: 'account', run: null, to: [email], subject: 'Set a new password', body });
    });
  }

  /** @throws Refusal not_found when the link has been used or is too old */
  async readReset(token: string): Promise<{ email: string }> {
    const [row] = await runOwn<{ email: string }>(this.database, 'read reset', readReset, [tokenHash(token)]);
    if (row === undefined) throw overdue();
    return row;
  }

  /** @throws Refusal not_found */
  async reset(token: string, password: string): Promise<SignedIn> {
    await this.readReset(token);
    const id = await this.setPassword(null, password, tokenHash(token));
    return knownAs(await this.database.getRepository(Persons).findOneByOrFail({ id }));
  }

  async forget(): Promise<void> {
    await runOwn(this.database, 'forget resets', forgetResets, []);
  }
}

const overdue = (): Refusal => new Refusal('not_found', 'This link has been used or is too old. Ask for a new one.');
