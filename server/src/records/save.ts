/** `save` is the one way to write records: forms, grids and, in its set-based form, imports go through it. */
import { givesValues, type Conflict, type Person, type PlacedIssue, type SaveAnswer, type Write } from '@bibliona/core';
import type { DataSource, QueryRunner } from 'typeorm';
import { inTransaction } from '../db/database.js';
import { pgErrorOf } from '../db/errors.js';
import { runDefinition } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { AutomationFailed, Automations } from './automations.js';
import { mustBeOpen } from './moves.js';
import { asTheyStand, Batch, fieldsThatDiffer, runOfChanges, tableIn, VersionMissed } from './batch.js';
import { SaveChecks } from './checks.js';
import { startValues } from './defaults.js';
import { digestOf } from './digest.js';
import { SaveFiles } from './files.js';
import { SavePeople } from './people.js';
import { stamped } from './stamps.js';
import { explained } from './explained.js';
import { NotSeen, SaveGrants } from './grants.js';
import { HistoryReader } from './history.js';
import { RecordReader } from './read.js';

const mostTries = 4;
/** PostgreSQL ended one of two transactions that waited for each other (40P01), or could not put them in an order (40001). */
const isWorthTrying = (error: unknown): boolean => ['40P01', '40001'].includes(pgErrorOf(error).code ?? '');
/** Another record has the same value in a field that is unique, or the key was used before. */
const isCollision = (error: unknown): boolean => pgErrorOf(error).code === '23505';

/**
 * Applies all writes of one save in one transaction, or none.
 * @throws Refusal invalid (issues by write and field), conflict (what is there now), forbidden, stale_design,
 * bad_request (the key was used for something else)
 */
export async function save(database: DataSource, app: OpenedApp, person: Person, key: string, asked: readonly Write[]): Promise<SaveAnswer> {
  let isWary = false;
  for (let tries = 1; ; tries += 1) {
    const saving: Saving = new Saving(app, person, key, asked, isWary);
    try {
      return await saving.all(database);
    } catch (error) {
      const isAgain: boolean = isWorthTrying(error) || (isCollision(error) && !isWary && saving.isGranted);
      if (!isAgain || tries === mostTries) return saving.settle(database, error);
      isWary ||= isCollision(error);
    }
  }
}

/**
 * The same as a part of a larger transaction, and without automations.
 * @throws Refusal invalid (issues by write and field), forbidden, stale_design, unavailable
 */
export async function saveWithin(runner: QueryRunner, app: OpenedApp, person: Person, key: string, asked: readonly Write[]): Promise<void> {
  const saving = new Saving(app, person, key, asked, true);
  try {
    await saving.within(runner, false);
  } catch (error) {
    throw saving.inWords(error);
  }
}

const notAllowed = 'values are not allowed.';

class Saving {
  private readonly writes: readonly Write[];
  private readonly grants: SaveGrants;
  private readonly checks: SaveChecks;
  private readonly automations: Automations;
  private readonly files: SaveFiles;
  private readonly people: SavePeople;
  private readonly batch: Batch;

  constructor(
    private readonly app: OpenedApp,
    private readonly person: Person,
    key: string,
    /** Without defaults: a person did not choose those, so grants are asked about what was sent. */
    private readonly asked: readonly Write[],
    /** Whether a value that is taken already must leave the transaction usable, to ask whether the person may be told so. */
    private readonly isWary: boolean,
  ) {
    const now = Date.now();
    this.writes = asked.map((write): Write => {
      if (write.kind !== 'add' && write.kind !== 'change') return write;
      const table = tableIn(app, write.table);
      const start = write.kind === 'add' ? startValues(app.design, person, table, write.values) : {};
      return { ...write, values: stamped(table, { ...start, ...write.values }, person.name, now) };
    });
    const under = { key, asked: digestOf(asked) };
    this.grants = new SaveGrants(app, person);
    this.checks = new SaveChecks(app, person);
    this.automations = new Automations(app, person, under, this.checks);
    this.files = new SaveFiles(app, person);
    this.people = new SavePeople(app, person);
    this.batch = new Batch(app, person, under, this.grants, this.checks);
  }

  /** Whether grants have to be asked about single records. @throws Refusal forbidden when no grant gives it at all */
  get isGranted(): boolean {
    return this.grants.concerns(this.writes);
  }

  async all(database: DataSource): Promise<SaveAnswer> {
    const { writes, batch, checks, automations, files, people } = this;
    const isAutomated = automations.concern(writes);
    const [only] = writes;
    const isAlone = only !== undefined && writes.length === 1 && givesValues(only);
    const isMore = !isAlone || checks.concerns(writes) || files.concerns(writes) || people.concerns(writes) || this.isGranted || isAutomated;
    if (isMore) return inTransaction(database, (_, runner) => this.within(runner, isAutomated));
    refuse(batch.check(writes), 'values need correction.');
    // One write is one statement, and that is a transaction by itself: two round trips less.
    return { records: [await batch.write(database, only, 0)] };
  }

  async within(runner: QueryRunner, isAutomated: boolean): Promise<SaveAnswer> {
    const { writes, batch, checks, automations, grants } = this;
    refuse(batch.check(writes), 'values need correction.');
    const isChecked = checks.concerns(writes);
    const { isGranted } = this;
    await batch.hold(runner, writes);
    refuse(await this.files.admit(runner, writes), 'files are no longer on the server.');
    refuse(await this.people.admit(runner, writes), 'people are not of this app.');
    if (isChecked) await checks.before(runner, writes);
    const records = await this.made(runner, isGranted);
    // Grants are asked before automations, which can hand a record on to where this person cannot reach it.
    if (isGranted) {
      const last = records.filter((record) => !this.isWrittenAgain(record.write));
      refuse(await grants.after(runner, this.asked, last), notAllowed);
    }
    const own = isAutomated ? await automations.after(runner, batch.events, records) : [];
    refuse(isChecked || own.length > 0 ? await checks.after(runner, this.asked, [...records, ...own]) : [], 'checks are not met.');
    return { records: asTheyStand(records, own) };
  }

  /** Makes the writes one after another, each asked right before: an earlier one might have changed what a later one is allowed. */
  private async made(runner: QueryRunner, isGranted: boolean): Promise<SaveAnswer['records']> {
    const records: SaveAnswer['records'] = [];
    const issues: PlacedIssue[] = [];
    for (const [at, write] of this.writes.entries()) {
      if (at < records.length) continue;
      // Where no single record has to be asked about, changes of one sort are made together.
      if (!isGranted) records.push(...(await this.together(runner, at)));
      if (at < records.length) continue;
      this.batch.place = at;
      const asked = this.asked[at] ?? write;
      if (isGranted) issues.push(...(await this.grants.before(runner, this.asked, at)));
      if (write.kind === 'move' && !(await mustBeOpen(runner, this.app, this.person, write, at))) throw new VersionMissed(at, write.table, write.id);
      // Once something is refused the others are only asked, so that all of it is said at once.
      if (issues.length > 0) continue;
      const record = await this.writeOne(runner, write, asked, at, isGranted);
      records.push(record);
      // A record that is written again is held to its grants in between, as in two saves.
      if (isGranted && this.isWrittenAgain(at)) refuse(await this.grants.after(runner, this.asked, [record]), notAllowed);
    }
    refuse(issues, notAllowed);
    return records;
  }

  /** The changes from a write on that one statement can make; none when there are not several, or PostgreSQL refuses one: it then says which when each is made by itself. */
  private async together(runner: QueryRunner, at: number): Promise<SaveAnswer['records']> {
    const run = this.isSingly ? null : runOfChanges(this.app, this.writes, at);
    if (run === null) return [];
    await runDefinition(runner, ['SAVEPOINT before_writes']);
    try {
      const records = await this.batch.changeRun(runner, run, at);
      await runDefinition(runner, ['RELEASE SAVEPOINT before_writes']);
      return records;
    } catch (error) {
      if (error instanceof VersionMissed || isWorthTrying(error)) throw error;
      await runDefinition(runner, ['ROLLBACK TO SAVEPOINT before_writes']);
      this.isSingly = true;
      return [];
    }
  }
  private isSingly = false;

  private async writeOne(runner: QueryRunner, write: Write, asked: Write, at: number, isGranted: boolean): Promise<SaveAnswer['records'][number]> {
    const canCollide =
      this.isWary &&
      isGranted &&
      (write.kind === 'add' || write.kind === 'change') &&
      [...fieldsThatDiffer(tableIn(this.app, write.table))].some((field) => write.values[field] !== undefined);
    if (!canCollide || !givesValues(asked)) return this.batch.write(runner, write, at);
    await runDefinition(runner, ['SAVEPOINT before_write']);
    try {
      const record = await this.batch.write(runner, write, at);
      await runDefinition(runner, ['RELEASE SAVEPOINT before_write']);
      return record;
    } catch (error) {
      if (!isCollision(error)) throw error;
      await runDefinition(runner, ['ROLLBACK TO SAVEPOINT before_write']);
      // Only a person who can write the record learns that another record has the same value.
      refuse(await this.grants.asIfWritten(runner, asked, await this.batch.stateAfter(runner, write), at), notAllowed);
      throw error;
    }
  }

  private isWrittenAgain(at: number): boolean {
    const write = this.writes[at];
    if (write === undefined || write.kind === 'add') return false;
    return this.writes.some((other, i) => i > at && other.kind !== 'add' && other.table === write.table && other.id === write.id);
  }

  /** The answer of the same save when it was made before; else what went wrong, in words. @throws Refusal, or a fault as it is */
  async settle(database: DataSource, error: unknown): Promise<SaveAnswer> {
    if (error instanceof AutomationFailed) {
      await this.automations.logRefused(database, error);
      throw new Refusal('invalid', error.message, [{ write: error.write, message: error.message }]);
    }
    // A save that is sent twice misses the version that it made itself, or meets its own line in the history or its own unique value.
    const missed = error instanceof VersionMissed || error instanceof NotSeen;
    const earlier = missed || isCollision(error) ? await this.batch.earlier(database) : null;
    if (earlier !== null) return earlier;
    if (!missed) throw this.inWords(error);
    const conflict = await this.conflict(database, error);
    const message =
      conflict.current === null
        ? `This record of ${tableIn(this.app, error.table).name} no longer exists, or you no longer have access to it.`
        : `${conflict.by ?? 'Someone'} changed this record at the same time.`;
    throw new Refusal('conflict', message, [], [conflict]);
  }

  inWords(error: unknown): unknown {
    if (!(error instanceof VersionMissed || error instanceof NotSeen)) return explained(error, this.app.design, this.person, this.batch.place);
    const message = 'Someone changed this record at the same time.';
    return new Refusal('invalid', message, [{ write: error.write, message }]);
  }

  /** What is in the database where this save expected an older version. */
  private async conflict(database: DataSource, missed: VersionMissed | NotSeen): Promise<Conflict> {
    const current = await new RecordReader(database, this.app, this.person).record(missed.table, missed.id).catch((error: unknown) => {
      if (error instanceof Refusal) return null;
      throw error;
    });
    const newest = current === null ? undefined : (await new HistoryReader(database, this.app, this.person).of(missed.table, missed.id)).entries[0];
    return { write: missed.write, current, by: newest?.person ?? null, at: newest?.at ?? null };
  }
}

/** @throws Refusal invalid when there are issues; `message` follows their number when there are several */
function refuse(issues: readonly PlacedIssue[], message: string): void {
  if (issues.length > 0) throw new Refusal('invalid', issues.length === 1 ? (issues[0]?.message ?? '') : `${issues.length} ${message}`, issues);
}
