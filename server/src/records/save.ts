/** `save` is the one way to write records: forms, grids and, in its set-based form, imports go through it. */
import {
  checkRecord,
  compileAdd,
  compileBatch,
  compileChange,
  compileChildren,
  compileHold,
  compileRemove,
  isStored,
  permitMove,
  placesPerWrite,
  stored,
  type Conflict,
  type Permit,
  type Person,
  type PlacedIssue,
  type RecordEvent,
  type SaveAnswer,
  type Table,
  type Value,
  type Write,
  type WrittenValue,
} from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { inTransaction } from '../db/database.js';
import { pgErrorOf } from '../db/errors.js';
import { run, runPrepared, type Runner } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { AutomationFailed, Automations } from '../workflow/automations.js';
import { SaveChecks } from './checks.js';
import { startValues } from './defaults.js';
import { explained } from './explained.js';
import { moveOf, mustBeOpen, routedIssues } from '../workflow/moves.js';
import { NotSeen, SaveGrants } from './grants.js';
import { HistoryReader } from './history.js';
import { RecordReader } from './read.js';

interface Saved {
  readonly id: number;
  readonly rev: number;
}

interface Changed extends Saved {
  /** What stood in the fields before, by their ids. */
  readonly before: Readonly<Record<string, Value>>;
}

/** Another person was faster: raised inside the transaction, answered with both sides. */
class VersionMissed extends Error {
  constructor(
    readonly write: number,
    readonly table: string,
    readonly id: number,
  ) {
    super('version missed');
  }
}

/**
 * Applies all writes of one save in one transaction, or none.
 * @throws Refusal invalid (issues by write and field), conflict (what stands there now), forbidden, stale_design
 */
export async function save(database: DataSource, app: OpenedApp, person: Person, key: string, asked: readonly Write[]): Promise<SaveAnswer> {
  const writes = asked.map((write): Write =>
    write.kind === 'add' ? { ...write, values: { ...startValues(app.design, person, tableIn(app, write.table), write.values), ...write.values } } : write,
  );
  const batch = new Batch(app, person, key);
  const issues = batch.check(writes);
  if (issues.length > 0) throw new Refusal('invalid', issues.length === 1 ? (issues[0]?.message ?? '') : `${issues.length} values need another look.`, issues);
  const checks = new SaveChecks(app, person);
  const automations = new Automations(app, person, key, checks);
  try {
    // One write is one statement, and that is a transaction by itself: two round trips less.
    const isChecked = checks.concerns(writes);
    const { grants } = batch;
    const isGranted = grants.concerns(writes);
    const isAutomated = automations.concern(writes);
    const only =
      writes.length === 1 && writes[0]?.kind !== 'remove' && writes[0]?.kind !== 'move' && !isChecked && !isGranted && !isAutomated ? writes[0] : undefined;
    if (only !== undefined) return { records: [await batch.write(database, only, 0)] };
    return await inTransaction(database, async (_, runner) => {
      const records: SaveAnswer['records'] = [];
      // What one was given as a default is not theirs: grants are asked about what was sent.
      refuse(isGranted ? await grants.before(runner, asked) : [], 'values are not yours to change.');
      await mustBeOpen(runner, app, person, writes);
      if (isChecked) await checks.before(runner, writes);
      for (const [i, write] of writes.entries()) records.push(await batch.write(runner, write, i));
      // Grants are asked before automations, which may hand a record on to where it is theirs no more.
      refuse(isGranted ? await grants.after(runner, asked, records) : [], 'values are not yours to change.');
      const own = isAutomated ? await automations.after(runner, batch.events, records) : [];
      refuse(isChecked || own.length > 0 ? await checks.after(runner, writes, [...records, ...own]) : [], 'checks are not met.');
      return { records: asTheyStand(records, own) };
    });
  } catch (error) {
    if (error instanceof NotSeen)
      throw new Refusal('conflict', 'This record has been removed meanwhile.', [], [{ write: error.write, current: null, by: null, at: null }]);
    if (error instanceof AutomationFailed) {
      await automations.logRefused(database, error);
      throw new Refusal('invalid', error.message, [{ write: error.write, message: error.message }]);
    }
    if (error instanceof VersionMissed) {
      const conflict = await batch.conflict(database, error);
      // A save that is sent twice misses the version that it made itself.
      const earlier = await batch.earlier(database);
      if (earlier !== null) return earlier;
      throw new Refusal(
        'conflict',
        conflict.current === null ? 'This record has been removed meanwhile.' : `${conflict.by ?? 'Someone'} has changed this record meanwhile.`,
        [],
        [conflict],
      );
    }
    if (pgErrorOf(error).code === '23505') {
      // Its own line in the history, or its own unique value: this very save may have been done before.
      const earlier = await batch.earlier(database);
      if (earlier !== null) return earlier;
    }
    throw explained(error, app.design, batch.place);
  }
}

/** @throws Refusal invalid when there are issues; `says` follows their number when there are several */
function refuse(issues: readonly PlacedIssue[], says: string): void {
  if (issues.length > 0) throw new Refusal('invalid', issues.length === 1 ? (issues[0]?.message ?? '') : `${issues.length} ${says}`, issues);
}

/** The records of a save with the versions at which its automations left them. */
function asTheyStand(
  records: SaveAnswer['records'],
  later: readonly { readonly table: string; readonly id: number; readonly rev: number }[],
): SaveAnswer['records'] {
  const revs = new Map(later.map((one) => [`${one.table} ${one.id}`, one.rev]));
  return records.map((one) => ({ ...one, rev: revs.get(`${one.table} ${one.id}`) ?? one.rev }));
}

/** @throws Refusal stale_design */
function tableIn({ design }: OpenedApp, id: string): Table {
  const table = design.tables.find((one) => one.id === id);
  if (table === undefined) throw new Refusal('stale_design', 'This table is not part of the app any more. Load the page again.');
  return table;
}

class Batch {
  private readonly added = new Map<string, number>();
  /** The write that is under way. */
  place = 0;
  private turn = 0;
  /** What the writes have done to records, each with its write: what sets automations off. */
  readonly events: (RecordEvent & { readonly write: number })[] = [];

  readonly grants: SaveGrants;

  constructor(
    private readonly app: OpenedApp,
    private readonly person: Person,
    private readonly key: string,
  ) {
    this.grants = new SaveGrants(app, person);
  }

  private permit(table: Table, action: Permit['action']): Permit {
    return this.grants.permit(table, action);
  }

  check(writes: readonly Write[]): PlacedIssue[] {
    const names = new Set<string>();
    return writes.flatMap((write, i) => {
      if (write.kind === 'remove' || write.kind === 'move') return [];
      // A reference to a record that comes earlier in this save has no id yet; for the check any id will do.
      const values = Object.fromEntries(
        Object.entries(write.values).map(([field, value]) => [field, isAdded(value) ? (names.has(value.added) ? 1 : 'unknown') : value]),
      );
      if (write.kind === 'add') names.add(write.as);
      const table = tableIn(this.app, write.table);
      return [...checkRecord(table, values, write.kind === 'add'), ...routedIssues(this.app.design, table, write)].map((issue) => ({ write: i, ...issue }));
    });
  }

  private values(table: Table, written: Readonly<Record<string, WrittenValue>>): Record<string, Value> {
    return Object.fromEntries(
      table.fields.filter(isStored).flatMap((field): [string, Value][] => {
        const value = written[field.id];
        if (value === undefined) return [];
        return [[field.id, isAdded(value) ? (this.added.get(value.added) ?? null) : stored(field, value)]];
      }),
    );
  }

  /** Each statement of a save has its own place in the history: the write it belongs to, and its turn within that. */
  private next() {
    this.turn += 1;
    return { schema: this.app.schema, batch: this.key, place: this.place * placesPerWrite + this.turn };
  }

  async write(runner: Runner, write: Write, index: number): Promise<SaveAnswer['records'][number]> {
    this.place = index;
    this.turn = 0;
    const table = tableIn(this.app, write.table);
    switch (write.kind) {
      case 'add': {
        const [saved] = await runPrepared<Saved>(runner, compileAdd(this.permit(table, 'add'), this.values(table, write.values), this.next()));
        if (saved === undefined) throw new Error('An INSERT without a row');
        this.added.set(write.as, saved.id);
        this.events.push({ kind: 'added', table: table.id, id: saved.id, fields: Object.keys(write.values), move: null, write: index });
        return { write: index, table: table.id, ...saved };
      }
      case 'change': {
        const values = this.values(table, write.values);
        const [saved] = await runPrepared<Changed>(runner, compileChange(this.permit(table, 'change'), write.id, write.rev, values, this.next()));
        if (saved === undefined) throw new VersionMissed(index, table.id, write.id);
        const fields = Object.keys(values).filter((field) => values[field] !== saved.before[field]);
        this.events.push({ kind: 'changed', table: table.id, id: saved.id, fields, move: null, write: index });
        return { write: index, table: table.id, id: saved.id, rev: saved.rev };
      }
      case 'move': {
        const { route, move } = moveOf(this.app.design, table, write.move);
        const permit = permitMove(this.app.design, this.person, route, move);
        if (permit === null) throw new Refusal('forbidden', `“${move.name}” is not yours to do.`);
        const [saved] = await runPrepared<Changed>(runner, compileChange(permit, write.id, write.rev, { [route.field]: move.to }, this.next()));
        if (saved === undefined) throw new VersionMissed(index, table.id, write.id);
        this.events.push({ kind: 'moved', table: table.id, id: saved.id, fields: [route.field], move: move.id, write: index });
        return { write: index, table: table.id, id: saved.id, rev: saved.rev };
      }
      case 'remove':
        await this.remove(runner, table, write.id, write.rev);
        return { write: index, table: table.id, id: write.id, rev: write.rev };
      default:
        return write satisfies never;
    }
  }

  /** Removes a record and settles its children first, each with its own line in the history. */
  private async remove(runner: Runner, table: Table, id: number, rev: number): Promise<void> {
    const relationships = this.app.design.relationships.filter((each) => each.parent === table.id);
    if (relationships.length > 0) await run(runner, compileHold(this.permit(table, 'remove'), id, this.app.schema));
    for (const one of relationships) {
      const child = tableIn(this.app, one.child);
      const action = one.whenParentRemoved === 'remove' ? 'remove' : 'change';
      const granted = this.permit(child, action);
      const children = await run<Saved>(runner, compileChildren(granted, one.field, id, this.app.schema));
      const others = children.filter((each) => one.child !== table.id || each.id !== id);
      if (others.length === 0) continue;
      await this.grants.require(
        runner,
        child,
        action,
        others.map((each) => each.id),
      );
      switch (one.whenParentRemoved) {
        case 'refuse':
          throw new Refusal(
            'invalid',
            `${others.length.toLocaleString('en-GB')} ${one.childrenName} belong to this record. Remove them first, or move them to another.`,
            [{ write: this.place, message: `${one.childrenName} belong to it` }],
          );
        case 'clear':
          for (const each of others) await run(runner, compileChange(granted, each.id, each.rev, { [one.field]: null }, this.next()));
          break;
        case 'remove':
          for (const each of others) await this.remove(runner, child, each.id, each.rev);
          break;
        default:
          one.whenParentRemoved satisfies never;
      }
    }
    const [gone] = await run<Saved>(runner, compileRemove(this.permit(table, 'remove'), id, rev, this.next()));
    if (gone === undefined) throw new VersionMissed(this.place, table.id, id);
  }

  /** What stands in the database where this save expected an older version. */
  async conflict(database: DataSource, missed: VersionMissed): Promise<Conflict> {
    const reader = new RecordReader(database, this.app, this.person);
    const current = await reader.one(missed.table, missed.id).catch((error: unknown) => {
      if (error instanceof Refusal) return null;
      throw error;
    });
    const newest = current === null ? undefined : (await new HistoryReader(database, this.app, this.person).of(missed.table, missed.id))[0];
    return { write: missed.write, current, by: newest?.person ?? null, at: newest?.at ?? null };
  }

  /** The answer of an earlier save with the same key, when there was one. */
  async earlier(database: DataSource): Promise<SaveAnswer | null> {
    const rows = await run<{ table_id: string; id: number; rev: number; place: number; kind: string }>(
      database,
      compileBatch(this.app.schema, this.key, this.person.id),
    );
    // Of the statements of one write the last is the write itself: what a removal takes along comes before it.
    const last = new Map(rows.filter((row) => row.place >= 0).map((row) => [Math.floor(row.place / placesPerWrite), row]));
    const records = [...last].map(([write, row]) => ({ write, table: row.table_id, id: row.id, rev: row.rev }));
    const own = rows.filter((row) => row.place < 0).sort((one, other) => one.rev - other.rev);
    return rows.length === 0
      ? null
      : {
          records: asTheyStand(
            records,
            own.map((row) => ({ table: row.table_id, id: row.id, rev: row.rev })),
          ),
        };
  }
}

const isAdded = (value: WrittenValue): value is { added: string } => typeof value === 'object' && value !== null;
