/** What grants say of single records: asked within the transaction that writes them. */
import {
  compileMeeting,
  givesValues,
  compileMeetingOf,
  compilePage,
  fieldOf,
  parentOf,
  permit,
  queryOf,
  restrict,
  restrictForRules,
  sidesOf,
  tableOf,
  tablesRead,
  type Condition,
  type Permit,
  type Person,
  type PlacedIssue,
  type RecordState,
  type Sight,
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

/** Of each record, the places of the grants that it meets; null: one grant is for all records alike. */
type Meeting = ReadonlyMap<number, ReadonlySet<number>> | null;

/** Why a pair of a link is not theirs to add or remove. */
const mustChangeOne = 'To change which records belong together you need permission to change one of them.';

/** What is known of a run of writes before the first of them is made. */
interface Ahead {
  /** The place of the first write that it says nothing of. */
  readonly end: number;
  readonly meeting: Meeting;
  /** The ids that the person can see, by table. */
  readonly seen: ReadonlyMap<string, ReadonlySet<number>>;
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
  private ahead: Ahead = { end: 0, meeting: null, seen: new Map() };

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
      // A move is granted by its route and a start by its automation; what is asked of grants is whether the record can be seen.
      if (write.kind === 'move' || write.kind === 'start') return true;
      return this.permit(table, write.kind).sight.kind !== 'all' || !this.seesAll(table.id) || this.references(write).some(([parent]) => !this.seesAll(parent));
    });
  }

  private seesAll(table: string): boolean {
    const { sightIn } = restrict(queryOf(table), this.app.design, this.person, Date.now());
    return sightIn(table).kind === 'all';
  }

  /** Table, field and id of the records that a write refers to. */
  private references(write: Write): (readonly [parent: string, field: string, id: number])[] {
    if (!givesValues(write)) return [];
    const table = tableOf(this.app.design, write.table);
    return table.fields.flatMap((field) => {
      const value = write.values[field.id];
      return field.kind === 'reference' && typeof value === 'number' ? [[parentOf(this.app.design, field).id, field.id, value] as const] : [];
    });
  }

  /** The ids that the person can see. */
  async seen(runner: Runner, table: string, ids: readonly number[]): Promise<ReadonlySet<number>> {
    if (ids.length === 0 || this.seesAll(table)) return new Set(ids);
    const query = restrict(queryOf(table, { where: { kind: 'ids', ids }, limit: ids.length }), this.app.design, this.person, Date.now());
    return new Set((await run<{ id: number }>(runner, compilePage(query, this.app.design, this.app.schema))).map((row) => row.id));
  }

  /**
   * Of each record, which grants for the action it meets; null: the grant is for all records alike. Asked of records in the
   * table by their ids, or of states, which are then known by their places.
   */
  private async meeting(runner: Runner, table: Table, action: Action, of: Condition | readonly RecordState[]): Promise<Meeting> {
    const { sight } = this.permit(table, action);
    if (sight.kind === 'all') return null;
    const conditions = sight.grants.flatMap((grant, i) => (grant.condition === null ? [] : [{ i, node: grant.condition }]));
    const always = sight.grants.flatMap((grant, i) => (grant.condition === null ? [i] : []));
    const nodes = conditions.map((condition) => condition.node);
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
   * Asked of each write after those before it were made, with its record held: an earlier write of the same save might have
   * changed what this one is allowed. Writes that cannot change this for each other are asked about together.
   * @throws NotSeen, Refusal forbidden
   */
  async before(runner: Runner, writes: readonly Write[], at: number): Promise<PlacedIssue[]> {
    const write = writes[at];
    if (write === undefined) return [];
    if (at === 0 || at >= this.ahead.end) this.ahead = await this.askedAhead(runner, writes, at);
    const { meeting, seen } = this.ahead;
    const issues: PlacedIssue[] = [];
    const table = tableOf(this.app.design, write.table);
    if (write.kind === 'add') await this.mustTie(runner, table, write);
    else {
      if (seen.get(table.id)?.has(write.id) !== true) throw new NotSeen(at, table.id, write.id);
      if (write.kind !== 'move' && write.kind !== 'start') this.mustMeet(table, write.kind, [write.id], meeting);
      if (write.kind === 'change') issues.push(...this.lockedIn(table, write, meeting?.get(write.id), at));
    }
    for (const [parent, field, id] of this.references(write))
      if (seen.get(parent)?.has(id) !== true)
        issues.push({ write: at, field, message: `${fieldOf(table, field).name} refers to a record that doesn't exist or that you don't have access to` });
    return issues;
  }

  /**
   * A pair of a link can be added by who can change one of its records. A record that the same save adds is theirs to add,
   * which is asked of it by itself.
   * @throws Refusal forbidden
   */
  private async mustTie(runner: Runner, link: Table, { values }: Extract<Write, { kind: 'add' }>): Promise<void> {
    const sides = sidesOf(this.app.design, link);
    const ids = (sides ?? []).flatMap(({ field }) => {
      const id = values[field.id];
      return typeof id === 'number' ? [[field.id, id] as const] : [];
    });
    if (sides === null || ids.length < sides.length) return;
    // Who can take the pair back can say it.
    const granted = permit(this.app.design, this.person, link, 'remove');
    const met = granted === null ? null : await this.meeting(runner, link, 'remove', [{ id: 0, values: Object.fromEntries(ids) }]);
    if (granted === null || met?.get(0)?.size === 0) throw new Refusal('forbidden', mustChangeOne);
  }

  /** What has to be known before the writes from one on, as far as they cannot change it for each other. */
  private async askedAhead(runner: Runner, writes: readonly Write[], from: number): Promise<Ahead> {
    const end = this.endOfRun(writes, from);
    const run = writes.slice(from, end);
    const wanted = new Map<string, Set<number>>();
    const want = (table: string, id: number): unknown => wanted.set(table, (wanted.get(table) ?? new Set()).add(id));
    for (const write of run) {
      if (write.kind !== 'add') want(write.table, write.id);
      for (const [parent, , id] of this.references(write)) want(parent, id);
    }
    const seen = new Map<string, ReadonlySet<number>>();
    for (const [table, ids] of wanted) seen.set(table, await this.seen(runner, table, [...ids]));
    const [first] = run;
    if (first === undefined || first.kind === 'add' || first.kind === 'move' || first.kind === 'start') return { end, meeting: null, seen };
    // Of records out of sight nothing is asked: which of them are there is not told.
    const ids = run.flatMap((write) => (write.kind !== 'add' && seen.get(write.table)?.has(write.id) === true ? [write.id] : []));
    return { end, seen, meeting: await this.meeting(runner, tableOf(this.app.design, first.table), first.kind, { kind: 'ids', ids }) };
  }

  /** Where the run ends that begins with a write: the same is done to different records of one table, and no grant of them looks at others of it. */
  private endOfRun(writes: readonly Write[], from: number): number {
    const first = writes[from];
    if (first === undefined || (first.kind !== 'add' && first.kind !== 'change') || this.looksAtOthers(tableOf(this.app.design, first.table), first.kind))
      return from + 1;
    const known = new Set<number>();
    const isNext = (write: Write): boolean => write.table === first.table && write.kind === first.kind && (write.kind === 'add' || !known.has(write.id));
    let end = from;
    for (let next = writes[end]; next !== undefined && isNext(next); next = writes[end]) {
      if (next.kind !== 'add') known.add(next.id);
      end += 1;
    }
    return end;
  }

  /** Whether what is allowed with one record of a table can depend on other records of it. */
  private looksAtOthers(table: Table, action: 'add' | 'change'): boolean {
    const { sightIn } = restrict(queryOf(table.id), this.app.design, this.person, Date.now());
    const looked = new Set<string>();
    const look = (sight: Sight): void => {
      const nodes = sight.kind === 'all' ? [] : sight.grants.flatMap((grant) => grant.condition ?? []);
      for (const each of nodes.flatMap((node) => [...tablesRead(node)])) {
        if (looked.has(each)) continue;
        looked.add(each);
        look(sightIn(each));
      }
    };
    look(sightIn(table.id));
    look(this.permit(table, action).sight);
    for (const field of table.fields) {
      if (field.kind !== 'reference') continue;
      const parent = parentOf(this.app.design, field);
      if (this.seesAll(parent.id)) continue;
      looked.add(parent.id);
      look(sightIn(parent.id));
    }
    return looked.has(table.id);
  }

  /** @throws Refusal forbidden when one of the records is not open for the action */
  async require(runner: Runner, table: Table, action: Action, ids: readonly number[]): Promise<void> {
    this.mustMeet(table, action, ids, await this.meeting(runner, table, action, { kind: 'ids', ids }));
  }

  private mustMeet(table: Table, action: Action, ids: readonly number[], met: Meeting): void {
    if (met === null || ids.every((id) => (met.get(id)?.size ?? 0) > 0)) return;
    if (table.isLink) throw new Refusal('forbidden', mustChangeOne);
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

  /** After the writes: what was added or changed is, as it is now, still theirs to add or change. `asked` is without defaults. */
  async after(runner: Runner, asked: readonly Write[], saved: readonly { readonly write: number; readonly id: number }[]): Promise<PlacedIssue[]> {
    const meetings = new Map<string, Meeting>();
    const written = saved.flatMap(({ write: at, id }) => {
      const write = asked[at];
      return write === undefined || !givesValues(write) ? [] : [{ write, at, id, key: `${write.kind} ${write.table}` }];
    });
    for (const { write, key } of written) {
      if (meetings.has(key)) continue;
      const ids = written.filter((each) => each.key === key).map((each) => each.id);
      meetings.set(key, await this.meeting(runner, tableOf(this.app.design, write.table), write.kind, { kind: 'ids', ids }));
    }
    return written.flatMap(({ write, at, id, key }) => {
      const met = meetings.get(key) ?? null;
      return met === null ? [] : this.left(tableOf(this.app.design, write.table), write, met.get(id), at);
    });
  }

  /**
   * The same of a write that the database refused, as if it had been made: a person who can't make it is told so, and not that
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
