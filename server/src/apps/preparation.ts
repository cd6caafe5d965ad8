/** Makes large tables ready for a change while people go on working: the columns that it takes are filled before it closes the tables. */
import {
  beginPrepared,
  compilePreparedCount,
  compileFill,
  compileStretch,
  forgetPrepared,
  preparedColumns,
  preparedName,
  preparedNames,
  type LeftOver,
  type PreparedColumn,
} from '@bibliona/core';
import type { DataSource, EntityManager, QueryRunner } from 'typeorm';
import { changingTables } from '../db/database.js';
import type { AppRow } from '../db/entities.js';
import { runOwn } from '../db/own.js';
import { run, runDefinition } from '../db/run.js';
import type { Progress } from '../db/under-way.js';
import { heldUnlessChanged } from './upkeep.js';
import { keptSchemaOf, setAsideOf, type Way } from './way.js';

/** How many records are filled in one statement. A save of one of them waits for that statement. */
const atOnce = 5000;
/** In both passes: the second one fills the few records that somebody was saving during the first. The change itself fills what is still missing. */
const stretches = [atOnce, 20 * atOnce];

const placeOf = ({ schema }: Pick<AppRow, 'schema'>): { readonly schema: string; readonly keptSchema: string } => ({
  schema,
  keptSchema: keptSchemaOf(schema),
});

export class Preparation {
  private made: readonly PreparedColumn[] = [];

  /** @param largeTable in bytes */
  constructor(
    private readonly database: DataSource,
    private readonly largeTable: number,
  ) {}

  /**
   * @param manager of the transaction that holds the app, and reads none of its tables yet: each of them is closed for a moment here
   * @param check is asked on another connection before anything is made; throws where the change can't be done
   * @returns the columns that are there now
   */
  async make(
    manager: EntityManager,
    runner: QueryRunner,
    app: AppRow,
    way: Way,
    progress: Progress,
    check: (manager: EntityManager, runner: QueryRunner) => Promise<void>,
  ): Promise<readonly PreparedColumn[]> {
    const columns = await this.columnsOf(manager, runner, app, way);
    if (columns.length === 0) return [];
    // The change is tried again when it could not have the tables, and what was made ready for it is still there.
    const left = await leftOvers(runner, app);
    const isMade = JSON.stringify(columns) === JSON.stringify(this.made) && columns.every(({ field }) => left.some(({ name }) => name === preparedName(field)));
    if (isMade) return columns;
    await changingTables(this.database, check);
    await this.change(left.flatMap((each) => forgetPrepared(each, placeOf(app))));
    this.made = columns;
    for (const column of columns) await this.change(column.sources);
    await this.change(columns.flatMap((column) => beginPrepared(column, placeOf(app))));
    for (const slug of new Set(columns.map((column) => column.slug))) {
      const ofTable = columns.filter((column) => column.slug === slug);
      await this.fill(slug, ofTable, app, progress);
    }
    return columns;
  }

  /** Takes away what was made for a change that was not done. */
  async forget(app: string): Promise<void> {
    if (this.made.length > 0) await forgetPreparedOf(this.database, app);
  }

  private async columnsOf(manager: EntityManager, runner: QueryRunner, app: AppRow, { before, after, over }: Way): Promise<readonly PreparedColumn[]> {
    const back = preparedColumns(before, over?.between ?? after, { ...placeOf(app), setAside: await setAsideOf(manager, app) });
    const moved = over?.prepares?.column;
    const columns = moved === undefined || back.some(({ field }) => field === moved.field) ? back : [...back, moved];
    if (columns.length === 0) return [];
    const large = await largeTables(runner, app, this.largeTable);
    return columns.filter(({ slug }) => large.has(slug));
  }

  private async fill(slug: string, columns: readonly PreparedColumn[], app: AppRow, progress: Progress): Promise<void> {
    const place = placeOf(app);
    const [found] = await run<{ count: number }>(this.database, compilePreparedCount(slug, place));
    for (const most of stretches) progress.expect(Math.ceil((found?.count ?? 0) / most));
    for (const most of stretches) {
      let from = '-9223372036854775808';
      for (;;) {
        const [stretch] = await run<{ last: string | null }>(this.database, compileStretch(slug, place, from, most));
        const last = stretch?.last ?? null;
        if (last === null) break;
        await progress.runBeside(this.database, compileFill(slug, columns, place, from, last));
        from = last;
      }
    }
  }

  private async change(texts: readonly string[]): Promise<void> {
    if (texts.length > 0) await changingTables(this.database, (_, beside) => runDefinition(beside, texts));
  }
}

const leftOverParts = `
  SELECT p.proname AS name, 'function' AS kind, (SELECT c.relname FROM pg_trigger AS t JOIN pg_class AS c ON c.oid = t.tgrelid WHERE t.tgfoid = p.oid LIMIT 1) AS slug
  FROM pg_proc AS p WHERE p.proname LIKE '${preparedNames}' AND p.pronamespace = (SELECT oid FROM pg_namespace WHERE nspname = $1)
  UNION ALL
  SELECT c.relname, CASE c.relkind WHEN 'i' THEN 'index' ELSE 'table' END, NULL
  FROM pg_class AS c WHERE c.relname LIKE '${preparedNames}' AND c.relnamespace = (SELECT oid FROM pg_namespace WHERE nspname = $1)
  AND NOT EXISTS (SELECT FROM pg_index AS i JOIN pg_class AS o ON o.oid = i.indrelid WHERE i.indexrelid = c.oid AND o.relname LIKE '${preparedNames}')`;

/** What changes that never ended have left: those of a server that was killed, for example. An index of a table among it goes with the table. */
const leftOvers = (runner: QueryRunner, app: AppRow): Promise<readonly LeftOver[]> =>
  runOwn<LeftOver>(runner, 'left over of preparations', leftOverParts, [keptSchemaOf(app.schema)]);

/** The SQL that takes away what was left over, besides these columns. */
export async function forgetLeftOvers(runner: QueryRunner, app: AppRow, columns: readonly PreparedColumn[]): Promise<readonly string[]> {
  const names = new Set(columns.map(({ field }) => preparedName(field)));
  return (await leftOvers(runner, app)).filter(({ name }) => !names.has(name)).flatMap((each) => forgetPrepared(each, placeOf(app)));
}

/** Takes away what was left over in an app, unless a change of it is under way. */
async function forgetPreparedOf(database: DataSource, id: string): Promise<void> {
  await changingTables(database, async (manager, runner) => {
    const app = await heldUnlessChanged(manager, id);
    if (app !== null) await runDefinition(runner, await forgetLeftOvers(runner, app, []));
  });
}

const appsWithLeftOvers = `
  SELECT DISTINCT a.id FROM bibliona.app AS a JOIN pg_namespace AS n ON n.nspname = a.schema || '_kept'
  WHERE n.oid IN (SELECT pronamespace FROM pg_proc WHERE proname LIKE '${preparedNames}' UNION ALL SELECT relnamespace FROM pg_class WHERE relname LIKE '${preparedNames}')`;

/** Takes away what servers that were killed have left over. */
export async function forgetAllPrepared(database: DataSource): Promise<void> {
  for (const { id } of await runOwn<{ id: string }>(database, 'apps with left over preparations', appsWithLeftOvers, [])) await forgetPreparedOf(database, id);
}

const tablesOfSize = `
  SELECT relname AS slug FROM pg_class WHERE relkind = 'r' AND relnamespace = (SELECT oid FROM pg_namespace WHERE nspname = $1) AND pg_relation_size(oid) > $2`;

/** The tables of an app that are larger, by their names in the database. */
export async function largeTables(runner: QueryRunner, app: AppRow, bytes: number): Promise<ReadonlySet<string>> {
  return new Set((await runOwn<{ slug: string }>(runner, 'large tables', tablesOfSize, [app.schema, bytes])).map(({ slug }) => slug));
}
