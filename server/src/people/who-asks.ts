import { memberships } from '@bibliona/core';
import { LRUCache } from 'lru-cache';
import type { DataSource } from 'typeorm';
import type { Designs } from '../apps/designs.js';
import { runOwn } from '../db/own.js';
import type { Caller } from '../http/serve.js';
import { asRegion, tokenHash } from './people.js';

interface Row {
  readonly id: number;
  readonly name: string;
  readonly email: string;
  readonly isAdmin: boolean;
  readonly mayMakeApps: boolean;
  readonly region: string | null;
  /** The session was last seen a while ago. */
  readonly isStale: boolean;
  readonly app: string | null;
  readonly schema: string | null;
  readonly version: number | null;
  readonly role: string | null;
  readonly roles: readonly string[] | null;
  readonly ties: Readonly<Record<string, number>> | null;
}

// Everything that admits a request, in one statement: it runs for each of them.
const whoAsks = `
  SELECT p.id, p.name, p.email, p.is_admin AS "isAdmin", p.may_make_apps OR p.is_admin AS "mayMakeApps", p.region, s.seen_at < now() - interval '1 minute' AS "isStale", a.id AS app, a.schema, a.version, m.role, m.roles, m.ties
  FROM bibliona.session AS s
  JOIN bibliona.person AS p ON p.id = s.person_id
  LEFT JOIN bibliona.app_person AS m ON m.person_id = p.id AND m.app_id = $2
  LEFT JOIN bibliona.app AS a ON a.id = m.app_id
  WHERE s.token_hash = $1 AND s.expires_at > now() AND s.seen_at > now() - make_interval(secs => $3)`;
const seen = `UPDATE bibliona.session SET seen_at = now() WHERE token_hash = $1`;

// Asking for each request costs as much as saving a record (measured: 0.5 instead of 0.7 of a bare route). Changes are
// announced to every process; the time limit is for an announcement that a broken connection has lost.
const rememberedFor = 2000;
const mostRemembered = 5000;

export class WhoAsks {
  private readonly remembered = new LRUCache<string, Caller>({ max: mostRemembered, ttl: rememberedFor });

  private generation = 0;

  constructor(
    private readonly database: DataSource,
    private readonly designs: Designs,
    /** After so many milliseconds without a request a session is over. */
    private readonly idle: number,
  ) {}

  /** Drops everything: someone signed out, a role or a design changed. */
  forget(): void {
    this.generation += 1;
    this.remembered.clear();
  }

  async callerOf(token: string | undefined, app: string | null): Promise<Caller> {
    if (token === undefined || token.length > 100) return { kind: 'nobody' };
    const key = `${token} ${app ?? ''}`;
    const known = this.remembered.get(key);
    if (known !== undefined) return known;
    const { generation } = this;
    const caller = await this.ask(token, app);
    // Only people with access are remembered, so that nobody who joins or signs in has to wait.
    // What was asked before an announcement and answered after it may be what has just changed.
    if (caller.kind === 'member' && generation === this.generation) this.remembered.set(key, caller);
    return caller;
  }

  private async ask(token: string, app: string | null): Promise<Caller> {
    const [row] = await runOwn<Row>(this.database, 'who asks', whoAsks, [tokenHash(token), app, this.idle / 1000]);
    if (row === undefined) return { kind: 'nobody' };
    if (row.isStale) await runOwn(this.database, 'session seen', seen, [tokenHash(token)]);
    const region = asRegion(row.region);
    const signedIn = { id: row.id, name: row.name, email: row.email, isAdmin: row.isAdmin, mayMakeApps: row.mayMakeApps, region };
    if (row.app === null || row.schema === null || row.version === null) return { kind: 'person', signedIn };
    const role = memberships.find((membership) => membership === row.role) ?? null;
    const design = await this.designs.at(row.app, row.version);
    return {
      kind: 'member',
      signedIn,
      person: { id: row.id, name: row.name, mail: row.email, role, roles: row.roles ?? [], ties: row.ties ?? {}, region },
      app: { id: row.app, schema: row.schema, version: row.version, design },
    };
  }
}
