/** Sessions: a browser in which someone is signed in. Each ends when it is idle for too long, and at a greatest age. */
import type { Session } from '@bibliona/core';
import type { DataSource, EntityManager } from 'typeorm';
import type { SessionLimits } from '../config.js';
import { Sessions as Rows } from '../db/entities.js';
import { runOwn } from '../db/own.js';
import { newToken, tokenHash } from './people.js';

const listOf = `
  SELECT id, browser, created_at AS "startedAt", seen_at AS "seenAt", token_hash AS "tokenHash" FROM bibliona.session
  WHERE person_id = $1 AND expires_at > now() AND seen_at > now() - make_interval(secs => $2) ORDER BY seen_at DESC`;
const forget = `DELETE FROM bibliona.session WHERE expires_at < now() OR seen_at < now() - make_interval(secs => $1)`;

/** What a User-Agent says of a browser, for people: "Firefox on Windows". */
function browserOf(agent: string): string {
  const first = (names: readonly (readonly [RegExp, string])[]): string | undefined => names.find(([sign]) => sign.test(agent))?.[1];
  // Later names are in the agents of earlier ones: Chrome calls itself Safari, and Edge calls itself Chrome.
  const browser = first([
    [/Edg/u, 'Edge'],
    [/OPR/u, 'Opera'],
    [/Firefox/u, 'Firefox'],
    [/Chrome|CriOS/u, 'Chrome'],
    [/Safari/u, 'Safari'],
  ]);
  const system = first([
    [/iPhone|iPad/u, 'iOS'],
    [/Android/u, 'Android'],
    [/Windows/u, 'Windows'],
    [/Mac OS/u, 'macOS'],
    [/Linux/u, 'Linux'],
  ]);
  return `${browser ?? 'A browser'}${system === undefined ? '' : ` on ${system}`}`;
}

export class Sessions {
  constructor(
    private readonly database: DataSource,
    private readonly limits: SessionLimits,
    /** Called when sessions have ended, so that every process drops them. */
    private readonly changed: () => Promise<void>,
  ) {}

  /** The longest time for which a cookie is of use, in milliseconds. */
  get longest(): number {
    return this.limits.longest;
  }

  /** The token of a new session. */
  async start(personId: number, agent: string): Promise<string> {
    const token = newToken();
    const expiresAt = new Date(Date.now() + this.limits.longest);
    await this.database.getRepository(Rows).insert({ tokenHash: tokenHash(token), personId, expiresAt, browser: browserOf(agent) });
    return token;
  }

  async end(token: string): Promise<void> {
    await this.database.getRepository(Rows).delete({ tokenHash: tokenHash(token) });
    await this.changed();
  }

  async list(personId: number, token: string): Promise<Session[]> {
    const rows = await runOwn<{ id: string; browser: string; startedAt: Date; seenAt: Date; tokenHash: string }>(this.database, 'list sessions', listOf, [
      personId,
      this.limits.idle / 1000,
    ]);
    return rows.map((row) => ({
      id: row.id,
      browser: row.browser,
      startedAt: row.startedAt.toISOString(),
      seenAt: row.seenAt.toISOString(),
      isThis: row.tokenHash === tokenHash(token),
    }));
  }

  /** Ends one session of a person, or all but the one with the token. */
  async endOf(personId: number, which: { readonly id: string } | { readonly allBut: string }): Promise<void> {
    const rows = this.database.getRepository(Rows).createQueryBuilder().delete().where('person_id = :personId', { personId });
    await ('id' in which ? rows.andWhere('id = :id', { id: which.id }) : rows.andWhere('token_hash <> :own', { own: tokenHash(which.allBut) })).execute();
    await this.changed();
  }

  /** Ends all sessions of a person within a transaction; `changed` is told by the caller once it is committed. */
  endAll(manager: EntityManager, personId: number): Promise<unknown> {
    return manager.delete(Rows, { personId });
  }

  /** Removes sessions that are over. */
  async forget(): Promise<void> {
    await runOwn(this.database, 'forget sessions', forget, [this.limits.idle / 1000]);
  }
}
