/** Invitations: nobody becomes one of the people of an app without agreeing, and only the addressee gets the link. */
import type { MyInvitation, Person, SignedIn } from '@bibliona/core';
import { MoreThan, type DataSource, type EntityManager } from 'typeorm';
import { inTransaction } from '../db/database.js';
import { AppPersons, Invitations as Rows, Persons, type InvitationRow } from '../db/entities.js';
import { runOwn } from '../db/own.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { dropInvitation, putMails, type WrittenMail } from '../mail/outbox.js';
import { mustFit, assignmentOf, type Assignment } from './members.js';
import { hashPassword } from './passwords.js';
import { addPerson, knownAs, newToken, tokenHash } from './people.js';
import type { SlowDown } from './sign-in.js';

const invitationDays = 14;
const mostOpen = 500;
const forget = `DELETE FROM bibliona.invitation WHERE expires_at < now()`;
/** The name of an app is in its design; nothing else of it is read. */
const named = `
  SELECT i.id, a.name AS app, p.name AS by, i.expires_at AS expires FROM bibliona.invitation AS i
  JOIN bibliona.app AS a ON a.id = i.app_id LEFT JOIN bibliona.person AS p ON p.id = i.invited_by`;

interface Named {
  readonly id: string;
  readonly app: string;
  readonly by: string | null;
  readonly expires: Date;
}

export class Invitations {
  constructor(
    private readonly database: DataSource,
    private readonly slowDown: SlowDown,
    private readonly changed: () => Promise<void>,
    /** Where the server is reached. */
    private readonly address: () => string,
  ) {}

  /**
   * Mails an invitation; another one to the same address takes the place of the first, whose link then leads nowhere.
   * @throws Refusal invalid (a role or link is not of the app, they are in it already), too_many
   */
  async invite(app: OpenedApp, by: Person, email: string, assignment: Assignment): Promise<void> {
    mustFit(app, assignment);
    const members = await this.database.getRepository(AppPersons).findBy({ appId: app.id });
    const known = await this.database.getRepository(Persons).findOneBy({ email });
    if (known !== null && members.some((member) => Number(member.personId) === Number(known.id)))
      throw new Refusal('invalid', `${known.name} is already in this app.`, [{ path: 'email', message: 'is already in this app' }]);
    await this.slowDown.count('invite', `by ${by.id}`, 'You have sent many invitations.');
    await this.slowDown.count('invited', email, 'This address has been sent several invitations today.');
    if ((await this.database.getRepository(Rows).countBy({ appId: app.id })) >= mostOpen)
      throw new Refusal('invalid', `${mostOpen} invitations are open. Withdraw some first.`);
    const token = newToken();
    const expiresAt = new Date(Date.now() + invitationDays * 86_400_000);
    await inTransaction(this.database, async (manager, runner) => {
      await manager
        .getRepository(Rows)
        .upsert({ tokenHash: tokenHash(token), appId: app.id, email, ...assignment, invitedBy: by.id, expiresAt }, ['appId', 'email']);
      await dropInvitation(runner, app.id, email);
      await putMails(runner, this.mail(app, by, email, token));
    });
  }

  private mail({ id, design }: OpenedApp, by: Person, email: string, token: string): WrittenMail {
    const link = `${this.address()}/join/${token}`;
    const body = `${by.name} invites you to work in ${design.name}.\n\nJoin here:\n${link}\n\nThe link is for you alone and works for ${invitationDays} days. If you don't want to join, do nothing.\n`;
    return { app: id, kind: 'invitation', run: null, to: [email], subject: `${by.name} invites you to ${design.name}`, body };
  }

  async withdraw(app: OpenedApp, email: string): Promise<void> {
    await this.database.getRepository(Rows).delete({ appId: app.id, email });
    await dropInvitation(this.database, app.id, email);
  }

  /** @throws Refusal not_found when there is no such invitation, or not any more */
  async read(token: string): Promise<{ app: string; by: string | null; email: string; hasAccount: boolean }> {
    const row = await this.open(this.database.manager, { tokenHash: tokenHash(token) });
    const [said] = await runOwn<Named>(this.database, 'name invitation', `${named} WHERE i.id = $1`, [row.id]);
    return {
      app: said?.app ?? '',
      by: said?.by ?? null,
      email: row.email,
      hasAccount: await this.database.getRepository(Persons).existsBy({ email: row.email }),
    };
  }

  private async open(manager: EntityManager, which: { tokenHash: string } | { id: string }, isHeld = false): Promise<InvitationRow> {
    const row = await manager.findOne(Rows, {
      where: { ...which, expiresAt: MoreThan(new Date()) },
      ...(isHeld ? { lock: { mode: 'pessimistic_write' as const } } : {}),
    });
    if (row === null) throw gone();
    return row;
  }

  /** Makes the account and joins, all of it or nothing. @throws Refusal not_found, invalid when the address has an account */
  async accept(token: string, name: string, password: string): Promise<{ person: SignedIn; app: string }> {
    await this.open(this.database.manager, { tokenHash: tokenHash(token) });
    // Hashing takes long, so it is done before anything is held.
    const passwordHash = await hashPassword(password);
    return this.settled(async (manager) => {
      // A second request with the same link waits here, and then finds the link used.
      const row = await this.open(manager, { tokenHash: tokenHash(token) }, true);
      const added = await addPerson(manager, { name, email: row.email, passwordHash }, false);
      if (added === null) throw new Refusal('invalid', 'Your address already has an account. Sign in to join.');
      await this.let(manager, row, Number(added.id));
      return { person: knownAs(added), app: row.appId };
    });
  }

  /** Joins with an account that exists; the mailed link proves its address. @throws Refusal not_found, forbidden */
  joinByLink(token: string, by: SignedIn): Promise<string> {
    return this.settled(async (manager) => {
      const row = await this.open(manager, { tokenHash: tokenHash(token) }, true);
      if (row.email !== by.email)
        throw new Refusal('forbidden', `This invitation is for ${row.email}, and you are signed in as ${by.email}. Sign out and open the link again.`);
      await manager.update(Persons, { id: by.id }, { provedAt: () => 'now()' });
      await this.let(manager, row, by.id);
      return row.appId;
    });
  }

  /** Invitations for an address, shown once its owner has proved it. */
  async mine(by: SignedIn): Promise<MyInvitation[]> {
    const where = `WHERE i.expires_at > now() AND i.email = (SELECT email FROM bibliona.person WHERE id = $1 AND proved_at IS NOT NULL) ORDER BY i.expires_at DESC`;
    const rows = await runOwn<Named>(this.database, 'my invitations', `${named} ${where}`, [by.id]);
    return rows.map((row) => ({ ...row, expires: row.expires.toISOString() }));
  }

  /** @throws Refusal not_found when it is no invitation of theirs */
  answer(id: string, by: SignedIn, isJoining: boolean): Promise<string | null> {
    return this.settled(async (manager, runner) => {
      const row = await this.open(manager, { id }, true);
      const person = await manager.findOneBy(Persons, { id: by.id });
      if (person === null || person.provedAt === null || row.email !== person.email) throw gone();
      if (isJoining) await this.let(manager, row, by.id);
      else await manager.delete(Rows, { id });
      await dropInvitation(runner, row.appId, row.email);
      return isJoining ? row.appId : null;
    });
  }

  private async let(manager: EntityManager, row: InvitationRow, personId: number): Promise<void> {
    await manager.getRepository(AppPersons).upsert({ appId: row.appId, personId, ...assignmentOf(row) }, ['appId', 'personId']);
    await manager.delete(Rows, { id: row.id });
  }

  private async settled<T>(work: Parameters<typeof inTransaction<T>>[1]): Promise<T> {
    const done = await inTransaction(this.database, work);
    await this.changed();
    return done;
  }

  async forget(): Promise<void> {
    await runOwn(this.database, 'forget invitations', forget, []);
  }
}

const gone = (): Refusal => new Refusal('not_found', 'This invitation is no longer valid. Ask for a new one.');
