/** The people of an app: what they are to it. */
import { asBuilder, compileCaptions, queryOf, restrict, type AppPerson, type Invitation, type Person, type Membership } from '@bibliona/core';
import { In, type DataSource, type EntityManager, type QueryRunner } from 'typeorm';
import { inTransaction } from '../db/database.js';
import { AppPersons, Apps, Invitations, Persons, type AppPersonRow } from '../db/entities.js';
import { runOwn } from '../db/own.js';
import { run } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';

export interface Assignment {
  readonly role: Membership;
  readonly roles: readonly string[];
  readonly ties: Readonly<Record<string, number>>;
}

const setAside = `
  WITH gone AS (DELETE FROM bibliona.app_person WHERE app_id = $1 AND person_id = $2 RETURNING app_id, person_id, role, roles, ties)
  INSERT INTO bibliona.app_person_removed (app_id, person_id, role, roles, ties) SELECT * FROM gone
  ON CONFLICT (app_id, person_id) DO UPDATE SET role = excluded.role, roles = excluded.roles, ties = excluded.ties, removed_at = now()`;
const bringBack = `
  WITH back AS (DELETE FROM bibliona.app_person_removed WHERE app_id = $1 AND person_id = $2 RETURNING app_id, person_id, role, roles, ties)
  INSERT INTO bibliona.app_person (app_id, person_id, role, roles, ties) SELECT * FROM back ON CONFLICT DO NOTHING RETURNING person_id`;
const forget = `DELETE FROM bibliona.app_person_removed WHERE removed_at < now() - interval '30 days'`;

export class Members {
  constructor(
    private readonly database: DataSource,
    private readonly changed: () => Promise<void>,
  ) {}

  async list(app: OpenedApp): Promise<{ people: AppPerson[]; invitations: Invitation[] }> {
    const rows = await this.database.getRepository(AppPersons).findBy({ appId: app.id });
    const known = await this.database.getRepository(Persons).findBy({ id: In(rows.map((row) => row.personId)) });
    const tied = await this.tiedTo(app, rows);
    const people = rows.flatMap((row): AppPerson[] => {
      const person = known.find((each) => Number(each.id) === Number(row.personId));
      if (person === undefined) return [];
      const tiedTo = Object.fromEntries(
        Object.entries(row.ties).flatMap(([tie, id]): [string, string][] => {
          const caption = tied.get(`${tie} ${id}`);
          return caption === undefined ? [] : [[tie, caption]];
        }),
      );
      return [{ id: Number(person.id), name: person.name, email: person.email, ...assignmentIn(app, row), tiedTo }];
    });
    const invited = await this.database.getRepository(Invitations).find({ where: { appId: app.id }, order: { email: 'ASC' } });
    return {
      people: people.sort((a, b) => a.name.localeCompare(b.name, 'en')),
      invitations: invited.map((row) => ({ email: row.email, ...assignmentIn(app, row), expires: row.expiresAt.toISOString() })),
    };
  }

  /** What linked records are called, by the id of the tie and that of the record. */
  private async tiedTo(app: OpenedApp, rows: readonly Pick<AppPersonRow, 'ties'>[]): Promise<ReadonlyMap<string, string>> {
    const called = new Map<string, string>();
    for (const tie of app.design.ties) {
      const ids = [...new Set(rows.flatMap((row) => row.ties[tie.id] ?? []))];
      if (ids.length === 0) continue;
      const query = queryOf(tie.table, { where: { kind: 'ids', ids }, limit: ids.length });
      const source = [restrict(query, app.design, asBuilder({ id: 0, name: '', mail: '' }), Date.now()), app.design, app.schema] as const;
      for (const row of await run<{ id: number; caption: string }>(this.database, compileCaptions(...source))) called.set(`${tie.id} ${row.id}`, row.caption);
    }
    return called;
  }

  /** @throws Refusal not_found when they are not one of the people of the app */
  async person(app: OpenedApp, id: number): Promise<Person> {
    const row = await this.row(this.database.manager, app, id);
    const { name, email } = await this.database.getRepository(Persons).findOneByOrFail({ id });
    return { id, name, mail: email, ...assignmentOf(row) };
  }

  private async row(manager: EntityManager, app: OpenedApp, personId: number): Promise<AppPersonRow> {
    const row = await manager.findOneBy(AppPersons, { appId: app.id, personId });
    if (row === null) throw new Refusal('not_found', 'This person is no longer in the app.');
    return row;
  }

  /** @throws Refusal invalid when a role or link is not of the app, or nobody would be left to build it */
  async change(app: OpenedApp, personId: number, assignment: Assignment): Promise<void> {
    mustFit(app, assignment);
    await this.keepingABuilder(app, async (manager) => {
      const row = await this.row(manager, app, personId);
      // What belongs to a role or link that was removed from the design stays, so that undoing the removal brings all of it back.
      const left = row.roles.filter((id) => !app.design.roles.some((role) => role.id === id));
      const tied = Object.entries(row.ties).filter(([id]) => !app.design.ties.some((ty) => ty.id === id));
      const unseen = { roles: [...assignment.roles, ...left], ties: { ...Object.fromEntries(tied), ...assignment.ties } };
      await manager.update(AppPersons, { appId: app.id, personId }, { ...assignment, ...unseen });
    });
  }

  /** They are set aside for 30 days, so that it can be undone. @throws Refusal invalid, not_found */
  async remove(app: OpenedApp, personId: number): Promise<void> {
    await this.keepingABuilder(app, async (manager, runner) => {
      await this.row(manager, app, personId);
      await runOwn(runner, 'set a person aside', setAside, [app.id, personId]);
    });
  }

  /** Brings someone back as they were. @throws Refusal not_found */
  async restore(app: OpenedApp, personId: number): Promise<void> {
    const rows = await runOwn(this.database, 'bring back person', bringBack, [app.id, personId]);
    if (rows.length === 0) throw new Refusal('not_found', 'This person was not removed in the last 30 days.');
    await this.changed();
  }

  /** Does the work unless nobody would be left who can build the app. Changes of an app's people take turns. */
  private async keepingABuilder(app: OpenedApp, work: (manager: EntityManager, runner: QueryRunner) => Promise<void>): Promise<void> {
    await inTransaction(this.database, async (manager, runner) => {
      await manager.findOneOrFail(Apps, { where: { id: app.id }, select: { id: true }, lock: { mode: 'pessimistic_write' } });
      await work(manager, runner);
      if (!(await manager.existsBy(AppPersons, { appId: app.id, role: 'builder' })))
        throw new Refusal('invalid', 'At least one builder must stay. Make another person a builder first.');
    });
    await this.changed();
  }

  async forget(): Promise<void> {
    await runOwn(this.database, 'forget removed people', forget, []);
  }
}

/** @throws Refusal invalid when a role or link is not of the app */
export function mustFit({ design }: OpenedApp, { roles, ties }: Assignment): void {
  const role = roles.find((id) => !design.roles.some((each) => each.id === id));
  if (role !== undefined) throw new Refusal('invalid', 'One of the roles is no longer part of the app. Load the page again.');
  const tie = Object.keys(ties).find((id) => !design.ties.some((ty) => ty.id === id));
  if (tie !== undefined) throw new Refusal('invalid', 'One of the links to records is no longer part of the app. Load the page again.');
}

/** What of it is still part of the app. */
function assignmentIn({ design }: OpenedApp, row: Pick<AppPersonRow, 'role' | 'roles' | 'ties'>): ReturnType<typeof assignmentOf> {
  const { role, roles, ties } = assignmentOf(row);
  return {
    role,
    roles: roles.filter((id) => design.roles.some((each) => each.id === id)),
    ties: Object.fromEntries(Object.entries(ties).filter(([id]) => design.ties.some((ty) => ty.id === id))),
  };
}

export const assignmentOf = ({
  role,
  roles,
  ties,
}: Pick<AppPersonRow, 'role' | 'roles' | 'ties'>): { role: Membership; roles: string[]; ties: Record<string, number> } => ({
  role: role === 'builder' ? 'builder' : 'member',
  roles: [...roles],
  ties: { ...ties },
});
