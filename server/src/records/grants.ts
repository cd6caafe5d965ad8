/** What grants say of single records: asked within the transaction that writes them. */
import {
  compileMeeting,
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
    if (granted === null) throw new Refusal('forbidden', `You may not ${action} records of ${table.name}.`);
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
  private async seen(runner: Runner, table: string, ids: readonly number[]): Promise<ReadonlySet<number>> {
    if (ids.length === 0 || this.seesAll(table)) return new Set(ids);
    const query = restrict(queryOf(table, { where: { kind: 'ids', ids }, limit: ids.length }), this.app.design, this.person, Date.now());
    return new Set((await run<{ id: number }>(runner, compilePage(query, this.app.design, this.app.schema))).map((row) => row.id));
  }

  /** Of each record, which grants for the action it meets; null: the grant is for all records alike. */
  private async meeting(runner: Runner, table: Table, action: Action, where: Condition): Promise<ReadonlyMap<number, ReadonlySet<number>> | null> {
    const { sight } = this.permit(table, action);
    if (sight.kind === 'all') return null;
    const conditions = sight.grants.flatMap((grant, i) => (grant.condition === null ? [] : [{ i, node: grant.condition }]));
    const always = sight.grants.flatMap((grant, i) => (grant.condition === null ? [i] : []));
    const query = restrictForRules(queryOf(table.id, { where }), this.app.design, this.person, Date.now());
    const rows = await run<Met>(
      runner,
      compileMeeting(
        [query, this.app.design, this.app.schema],
        conditions.map((one) => one.node),
      ),
    );
    return new Map(rows.map((row) => [row.id, new Set([...always, ...row.met.flatMap((at) => (conditions[at] === undefined ? [] : [conditions[at].i]))])]));
  }

  /** Fields that none of the grants met by the record opens. */
  private closed(table: Table, action: Action, met: ReadonlySet<number>, fields: readonly string[]): readonly string[] {
    const { sight } = this.permit(table, action);
    return sight.kind === 'all' ? [] : fields.filter((id) => !sight.grants.some((grant, i) => met.has(i) && !grant.withheld.has(id)));
  }

  /**
   * Before the writes: what is changed or removed is theirs to see and to change, and what is referred to is theirs to see.
   * @throws NotSeen, Refusal forbidden
   */
  async before(runner: Runner, writes: readonly Write[]): Promise<PlacedIssue[]> {
    const issues: PlacedIssue[] = [];
    for (const [at, write] of writes.entries()) {
      const table = tableOf(this.app.design, write.table);
      if (write.kind !== 'add') {
        if (!(await this.seen(runner, table.id, [write.id])).has(write.id)) throw new NotSeen(at, table.id, write.id);
        if (write.kind !== 'move') await this.require(runner, table, write.kind, [write.id]);
        if (write.kind === 'change') issues.push(...(await this.lockedIn(runner, table, write, write.id, at)));
      }
      for (const [parent, field, id] of this.references(write))
        if (!(await this.seen(runner, parent, [id])).has(id))
          issues.push({ write: at, field, message: `${fieldOf(table, field).name} names a record that is not there any more` });
    }
    return issues;
  }

  /** @throws Refusal forbidden when one of the records is not open for the action */
  async require(runner: Runner, table: Table, action: Action, ids: readonly number[]): Promise<void> {
    const met = await this.meeting(runner, table, action, { kind: 'ids', ids });
    if (met !== null && ids.some((id) => (met.get(id)?.size ?? 0) === 0))
      throw new Refusal('forbidden', `You may not ${action} ${ids.length === 1 ? 'this record' : 'these records'} of ${table.name}.`);
  }

  private async lockedIn(runner: Runner, table: Table, write: Extract<Write, { kind: 'add' | 'change' }>, id: number, at: number): Promise<PlacedIssue[]> {
    const met = (await this.meeting(runner, table, write.kind, { kind: 'ids', ids: [id] }))?.get(id);
    if (met === undefined) return [];
    return this.closed(table, write.kind, met, Object.keys(write.values)).map((field) => ({
      write: at,
      field,
      message: `${fieldOf(table, field).name} is not yours to ${write.kind === 'add' ? 'fill' : 'change'}`,
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
      if (met !== null && (met.get(id)?.size ?? 0) === 0)
        issues.push({
          write: at,
          message:
            write.kind === 'add'
              ? `Such a record of ${table.name} is not yours to add.`
              : `Changed so, this record of ${table.name} would not be yours any more.`,
        });
      else if (write.kind === 'add') issues.push(...(await this.lockedIn(runner, table, write, id, at)));
    }
    return issues;
  }
}
