/** Apps and their designs: each change is one transaction of migration, new design and log entry. */
import { randomBytes } from 'node:crypto';
import {
  changesInPieces,
  describeChange,
  designMessage,
  emptyDesign,
  historyTable,
  ident,
  inTheWay,
  shownTables,
  storedDesign,
  slugOf,
  type AppDesign,
  type AppSummary,
  differencesOf,
  type DesignTarget,
  type DesignChange,
  type DesignDifference,
  type OpenApp,
  type Person,
  type StepAnswer,
} from '@bibliona/core';
import { In, type DataSource, type EntityManager, type QueryRunner } from 'typeorm';
import { defaultLargeTable } from '../config.js';
import { changingTables, inTransaction } from '../db/database.js';
import { wasStopped } from '../db/errors.js';
import { AppPersons, Apps, DesignVersions, Persons, type AppRow, type DesignVersionRow } from '../db/entities.js';
import { runOwn } from '../db/own.js';
import { runDefinition } from '../db/run.js';
import { cancelChange, changeUnderWay, newAttempt, Progress, type Changer, type UnderWay } from '../db/under-way.js';
import { breathing } from '../http/breathing.js';
import { designText } from '../http/design-text.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { Designs } from './designs.js';
import { designTarget } from './design-target.js';
import { admitImages } from './images.js';
import type { MissingIndexes } from './indexes.js';
import { viewsOf } from './list-views.js';
import { ownListsOf } from './own-lists.js';
import { seenBy } from './seen-by.js';
import { goWay } from './go-way.js';
import { Preparation } from './preparation.js';
import { askWay, checkWay, KeptRearrangement, keptSchemaOf, viewSchemaOf, wayBack, wayThere, type Way } from './way.js';

/** How a change is made: with how far it is, and what is made ready before it, if anything. */
interface Undertaking {
  readonly progress: Progress;
  readonly preparation: Preparation | null;
}

const myApps = `
  SELECT a.id, a.name, m.role, CASE WHEN m.role = 'builder' THEN a.tables END AS tables
  FROM bibliona.app_person AS m JOIN bibliona.app AS a ON a.id = m.app_id WHERE m.person_id = $1`;

/** A change that is made, and committed with its transaction. */
interface Changed {
  readonly open: OpenApp;
  readonly design: AppDesign;
  /** The SQL of those that are left to be made: all of them where that was asked for, else those of large tables. */
  readonly indexes: readonly string[];
}

/** What the history of designs keeps of a version, besides the design. */
type Entry = Pick<DesignVersionRow, 'description' | 'undoTo' | 'redoTo' | 'rearranged'>;

export class AppsService {
  /** @param changed called after each change of a design has been committed */
  constructor(
    private readonly database: DataSource,
    private readonly changed: () => Promise<void>,
    private readonly designs = new Designs(database),
    /** Called with the id of an app whose design has changed. */
    private readonly tell: (app: string) => void = () => undefined,
    private readonly indexes: MissingIndexes | null = null,
    private readonly largeTable = defaultLargeTable,
  ) {}

  async listFor(personId: number): Promise<readonly AppSummary[]> {
    const rows = await runOwn<AppSummary>(this.database, 'my apps', myApps, [personId]);
    return [...rows].sort((a, b) => a.name.localeCompare(b.name, 'en'));
  }

  /** Makes an empty app whose builder is `person`. @throws Refusal invalid when they have made `most` already */
  async make(
    name: string,
    person: { readonly id: number },
    home: Partial<Pick<AppDesign, 'timeZone' | 'region'>> = {},
    most = Number.MAX_SAFE_INTEGER,
  ): Promise<string> {
    const id = `${slugOf(name).slice(0, 40)}_${randomBytes(4).toString('hex')}`;
    const schema = `app_${id}`;
    const design = emptyDesign(name, home.timeZone, home.region);
    await inTransaction(this.database, async (manager, runner) => {
      // Held, so that apps made at once are counted.
      await manager.findOneOrFail(Persons, { where: { id: person.id }, lock: { mode: 'pessimistic_write' } });
      if ((await manager.countBy(DesignVersions, { version: 1, personId: person.id })) >= most)
        throw new Refusal('invalid', `You have made ${most} apps, the most that this server allows. Ask its administrator.`);
      await runDefinition(runner, [
        `CREATE SCHEMA ${ident(schema)}`,
        `CREATE SCHEMA ${ident(keptSchemaOf(schema))}`,
        `CREATE SCHEMA ${ident(viewSchemaOf(schema))}`,
        ...historyTable(schema),
      ]);
      await manager.insert(Apps, { id, schema, version: 1, name, tables: 0 });
      await manager.insert(AppPersons, { appId: id, personId: person.id, role: 'builder', roles: [], ties: {} });
      await manager.insert(DesignVersions, {
        appId: id,
        version: 1,
        personId: person.id,
        description: `Made the app ${name}`,
        design: design as object,
        undoTo: null,
        redoTo: null,
      });
    });
    return id;
  }

  async open(id: string, person: Person): Promise<OpenApp> {
    const { version } = await this.database.getRepository(Apps).findOneByOrFail({ id });
    return this.openAs({ id, version, design: await this.designs.at(id, version) }, person);
  }

  /** An app as a person's browser knows it: no more of its design than their rights reach. */
  async openAs({ id, version, design }: Pick<OpenedApp, 'id' | 'version' | 'design'>, person: Person, manager = this.database.manager): Promise<OpenApp> {
    return {
      id,
      version,
      ...(await seenBy(design, person)),
      views: await viewsOf(manager.queryRunner ?? this.database, id, person),
      ownLists: await ownListsOf(manager.queryRunner ?? this.database, id, person),
      ...(person.role === 'builder' ? await this.steps(manager, id, version) : { undo: null, redo: null }),
    };
  }

  /** What undo and redo would do, in words. */
  private async steps(manager: EntityManager, appId: string, version: number): Promise<Pick<OpenApp, 'undo' | 'redo'>> {
    const select = { description: true, undoTo: true, redoTo: true } as const;
    const head = await manager.findOneOrFail(DesignVersions, { where: { appId, version }, select });
    const redone = head.redoTo === null ? null : await manager.findOne(DesignVersions, { where: { appId, version: head.redoTo }, select });
    return { undo: head.undoTo === null ? null : head.description, redo: redone?.description ?? null };
  }

  /** What changes would do and touch, without doing them. */
  async preview(id: string, person: Person, version: number, changes: readonly DesignChange[]): Promise<readonly StepAnswer[]> {
    return inTransaction(this.database, async (manager, runner) => {
      const app = await this.lockAt(manager, id, version);
      const before = await this.designs.at(app.id, app.version, manager);
      return askWay(manager, runner, app, { before, after: await changed(before, changes), over: null }, person);
    });
  }

  /** @param tab the open screen that asks, so that it can stop the change */
  async change(id: string, person: Person, version: number, changes: readonly DesignChange[], acceptLoss: boolean, tab = ''): Promise<OpenApp> {
    const { open, design } = await this.changing({ app: id, person: person.id, tab }, (manager, runner, undertaking) =>
      this.changeWithin(manager, runner, { id, person, version, changes, acceptLoss, leaveIndexes: false }, undertaking),
    );
    this.designs.keep(id, open.version, design);
    await this.changed();
    this.tell(id);
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
    undertaking: Undertaking = { progress: new Progress(runner, null), preparation: null },
  ): Promise<Changed> {
    const app = await this.lock(manager, asked.id);
    const before = await this.designs.at(app.id, app.version, manager);
    if (app.version !== asked.version) {
      // Two people who change different parts do not get in each other's way.
      const base = await manager.findOneBy(DesignVersions, { appId: app.id, version: asked.version });
      if (base === null || inTheWay(asked.changes, storedDesign(base.design), before).length > 0) throw await this.stale(manager, app, asked.version);
    }
    const described = asked.changes.map((change) => describeChange(change, before));
    const told = described.length > 3 ? `${described.slice(0, 3).join(', ')} and ${described.length - 3} more` : described.join(', ');
    const entry = { description: told, undoTo: app.version, redoTo: null, rearranged: null };
    const way = { before, after: await changed(before, asked.changes), over: null };
    return this.storeVersion(manager, runner, app, way, asked.person, entry, asked.acceptLoss, asked.leaveIndexes, undertaking);
  }

  /** Goes one step back or forward: the same difference of two designs as every other change. */
  async undo(id: string, person: Person, version: number, direction: 'undo' | 'redo', acceptLoss: boolean, tab = ''): Promise<OpenApp> {
    return this.becoming(version, acceptLoss, person, { app: id, person: person.id, tab }, async (manager, runner, app, before) => {
      const head = await manager.findOneByOrFail(DesignVersions, { appId: id, version: app.version });
      const to = direction === 'undo' ? head.undoTo : head.redoTo;
      if (to === null) throw new Refusal('invalid', `Nothing to ${direction}.`);
      const target = await manager.findOneByOrFail(DesignVersions, { appId: id, version: to });
      const after = storedDesign(target.design);
      const rearrangement = KeptRearrangement.nullable().parse(direction === 'undo' ? head.rearranged : target.rearranged);
      // What the target itself led back to stays reachable; the way between head and target is walked the other way.
      if (direction === 'undo') {
        const way = rearrangement === null ? { before, after, over: null } : wayBack(before, after, rearrangement, app.schema);
        return { way, entry: { description: target.description, undoTo: target.undoTo, redoTo: app.version, rearranged: target.rearranged } };
      }
      const over = rearrangement === null ? null : wayThere(before, rearrangement.plan, app.schema).over;
      const rearranged = rearrangement === null ? null : { ...rearrangement, since: await nowOf(runner) };
      return { way: { before, after, over }, entry: { description: target.description, undoTo: app.version, redoTo: target.redoTo, rearranged } };
    });
  }

  /** What becoming that would do to the design and to records, without doing it. */
  async previewRestore(id: string, person: Person, version: number, to: DesignTarget): Promise<{ differences: DesignDifference[]; steps: StepAnswer[] }> {
    return inTransaction(this.database, async (manager, runner) => {
      const app = await this.lockAt(manager, id, version);
      const before = await this.designs.at(app.id, app.version, manager);
      const { way } = await designTarget(manager, app, to, before);
      return { differences: [...differencesOf(before, way.after)], steps: [...(await askWay(manager, runner, app, way, person))] };
    });
  }

  /** A step like any other, which undo takes away again. */
  async restore(id: string, person: Person, version: number, to: DesignTarget, acceptLoss: boolean, tab = ''): Promise<OpenApp> {
    return this.becoming(version, acceptLoss, person, { app: id, person: person.id, tab }, async (manager, runner, app, before) => {
      const { way, description } = await designTarget(manager, app, to, before);
      const rearranged = to.kind === 'rearranged' ? { plan: to.plan, since: await nowOf(runner) } : null;
      return { way, entry: { description, undoTo: app.version, redoTo: null, rearranged } };
    });
  }

  /** Makes another design of the app its newest one, unless somebody has changed it since the version that was asked about. */
  private async becoming(
    version: number,
    acceptLoss: boolean,
    person: Person,
    by: Changer,
    target: (manager: EntityManager, runner: QueryRunner, app: AppRow, before: AppDesign) => Promise<{ readonly way: Way; readonly entry: Entry }>,
  ): Promise<OpenApp> {
    const { open } = await this.changing(by, async (manager, runner, undertaking) => {
      const app = await this.lockAt(manager, by.app, version);
      const { way, entry } = await target(manager, runner, app, await this.designs.at(app.id, app.version, manager));
      return this.storeVersion(manager, runner, app, way, person, entry, acceptLoss, false, undertaking);
    });
    await this.changed();
    this.tell(by.app);
    return open;
  }

  /** @throws Refusal invalid where it was stopped */
  private async changing(by: Changer, work: (manager: EntityManager, runner: QueryRunner, undertaking: Undertaking) => Promise<Changed>): Promise<Changed> {
    let [isTooLong, areMissing] = [false, false];
    const preparation = new Preparation(this.database, this.largeTable);
    const attempt = newAttempt();
    try {
      const made = await changingTables(this.database, async (manager, runner) => {
        // An index that is being made holds its table.
        if ((await this.indexes?.stop(by.app)) === true) areMissing = true;
        const progress = new Progress(runner, by, attempt);
        await progress.begin();
        try {
          return await work(manager, runner, { progress, preparation });
        } finally {
          ({ isTooLong } = progress);
        }
      });
      areMissing ||= made.indexes.length > 0;
      return made;
    } catch (error) {
      // Where that can't be done now, the next change does it, or the next start of a server.
      await preparation.forget(by.app).catch(() => undefined);
      if (!wasStopped(error)) throw error;
      throw new Refusal(
        'invalid',
        isTooLong ? 'The change took too long and was stopped. Nothing was changed.' : 'The change was stopped. Nothing was changed.',
      );
    } finally {
      if (areMissing) this.indexes?.make(by.app);
    }
  }

  /** How far a change of an app is. While it waits for the change of somebody else: how far that one is. */
  underWay(by: Changer): Promise<UnderWay | null> {
    return changeUnderWay(this.database, by);
  }

  stop(by: Changer): Promise<void> {
    return cancelChange(this.database, by);
  }

  /** Locks the app until the transaction ends. Rows that refer to it can still be saved. */
  private lock(manager: EntityManager, id: string): Promise<AppRow> {
    return manager.findOneOrFail(Apps, { where: { id }, lock: { mode: 'for_no_key_update' } });
  }

  /** The same for what only holds for one version. @throws Refusal stale_design */
  private async lockAt(manager: EntityManager, id: string, version: number): Promise<AppRow> {
    const app = await this.lock(manager, id);
    if (app.version !== version) throw await this.stale(manager, app, version);
    return app;
  }

  /** Says who has changed what since `version`. */
  private async stale(manager: EntityManager, app: AppRow, version: number): Promise<Refusal> {
    const since = await manager
      .createQueryBuilder(DesignVersions, 'v')
      .where('v.app_id = :id AND v.version > :version', { id: app.id, version })
      .orderBy('v.version')
      .select(['v.version', 'v.description', 'v.personId'])
      .getMany();
    const ids = [...new Set(since.flatMap((row: DesignVersionRow) => row.personId ?? []))];
    const people = await manager.getRepository(Persons).find({ where: { id: In(ids) }, select: { id: true, name: true } });
    const who = new Map(people.map((person) => [Number(person.id), person.name]));
    const changesSince = since.map((row: DesignVersionRow) => `${row.description} (${who.get(Number(row.personId)) ?? 'unknown'})`).join('; ');
    return new Refusal('stale_design', `The same part of the app was changed in the meantime: ${changesSince}. Your change is not saved yet.`);
  }

  private async storeVersion(
    manager: EntityManager,
    runner: QueryRunner,
    app: AppRow,
    way: Way,
    person: Person,
    entry: Entry,
    acceptLoss: boolean,
    leaveIndexes: boolean,
    { progress, preparation }: Undertaking,
  ): Promise<Changed> {
    const check = (each: EntityManager, on: QueryRunner): Promise<void> => checkWay(each, on, app, way, person, acceptLoss);
    const prepared = (await preparation?.make(manager, runner, app, way, progress, check)) ?? [];
    await check(manager, runner);
    const design = way.after;
    await admitImages(runner, app.id, person, way.before, design);
    const indexes = await goWay(manager, runner, app, way, person, { progress, prepared, largeTable: this.largeTable, leaveIndexes });
    const version = app.version + 1;
    await manager.update(Apps, { id: app.id }, { version, name: design.name, tables: shownTables(design).length });
    await manager
      .createQueryBuilder()
      .insert()
      .into(DesignVersions)
      .values({ appId: app.id, version, personId: person.id, ...entry, design: () => ':design', rearranged: entry.rearranged as object })
      .setParameter('design', designText(design))
      .execute();
    return { open: await this.openAs({ id: app.id, version, design }, person, manager), design, indexes };
  }
}

/** When the transaction began, as PostgreSQL prints it. */
async function nowOf(runner: QueryRunner): Promise<string> {
  const [row] = await runOwn<{ now: string }>(runner, 'now', 'SELECT now()::text AS now', []);
  if (row === undefined) throw new Error('A SELECT without a row');
  return row.now;
}

/** @throws Refusal invalid with the reasons in words */
async function changed(before: AppDesign, changes: readonly DesignChange[]): Promise<AppDesign> {
  const result = await breathing(changesInPieces(before, changes));
  if (result.ok) return result.design;
  throw new Refusal(
    'invalid',
    result.issues.map(designMessage).join(' '),
    result.issues.map((issue) => ({ code: issue.code, ...('what' in issue ? { what: issue.what } : {}), message: designMessage(issue) })),
  );
}
