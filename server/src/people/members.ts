/** The people of an app: what they are to it, and who is invited to become one of them. */
import { randomBytes } from 'node:crypto';
import { asBuilder, compileLookup, queryOf, restrict, type AppPerson, type Invitation, type Person, type SignedIn, type Standing } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { inTransaction } from '../db/database.js';
import { AppPersons, Invitations, Persons, type AppPersonRow } from '../db/entities.js';
import { run } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { dropInvitation, putMails, type WrittenMail } from '../mail/outbox.js';
import { tokenHash, type People } from './people.js';

const invitationDays = 14;
/** Where someone who was invited sets a password. */
export const invitationPath = (token: string): string => `/join/${token}`;

interface Place {
  readonly role: Standing;
  readonly roles: readonly string[];
  readonly ties: Readonly<Record<string, number>>;
}

export class Members {
  constructor(
    private readonly database: DataSource,
    private readonly people: People,
    private readonly changed: () => Promise<void>,
    /** Where the app is reached. */
    private readonly address: () => string,
  ) {}

  async list(app: OpenedApp): Promise<{ people: AppPerson[]; invitations: Invitation[] }> {
    const rows = await this.database.getRepository(AppPersons).findBy({ appId: app.id });
    const people: AppPerson[] = [];
    for (const row of rows) {
      const { id, name, email } = await this.database.getRepository(Persons).findOneByOrFail({ id: row.personId });
      people.push({ id: Number(id), name, email, ...placeOf(row), tiedTo: await this.tiedTo(app, row.ties) });
    }
    const invited = await this.database.getRepository(Invitations).find({ where: { appId: app.id }, order: { email: 'ASC' } });
    return {
      people: people.sort((a, b) => a.name.localeCompare(b.name, 'en')),
      invitations: invited.map((row) => ({ email: row.email, ...placeOf(row), expires: row.expiresAt.toISOString() })),
    };
  }

  private async tiedTo(app: OpenedApp, ties: Place['ties']): Promise<Record<string, string>> {
    const called: Record<string, string> = {};
    for (const tie of app.design.ties) {
      const id = ties[tie.id];
      if (id === undefined) continue;
      const query = queryOf(tie.table, { where: { kind: 'ids', ids: [id] }, limit: 1 });
      const source = [restrict(query, app.design, asBuilder({ id: 0, name: '', mail: '' }), Date.now()), app.design, app.schema] as const;
      const [row] = await run<{ caption: string }>(this.database, compileLookup(source, ''));
      if (row !== undefined) called[tie.id] = row.caption;
    }
    return called;
  }

  /** @throws Refusal not_found when they are not one of the people of the app */
  async person(app: OpenedApp, id: number): Promise<Person> {
    const row = await this.row(app, id);
    const { name, email } = await this.database.getRepository(Persons).findOneByOrFail({ id });
    return { id, name, mail: email, ...placeOf(row) };
  }

  private async row(app: OpenedApp, personId: number): Promise<AppPersonRow> {
    const row = await this.database.getRepository(AppPersons).findOneBy({ appId: app.id, personId });
    if (row === null) throw new Refusal('not_found', 'This person is not one of the people of the app any more.');
    return row;
  }

  /** @throws Refusal invalid when a role or tie is not of the app, or nobody would be left to build it */
  async change(app: OpenedApp, personId: number, place: Place): Promise<void> {
    this.mustFit(app, place);
    await this.row(app, personId);
    await this.keepingABuilder(app, async () => this.people.join(app.id, personId, place.role, place.roles, place.ties));
  }

  async remove(app: OpenedApp, personId: number): Promise<void> {
    await this.row(app, personId);
    await this.keepingABuilder(app, async () => {
      await this.database.getRepository(AppPersons).delete({ appId: app.id, personId });
      await this.changed();
    });
  }

  /** Does the work unless nobody would be left who can build the app. */
  private async keepingABuilder(app: OpenedApp, work: () => Promise<void>): Promise<void> {
    const before = await this.database.getRepository(AppPersons).findBy({ appId: app.id });
    await work();
    if (await this.database.getRepository(AppPersons).existsBy({ appId: app.id, role: 'builder' })) return;
    for (const row of before) await this.people.join(app.id, Number(row.personId), placeOf(row).role, row.roles, row.ties);
    throw new Refusal('invalid', 'Somebody must be left who can build the app. Make another person a builder first.');
  }

  private mustFit({ design }: OpenedApp, { roles, ties }: Place): void {
    const role = roles.find((id) => !design.roles.some((one) => one.id === id));
    if (role !== undefined) throw new Refusal('invalid', 'One of the roles is not part of the app any more. Load the page again.');
    const tie = Object.keys(ties).find((id) => !design.ties.some((one) => one.id === id));
    if (tie !== undefined) throw new Refusal('invalid', 'One of the ties is not part of the app any more. Load the page again.');
  }

  /** The token of the invitation, which is mailed and told this once; null when the person is known, and is in at once. */
  async invite(app: OpenedApp, by: Person, email: string, place: Place): Promise<string | null> {
    this.mustFit(app, place);
    const known = await this.database.getRepository(Persons).findOneBy({ email });
    if (known !== null) {
      if (await this.database.getRepository(AppPersons).existsBy({ appId: app.id, personId: Number(known.id) }))
        throw new Refusal('invalid', `${known.name} is one of the people of this app already.`, [{ path: 'email', message: 'is one of them already' }]);
      await this.people.join(app.id, Number(known.id), place.role, place.roles, place.ties);
      await putMails(this.database, this.letIn(app, by, email));
      return null;
    }
    const token = randomBytes(32).toString('base64url');
    const expiresAt = new Date(Date.now() + invitationDays * 86_400_000);
    // Another invitation of the same address takes the place of the first, whose link then leads nowhere.
    await inTransaction(this.database, async (manager, runner) => {
      await manager
        .getRepository(Invitations)
        .upsert({ tokenHash: tokenHash(token), appId: app.id, email, ...place, invitedBy: by.id, expiresAt }, ['appId', 'email']);
      await dropInvitation(runner, app.id, email);
      await putMails(runner, this.invitationMail(app, by, email, token));
    });
    return token;
  }

  private invitationMail({ id, design }: OpenedApp, by: Person, email: string, token: string): WrittenMail {
    const link = `${this.address()}${invitationPath(token)}`;
    const body = `${by.name} invites you to ${design.name}.\n\nChoose a password here, and you are in:\n${link}\n\nThe link is yours alone and leads nowhere after ${invitationDays} days.\n`;
    return { app: id, kind: 'invitation', run: null, to: [email], subject: `You are invited to ${design.name}`, body };
  }

  private letIn({ id, design }: OpenedApp, by: Person, email: string): WrittenMail {
    const body = `${by.name} has let you into ${design.name}.\n\nSign in as always:\n${this.address()}/desk/${id}\n`;
    return { app: id, kind: 'invitation', run: null, to: [email], subject: `You are in ${design.name}`, body };
  }

  async withdraw(app: OpenedApp, email: string): Promise<void> {
    await this.database.getRepository(Invitations).delete({ appId: app.id, email });
    await dropInvitation(this.database, app.id, email);
  }

  /** @throws Refusal not_found when there is no such invitation, or not any more */
  async invitation(token: string): Promise<{ appId: string; email: string } & Place> {
    const row = await this.database.getRepository(Invitations).findOneBy({ tokenHash: tokenHash(token) });
    if (row === null || row.expiresAt.getTime() < Date.now()) throw gone();
    return { appId: row.appId, email: row.email, ...placeOf(row) };
  }

  /** Makes the person, lets them in, and signs them in. */
  async accept(token: string, name: string, password: string): Promise<{ person: SignedIn; session: string; app: string }> {
    const { appId, email, role, roles, ties } = await this.invitation(token);
    const person = await inTransaction(this.database, async (manager) => {
      // Whoever sends it twice at once waits here, and then finds it gone.
      const row = await manager.findOne(Invitations, { where: { tokenHash: tokenHash(token) }, lock: { mode: 'pessimistic_write' } });
      if (row === null) throw gone();
      const added = await this.people.add(name, email, password);
      await this.people.join(appId, added.id, role, roles, ties);
      await manager.delete(Invitations, { tokenHash: tokenHash(token) });
      return added;
    });
    return { person, session: await this.people.startSession(person.id), app: appId };
  }
}

const gone = (): Refusal => new Refusal('not_found', 'This invitation is not valid any more. Ask whoever sent it for another.');

const placeOf = ({ role, roles, ties }: Pick<AppPersonRow, 'role' | 'roles' | 'ties'>): { role: Standing; roles: string[]; ties: Record<string, number> } => ({
  role: role === 'builder' ? 'builder' : 'member',
  roles: [...roles],
  ties: { ...ties },
});
