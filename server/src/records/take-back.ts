/** Taking a save back: every line that it has in the history the other way round, the last first, or none of them. */
import {
  checkRecord,
  compileBatch,
  compileChange,
  compileChanges,
  compileChildren,
  compileHold,
  compileRemove,
  compileRestore,
  compileSaved,
  asBuilder,
  isStored,
  madeKey,
  routeOf,
  stored,
  tableOf,
  written,
  type ChangeOfMany,
  type Person,
  type PlacedIssue,
  type StoredField,
  type Table,
  type TakenBack,
  type Value,
  type Write,
  type WritePlace,
} from '@bibliona/core';
import { randomUUID } from 'node:crypto';
import type { DataSource } from 'typeorm';
import { inTransaction } from '../db/database.js';
import { run, type Runner } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { asStored, storedRecords } from './as-stored.js';
import { fieldsThatDiffer, mustBeTheSame } from './batch.js';
import { SaveChecks } from './checks.js';
import { startValues } from './defaults.js';
import { digestOf } from './digest.js';
import { explained } from './explained.js';
import { NotSeen, SaveGrants } from './grants.js';
import { RecordReader } from './read.js';

type Values = Readonly<Record<string, Value>>;
type Effect = TakenBack['effects'][number];

/** A line of the history. */
interface Line {
  readonly table_id: string;
  readonly id: number;
  readonly rev: number;
  readonly person: number | null;
  readonly kind: 'add' | 'change' | 'remove' | 'import' | 'restore';
  readonly before: (Values & { readonly [madeKey]?: { readonly at: string; readonly by: number | null } }) | null;
  readonly after: Values | null;
  /** Below zero when an automation wrote it. */
  readonly place: number;
}

/** Raised to leave a dry run without a trace. */
class OnlyDry extends Error {
  constructor(readonly effects: readonly Effect[]) {
    super('only dry');
  }
}

/**
 * Undoes a save, as someone who can do the opposite of it: who can remove a record can restore it. Automations
 * are not triggered; what they did by doing of the save is undone with it.
 * @throws Refusal not_found (no such save, or someone else's), invalid (changed since, or it does not fit the design any more), forbidden
 */
export async function takeBack(database: DataSource, app: OpenedApp, person: Person, save: string, asked: { key: string; dry: boolean }): Promise<TakenBack> {
  const answer = (effects: readonly Effect[]): TakenBack => ({ effects: [...effects], mails: effects.some(({ table }) => isMailed(app, table)) });
  const taking = new TakingBack(app, person, { key: asked.key, asked: digestOf(['take back', save]) });
  try {
    return await inTransaction(database, async (_, runner) => {
      const effects = await taking.all(runner, await run<Line>(runner, compileSaved(app.schema, save)));
      if (asked.dry) throw new OnlyDry(effects);
      return answer(effects);
    });
  } catch (error) {
    if (error instanceof OnlyDry) return answer(error.effects);
    if (error instanceof NotSeen) throw new Refusal('not_found', notYours);
    const earlier = await taking.earlier(database);
    if (earlier.length > 0) return answer(earlier);
    throw explained(error, app.design, person, 0);
  }
}

/**
 * Undoes saves as part of a larger transaction, the last first. Records that were changed since stay as they are.
 * @returns how many stayed @throws Refusal invalid, forbidden
 */
export async function takeBackWithin(runner: Runner, app: OpenedApp, person: Person, saves: readonly string[]): Promise<number> {
  let stayed = 0;
  for (const save of [...saves].reverse()) {
    const taking = new TakingBack(app, person, { key: randomUUID(), asked: digestOf(['take back', save]) }, () => (stayed += 1));
    try {
      await taking.all(runner, await run<Line>(runner, compileSaved(app.schema, save)));
    } catch (error) {
      throw explained(error, app.design, person, 0);
    }
  }
  return stayed;
}

const notYours = 'There is nothing here that you can undo.';

class TakingBack {
  private readonly checks: SaveChecks;
  private readonly grants: SaveGrants;
  /** What an automation did is undone as it was done: the person who triggered it need not have the permission. */
  private readonly ofAutomations: SaveGrants;
  private readonly done: { readonly write: Write; readonly table: string; readonly id: number }[] = [];
  private readonly effects = new Map<string, Effect>();

  constructor(
    private readonly app: OpenedApp,
    private readonly person: Person,
    private readonly under: { readonly key: string; readonly asked: string },
    /** What is told of a record that was changed or removed since and therefore stays as it is; without it, that ends in a refusal. */
    private readonly onStays: (() => void) | null = null,
  ) {
    this.checks = new SaveChecks(app, person);
    this.grants = new SaveGrants(app, person);
    this.ofAutomations = new SaveGrants(app, asBuilder(person));
  }

  async all(runner: Runner, lines: readonly Line[]): Promise<readonly Effect[]> {
    if (lines.length === 0 || (this.person.role !== 'builder' && lines.some((line) => line.person !== this.person.id)))
      throw new Refusal('not_found', notYours);
    if (lines.some((line) => line.kind === 'import')) throw new Refusal('invalid', 'Undo an import on the page where you imported the file.');
    for (let at = 0; at < lines.length;) {
      const [changes, removals] = [this.runOfChanges(lines, at), this.runOfRemovals(lines, at)];
      if (changes.length > 1) await this.changeAllBack(runner, changes);
      else if (removals.length > 1) await this.restoreAll(runner, removals);
      else await this.takeBackLine(runner, lines[at] as Line);
      at += Math.max(1, changes.length, removals.length);
    }
    const writes = this.done.map((each) => each.write);
    refuse(
      await this.checks.after(
        runner,
        writes,
        this.done.map((each, write) => ({ ...each, write })),
      ),
    );
    return this.named(runner);
  }

  private async takeBackLine(runner: Runner, line: Line): Promise<void> {
    const table = this.app.design.tables.find((each) => each.id === line.table_id);
    if (table === undefined) throw new Refusal('invalid', 'A table that this save changed no longer exists in the app.');
    const existing = await asStored(runner, this.app, this.person, table, line.id);
    const refuseBecause = async (message: string): Promise<Refusal> => {
      const [caption] = await this.captions(runner, table, [line.id]);
      return new Refusal('invalid', `${caption?.caption ?? `No. ${line.id}`} (${table.name}) ${message}`);
    };
    if (line.kind === 'remove') {
      if (existing !== null) throw await refuseBecause('is there again already.');
      await this.restore(runner, table, line);
      return this.grantsFor(line).require(runner, table, 'remove', [line.id]);
    }
    if (existing === null && this.onStays !== null) return this.onStays();
    if (existing === null) throw await refuseBecause('no longer exists.');
    const fields = table.fields.filter(isStored).filter((field) => line.kind !== 'change' || field.id in (line.before ?? {}));
    const isChanged = fields.some((field) => existing.values[field.id] !== stored(field, line.after?.[field.id] ?? null));
    if (isChanged && this.onStays !== null) return this.onStays();
    if (isChanged) throw await refuseBecause('has been changed since.');
    if (line.kind !== 'change') return this.remove(runner, table, line, existing.rev);
    if (fields.some((field) => field.id === routeOf(this.app.design, table.id)?.field))
      throw await refuseBecause('was moved along its route: its status changes by moves alone.');
    if (fields.length > 0) await this.changeBack(runner, table, line, existing.rev, fields);
  }

  /** The lines from one on that change different records of one table in the same fields, where no single record has to be asked about. */
  private runOfChanges(lines: readonly Line[], from: number): readonly Line[] {
    const first = lines[from];
    const table = this.app.design.tables.find((each) => each.id === first?.table_id);
    if (first?.kind !== 'change' || table === undefined || this.person.role !== 'builder') return [];
    const fields = fieldsOf(first);
    const fixed = [...fieldsThatDiffer(table), routeOf(this.app.design, table.id)?.field];
    if (fields.length === 0 || fixed.some((id) => id !== undefined && fields.includes(id))) return [];
    return runOf(lines, from, (line) => line.kind === 'change' && line.table_id === table.id && fieldsOf(line).join() === fields.join());
  }

  /** The same as `one` for each of many changes, in three statements instead of four for each. */
  private async changeAllBack(runner: Runner, lines: readonly Line[]): Promise<void> {
    const table = tableOf(this.app.design, lines[0]?.table_id ?? '');
    const ids = lines.map((line) => line.id);
    const existing = await storedRecords(runner, this.app, this.person, table, ids);
    const changes: ChangeOfMany[] = [];
    for (const line of lines) {
      const now = existing.get(line.id);
      const fields = table.fields.filter(isStored).filter((field) => field.id in (line.before ?? {}));
      const isThere = now !== undefined && fields.every((field) => written(now.values[field.id] ?? null) === stored(field, line.after?.[field.id] ?? null));
      if (!isThere && this.onStays !== null) this.onStays();
      // It says why, and in the words of this record.
      else if (!isThere) await this.takeBackLine(runner, line);
      else if (fields.length > 0) {
        const values = valuesIn(fields, line.before);
        mustFit(table, values, false);
        const write: Write = { kind: 'change', table: table.id, id: line.id, rev: now.rev, values: values as Extract<Write, { kind: 'change' }>['values'] };
        changes.push({ id: line.id, rev: now.rev, values, place: this.next().place });
        this.note(write, { kind: 'change', table: table.id, id: line.id, caption: null });
      }
    }
    if (changes.length === 0) return;
    await this.checks.noteParents(runner, table.id, ids);
    const granted = this.grants.permit(table, 'change');
    const saved = await run(runner, compileChanges(granted, changes, { schema: this.app.schema, batch: this.under.key, asked: this.under.asked }));
    if (saved.length < changes.length) throw justChanged();
  }

  /** The lines from one on that remove different records of one table, all by a person or all by automations. */
  private runOfRemovals(lines: readonly Line[], from: number): readonly Line[] {
    const first = lines[from];
    if (first?.kind !== 'remove' || !this.app.design.tables.some((each) => each.id === first.table_id)) return [];
    return runOf(lines, from, (line) => line.kind === 'remove' && line.table_id === first.table_id && line.place < 0 === first.place < 0);
  }

  /** The same as `one` for each of many removals: what is there by now, and whether all can be restored, is asked once. */
  private async restoreAll(runner: Runner, lines: readonly Line[]): Promise<void> {
    const [first] = lines as readonly [Line, ...Line[]];
    const table = tableOf(this.app.design, first.table_id);
    const ids = lines.map((line) => line.id);
    const existing = await storedRecords(runner, this.app, this.person, table, ids);
    for (const line of lines) {
      // It says why, and in the words of this record.
      if (existing.has(line.id)) await this.takeBackLine(runner, line);
      await this.restore(runner, table, line);
    }
    await this.grantsFor(first).require(runner, table, 'remove', ids);
  }

  /** Brings one back. Whether the person could remove it is asked afterwards. */
  private async restore(runner: Runner, table: Table, line: Line): Promise<void> {
    const valuesBefore = valuesIn(table.fields.filter(isStored), line.before);
    // Fields that the table was given since start as they do in a new record.
    const values: Values = { ...startValues(this.app.design, this.person, table, valuesBefore), ...valuesBefore };
    mustFit(table, values, true);
    const granted = this.grantsFor(line).permit(table, 'remove');
    await run(runner, compileRestore(granted, line.id, line.rev, values, line.before?.[madeKey] ?? null, this.next()));
    this.note({ kind: 'add', table: table.id, as: 'back', values: {} }, { kind: 'restore', table: table.id, id: line.id, caption: null });
  }

  private async changeBack(runner: Runner, table: Table, line: Line, rev: number, fields: readonly StoredField[]): Promise<void> {
    const values = valuesIn(fields, line.before);
    mustFit(table, values, false);
    const grants = this.grantsFor(line);
    const write: Write = { kind: 'change', table: table.id, id: line.id, rev, values: values as Extract<Write, { kind: 'change' }>['values'] };
    refuse(await grants.before(runner, [write], 0));
    await this.checks.before(runner, [write]);
    const saved = await run(runner, compileChange(grants.permit(table, 'change'), line.id, rev, values, this.next()));
    if (saved.length === 0) throw justChanged();
    refuse(await grants.after(runner, [write], [{ write: 0, id: line.id }]));
    this.note(write, { kind: 'change', table: table.id, id: line.id, caption: null });
  }

  private async remove(runner: Runner, table: Table, line: Line, rev: number): Promise<void> {
    const grants = this.grantsFor(line);
    const write: Write = { kind: 'remove', table: table.id, id: line.id, rev };
    refuse(await grants.before(runner, [write], 0));
    await this.checks.before(runner, [write]);
    const [named] = await this.captions(runner, table, [line.id]);
    await run(runner, compileHold(grants.permit(table, 'remove'), [line.id], this.app.schema, 'remove'));
    for (const relationship of this.app.design.relationships.filter((each) => each.parent === table.id)) {
      // Asked as a builder: it matters whether there are any, and not who can see them.
      const children = this.ofAutomations.permit(tableOf(this.app.design, relationship.child), 'remove');
      if ((await run(runner, compileChildren(children, relationship.field, line.id, this.app.schema))).length > 0)
        throw new Refusal(
          'invalid',
          `${relationship.childrenName} belong to ${named?.caption ?? `No. ${line.id}`} (${table.name}) by now. Remove those first.`,
        );
    }
    const gone = await run(runner, compileRemove(grants.permit(table, 'remove'), line.id, rev, this.next()));
    if (gone.length === 0) throw justChanged();
    this.note(write, { kind: 'remove', table: table.id, id: line.id, caption: named?.caption ?? null });
  }

  private grantsFor(line: Line): SaveGrants {
    return line.place < 0 ? this.ofAutomations : this.grants;
  }

  private next(): WritePlace {
    return { schema: this.app.schema, batch: this.under.key, place: this.done.length, asked: this.under.asked };
  }

  private note(write: Write, effect: Effect): void {
    this.done.push({ write, table: effect.table, id: effect.id });
    const key = `${effect.table} ${effect.id}`;
    const known = this.effects.get(key)?.kind;
    // What the save added and removed again comes to nothing; what it changed before removing is brought back.
    if (known === 'restore' && effect.kind === 'remove') this.effects.delete(key);
    else if (known !== 'restore') this.effects.set(key, effect);
  }

  /** What records are called that this person can see. */
  private captions(runner: Runner, table: Table, ids: readonly number[]): Promise<readonly { readonly id: number; readonly caption: string }[]> {
    return new RecordReader(runner, this.app, this.person).captions(table.id, ids);
  }

  /** What was done, each with what it is called now. */
  private async named(runner: Runner): Promise<readonly Effect[]> {
    const called = new Map<string, string>();
    const there = [...this.effects.values()].filter((effect) => effect.kind !== 'remove');
    for (const table of this.app.design.tables) {
      const ids = there.filter((effect) => effect.table === table.id).map((effect) => effect.id);
      if (ids.length > 0) for (const row of await this.captions(runner, table, ids)) called.set(`${table.id} ${row.id}`, row.caption);
    }
    return [...this.effects].map(([key, effect]) => ({ ...effect, caption: effect.caption ?? called.get(key) ?? null }));
  }

  /** What a request with the same key has done before: it was sent twice. */
  async earlier(database: DataSource): Promise<Effect[]> {
    const rows = await run<{ table_id: string; id: number; kind: Effect['kind']; asked: string | null }>(
      database,
      compileBatch(this.app.schema, this.under.key, this.person.id),
    );
    mustBeTheSame(rows, this.under.asked);
    return rows.map((row) => ({ kind: row.kind, table: row.table_id, id: row.id, caption: null }));
  }
}

/** So many changes are made in one statement, and so many removed records are brought back together. */
const mostOfRun = 500;

/** The lines from one on that belong together, each of another record. */
function runOf(lines: readonly Line[], from: number, belongs: (line: Line) => boolean): readonly Line[] {
  const run: Line[] = [];
  const known = new Set<number>();
  for (let line = lines[from]; line !== undefined && belongs(line) && !known.has(line.id) && run.length < mostOfRun; line = lines[from + run.length]) {
    known.add(line.id);
    run.push(line);
  }
  return run;
}

const fieldsOf = ({ before }: Line): readonly string[] => Object.keys(before ?? {}).toSorted();

const isMailed = ({ design }: OpenedApp, table: string): boolean =>
  design.automations.some((automation) => automation.table === table && automation.steps.some((step) => step.kind === 'mail'));

const justChanged = (): Refusal => new Refusal('invalid', 'Someone is changing these records just now. Nothing was undone; try again.');

const valuesIn = (fields: readonly StoredField[], line: Values | null): Values =>
  Object.fromEntries(fields.filter((field) => line !== null && field.id in line).map((field) => [field.id, stored(field, line?.[field.id] ?? null)]));

/** @throws Refusal invalid when the values are none that the fields take any more */
function mustFit(table: Table, values: Values, isNew: boolean): void {
  const [issue] = checkRecord(table, values, isNew);
  if (issue !== undefined) throw new Refusal('invalid', `It no longer fits the design: ${issue.message}.`);
}

function refuse(issues: readonly PlacedIssue[]): void {
  if (issues[0] !== undefined) throw new Refusal('invalid', issues[0].message, issues);
}
