/** People: who they are, and what they are to the server and to apps. */
import { createHash, timingSafeEqual, randomBytes } from 'node:crypto';
import { regions, teamRole, visitorId, type Region, type SignedIn, type Membership } from '@bibliona/core';
import { Not, type DataSource, type EntityManager } from 'typeorm';
import { inTransaction } from '../db/database.js';
import { AppPersons, Persons, Settings, type PersonRow } from '../db/entities.js';
import { Refusal } from '../http/refusal.js';
import { hashPassword } from './passwords.js';

export const tokenHash = (token: string): string => createHash('sha256').update(token).digest('base64url');
export const newToken = (): string => randomBytes(32).toString('base64url');

export const knownAs = (person: PersonRow): SignedIn => ({
  id: Number(person.id),
  name: person.name,
  email: person.email,
  isAdmin: person.isAdmin,
  mayMakeApps: person.mayMakeApps || person.isAdmin,
  region: asRegion(person.region),
});

/** A region as it is stored; null when none was chosen, or one that is no longer offered. */
export const asRegion = (stored: string | null): Region | null => regions.find((region) => region === stored) ?? null;

/** Adds an account whose address is proved, unless there is one for the address. Its row, or null. */
export async function addPerson(
  manager: EntityManager,
  person: Pick<PersonRow, 'name' | 'email' | 'passwordHash'>,
  isAdmin: boolean,
): Promise<PersonRow | null> {
  await manager
    .createQueryBuilder()
    .insert()
    .into(Persons)
    .values({ ...person, isAdmin, mayMakeApps: isAdmin, provedAt: null })
    .orIgnore()
    .execute();
  const row = await manager.findOneByOrFail(Persons, { email: person.email });
  if (row.passwordHash !== person.passwordHash) return null;
  await manager.update(Persons, { id: row.id }, { provedAt: () => 'now()' });
  return row;
}

export class People {
  constructor(
    private readonly database: DataSource,
    private readonly changed: () => Promise<void>,
  ) {}

  /** Adds a person; the first one administers the server. @throws Refusal invalid when the address is taken */
  async add(name: string, email: string, password: string): Promise<SignedIn> {
    const isFirst = await this.needsSetUp();
    const passwordHash = await hashPassword(password);
    const added = await inTransaction(this.database, (manager) => addPerson(manager, { name, email, passwordHash }, isFirst));
    if (added === null) throw new Refusal('invalid', 'This mail address already has an account.', [{ field: 'email', message: 'already has an account' }]);
    return knownAs(added);
  }

  /** Makes someone one of the people of an app. */
  async join(
    appId: string,
    personId: number,
    role: Membership,
    roles: readonly string[] = role === 'member' ? [teamRole.id] : [],
    ties: Readonly<Record<string, number>> = {},
  ): Promise<void> {
    await this.database.getRepository(AppPersons).upsert({ appId, personId, role, roles, ties }, ['appId', 'personId']);
    await this.changed();
  }

  exists(email: string): Promise<boolean> {
    return this.database.getRepository(Persons).existsBy({ email });
  }

  needsSetUp(): Promise<boolean> {
    return this.database
      .getRepository(Persons)
      .existsBy({ id: Not(visitorId) })
      .then((any) => !any);
  }

  /** The key with which the first person is made; the same until then. */
  async setUpKey(): Promise<string> {
    const settings = this.database.getRepository(Settings);
    await settings
      .createQueryBuilder()
      .insert()
      .values({ name: 'set_up_key', value: randomBytes(12).toString('base64url') })
      .orIgnore()
      .execute();
    return (await settings.findOneByOrFail({ name: 'set_up_key' })).value;
  }

  /** Makes the first person, who administers the server. @throws Refusal forbidden when the key is wrong or there is a person already */
  async setUp(key: string, name: string, email: string, password: string): Promise<SignedIn> {
    const passwordHash = await hashPassword(password);
    return inTransaction(this.database, async (manager) => {
      // The lock makes "there is nobody yet" hold until the first person stands.
      const setting = await manager.findOne(Settings, { where: { name: 'set_up_key' }, lock: { mode: 'pessimistic_write' } });
      const right = setting !== null && timingSafeEqual(Buffer.from(tokenHash(setting.value)), Buffer.from(tokenHash(key)));
      const added = right && !(await manager.existsBy(Persons, { id: Not(visitorId) })) ? await addPerson(manager, { name, email, passwordHash }, true) : null;
      if (added === null) throw new Refusal('forbidden', 'This set-up key is not valid. The server prints one when it starts without people.');
      await manager.delete(Settings, { name: 'set_up_key' });
      return knownAs(added);
    });
  }
}
