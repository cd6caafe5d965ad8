/** What server administrators see and decide: who administers the server, who makes apps, and the mails with links into accounts. */
import { visitorId, type ServerAnswer, type ServerPerson } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { inTransaction } from '../db/database.js';
import { Persons } from '../db/entities.js';
import { runOwn } from '../db/own.js';
import { Refusal } from '../http/refusal.js';
import type { Mails } from '../mail/mails.js';

const everyone = `
  SELECT p.id, p.name, p.email, p.is_admin AS "isAdmin", p.may_make_apps AS "mayMakeApps",
    (SELECT count(*)::integer FROM bibliona.app_person AS m WHERE m.person_id = p.id) AS apps,
    (SELECT max(s.seen_at) FROM bibliona.session AS s WHERE s.person_id = p.id) AS "lastSeen"
  FROM bibliona.person AS p WHERE p.id <> ${visitorId} ORDER BY p.name, p.id LIMIT 5000`;
const holdAdmins = `SELECT id FROM bibliona.person WHERE is_admin ORDER BY id FOR UPDATE`;

export class ServerPeople {
  constructor(
    private readonly database: DataSource,
    private readonly mails: Mails,
    private readonly everyoneMakesApps: boolean,
    private readonly changed: () => Promise<void>,
  ) {}

  async read(): Promise<ServerAnswer> {
    const rows = await runOwn<Omit<ServerPerson, 'lastSeen'> & { lastSeen: Date | null }>(this.database, 'everyone', everyone, []);
    return {
      people: rows.map((row) => ({ ...row, lastSeen: row.lastSeen?.toISOString() ?? null })),
      everyoneMakesApps: this.everyoneMakesApps,
      standIn: this.mails.standIn,
      mails: await this.mails.ofAccounts(),
    };
  }

  /** @throws Refusal not_found, invalid when nobody would be left to administer the server */
  async change(id: number, to: { readonly isAdmin: boolean; readonly mayMakeApps: boolean }): Promise<void> {
    await inTransaction(this.database, async (manager, runner) => {
      const admins = await runOwn<{ id: number }>(runner, 'hold admins', holdAdmins, []);
      if (!to.isAdmin && admins.every((admin) => admin.id === id)) throw new Refusal('invalid', 'At least one administrator must stay.');
      const { affected } = await manager.update(Persons, { id }, { ...to });
      if (affected === 0) throw new Refusal('not_found', 'This person does not exist.');
    });
    await this.changed();
  }
}
