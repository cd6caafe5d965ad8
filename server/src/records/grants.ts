/** What grants say of single records: asked within the transaction that writes them. */
import {
  compileMeeting,
  compileMeetingOf,
  compilePage,
  fieldOf,
  parentOf,
  permit,
  queryOf,
  restrict,
  restrictForRules,
  tableOf,
  type Condition,
  type Permit,
  type Person,
  type PlacedIssue,
  type RecordState,
  type Table,
  type Write,
} from '@bibliona/core';
import { run, type Runner } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';

type Action = Permit['action'];
interface Met {
  readonly id: number;
  readonly met: readonly number[];
}

/** Raised where a record is not this person's to see: it is then as if it were not there. */
export class NotSeen extends Error {
  constructor(
    readonly write: number,
    readonly table: string,
    readonly id: number,
  ) {
    super('not seen');
  }
}

export class SaveGrants {
  constructor(
    private readonly app: Pick<OpenedApp, 'design' | 'schema'>,
    private readonly person: Person,
  ) {}

  /** @throws Refusal forbidden when no grant gives it at all */
  permit(table: Table, action: Action): Permit {
    const granted = permit(this.app.design, this.person, table, action);
    if (granted === null) throw new Refusal('forbidden', `You can't ${action} records of ${table.name}.`);
    return granted;
  }

  /** Whether some of the writes are open for some records or fields only. */
  concerns(writes: readonly Write[]): boolean {
    if (this.person.role === 'builder') return false;
    return writes.some((write) => {
      const table = tableOf(this.app.design, write.table);
      // A move is granted by its route; what is asked of grants is whether the record can be seen.
      if (write.kind === 'move') return true;
      return this.permit(table, write.kind).sight.kind !== 'all' || !this.seesAll(table.id) || this.references(write).some(([parent]) => !this.seesAll(parent));
    });
  }

  private seesAll(table: string): boolean {
    const { sightIn } = restrict(queryOf(table), this.app.design, this.person, Date.now());
    return sightIn(table).kind === 'all';
  }

  /** Table, field and id of the records that a write refers to. */
  private references(write: Write): (readonly [parent: string, field: string, id: number])[] {
    if (write.kind === 'remove' || write.kind === 'move') return [];
    const table = tableOf(this.app.design, write.table);
    return table.fields.flatMap((field) => {
      const value = write.values[field.id];
      return field.kind === 'reference' && typeof value === 'number' ? [[parentOf(this.app.design, field).id, field.id, value] as const] : [];
    });
  }

  /** The ids that the person may see. */
  async seen(runner: Runner, table: string, ids: readonly number[]): Promise<ReadonlySet<number>> {
    if (ids.length === 0 || this.seesAll(table)) return new Set(ids);
    const query = restrict(queryOf(table, { where: { kind: 'ids', ids }, limit: ids.length }), this.app.design, this.person, Date.now());
    return new Set((await run<{ id: number }>(runner, compilePage(query, this.app.design, this.app.schema))).map((row) => row.id));
  }

  /**
   * Of each record, which grants for the action it meets; null: the grant is for all records alike. Asked of records in the
   * table by their ids, or of states, which are then known by their places.
   */
  private async meeting(
    runner: Runner,
    table: Table,
    action: Action,
    of: Condition | readonly RecordState[],
  ): Promise<ReadonlyMap<number, ReadonlySet<number>> | null> {
    const { sight } = this.permit(table, action);
    if (sight.kind === 'all') return null;
    const conditions = sight.grants.flatMap((grant, i) => (grant.condition === null ? [] : [{ i, node: grant.condition }]));
    const always = sight.grants.flatMap((grant, i) => (grant.condition === null ? [i] : []));
    const nodes = conditions.map((one) => one.node);
    const source = (where?: Condition) =>
      [
        restrictForRules(queryOf(table.id, where === undefined ? {} : { where }), this.app.design, this.person, Date.now()),
        this.app.design,
        this.app.schema,
      ] as const;
    const rows = await run<Met>(runner, 'kind' in of ? compileMeeting(source(of), nodes) : compileMeetingOf(source(), of, nodes));
    return new Map(rows.map((row) => [row.id, new Set([...always, ...row.met.flatMap((at) => (conditions[at] === undefined ? [] : [conditions[at].i]))])]));
  }

  /** Fields that none of the grants met by the record opens. */
  private closed(table: Table, action: Action, met: ReadonlySet<number>, fields: readonly string[]): readonly string[] {
    const { sight } = this.permit(table, action);
    return sight.kind === 'all' ? [] : fields.filter((id) => !sight.grants.some((grant, i) => met.has(i) && !grant.withheld.has(id)));
  }

  /**
   * Right before a write: what it changes or removes is theirs to see and to change, and what it refers to is theirs to see.
   * Asked of each write after those before it were made, with its record held: an earlier write of the same save may have
   * changed what this one is allowed.
   * @throws NotSeen, Refusal forbidden
   */
  async before(runner: Runner, write: Write, at: number): Promise<PlacedIssue[]> {
    const issues: PlacedIssue[] = [];
    const table = tableOf(this.app.design, write.table);
    if (write.kind !== 'add') {
      if (!(await this.seen(runner, table.id, [write.id])).has(write.id)) throw new NotSeen(at, table.id, write.id);
      if (write.kind !== 'move') await this.require(runner, table, write.kind, [write.id]);
      if (write.kind === 'change') {
        const met = (await this.meeting(runner, table, 'change', { kind: 'ids', ids: [write.id] }))?.get(write.id);
        issues.push(...this.lockedIn(table, write, met, at));
      }
    }
    for (const [parent, field, id] of this.references(write))
      if (!(await this.seen(runner, parent, [id])).has(id))
        issues.push({ write: at, field, message: `${fieldOf(table, field).name} refers to a record that doesn't exist or that you don't have access to` });
    return issues;
  }

  /** @throws Refusal forbidden when one of the records is not open for the action */
  async require(runner: Runner, table: Table, action: Action, ids: readonly number[]): Promise<void> {
    const met = await this.meeting(runner, table, action, { kind: 'ids', ids });
    if (met !== null && ids.some((id) => (met.get(id)?.size ?? 0) === 0))
      throw new Refusal('forbidden', `You can't ${action} ${ids.length === 1 ? 'this record' : 'these records'} of ${table.name}.`);
  }

  private lockedIn(table: Table, write: Extract<Write, { kind: 'add' | 'change' }>, met: ReadonlySet<number> | undefined, at: number): PlacedIssue[] {
    if (met === undefined) return [];
    return this.closed(table, write.kind, met, Object.keys(write.values)).map((field) => ({
      write: at,
      field,
      message: `You can't ${write.kind === 'add' ? 'fill in' : 'change'} ${fieldOf(table, field).name}`,
    }));
  }

  /** After the writes: what was added or changed is, as it now stands, still theirs to add or change. `asked` is without defaults. */
  async after(runner: Runner, asked: readonly Write[], saved: readonly { readonly write: number; readonly id: number }[]): Promise<PlacedIssue[]> {
    const issues: PlacedIssue[] = [];
    for (const { write: at, id } of saved) {
      const write = asked[at];
      if (write === undefined || write.kind === 'remove' || write.kind === 'move') continue;
      const table = tableOf(this.app.design, write.table);
      const met = await this.meeting(runner, table, write.kind, { kind: 'ids', ids: [id] });
      if (met !== null) issues.push(...this.left(table, write, met.get(id), at));
    }
    return issues;
  }

  /**
   * The same of a write that the database refused, as if it had been made: whoever may not make it is told so, and not that
   * some record out of their sight has the same value.
   */
  async asIfWritten(runner: Runner, write: Extract<Write, { kind: 'add' | 'change' }>, state: RecordState, at: number): Promise<PlacedIssue[]> {
    const table = tableOf(this.app.design, write.table);
    const met = await this.meeting(runner, table, write.kind, [state]);
    return met === null ? [] : this.left(table, write, met.get(0), at);
  }

  private left(table: Table, write: Extract<Write, { kind: 'add' | 'change' }>, met: ReadonlySet<number> | undefined, at: number): PlacedIssue[] {
    if ((met?.size ?? 0) === 0) {
      const message =
        write.kind === 'add'
          ? `You don't have permission to add this record to ${table.name}.`
          : `You would lose access to this record of ${table.name} if you saved this change.`;
      return [{ write: at, message }];
    }
    return write.kind === 'add' ? this.lockedIn(table, write, met, at) : [];
  }
}
