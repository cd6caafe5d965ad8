/** People: who they are, how they sign in, and their sessions. */
import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { teamRole, type SignedIn, type Standing } from '@bibliona/core';
import { RateLimiterPostgres } from 'rate-limiter-flexible';
import type { DataSource } from 'typeorm';
import { inTransaction } from '../db/database.js';
import { poolOf } from '../db/pool.js';
import { AppPersons, Persons, Sessions, Settings, type PersonRow } from '../db/entities.js';
import { Refusal } from '../http/refusal.js';
import { hashPassword, passwordHolds } from './passwords.js';

const sessionDays = 30;
export const sessionMilliseconds = sessionDays * 86_400_000;

export const tokenHash = (token: string): string => createHash('sha256').update(token).digest('base64url');

const known = (person: PersonRow): SignedIn => ({ id: Number(person.id), name: person.name, email: person.email });

export class People {
  private readonly slowDown: { readonly perPerson: RateLimiterPostgres; readonly perAddress: RateLimiterPostgres };

  constructor(
    private readonly database: DataSource,
    private readonly changed: () => Promise<void>,
  ) {
    const store = {
      storeClient: poolOf(database),
      storeType: 'client',
      schemaName: 'bibliona',
      tableName: 'rate_limit',
      tableCreated: true,
      clearExpiredByTimeout: false,
    } as const;
    this.slowDown = {
      perPerson: new RateLimiterPostgres({ ...store, keyPrefix: 'person', points: 8, duration: 900 }),
      perAddress: new RateLimiterPostgres({ ...store, keyPrefix: 'address', points: 60, duration: 900 }),
    };
  }

  /**
   * A new session for whoever knows the password. A wrong name and a wrong password get the same answer after the same
   * time; after eight wrong tries for one name from one address there is a pause.
   * @throws Refusal wrong_sign_in, too_many
   */
  async signIn(email: string, password: string, address: string): Promise<{ person: SignedIn; token: string }> {
    const key = `${tokenHash(email).slice(0, 22)} ${address}`;
    const [byPerson, byAddress] = await Promise.all([this.slowDown.perPerson.get(key), this.slowDown.perAddress.get(address)]);
    if ((byPerson?.consumedPoints ?? 0) >= 8 || (byAddress?.consumedPoints ?? 0) >= 60) {
      throw new Refusal('too_many', 'There were too many wrong tries. Wait a quarter of an hour, then try again.');
    }
    const person = await this.database.getRepository(Persons).findOneBy({ email });
    if (!(await passwordHolds(person?.passwordHash ?? null, password)) || person === null) {
      await Promise.all([this.slowDown.perPerson.penalty(key), this.slowDown.perAddress.penalty(address)]);
      throw new Refusal('wrong_sign_in', 'The mail address or the password is not right.');
    }
    await this.slowDown.perPerson.delete(key);
    return { person: known(person), token: await this.startSession(Number(person.id)) };
  }

  async startSession(personId: number): Promise<string> {
    const token = randomBytes(32).toString('base64url');
    await this.database.getRepository(Sessions).insert({ tokenHash: tokenHash(token), personId, expiresAt: new Date(Date.now() + sessionMilliseconds) });
    return token;
  }

  async endSession(token: string): Promise<void> {
    await this.database.getRepository(Sessions).delete({ tokenHash: tokenHash(token) });
    await this.changed();
  }

  /** Adds a person. @throws Refusal invalid when the address is taken */
  async add(name: string, email: string, password: string): Promise<SignedIn> {
    const repository = this.database.getRepository(Persons);
    if (await repository.existsBy({ email }))
      throw new Refusal('invalid', 'There is a person with this mail address already.', [{ field: 'email', message: 'is in use already' }]);
    const saved = await repository.save({ name, email, passwordHash: await hashPassword(password) } as PersonRow);
    return known(saved);
  }

  /** Makes someone one of the people of an app. */
  async join(
    appId: string,
    personId: number,
    role: Standing,
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
      .exists()
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

  /** @throws Refusal forbidden when the key is wrong or there is a person already */
  async setUp(key: string, name: string, email: string, password: string): Promise<{ person: SignedIn; token: string }> {
    const person = await inTransaction(this.database, async (manager) => {
      // The lock makes "there is nobody yet" hold until the first person stands.
      const setting = await manager.findOne(Settings, { where: { name: 'set_up_key' }, lock: { mode: 'pessimistic_write' } });
      const right = setting !== null && timingSafeEqual(Buffer.from(tokenHash(setting.value)), Buffer.from(tokenHash(key)));
      if (!right || (await manager.exists(Persons)))
        throw new Refusal('forbidden', 'This set-up key is not valid (any more). The server prints one when it starts without people.');
      const saved = await manager.save(Persons, { name, email, passwordHash: await hashPassword(password) } as PersonRow);
      await manager.delete(Settings, { name: 'set_up_key' });
      return known(saved);
    });
    return { person, token: await this.startSession(person.id) };
  }
}
