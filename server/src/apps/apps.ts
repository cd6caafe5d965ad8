/** Apps and their designs: each change is one transaction of migration, new design and log entry. */
import { randomBytes } from 'node:crypto';
import {
  applyChanges,
  circumstancesOf,
  describeChange,
  designMessage,
  difference,
  emptyDesign,
  historyTable,
  ident,
  mayMove,
  menuOf,
  parseDesign,
  rightsOf,
  slugOf,
  type AppDesign,
  type AppSummary,
  type DesignChange,
  type Kept,
  type LogEntry,
  type Migration,
  type OpenApp,
  type Person,
  type Standing,
  type StepAnswer,
} from '@bibliona/core';
import type { DataSource, EntityManager, QueryRunner } from 'typeorm';
import { inTransaction } from '../db/database.js';
import { AppPersons, Apps, DesignVersions, KeptParts, Persons, type AppRow, type DesignVersionRow } from '../db/entities.js';
import { runDefinition } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import { askProbes, pgMessage } from './probes.js';

const keptSchemaOf = (schema: string): string => `${schema}_kept`;
const keptDays = 30;

/** What a change leads to, before it is made. */
interface Planned {
  readonly after: AppDesign;
  readonly migration: Migration;
}

export class AppsService {
  /** @param changed called after each change of a design has been committed */
  constructor(
    private readonly database: DataSource,
    private readonly changed: () => Promise<void>,
  ) {}

  async listFor(personId: number): Promise<readonly AppSummary[]> {
    const memberships = await this.database.getRepository(AppPersons).findBy({ personId });
    const rows = await this.database.getRepository(Apps).find();
    return memberships
      .flatMap((member) => {
        const app = rows.find((row) => row.id === member.appId);
        const design = app === undefined ? null : parseDesign(app.design);
        return design === null || app === undefined ? [] : [{ id: app.id, name: design.name, role: member.role as Standing, tables: design.tables.length }];
      })
      .sort((a, b) => a.name.localeCompare(b.name, 'en'));
  }

  /** Makes an empty app whose builder is `person`. */
  async make(name: string, person: { readonly id: number }, timeZone = 'UTC'): Promise<string> {
    const id = `${slugOf(name).slice(0, 40)}_${randomBytes(4).toString('hex')}`;
    const schema = `app_${id}`;
    const design = emptyDesign(name, timeZone);
    await inTransaction(this.database, async (manager, runner) => {
      await runDefinition(runner, [`CREATE SCHEMA ${ident(schema)}`, `CREATE SCHEMA ${ident(keptSchemaOf(schema))}`, ...historyTable(schema)]);
      await manager.insert(Apps, { id, schema, version: 1, design: design as object });
      await manager.insert(AppPersons, { appId: id, personId: person.id, role: 'builder', roles: [], ties: {} });
      await manager.insert(DesignVersions, {
        appId: id,
        version: 1,
        personId: person.id,
        says: `Made the app ${name}`,
        design: design as object,
        undoTo: null,
        redoTo: null,
      });
    });
    return id;
  }

  async nameOf(id: string): Promise<string> {
    return parseDesign((await this.database.getRepository(Apps).findOneByOrFail({ id })).design).name;
  }

  async open(id: string, person: Person): Promise<OpenApp> {
    const app = await this.database.getRepository(Apps).findOneByOrFail({ id });
    return this.opened(this.database.manager, app, person);
  }

  private async opened(manager: EntityManager, app: AppRow, person: Person): Promise<OpenApp> {
    const head = await manager.findOneByOrFail(DesignVersions, { appId: app.id, version: app.version });
    const redone = head.redoTo === null ? null : await manager.findOneBy(DesignVersions, { appId: app.id, version: head.redoTo });
    const design = parseDesign(app.design);
    const role = person.role ?? 'member';
    const { me } = circumstancesOf(design, person, Date.now());
    return {
      id: app.id,
      role,
      rights: Object.fromEntries(design.tables.map((table) => [table.id, rightsOf(design, person, table)])),
      me: { Name: me.Name, Mail: me.Mail, Roles: [...me.Roles] },
      ties: { ...person.ties },
      menu: [...menuOf(design, person)],
      moves: design.routes.some((route) => route.moves.some((move) => mayMove(move, person))),
      version: app.version,
      design,
      undo: role === 'builder' && head.undoTo !== null ? head.says : null,
      redo: role === 'builder' ? (redone?.says ?? null) : null,
    };
  }

  /** What changes would do and touch, without doing them. */
  async preview(id: string, version: number, changes: readonly DesignChange[]): Promise<readonly StepAnswer[]> {
    return inTransaction(this.database, async (manager, runner) => {
      const app = await this.lock(manager, id, version);
      const before = parseDesign(app.design);
      const planned = await this.plan(manager, app, before, changed(before, changes));
      return askProbes(runner, planned.migration.steps);
    });
  }

  async change(id: string, person: Person, version: number, changes: readonly DesignChange[], acceptLoss: boolean): Promise<OpenApp> {
    const { open } = await inTransaction(this.database, (manager, runner) =>
      this.changeWithin(manager, runner, { id, person, version, changes, acceptLoss, leaveIndexes: false }),
    );
    await this.changed();
    return open;
  }

  /**
   * The same within a transaction that goes on, as an import's does; with `leaveIndexes` the indexes of the change are
   * returned to be made once the table is filled.
   */
  async changeWithin(
    manager: EntityManager,
    runner: QueryRunner,
    asked: {
      readonly id: string;
      readonly person: Person;
      readonly version: number;
      readonly changes: readonly DesignChange[];
      readonly acceptLoss: boolean;
      readonly leaveIndexes: boolean;
    },
  ): Promise<{ readonly open: OpenApp; readonly indexes: readonly string[] }> {
    const app = await this.lock(manager, asked.id, asked.version);
    const before = parseDesign(app.design);
    const says = asked.changes.map((change) => describeChange(change, before));
    const entry = { says: says.length > 3 ? `${says.slice(0, 3).join(', ')} and ${says.length - 3} more` : says.join(', '), undoTo: app.version, redoTo: null };
    return this.become(manager, runner, app, before, changed(before, asked.changes), asked.person, entry, asked.acceptLoss, asked.leaveIndexes);
  }

  /** Goes one step back or forward: the same difference of two designs as every other change. */
  async undo(id: string, person: Person, version: number, direction: 'undo' | 'redo', acceptLoss: boolean): Promise<OpenApp> {
    const undone = await inTransaction(this.database, async (manager, runner) => {
      const app = await this.lock(manager, id, version);
      const head = await manager.findOneByOrFail(DesignVersions, { appId: id, version: app.version });
      const to = direction === 'undo' ? head.undoTo : head.redoTo;
      if (to === null) throw new Refusal('invalid', `There is nothing to ${direction}.`);
      const target = await manager.findOneByOrFail(DesignVersions, { appId: id, version: to });
      // What the target itself led back to stays reachable; the way between head and target is walked the other way.
      const entry =
        direction === 'undo'
          ? { says: target.says, undoTo: target.undoTo, redoTo: app.version }
          : { says: target.says, undoTo: app.version, redoTo: target.redoTo };
      const { open } = await this.become(manager, runner, app, parseDesign(app.design), parseDesign(target.design), person, entry, acceptLoss, false);
      return open;
    });
    await this.changed();
    return undone;
  }

  async log(id: string): Promise<readonly LogEntry[]> {
    const rows = await this.database
      .getRepository(DesignVersions)
      .find({ where: { appId: id }, order: { version: 'DESC' }, take: 200, select: { version: true, at: true, personId: true, says: true } });
    const names = new Map(
      (await this.database.getRepository(Persons).find({ select: { id: true, name: true } })).map((person) => [Number(person.id), person.name]),
    );
    return rows.map((row) => ({
      version: row.version,
      at: row.at.toISOString(),
      person: row.personId === null ? '' : (names.get(Number(row.personId)) ?? ''),
      says: row.says,
    }));
  }

  /** Drops what was set aside longer than 30 days ago. */
  async forgetKept(now: Date): Promise<void> {
    await inTransaction(this.database, async (manager, runner) => {
      const old = await manager
        .createQueryBuilder(KeptParts, 'kept')
        .where('kept.at < :limit', { limit: new Date(now.getTime() - keptDays * 86_400_000) })
        .setLock('pessimistic_write')
        .getMany();
      for (const part of old) {
        const app = await manager.findOneByOrFail(Apps, { id: part.appId });
        await runDefinition(runner, [`DROP TABLE IF EXISTS ${ident(keptSchemaOf(app.schema))}.${ident(part.name)}`]);
        await manager.delete(KeptParts, { appId: part.appId, name: part.name });
      }
    });
  }

  /** Holds the app until the transaction ends. @throws Refusal stale_design with what changed since `version` */
  private async lock(manager: EntityManager, id: string, version: number): Promise<AppRow> {
    const app = await manager.findOneOrFail(Apps, { where: { id }, lock: { mode: 'pessimistic_write' } });
    if (app.version === version) return app;
    const since = await manager
      .createQueryBuilder(DesignVersions, 'v')
      .where('v.app_id = :id AND v.version > :version', { id, version })
      .orderBy('v.version')
      .getMany();
    const says = since.map((row: DesignVersionRow) => row.says).join('; ');
    throw new Refusal(
      'stale_design',
      `The design has changed meanwhile: ${says || 'it is another version'}. Your change was not made; look at the design as it is now and try again.`,
      [],
      { version: app.version },
    );
  }

  private async plan(manager: EntityManager, app: AppRow, before: AppDesign, after: AppDesign): Promise<Planned> {
    const kept = await manager.createQueryBuilder(KeptParts, 'kept').where('kept.app_id = :id', { id: app.id }).orderBy('kept.at', 'DESC').getMany();
    const migration = difference(before, after, {
      schema: app.schema,
      keptSchema: keptSchemaOf(app.schema),
      stamp: `v${app.version + 1}`,
      kept: kept.map((row) => row.what as Kept),
    });
    return { after, migration };
  }

  private async become(
    manager: EntityManager,
    runner: QueryRunner,
    app: AppRow,
    before: AppDesign,
    after: AppDesign,
    person: Person,
    entry: { readonly says: string; readonly undoTo: number | null; readonly redoTo: number | null },
    acceptLoss: boolean,
    leaveIndexes: boolean,
  ): Promise<{ readonly open: OpenApp; readonly indexes: readonly string[] }> {
    const { migration } = await this.plan(manager, app, before, after);
    const steps = await askProbes(runner, migration.steps);
    const blocked = steps.filter((step) => step.blocks);
    if (blocked.length > 0) throw new Refusal('invalid', blocked.map((step) => step.found).join(' '), [], { steps });
    const losses = steps.filter((step) => step.effect === 'loses' && step.found !== null);
    if (losses.length > 0 && !acceptLoss) throw new Refusal('needs_consent', losses.map((step) => step.found).join(' '), [], { steps });
    const later = leaveIndexes ? migration.steps.filter((step) => step.isIndex).flatMap((step) => step.sql) : [];
    try {
      for (const step of migration.steps) if (!leaveIndexes || !step.isIndex) await runDefinition(runner, step.sql);
    } catch (error) {
      const message = pgMessage(error, after);
      throw message === null ? error : new Refusal('invalid', message);
    }
    const version = app.version + 1;
    for (const part of migration.restores) await manager.delete(KeptParts, { appId: app.id, name: part.name });
    if (migration.keeps.length > 0)
      await manager.insert(
        KeptParts,
        migration.keeps.map((what) => ({ appId: app.id, name: what.name, what: what })),
      );
    await manager.update(Apps, { id: app.id }, { version, design: after });
    await manager.insert(DesignVersions, {
      appId: app.id,
      version,
      personId: person.id,
      says: entry.says,
      design: after as object,
      undoTo: entry.undoTo,
      redoTo: entry.redoTo,
    });
    return { open: await this.opened(manager, { ...app, version, design: after }, person), indexes: later };
  }
}

/** @throws Refusal invalid with the reasons in words */
function changed(before: AppDesign, changes: readonly DesignChange[]): AppDesign {
  const result = applyChanges(before, changes);
  if (result.ok) return result.design;
  throw new Refusal(
    'invalid',
    result.issues.map(designMessage).join(' '),
    result.issues.map((issue) => ({ message: designMessage(issue) })),
  );
}
