/**
 * Signing in, with limits on wrong tries. A try is counted before the password is compared, so that tries sent at once
 * count too. A browser in which the person signed in before has a limit of its own: nobody elsewhere can lock it out
 * (OWASP, Slow Down Online Guessing Attacks with Device Cookies).
 */
import type { SignedIn } from '@bibliona/core';
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import type { DataSource } from 'typeorm';
import { Persons } from '../db/entities.js';
import { runOwn } from '../db/own.js';
import { poolOf } from '../db/pool.js';
import { Refusal } from '../http/refusal.js';
import { passwordHolds } from './passwords.js';
import { knownAs, newToken, tokenHash } from './people.js';

/** Tries in a stretch of time, in seconds. */
const limits = {
  /** At the same person from the same address, or from a browser that is known. */
  tries: { points: 8, duration: 900 },
  /** At the same person from anywhere. */
  person: { points: 100, duration: 3600 },
  /** From the same address at anyone. */
  address: { points: 200, duration: 900 },
  /** Links to set a new password for one address, and asked for from one place. */
  reset: { points: 3, duration: 3600 },
  resetFrom: { points: 30, duration: 3600 },
  /** Invitations of one person, and to one address. */
  invite: { points: 60, duration: 3600 },
  invited: { points: 5, duration: 86_400 },
  /** Whom one person tells of comments. */
  told: { points: 200, duration: 3600 },
  /** What is sent with a public form from one place, and from everywhere. */
  public: { points: 60, duration: 600 },
  publicInAll: { points: 2000, duration: 3600 },
} as const;
export type Limited = keyof typeof limits;

export class SlowDown {
  private readonly limiters: Readonly<Record<Limited, RateLimiterPostgres>>;

  constructor(database: DataSource) {
    const store = { storeClient: poolOf(database), storeType: 'client', schemaName: 'bibliona', tableName: 'rate_limit', tableCreated: true } as const;
    const entries = Object.entries(limits).map(([keyPrefix, each]) => [
      keyPrefix,
      new RateLimiterPostgres({ ...store, clearExpiredByTimeout: false, keyPrefix, ...each }),
    ]);
    this.limiters = Object.fromEntries(entries) as Record<Limited, RateLimiterPostgres>;
  }

  /** Counts a try. @throws Refusal too_many with `message` and when to try again */
  async count(what: Limited, key: string, message: string): Promise<void> {
    try {
      await this.limiters[what].consume(hashed(key));
    } catch (error) {
      if (!(error instanceof RateLimiterRes)) throw error;
      const minutes = Math.max(1, Math.ceil(error.msBeforeNext / 60_000));
      throw new Refusal('too_many', `${message} Try again in ${minutes === 1 ? 'a minute' : `${minutes} minutes`}.`);
    }
  }

  /** What was counted was no wrong try. */
  async takeBack(what: Limited, key: string): Promise<void> {
    await this.limiters[what].reward(hashed(key), 1);
  }
  async clear(what: Limited, key: string): Promise<void> {
    await this.limiters[what].delete(hashed(key));
  }
}
/** Keys have a bounded length, and no address is kept in the clear. */
const hashed = (key: string): string => tokenHash(key).slice(0, 30);

const knows = `UPDATE bibliona.device SET seen_at = now() WHERE token_hash = $1 AND person_id = (SELECT id FROM bibliona.person WHERE email = $2) RETURNING person_id AS id`;
const remember = `INSERT INTO bibliona.device (token_hash, person_id) VALUES ($1, $2) ON CONFLICT (token_hash, person_id) DO UPDATE SET seen_at = now()`;
const forget = `DELETE FROM bibliona.device WHERE seen_at < now() - interval '180 days'`;

const tooManyTries = 'There were too many wrong tries.';

export class SigningIn {
  constructor(
    private readonly database: DataSource,
    private readonly slowDown: SlowDown,
  ) {}

  /**
   * The person who knows the password of an address. A wrong address and a wrong password get the same answer after the same time.
   * `device` is what the browser keeps; the one returned is for it to keep.
   * @throws Refusal wrong_sign_in, too_many
   */
  async check(
    email: string,
    password: string,
    from: { readonly address: string; readonly device: string | undefined },
  ): Promise<{ person: SignedIn; device: string }> {
    const { device } = from;
    const known =
      device !== undefined && device.length < 100 && (await runOwn(this.database, 'known device', knows, [tokenHash(device), email])).length > 0
        ? device
        : null;
    const own = known === null ? `${email} ${from.address}` : `device ${known} ${email}`;
    await this.slowDown.count('tries', own, tooManyTries);
    if (known === null) {
      await this.slowDown.count('person', email, tooManyTries);
      await this.slowDown.count('address', from.address, tooManyTries);
    }
    const person = await this.database.getRepository(Persons).findOneBy({ email });
    if (!(await passwordHolds(person?.passwordHash ?? null, password)) || person === null)
      throw new Refusal('wrong_sign_in', 'The mail address or the password is wrong.');
    await this.slowDown.clear('tries', own);
    if (known === null) {
      await this.slowDown.takeBack('person', email);
      await this.slowDown.takeBack('address', from.address);
    }
    return { person: knownAs(person), device: await this.remember(known, Number(person.id)) };
  }

  private async remember(known: string | null, personId: number): Promise<string> {
    const device = known ?? newToken();
    await runOwn(this.database, 'remember device', remember, [tokenHash(device), personId]);
    return device;
  }

  /** Drops browsers that were not used for long. */
  async forget(): Promise<void> {
    await runOwn(this.database, 'forget devices', forget, []);
  }
}
