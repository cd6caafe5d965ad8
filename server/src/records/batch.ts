/** The statements of one save, write by write, each with its own line in the history. */
import {
  localeFor,
  asBuilder,
  checkRecord,
  fixedIssues,
  compileAdd,
  compileBatch,
  compileChange,
  compileChanges,
  compileChildren,
  compileHold,
  compilePage,
  compileRemove,
  givesValues,
  isStored,
  mayStart,
  permit,
  permitMove,
  placesPerWrite,
  queryOf,
  restrictForRules,
  stored,
  type Permit,
  type Person,
  type PlacedIssue,
  type RecordEvent,
  type RecordState,
  type SaveAnswer,
  type Table,
  type Value,
  type Write,
  type WritePlace,
  type WrittenValue,
} from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { runOwn } from '../db/own.js';
import { run, runPrepared, type Runner } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { moveOf, routedIssues } from './moves.js';
import { asStored } from './as-stored.js';
import { startedRun } from './digest.js';
import type { SaveChecks } from './checks.js';
import type { SaveGrants } from './grants.js';

interface Saved {
  readonly id: number;
  readonly rev: number;
}

interface Changed extends Saved {
  /** What was in the fields before, by their ids. */
  readonly before: Readonly<Record<string, Value>>;
}

/** Another person was faster: raised inside the transaction, answered with both sides. */
export class VersionMissed extends Error {
  constructor(
    readonly write: number,
    readonly table: string,
    readonly id: number,
  ) {
    super('version missed');
  }
}

/** @throws Refusal stale_design */
export function tableIn({ design }: OpenedApp, id: string): Table {
  const table = design.tables.find((each) => each.id === id);
  if (table === undefined) throw new Refusal('stale_design', 'This table is no longer part of the app. Load the page again.');
  return table;
}

/** The records of a save with the versions at which its automations left them. */
export function asTheyStand(
  records: SaveAnswer['records'],
  later: readonly { readonly table: string; readonly id: number; readonly rev: number }[],
): SaveAnswer['records'] {
  const revs = new Map(later.map((each) => [`${each.table} ${each.id}`, each.rev]));
  return records.map((record) => ({ ...record, rev: revs.get(`${record.table} ${record.id}`) ?? record.rev }));
}

export class Batch {
  private readonly added = new Map<string, number>();
  /** The write that is under way. */
  place = 0;
  private turn = 0;
  /** What the writes have done to records, each with its write: what sets automations off. */
  readonly events: (RecordEvent & { readonly write: number })[] = [];

  constructor(
    private readonly app: OpenedApp,
    private readonly person: Person,
    private readonly under: { readonly key: string; readonly asked: string },
    private readonly grants: SaveGrants,
    private readonly checks: SaveChecks,
  ) {}

  private permit(table: Table, action: Permit['action']): Permit {
    return this.grants.permit(table, action);
  }

  check(writes: readonly Write[]): PlacedIssue[] {
    const names = new Set<string>();
    return writes.flatMap((write, i) => {
      if (!givesValues(write)) return [];
      // A reference to a record that comes earlier in this save has no id yet; for the check any id will do.
      const values = Object.fromEntries(
        Object.entries(write.values).map(([field, value]) => [field, isAdded(value) ? (names.has(value.added) ? 1 : 'unknown') : value]),
      );
      if (write.kind === 'add') names.add(write.as);
      const table = tableIn(this.app, write.table);
      const isNew = write.kind === 'add';
      const issues = [...checkRecord(table, values, isNew), ...(isNew ? [] : fixedIssues(table, values)), ...routedIssues(this.app.design, table, write)];
      return issues.map((issue) => ({ write: i, ...issue }));
    });
  }

  /** Holds every record that the writes name, so that what is asked of it before a write is still so when it is made. */
  async hold(runner: Runner, writes: readonly Write[]): Promise<void> {
    for (const table of this.app.design.tables) {
      const named = writes.flatMap((write) => (write.kind !== 'add' && write.table === table.id ? [write] : []));
      if (named.length === 0) continue;
      const isRemoved = named.some((write) => write.kind === 'remove');
      const ids = [...new Set(named.map((write) => write.id))];
      await run(runner, compileHold(this.anyPermit(table), ids, this.app.schema, isRemoved ? 'remove' : 'change'));
    }
  }

  /** To hold and to find records, which tells nobody anything: what may be done with them is asked of grants. */
  private anyPermit(table: Table): Permit {
    const granted = permit(this.app.design, asBuilder(this.person), table, 'change');
    if (granted === null) throw new Error('A builder without a permit');
    return granted;
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

  /** The record as it would be if the write were made. */
  async stateAfter(runner: Runner, write: Extract<Write, { kind: 'add' | 'change' }>): Promise<RecordState> {
    const table = tableIn(this.app, write.table);
    const before = write.kind === 'add' ? null : await asStored(runner, this.app, this.person, table, write.id);
    return { id: write.kind === 'add' ? 0 : write.id, values: { ...before?.values, ...this.values(table, write.values) } };
  }

  /** Each statement of a save has its own place in the history: the write it belongs to, and its turn within that. */
  private next(): WritePlace {
    this.turn += 1;
    return { schema: this.app.schema, batch: this.under.key, place: this.place * placesPerWrite + this.turn, asked: this.under.asked };
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
        if (permit === null) throw new Refusal('forbidden', `You can't make the move “${move.name}”.`);
        const [saved] = await runPrepared<Changed>(runner, compileChange(permit, write.id, write.rev, { [route.field]: move.to }, this.next()));
        if (saved === undefined) throw new VersionMissed(index, table.id, write.id);
        this.events.push({ kind: 'moved', table: table.id, id: saved.id, fields: [route.field], move: move.id, write: index });
        return { write: index, table: table.id, id: saved.id, rev: saved.rev };
      }
      case 'start': {
        await this.start(runner, table, write, index);
        return { write: index, table: table.id, id: write.id, rev: write.rev };
      }
      case 'remove':
        await this.remove(runner, table, write.id, write.rev);
        return { write: index, table: table.id, id: write.id, rev: write.rev };
      default:
        return write satisfies never;
    }
  }

  /**
   * Changes of one sort, of which the first has this place, made in one statement.
   * @throws VersionMissed, or what PostgreSQL says of one of them
   */
  async changeRun(runner: Runner, run: readonly [Change, ...Change[]], from: number): Promise<SaveAnswer['records']> {
    const table = tableIn(this.app, run[0].table);
    const changes = run.map((write, i) => ({
      id: write.id,
      rev: write.rev,
      values: this.values(table, write.values),
      place: (from + i) * placesPerWrite + 1,
    }));
    const at = { schema: this.app.schema, batch: this.under.key, asked: this.under.asked };
    const rows = await runPrepared<Changed>(runner, compileChanges(this.permit(table, 'change'), changes, at));
    const saved = new Map(rows.map((row) => [row.id, row]));
    return changes.map(({ id, values }, i) => {
      const row = saved.get(id);
      if (row === undefined) throw new VersionMissed(from + i, table.id, id);
      const fields = Object.keys(values).filter((field) => values[field] !== row.before[field]);
      this.events.push({ kind: 'changed', table: table.id, id, fields, move: null, write: from + i });
      return { write: from + i, table: table.id, id, rev: row.rev };
    });
  }

  /** Notes that an automation is started for a record, which is held. Sent again, it is not started again. @throws VersionMissed, Refusal */
  private async start(runner: Runner, table: Table, write: Extract<Write, { kind: 'start' }>, index: number): Promise<void> {
    const automation = this.app.design.automations.find((each) => each.id === write.automation && each.table === table.id);
    if (automation?.on !== 'started') throw new Refusal('stale_design', 'This can no longer be run for these records. Load the page again.');
    if (!mayStart(automation, this.person)) throw new Refusal('forbidden', `You can't run “${automation.name}”.`);
    const now = restrictForRules(
      queryOf(table.id, { where: { kind: 'ids', ids: [write.id] }, limit: 1, columns: [] }),
      this.app.design,
      this.person,
      Date.now(),
    );
    const [record] = await run<Saved>(runner, compilePage(now, this.app.design, this.app.schema));
    if (record?.rev !== write.rev) throw new VersionMissed(index, table.id, write.id);
    const [done] = await runOwn(runner, 'find run', 'SELECT id FROM bibliona.run WHERE id = $1', [startedRun(this.under.key, automation.id, index)]);
    if (done !== undefined) return;
    this.events.push({ kind: 'started', table: table.id, id: write.id, fields: [], move: null, started: automation.id, write: index });
  }

  /** Removes a record and settles its children first, each with its own line in the history. */
  private async remove(runner: Runner, table: Table, id: number, rev: number): Promise<void> {
    const relationships = this.app.design.relationships.filter((each) => each.parent === table.id);
    if (relationships.length > 0) await run(runner, compileHold(this.permit(table, 'remove'), [id], this.app.schema, 'remove'));
    for (const relationship of relationships) {
      const child = tableIn(this.app, relationship.child);
      const children = await run<Saved>(runner, compileChildren(this.anyPermit(child), relationship.field, id, this.app.schema));
      const others = children.filter((each) => relationship.child !== table.id || each.id !== id);
      if (others.length === 0) continue;
      const ids = others.map((each) => each.id);
      if (relationship.whenParentRemoved === 'refuse') throw await this.hasChildren(runner, child, relationship.childrenName, ids);
      const action = relationship.whenParentRemoved === 'remove' ? 'remove' : 'change';
      // Pairs of a link mean nothing without their record, so they are removed with it, whoever removes it.
      const granted = child.isLink ? this.anyPermit(child) : this.permit(child, action);
      if (!child.isLink) await this.grants.require(runner, child, action, ids);
      await this.checks.noteParents(runner, child.id, ids);
      switch (relationship.whenParentRemoved) {
        case 'clear':
          for (const each of others) await run(runner, compileChange(granted, each.id, each.rev, { [relationship.field]: null }, this.next()));
          break;
        case 'remove':
          for (const each of others)
            if (child.isLink) await run(runner, compileRemove(granted, each.id, each.rev, this.next()));
            else await this.remove(runner, child, each.id, each.rev);
          break;
        default:
          relationship.whenParentRemoved satisfies never;
      }
    }
    const [gone] = await run<Saved>(runner, compileRemove(this.permit(table, 'remove'), id, rev, this.next()));
    if (gone === undefined) throw new VersionMissed(this.place, table.id, id);
  }

  /** How many there are is only told of those that the person can see. */
  private async hasChildren(runner: Runner, child: Table, childrenName: string, ids: readonly number[]): Promise<Refusal> {
    const seen = (await this.grants.seen(runner, child.id, ids)).size;
    const some = seen === 0 ? `Some ${childrenName} that you can't see` : `${localeFor(this.app.design, this.person).count(seen)} ${childrenName}`;
    const more = seen > 0 && seen < ids.length ? ', and some that you can’t see,' : '';
    const fix = seen === ids.length ? 'Delete them first, or move them to another record.' : 'Ask someone who can see them to move or delete them first.';
    return new Refusal('invalid', `${some}${more} belong to this record. ${fix}`, [{ write: this.place, message: `${childrenName} belong to it` }]);
  }

  /**
   * The answer of an earlier save with the same key, when there was one.
   * @throws Refusal bad_request when something else was asked for under this key
   */
  async earlier(database: DataSource): Promise<SaveAnswer | null> {
    const rows = await run<{ table_id: string; id: number; rev: number; place: number; kind: string; asked: string | null }>(
      database,
      compileBatch(this.app.schema, this.under.key, this.person.id),
    );
    if (rows.length === 0) return null;
    mustBeTheSame(rows, this.under.asked);
    // Of the statements of one write the last is the write itself: what a removal takes along comes before it.
    const last = new Map(rows.filter((row) => row.place >= 0).map((row) => [Math.floor(row.place / placesPerWrite), row]));
    const records = [...last].map(([write, row]) => ({ write, table: row.table_id, id: row.id, rev: row.rev }));
    const own = rows.filter((row) => row.place < 0).sort((row, other) => row.rev - other.rev);
    return {
      records: asTheyStand(
        records,
        own.map((row) => ({ table: row.table_id, id: row.id, rev: row.rev })),
      ),
    };
  }
}

type Change = Extract<Write, { readonly kind: 'change' }>;
const mostOfRun = 500;

/**
 * The changes from a write on that are of one sort: of the same fields of different records of one table, and of none in which
 * records must differ, because there the order of the writes matters. Null: there are not several.
 */
export function runOfChanges(app: OpenedApp, writes: readonly Write[], from: number): readonly [Change, ...Change[]] | null {
  const first = writes[from];
  if (first?.kind !== 'change' || writes[from + 1]?.kind !== 'change') return null;
  const fields = fieldsOf(first);
  const differ = fieldsThatDiffer(tableIn(app, first.table));
  if (fields === '' || Object.keys(first.values).some((field) => differ.has(field))) return null;
  const run: [Change, ...Change[]] = [first];
  const known = new Set([first.id]);
  for (let at = from + 1; run.length < mostOfRun; at += 1) {
    const write = writes[at];
    if (write?.kind !== 'change' || write.table !== first.table || known.has(write.id) || fieldsOf(write) !== fields) break;
    known.add(write.id);
    run.push(write);
  }
  return run.length > 1 ? run : null;
}

const fieldsOf = ({ values }: Change): string => Object.keys(values).toSorted().join(' ');

/** The fields in which records must differ, alone or together. */
export const fieldsThatDiffer = (table: Table): ReadonlySet<string> =>
  new Set([
    ...table.fields.filter((field) => isStored(field) && field.unique).map((field) => field.id),
    ...table.uniqueTogether.flatMap((each) => each.fields),
  ]);

/** @throws Refusal bad_request when the lines of a key were written for another request; lines of before digests were kept pass */
export function mustBeTheSame(rows: readonly { readonly asked: string | null }[], asked: string): void {
  if (rows.some((row) => row.asked !== null && row.asked !== asked))
    throw new Refusal('bad_request', 'Something else was saved under this key. Nothing was saved now. Load the page again.');
}

const isAdded = (value: WrittenValue): value is { added: string } => typeof value === 'object' && value !== null;
