/** The way from one design of an app to another: the questions asked of the records first, and the changes to the database. */
import {
  difference,
  ident,
  Impossible,
  indexesOf,
  literal,
  rearranged,
  storedPart,
  viewChange,
  Rearrangement,
  type AppDesign,
  type SetAside,
  type Migration,
  type MigrationStep,
  type Person,
  type Renumbering,
  type StepAnswer,
} from '@bibliona/core';
import type { EntityManager, QueryRunner } from 'typeorm';
import { z } from 'zod';
import { KeptParts, type AppRow } from '../db/entities.js';
import { runOwn } from '../db/own.js';
import { runDefinition } from '../db/run.js';
import type { Progress } from '../db/under-way.js';
import { Refusal } from '../http/refusal.js';
import { askProbes, pgMessage } from './probes.js';

export const keptSchemaOf = (schema: string): string => `${schema}_kept`;
/** Where SQL clients find the tables under today's labels. */
export const viewSchemaOf = (schema: string): string => `${schema}_views`;

/** A rearrangement as a version keeps it. `since`: when the values first went, as PostgreSQL prints it. */
export const KeptRearrangement = z.object({ plan: Rearrangement, since: z.string() });
export type KeptRearrangement = z.infer<typeof KeptRearrangement>;

export interface Way {
  readonly before: AppDesign;
  readonly after: AppDesign;
  /** The values that are moved on the way, in a design that has the old parts and the new ones; null: none are. */
  readonly over: {
    readonly between: AppDesign;
    readonly moves: readonly MigrationStep[];
    /** Where many values change. */ readonly tables: readonly string[];
    readonly renumbers: Renumbering | null;
  } | null;
}

/** The way there. @throws Refusal invalid with the reason */
export function wayThere(before: AppDesign, plan: Rearrangement, schema: string): Way & { readonly says: string } {
  try {
    const { between, after, says, moves, tables } = rearranged(before, plan, schema);
    return { before, after, says, over: { between, moves: moves.there, tables, renumbers: moves.renumbers?.there ?? null } };
  } catch (error) {
    if (error instanceof Impossible) throw new Refusal('invalid', error.message);
    throw error;
  }
}

/** The way back to the design that was rearranged. */
export function wayBack(before: AppDesign, after: AppDesign, rearrangement: KeptRearrangement, schema: string): Way {
  try {
    const { between, moves, tables } = rearranged(after, rearrangement.plan, schema);
    const back = moves.back(`${literal(rearrangement.since)}::timestamptz`);
    return { before, after, over: { between, moves: back, tables, renumbers: moves.renumbers?.back ?? null } };
  } catch (error) {
    // A plan of an earlier version of the product that is not understood now: values come back as they were set aside.
    if (error instanceof Impossible) return { before, after, over: null };
    throw error;
  }
}

/** What it would do to records, without doing it. */
export async function askWay(manager: EntityManager, runner: QueryRunner, app: AppRow, way: Way, person: Person): Promise<readonly StepAnswer[]> {
  const steps = way.over?.moves ?? (await migrationOf(manager, app, way.before, way.after)).steps;
  return askProbes(runner, steps, { schema: app.schema, design: way.before }, person);
}

/**
 * Changes the database that way, and returns the SQL of the indexes that are left to be made.
 * @throws Refusal invalid when records do not meet the design
 */
export async function goWay(
  manager: EntityManager,
  runner: QueryRunner,
  app: AppRow,
  { before, after, over }: Way,
  person: Person,
  leaveIndexes: boolean,
  progress: Progress,
): Promise<readonly string[]> {
  const views = viewChange(before, after, app.schema, viewSchemaOf(app.schema));
  progress.expect(views.drop.length + views.make.length);
  try {
    await progress.run(views.drop);
    const later =
      over === null
        ? await migrateAlone(manager, runner, app, before, after, leaveIndexes, progress)
        : await migrateOver(manager, runner, app, { before, after, over }, person, progress);
    await progress.run(views.make);
    return later;
  } catch (error) {
    const message = error instanceof Refusal ? null : pgMessage(error, after);
    throw message === null ? error : new Refusal('invalid', message);
  }
}

/** In bytes: making the indexes of larger tables takes longer than others should wait. */
const large = 16 * 1024 * 1024;
const largeTables = `
  SELECT relname AS slug FROM pg_class WHERE relkind = 'r' AND relnamespace = (SELECT oid FROM pg_namespace WHERE nspname = $1) AND pg_relation_size(oid) > $2`;

/** Whether one of the tables is large. */
async function isLarge(runner: QueryRunner, app: AppRow, design: AppDesign, tables: readonly string[]): Promise<boolean> {
  if (tables.length === 0) return false;
  const rows = await runOwn<{ slug: string }>(runner, 'large tables', largeTables, [app.schema, large]);
  return design.tables.some(({ id, slug }) => tables.includes(id) && rows.some((row) => row.slug === slug));
}

const makeIndexes = (indexes: ReturnType<typeof indexesOf>): readonly string[] => indexes.map(({ name, on }) => `CREATE INDEX ${ident(name)} ON ${on}`);
const dropIndexes = (indexes: ReturnType<typeof indexesOf>, { schema }: AppRow): readonly string[] =>
  indexes.map(({ name }) => `DROP INDEX IF EXISTS ${ident(schema)}.${ident(name)}`);

/** A table that is written anew has all of its indexes made anew, which takes several times as long as the rest: a large one gets them later. */
async function migrateAlone(
  manager: EntityManager,
  runner: QueryRunner,
  app: AppRow,
  before: AppDesign,
  after: AppDesign,
  leaveIndexes: boolean,
  progress: Progress,
): Promise<readonly string[]> {
  const migration = await migrationOf(manager, app, before, after);
  const isLater = !leaveIndexes && (await isLarge(runner, app, before, migration.rewrites));
  const existing = isLater ? indexesOf(storedPart(before), app.schema).filter(({ table }) => migration.rewrites.includes(table)) : [];
  progress.expect(existing.length + statementsOf(migration, leaveIndexes || isLater).length);
  await progress.run(dropIndexes(existing, app));
  const left = await migrate(manager, app, migration, leaveIndexes || isLater, progress);
  return [...left, ...makeIndexes(existing)];
}

/**
 * For statements that change all records of a table. Joined by sorting, they would come in the order of the values, each on another
 * page of the table than the one before, which took twice as long with a million of them.
 */
const manyRecords = "SET LOCAL work_mem = '64MB'; SET LOCAL enable_mergejoin = off";

/** Changing many values is faster without indexes: they are dropped first, and those of the new design are made at the end, or later where a table is large. */
async function migrateOver(
  manager: EntityManager,
  runner: QueryRunner,
  app: AppRow,
  { before, after, over: { between, moves, tables, renumbers } }: Way & { readonly over: NonNullable<Way['over']> },
  person: Person,
  progress: Progress,
): Promise<readonly string[]> {
  const isLater = await isLarge(runner, app, before, tables);
  const existing = indexesOf(storedPart(before), app.schema).filter(({ table }) => tables.includes(table));
  const indexes = indexesOf(storedPart(after), app.schema);
  const first = await migrationOf(manager, app, before, between);
  const moving = moves.flatMap((step) => step.sql);
  // What the first migration sets aside can take a statement more or less in the second; all that takes long is counted.
  const second = await migrationOf(manager, app, between, after);
  progress.expect(existing.length + moving.length + (renumbers?.history.length ?? 0) + [first, second].flatMap((each) => statementsOf(each, true)).length);
  if (!isLater) progress.expect(indexes.filter(({ table }) => tables.includes(table)).length);
  await runDefinition(runner, [manyRecords]);
  await progress.run(dropIndexes(existing, app));
  await migrate(manager, app, first, true, progress);
  await progress.run(moving);
  if (renumbers !== null) await followRecords(runner, app, renumbers, progress);
  const last = await migrationOf(manager, app, between, after);
  const blocked = (await askProbes(runner, last.steps, { schema: app.schema, design: after }, person)).filter((step) => step.blocks);
  if (blocked.length > 0) throw new Refusal('invalid', blocked.map((step) => step.found).join(' '));
  await migrate(manager, app, last, true, progress);
  const found = await runOwn<{ name: string }>(runner, 'indexes there', 'SELECT indexname AS name FROM pg_indexes WHERE schemaname = $1', [app.schema]);
  const there = new Set(found.map((row) => row.name));
  const left = makeIndexes(indexes.filter(({ name }) => !there.has(name)));
  if (isLater) return left;
  await progress.run(left);
  return [];
}

/** What people said of records goes along with them, and what happened to them. */
async function followRecords(runner: QueryRunner, app: AppRow, { from, to, pairs, history }: Renumbering, progress: Progress): Promise<void> {
  await runDefinition(runner, [
    `CREATE TEMPORARY TABLE renumbered ON COMMIT DROP AS ${pairs}`,
    'CREATE UNIQUE INDEX renumbered_was ON renumbered (was)',
    'ANALYZE renumbered',
  ]);
  await runOwn(
    runner,
    'comments of renumbered records',
    'UPDATE bibliona.comment AS c SET table_id = $3, record_id = r.becomes FROM renumbered AS r WHERE c.app_id = $1 AND c.table_id = $2 AND c.record_id = r.was',
    [app.id, from, to],
  );
  await progress.run(history);
}

const statementsOf = ({ steps }: Migration, leaveIndexes: boolean): readonly string[] =>
  steps.flatMap((step) => (leaveIndexes && step.isIndex ? [] : step.sql));

/** @returns the SQL of the indexes that are left to be made */
async function migrate(manager: EntityManager, app: AppRow, migration: Migration, leaveIndexes: boolean, progress: Progress): Promise<string[]> {
  await progress.run(statementsOf(migration, leaveIndexes));
  for (const part of migration.restores) await manager.delete(KeptParts, { appId: app.id, name: part.name });
  if (migration.keeps.length > 0)
    await manager.insert(
      KeptParts,
      migration.keeps.map((what) => ({ appId: app.id, name: what.name, what: what })),
    );
  return leaveIndexes ? migration.steps.filter((step) => step.isIndex).flatMap((step) => step.sql) : [];
}

async function migrationOf(manager: EntityManager, app: AppRow, before: AppDesign, after: AppDesign): Promise<Migration> {
  const rows = await manager.createQueryBuilder(KeptParts, 'kept').where('kept.app_id = :id', { id: app.id }).orderBy('kept.at', 'DESC').getMany();
  return difference(before, after, {
    schema: app.schema,
    keptSchema: keptSchemaOf(app.schema),
    stamp: `v${app.version + 1}`,
    setAside: rows.map((row) => row.what as SetAside),
  });
}
