/** The checks of tables, asked of what a transaction has written before it is committed. */
import {
  checksOf,
  checksOfParents,
  compileFailing,
  compilePage,
  queryOf,
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

export class SaveChecks {
  /** Parents whose children are about to be moved or removed, by relationship. */
  private readonly parents = new Map<string, Set<number>>();

  constructor(
    private readonly app: Pick<OpenedApp, 'design' | 'schema'>,
    private readonly person: Person,
  ) {}

  /** Whether any check can be broken by these writes. */
  concerns(writes: readonly Write[]): boolean {
    const { design } = this.app;
    return writes.some((write) => tableOf(design, write.table).checks.length > 0 || checksOfParents(design, write.table).length > 0);
  }

  /** Notes whose children the writes are going to move or remove; afterwards it could not be told any more. */
  async before(runner: Runner, writes: readonly Write[]): Promise<void> {
    const ids = new Map<string, number[]>();
    for (const write of writes) if (write.kind !== 'add') ids.set(write.table, [...(ids.get(write.table) ?? []), write.id]);
    for (const [table, children] of ids) await this.noteParents(runner, table, children);
  }

  private async noteParents(runner: Runner, child: string, ids: readonly number[]): Promise<void> {
    for (const { relationship } of checksOfParents(this.app.design, child)) {
      const source = this.source(relationship.parent, { kind: 'parents_of', relationship: relationship.id, ids }, mostParents);
      const rows = await run<{ id: number }>(runner, compilePage(...source));
      const known = this.parents.get(relationship.id) ?? new Set();
      for (const row of rows) known.add(row.id);
      this.parents.set(relationship.id, known);
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
            checks.map((one) => one.node),
          ),
        );
  }

  /** What the written records do not meet, each at its write. */
  async after(
    runner: Runner,
    writes: readonly Write[],
    saved: readonly { readonly write: number; readonly table: string; readonly id: number }[],
  ): Promise<PlacedIssue[]> {
    const issues: PlacedIssue[] = [];
    const kept = saved.filter((one) => writes[one.write]?.kind !== 'remove');
    for (const table of new Set(saved.map((one) => one.table))) {
      const checks = checksOf(this.app.design, tableOf(this.app.design, table));
      const own = kept.filter((one) => one.table === table);
      const rows = await this.failing(runner, table, { kind: 'ids', ids: own.map((one) => one.id) }, checks);
      for (const row of rows)
        for (const at of row.failed) issues.push({ write: own.find((one) => one.id === row.id)?.write ?? 0, message: checks[at]?.check.message ?? '' });
      await this.noteParents(
        runner,
        table,
        own.map((one) => one.id),
      );
      for (const { relationship, parent, checks: asked } of checksOfParents(this.app.design, table)) {
        // A parent that is saved along is asked with its own table.
        const along = new Set(kept.filter((one) => one.table === parent.id).map((one) => one.id));
        const ids = [...(this.parents.get(relationship.id) ?? [])].filter((id) => !along.has(id));
        const failed = await this.failing(runner, parent.id, { kind: 'ids', ids }, asked);
        const write = saved.find((one) => one.table === table)?.write ?? 0;
        for (const row of failed) for (const at of row.failed) issues.push({ write, message: `${parent.name}: ${asked[at]?.check.message ?? ''}` });
      }
    }
    return issues;
  }

  /** The same for everything that this transaction has added to a table, as an import does. */
  async ofAdded(runner: Runner, table: string): Promise<{ readonly count: number; readonly messages: readonly string[] }> {
    const checks = checksOf(this.app.design, tableOf(this.app.design, table));
    const rows = await this.failing(runner, table, { kind: 'just_added' }, checks);
    const places = [...new Set(rows.flatMap((row) => row.failed))];
    return { count: rows.length, messages: places.map((at) => checks[at]?.check.message ?? '') };
  }
}
