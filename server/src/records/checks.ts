/** The checks of tables, asked of what a transaction has written before it is committed. */
import {
  asBuilder,
  checksOf,
  checksOfParents,
  compileFailing,
  compileHold,
  compilePage,
  fieldsRead,
  givesValues,
  permit,
  queryOf,
  relationshipsLookedAt,
  restrictForRules,
  tableOf,
  type AskedCheck,
  type Condition,
  type PlacedIssue,
  type Person,
  type Write,
} from '@bibliona/core';
import { run, type Runner } from '../db/run.js';
import type { OpenedApp } from '../http/serve.js';

interface Failed {
  readonly id: number;
  readonly failed: readonly number[];
}

const mostParents = 10_000;
const failedNamed = 20;

export class SaveChecks {
  /** Parents whose children are written, by relationship. */
  private readonly parents = new Map<string, Set<number>>();

  constructor(
    private readonly app: Pick<OpenedApp, 'design' | 'schema'>,
    private readonly person: Person,
  ) {}

  /** Whether any check can be broken by these writes. */
  concerns(writes: readonly Write[]): boolean {
    const { design } = this.app;
    const touched = new Set(writes.flatMap((write) => (write.kind === 'remove' ? [...this.removedWith(write.table)] : [write.table])));
    return [...touched].some(
      (table) => tableOf(design, table).checks.length > 0 || checksOfParents(design, table).length > 0 || relationshipsLookedAt(design, table).length > 0,
    );
  }

  /** The table and those whose records are removed or cleared along with its own. */
  private removedWith(table: string, known = new Set<string>()): ReadonlySet<string> {
    if (known.has(table)) return known;
    known.add(table);
    for (const relationship of this.app.design.relationships)
      if (relationship.parent === table && relationship.whenParentRemoved !== 'refuse') this.removedWith(relationship.child, known);
    return known;
  }

  /** Notes whose children the writes are going to move or remove; afterwards it could not be told any more. */
  async before(runner: Runner, writes: readonly Write[]): Promise<void> {
    const ids = new Map<string, number[]>();
    for (const write of writes) if (write.kind !== 'add') ids.set(write.table, [...(ids.get(write.table) ?? []), write.id]);
    for (const [table, children] of ids) await this.noteParents(runner, table, children);
  }

  /** Notes the parents of records that are about to be written; records without a parent add nothing. */
  async noteParents(runner: Runner, child: string, ids: readonly number[] | 'just_added'): Promise<void> {
    if (ids.length === 0) return;
    for (const relationship of relationshipsLookedAt(this.app.design, child)) {
      const source = this.source(relationship.parent, { kind: 'parents_of', relationship: relationship.id, ids }, mostParents);
      const rows = await run<{ id: number }>(runner, compilePage(...source));
      const known = this.parents.get(relationship.id) ?? new Set();
      for (const row of rows) known.add(row.id);
      this.parents.set(relationship.id, known);
    }
  }

  /** Waits for other saves that write children of the same parents, so that the last one sees the children of all. */
  private async takeTurns(runner: Runner): Promise<void> {
    const { design, schema } = this.app;
    for (const table of design.tables) {
      const noted = design.relationships
        .filter((relationship) => relationship.parent === table.id)
        .flatMap((relationship) => [...(this.parents.get(relationship.id) ?? [])]);
      const granted = permit(design, asBuilder(this.person), table, 'change');
      if (noted.length > 0 && granted !== null) await run(runner, compileHold(granted, [...new Set(noted)], schema, 'change'));
    }
  }

  private source(table: string, where: Condition, limit: number) {
    const { design, schema } = this.app;
    return [restrictForRules(queryOf(table, { where, limit }), design, this.person, Date.now()), design, schema] as const;
  }
  private failing(runner: Runner, table: string, where: Condition, checks: readonly AskedCheck[]): Promise<readonly Failed[]> {
    return checks.length === 0
      ? Promise.resolve([])
      : run<Failed>(
          runner,
          compileFailing(
            this.source(table, where, 0),
            checks.map((check) => check.node),
          ),
        );
  }

  /** What the written records do not meet, each at its write. */
  async after(
    runner: Runner,
    writes: readonly Write[],
    saved: readonly { readonly write: number; readonly table: string; readonly id: number }[],
  ): Promise<PlacedIssue[]> {
    const { design } = this.app;
    const issues: PlacedIssue[] = [];
    const present = saved.filter((each) => writes[each.write]?.kind !== 'remove');
    const idsIn = (table: string): number[] => [...new Set(present.filter((each) => each.table === table).map((each) => each.id))];
    for (const table of new Set(present.map((each) => each.table))) await this.noteParents(runner, table, idsIn(table));
    await this.takeTurns(runner);
    for (const table of new Set(present.map((each) => each.table))) {
      const of = tableOf(design, table);
      const checks = checksOf(design, of);
      for (const row of await this.failing(runner, table, { kind: 'ids', ids: idsIn(table) }, checks)) {
        // A record that was written several times is blamed on the last of its writes.
        const write = present.findLast((each) => each.table === table && each.id === row.id)?.write ?? 0;
        const written = writes[write];
        for (const asked of row.failed.flatMap((at) => checks[at] ?? [])) {
          const field = written !== undefined && givesValues(written) ? fieldsRead(asked, of).findLast((id) => written.values[id] !== undefined) : undefined;
          issues.push({ write, message: asked.check.message, ...(field !== undefined && { field }) });
        }
      }
    }
    for (const [id, parents] of this.parents) {
      const relationship = design.relationships.find((each) => each.id === id);
      const asked = checksOfParents(design, relationship?.child ?? '').find((check) => check.relationship.id === id);
      if (asked === undefined) continue;
      // A parent that is saved along was asked with its own table.
      const along = new Set(idsIn(asked.parent.id));
      const ids = [...parents].filter((parent) => !along.has(parent));
      const write = saved.find((each) => each.table === relationship?.child)?.write ?? 0;
      for (const row of await this.failing(runner, asked.parent.id, { kind: 'ids', ids }, asked.checks))
        for (const at of row.failed) issues.push({ write, message: `${asked.parent.name}: ${asked.checks[at]?.check.message ?? ''}` });
    }
    return issues;
  }

  /**
   * The same for everything that this transaction has added to a table, as an import does: what it breaks of its own checks,
   * and of those of the parents that it adds children to.
   */
  async ofAdded(runner: Runner, table: string): Promise<{ readonly count: number; readonly ids: readonly number[]; readonly messages: readonly string[] }> {
    const { design } = this.app;
    await this.noteParents(runner, table, 'just_added');
    await this.takeTurns(runner);
    const asked: readonly (readonly [string, Condition, readonly AskedCheck[], string])[] = [
      [table, { kind: 'just_added' }, checksOf(design, tableOf(design, table)), ''],
      ...checksOfParents(design, table).map(
        ({ relationship, parent, checks }) =>
          [parent.id, { kind: 'parents_of', relationship: relationship.id, ids: 'just_added' }, checks, `${parent.name}: `] as const,
      ),
    ];
    let count = 0;
    // The first of the added records that fail: a parent that fails has no place among them.
    const ids: number[] = [];
    const messages = new Set<string>();
    for (const [of, where, checks, before] of asked) {
      const rows = await this.failing(runner, of, where, checks);
      count += rows.length;
      if (of === table) ids.push(...rows.slice(0, failedNamed).map((row) => row.id));
      for (const at of rows.flatMap((row) => row.failed)) messages.add(`${before}${checks[at]?.check.message ?? ''}`);
    }
    return { count, ids, messages: [...messages] };
  }
}
