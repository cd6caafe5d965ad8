/** Goes the way from one design of an app to another: the changes to the database. */
import {
  ident,
  indexesOf,
  storedPart,
  tablesToClose,
  viewChange,
  type AppDesign,
  type Migration,
  type Person,
  type PreparedColumn,
  type Renumbering,
} from '@bibliona/core';
import type { EntityManager, QueryRunner } from 'typeorm';
import { closeTables } from '../db/database.js';
import { KeptParts, type AppRow } from '../db/entities.js';
import { runOwn } from '../db/own.js';
import { runDefinition } from '../db/run.js';
import type { Progress } from '../db/under-way.js';
import { Refusal } from '../http/refusal.js';
import { forgetLeftOvers, largeTables } from './preparation.js';
import { askProbes, pgMessage } from './probes.js';
import { migrationOf, viewSchemaOf, type Way } from './way.js';

/** How a way is gone. */
export interface Going {
  readonly progress: Progress;
  /** The columns that are there already. */
  readonly prepared: readonly PreparedColumn[];
  /** In bytes: larger tables get their indexes later. */
  readonly largeTable: number;
  /** Whether the SQL of all new indexes is left to be run later. */
  readonly leaveIndexes: boolean;
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
  going: Going,
): Promise<readonly string[]> {
  const { progress, prepared } = going;
  const views = viewChange(before, after, app.schema, viewSchemaOf(app.schema));
  const left = await forgetLeftOvers(runner, app, prepared);
  progress.expect(views.drop.length + views.make.length + left.length);
  try {
    await progress.run([...left, ...views.drop]);
    const later =
      over === null
        ? await migrateAlone(manager, runner, app, before, after, going)
        : await migrateOver(manager, runner, app, { before, after, over }, person, going);
    await progress.run(views.make);
    return later;
  } catch (error) {
    const message = error instanceof Refusal ? null : pgMessage(error, after);
    throw message === null ? error : new Refusal('invalid', message);
  }
}

/** @throws Refusal unavailable when others work with the tables all the time */
async function close(runner: QueryRunner, { schema }: AppRow, before: AppDesign, statements: readonly string[], progress: Progress): Promise<void> {
  await progress.wait();
  const isClosed = await closeTables(runner, tablesToClose(before, statements, schema));
  if (!isClosed) throw new Refusal('unavailable', 'Others are working with these tables at the moment. Nothing was changed. Try again in a moment.');
}

/** Whether one of the tables is so large that making its indexes takes longer than others should wait. */
async function isLarge(runner: QueryRunner, app: AppRow, design: AppDesign, tables: readonly string[], { largeTable }: Going): Promise<boolean> {
  if (tables.length === 0) return false;
  const large = await largeTables(runner, app, largeTable);
  return design.tables.some(({ id, slug }) => tables.includes(id) && large.has(slug));
}

const makeIndexes = (indexes: ReturnType<typeof indexesOf>): readonly string[] => indexes.map(({ name, on }) => `CREATE INDEX ${ident(name)} ON ${on}`);
const dropIndexes = (indexes: ReturnType<typeof indexesOf>, { schema }: AppRow): readonly string[] =>
  indexes.map(({ name }) => `DROP INDEX IF EXISTS ${ident(schema)}.${ident(name)}`);

/** A table that is written anew has all of its indexes made anew, which takes several times as long as the rest: a large one gets them later, as it gets new ones. */
async function migrateAlone(
  manager: EntityManager,
  runner: QueryRunner,
  app: AppRow,
  before: AppDesign,
  after: AppDesign,
  going: Going,
): Promise<readonly string[]> {
  const { progress, prepared, leaveIndexes } = going;
  const migration = await migrationOf(manager, app, before, after, prepared);
  const isLater = !leaveIndexes && (await isLarge(runner, app, before, [...migration.rewrites, ...migration.indexed], going));
  const existing = isLater ? indexesOf(storedPart(before), app.schema).filter(({ table }) => migration.rewrites.includes(table)) : [];
  const statements = statementsOf(migration, leaveIndexes || isLater);
  progress.expect(existing.length + statements.length);
  await close(runner, app, before, statements, progress);
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
  { before, after, over: { between, moves, tables, renumbers, prepares } }: Way & { readonly over: NonNullable<Way['over']> },
  person: Person,
  going: Going,
): Promise<readonly string[]> {
  const { progress, prepared } = going;
  const isLater = await isLarge(runner, app, before, tables, going);
  // Where the values are there already, few records change.
  const existing = prepared.length > 0 ? [] : indexesOf(storedPart(before), app.schema).filter(({ table }) => tables.includes(table));
  const indexes = indexesOf(storedPart(after), app.schema);
  const first = await migrationOf(manager, app, before, between, prepared);
  const moving = prepares !== null && prepared.includes(prepares.column) ? prepares.there : moves.flatMap((step) => step.sql);
  // What the first migration sets aside can take a statement more or less in the second; all that takes long is counted.
  const second = await migrationOf(manager, app, between, after);
  const structure = [first, second].flatMap((each) => statementsOf(each, true));
  progress.expect(existing.length + moving.length + (renumbers?.history.length ?? 0) + structure.length);
  if (!isLater) progress.expect(indexes.filter(({ table }) => tables.includes(table)).length);
  await close(runner, app, before, [...structure, ...moving], progress);
  await runDefinition(runner, [manyRecords]);
  await progress.run(dropIndexes(existing, app));
  await migrate(manager, app, first, true, progress);
  await progress.run(moving);
  if (renumbers !== null) await followRecords(runner, app, renumbers, progress);
  const last = await migrationOf(manager, app, between, after);
  const blocking = last.steps.filter(({ probe }) => probe?.meaning === 'blocks');
  const blocked = (await askProbes(runner, blocking, { schema: app.schema, design: after }, person)).filter((step) => step.blocks);
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
