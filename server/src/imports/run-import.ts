/** Runs a planned import: design change, rows and log entry in one transaction, or nothing. */
import { once } from 'node:events';
import {
  localeFor,
  written,
  applyChanges,
  changesOf,
  circumstancesOf,
  compileCopy,
  compileImported,
  compilePlaces,
  compileStart,
  compileValues,
  constantDefault,
  fileFormats,
  copyCell,
  isStored,
  planProblems,
  queryOf,
  restrict,
  routeOf,
  kindOf,
  rowConverter,
  startValue,
  tableOf,
  type AppDesign,
  type CellColumn,
  type Complaint,
  type Table,
} from '@bibliona/core';
import type { PoolClient } from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import type { DataSource, QueryRunner } from 'typeorm';
import { pgMessage } from '../apps/probes.js';
import { AppsService } from '../apps/apps.js';
import { Designs } from '../apps/designs.js';
import { inTransaction } from '../db/database.js';
import { Apps } from '../db/entities.js';
import { pgErrorOf } from '../db/errors.js';
import { run, runDefinition } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { SaveChecks } from '../records/checks.js';
import { SaveGrants } from '../records/grants.js';
import { ChangesRefused, RecordChanges } from './change-records.js';
import { cellColumns } from './cell-columns.js';
import { eachRow, mostComplaints, numbersOf, RowsRefused, Stopped, type ImportJob, type OpenedJob } from './job.js';
import { startOf } from './formats/index.js';
import { pairRows } from './pairs.js';

export interface ImportResult {
  readonly added: number;
  /** Records that rows name by their numbers: those that differed, and those that did not. */
  readonly changed: number;
  readonly unchanged: number;
  /** The keys of the saves that changed them, in their order. */
  readonly saves: readonly string[];
  readonly table: string;
  /** When the import began, as PostgreSQL prints it to the microsecond: what its records are known by. */
  readonly began: string;
  readonly emptied: readonly Complaint[];
  readonly emptiedCount: number;
}

const mostEmptied = 100;
const flushAt = 256 * 1024;

/**
 * @param onProgress called often with how much of the file is through; raises `Stopped` when it should end
 * @param beforeCommit the last word within the transaction
 * @throws RowsRefused, Stopped, Refusal, QuoteNeverClosed
 */
export async function runImport(
  database: DataSource,
  planned: ImportJob,
  onProgress: (part: number) => Promise<void>,
  beforeCommit: (runner: QueryRunner, result: ImportResult) => Promise<void>,
): Promise<ImportResult> {
  const job: OpenedJob = { ...planned, start: await startOf(planned.path, planned.plan.reading) };
  return inTransaction(database, async (manager, runner) => {
    const app = await manager.findOneByOrFail(Apps, { id: job.appId });
    let design = await new Designs(database).at(app.id, app.version, manager);
    const changes = changesOf(job.plan);
    const after = applyChanges(design, changes);
    const problems = after.ok ? planProblems(job.plan, after.design) : [];
    if (problems.length > 0) throw new Refusal('invalid', problems.join(' '));
    let indexes: readonly string[] = [];
    if (changes.length > 0) {
      // A new table is filled first and indexed after: building an index at once is faster than row by row.
      const leaveIndexes = job.plan.target.kind === 'new';
      const changed = await new AppsService(database, async () => undefined).changeWithin(manager, runner, {
        id: job.appId,
        person: job.person,
        version: job.version,
        changes,
        acceptLoss: false,
        leaveIndexes,
      });
      design = changed.open.design as AppDesign;
      indexes = changed.indexes;
    }
    const table = tableOf(design, job.plan.target.table);
    const granted = new SaveGrants({ design, schema: app.schema }, job.person).permit(table, 'add');
    const columns = await cellColumns(runner, job, design, app.schema);
    const started = workedOut(job, design, table, columns);
    const taken = await takenValues(runner, job, design, app.schema, columns);
    const { added, lines, emptied, emptiedCount, isNumbered } = await copyRows(
      runner,
      job,
      columns,
      started.map((one) => one.cell),
      taken,
      compileCopy(granted, [...columns.map((column) => column.field.id), ...started.map((one) => one.field)], app.schema).text,
      onProgress,
    ).catch((error: unknown) => {
      if (error instanceof RowsRefused || error instanceof Stopped || error instanceof Refusal) throw error;
      throw asRefusal(error, design);
    });
    const route = routeOf(design, table.id);
    if (route !== undefined) await run(runner, compileStart(granted, route, app.schema));
    await runDefinition(runner, indexes);
    const failed = await new SaveChecks({ design, schema: app.schema }, job.person).ofAdded(runner, table.id);
    if (failed.count > 0) {
      const locale = localeFor(design, job.person);
      const places = await run<{ place: number }>(runner, compilePlaces(granted, failed.ids, app.schema));
      const at = places.map((row) => locale.count(lines[row.place - 1] ?? 0));
      const where = at.length === 0 ? '' : ` ${at.length === 1 ? 'Line' : 'Lines'} ${at.join(', ')}${failed.ids.length < failed.count ? ' and others' : ''}.`;
      throw new Refusal(
        'invalid',
        `${failed.count === 1 ? '1 row does' : `${locale.count(failed.count)} rows do`} not meet the checks of ${table.name}: ${failed.messages.join(' ')}${where}`,
      );
    }
    const opened = { id: app.id, schema: app.schema, version: app.version, design };
    const { changed, unchanged, saves } = isNumbered
      ? await changeRows(runner, opened, job, table, columns, taken, onProgress)
      : { changed: new Set<number>(), unchanged: 0, saves: [] };
    const pairs = await pairRows(runner, opened, job, granted, lines, onProgress);
    const onlyPairs = [...pairs.changed].filter((id) => !changed.has(id)).length;
    const [line] = await run<{ began: string }>(runner, compileImported(granted, job.id, added, app.schema));
    const result = {
      added,
      changed: changed.size + onlyPairs,
      unchanged: unchanged - onlyPairs,
      saves: [...saves, ...pairs.saves],
      table: table.id,
      began: line?.began ?? '',
      emptied: [...emptied, ...pairs.emptied].slice(0, mostEmptied),
      emptiedCount: emptiedCount + pairs.emptied.length,
    };
    await beforeCommit(runner, result);
    return result;
  });
}

/** What fields that no column goes into start with, where it has to be computed: the database knows all other defaults. */
function workedOut(job: OpenedJob, design: AppDesign, table: Table, columns: readonly CellColumn[]): { readonly field: string; readonly cell: string }[] {
  const around = circumstancesOf(design, job.person, Date.now());
  return table.fields
    .filter(
      (field) =>
        isStored(field) &&
        constantDefault(field) === undefined &&
        field.id !== routeOf(design, table.id)?.field &&
        !columns.some((column) => column.field.id === field.id),
    )
    .map((field) => ({ field: field.id, cell: copyCell(written(startValue(design, field, around))) }));
}
/** A rule of the table that a row does not meet and that only PostgreSQL could tell. */
function asRefusal(error: unknown, design: AppDesign): unknown {
  const message = pgMessage(error, design);
  if (message === null) return error;
  const row = /line (\d+)/u.exec(pgErrorOf(error).where ?? '')?.[1];
  return new Refusal('invalid', `${row === undefined ? 'A row' : `Row ${row}`} does not fit the table: ${message}`);
}

/** The values a unique field has already, so that each repeated one is a complaint with its line. */
async function takenValues(
  runner: QueryRunner,
  job: OpenedJob,
  design: AppDesign,
  schema: string,
  columns: readonly CellColumn[],
): Promise<ReadonlyMap<string, ReadonlySet<string>>> {
  const taken = new Map<string, ReadonlySet<string>>();
  if (job.plan.target.kind === 'new') return taken;
  for (const { field } of columns) {
    if (!field.unique) continue;
    const source = [restrict(queryOf(job.plan.target.table), design, job.person, Date.now()), design, schema] as const;
    const rows = await run<{ value: string }>(runner, compileValues(source, field.id));
    taken.set(field.id, new Set(rows.map((row) => kindOf(field).cells.key(row.value, field))));
  }
  return taken;
}

async function copyRows(
  runner: QueryRunner,
  job: OpenedJob,
  columns: readonly CellColumn[],
  started: readonly string[],
  taken: ReadonlyMap<string, ReadonlySet<string>>,
  copy: string,
  onProgress: (part: number) => Promise<void>,
): Promise<{
  readonly added: number;
  readonly lines: readonly number[];
  readonly emptied: readonly Complaint[];
  readonly emptiedCount: number;
  readonly isNumbered: boolean;
}> {
  const complaints: Complaint[] = [];
  const emptied: Complaint[] = [];
  let emptiedCount = 0;
  // Of each row that was added, the line of the file on which it began.
  const added: number[] = [];
  let count = 0;
  let isNumbered = false;
  const convert = rowConverter({
    columns,
    numbers: numbersOf(job),
    width: job.plan.columns.length,
    isGuarded: fileFormats[job.plan.reading.format].isGuarded,
    tail: [...started, job.person.id, job.person.id].join('\t'),
    badCells: job.plan.badCells,
    taken,
    complain: (complaint) => {
      count += 1;
      if (complaints.length < mostComplaints) complaints.push(complaint);
    },
    emptied: (complaint) => {
      emptiedCount += 1;
      if (emptied.length < mostEmptied) emptied.push(complaint);
    },
  });
  const client = (await runner.connect()) as PoolClient;
  const stream = client.query(copyFrom(copy));
  let broken: unknown = null;
  // Code that waits for the database to take more is woken when there is nothing more to wait for.
  let wake: () => void = () => undefined;
  stream.on('error', (error) => {
    broken = error;
    wake();
  });
  stream.on('drain', () => wake());
  let out = '';
  const flush = async (): Promise<void> => {
    if (out === '') return;
    const bytes = Buffer.from(out);
    out = '';
    if (broken !== null) throw broken as Error;
    const hasRoom = new Promise<void>((resolve) => (wake = resolve));
    if (!stream.write(bytes)) await hasRoom;
    if (broken !== null) throw broken as Error;
  };
  try {
    await eachRow(job, onProgress, (cells, at) => {
      const line = convert(cells, at);
      if (typeof line === 'object') isNumbered ||= line !== null;
      else if (count === 0) {
        added.push(at);
        out += line;
        if (out.length > flushAt) return flush();
      }
      return null;
    });
    await flush();
    if (count > 0) throw new RowsRefused(complaints, count);
    const finished = once(stream, 'finish');
    stream.end();
    await finished;
    return { added: added.length, lines: added, emptied, emptiedCount, isNumbered };
  } catch (error) {
    // Ends the COPY without its rows; the connection is then free for the rollback.
    if (broken === null) {
      const closed = once(stream, 'error').catch(() => undefined);
      stream.destroy(new Error('The import was stopped'));
      await Promise.race([closed, new Promise((resolve) => setTimeout(resolve, 2000))]);
    }
    throw error;
  }
}

/** Goes through the file again for the rows that name records: COPY holds the connection while it takes the others. */
async function changeRows(
  runner: QueryRunner,
  app: OpenedApp,
  job: OpenedJob,
  table: Table,
  columns: readonly CellColumn[],
  taken: ReadonlyMap<string, ReadonlySet<string>>,
  onProgress: (part: number) => Promise<void>,
): Promise<{ readonly changed: ReadonlySet<number>; readonly unchanged: number; readonly saves: readonly string[] }> {
  const complaints: Complaint[] = [];
  let count = 0;
  const ignore = (): void => undefined;
  // Every cell has been complained of while the other rows were added.
  const convert = rowConverter({
    columns,
    numbers: numbersOf(job),
    width: job.plan.columns.length,
    isGuarded: fileFormats[job.plan.reading.format].isGuarded,
    tail: '',
    badCells: job.plan.badCells,
    taken,
    complain: ignore,
    emptied: ignore,
  });
  const changes = new RecordChanges(runner, app, job.person, table, columns, numbersOf(job)?.name ?? '', (complaint) => {
    count += 1;
    if (complaints.length < mostComplaints) complaints.push(complaint);
  });
  try {
    await eachRow(job, onProgress, (cells, at) => {
      const row = convert(cells, at);
      return typeof row === 'object' && row !== null ? changes.add(row) : null;
    });
    await changes.flush();
  } catch (error) {
    if (!(error instanceof ChangesRefused)) throw error;
  }
  if (count > 0) throw new RowsRefused(complaints, count);
  return changes;
}
