/** Runs a planned import: design change, rows and log entry in one transaction, or nothing. */
import {
  localeFor,
  written,
  applyChanges,
  changesOf,
  circumstancesOf,
  ColumnTally,
  computedProblem,
  fileFormats,
  rowComputer,
  rowDesign,
  compileAdded,
  compileCopy,
  compileImported,
  compilePlaces,
  compileStart,
  compileValues,
  constantDefault,
  copyCell,
  isStored,
  planProblems,
  thingsProblem,
  queryOf,
  restrict,
  routeOf,
  kindOf,
  folded,
  parentOf,
  planParts,
  startValue,
  tableOf,
  type AppDesign,
  type CaptionIndex,
  type CellColumn,
  type Complaint,
  type Permit,
  type Table,
} from '@bibliona/core';
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
import { RecordReader } from '../records/read.js';
import { changeRows, removeRecords, type ChangedField } from './change-records.js';
import { cellColumns } from './cell-columns.js';
import { copyRows, mostEmptied } from './copy-rows.js';
import { makeMissing, type MadeRecords } from './missing-records.js';
import { rowMatching } from './matching.js';
import { Stopped } from '../jobs/work-row.js';
import { cellText, RowsRefused, type ImportJob, type OpenedJob } from './job.js';
import { startOfRows, thingRows } from './thing-rows.js';
import { startOf } from './formats/index.js';
import { pairRows } from './pairs.js';

/** So many removed records are named. */
const mostNamed = 20;

export interface ImportResult {
  readonly added: number;
  /** Records that rows are about: those that differed, and those that did not. */
  readonly changed: number;
  readonly unchanged: number;
  /** Rows that match no record and were to add none. */
  readonly leftOut: number;
  /** Records that no row is about and that were removed, and what the first of them are called. */
  readonly removed: number;
  readonly removedNames: readonly string[];
  readonly fields: readonly ChangedField[];
  /** Records of other tables that rows refer to and that were made. */
  readonly made: readonly MadeRecords[];
  /** The keys of the saves that changed and removed them, in their order. */
  readonly saves: readonly string[];
  readonly table: string;
  /** Tables of what the rows repeat, each after those whose records refer to it. */
  readonly others: readonly string[];
  /** When the import began, as PostgreSQL prints it to the microsecond: what its records are known by. */
  readonly began: string;
  readonly emptied: readonly Complaint[];
  readonly emptiedCount: number;
  readonly settled: readonly Complaint[];
  readonly settledCount: number;
}

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
  const start = await startOf(planned.path, planned.plan.reading);
  return inTransaction(database, async (manager, runner) => {
    const app = await manager.findOneByOrFail(Apps, { id: planned.appId });
    let design = await new Designs(database).at(app.id, app.version, manager);
    const job: OpenedJob = { ...planned, start, survey: withComputed(planned), compute: computerOf(planned, design) };
    const problem = thingsProblem(job.plan);
    if (problem !== null) throw new Refusal('invalid', problem);
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
    const opened = { id: app.id, schema: app.schema, version: app.version, design };
    const { rows, settled, settledCount } = await thingRows(job, onProgress);
    const parts = planParts(job.plan);
    const things: (MadeRecords & { readonly granted: Permit })[] = [];
    const known = new Map<string, CaptionIndex>();
    for (const { plan, thing } of parts) {
      const own = thing === null ? undefined : rows.get(thing);
      if (thing === null || own === undefined) continue;
      const reading = { ...plan.reading, heading: false, skip: 0 };
      const part = { ...job, plan: { ...plan, reading }, start: startOfRows(job.start, own), compute: null };
      const { granted } = await addRows(runner, opened, part, known, onProgress);
      const ids = await run<{ id: number }>(runner, compileAdded(granted, app.schema));
      known.set(thing.table, new NameIndex(own.map((row, i) => [row.name, ids[i]?.id ?? null])));
      things.unshift({ granted, table: thing.table, count: own.length, names: own.slice(0, mostNamed).map((row) => cellText(job, row.cells, thing.key)) });
    }
    const main = { ...job, plan: parts.at(-1)?.plan ?? job.plan };
    const { table, columns, granted, lines, matched, leftOut, emptied, emptiedCount, matching, made, makings } = await addRows(
      runner,
      opened,
      main,
      known,
      onProgress,
    );
    await runDefinition(runner, indexes);
    await mustMeetChecks(runner, opened, job, table, granted, lines);
    const { changed, unchanged, saves, fields } = await changeRows(runner, opened, job, table, columns, matched, onProgress);
    const pairs = await pairRows(runner, opened, job, granted, lines, matched, onProgress);
    const matchedIds = new Set(matched.values());
    const gone = matching.before.filter((id) => !matchedIds.has(id));
    const names = gone.length === 0 ? [] : await new RecordReader(runner, opened, job.person).captions(table.id, gone.slice(0, mostNamed));
    const removals = await removeRecords(runner, opened, job.person, table, gone);
    const onlyPairs = [...pairs.changed].filter((id) => !changed.has(id)).length;
    const [line] = await run<{ began: string }>(runner, compileImported(granted, job.id, 0, lines.length, app.schema));
    for (const [i, thing] of things.entries()) await run(runner, compileImported(thing.granted, job.id, i + 1, thing.count, app.schema));
    const result = {
      added: lines.length,
      changed: changed.size + onlyPairs,
      unchanged: unchanged - onlyPairs,
      leftOut,
      removed: gone.length,
      fields,
      made: [...things.map(({ granted: _, ...made }) => made), ...made],
      others: things.map((thing) => thing.table),
      removedNames: names.map((each) => each.caption),
      saves: [...makings, ...saves, ...pairs.saves, ...removals],
      table: table.id,
      began: line?.began ?? '',
      emptied: [...emptied, ...pairs.emptied].slice(0, mostEmptied),
      emptiedCount: emptiedCount + pairs.emptied.length,
      settled,
      settledCount,
    };
    await beforeCommit(runner, result);
    return result;
  });
}

/** The survey of the columns that rows have once their computed cells are there. */
const withComputed = ({ survey, plan }: ImportJob): ImportJob['survey'] => ({
  ...survey,
  columns: [...survey.columns, ...plan.computed.map(({ name }) => new ColumnTally().result(name))],
});

/** @throws Refusal when an expression can't be read */
function computerOf({ survey, plan, person }: ImportJob, design: AppDesign): OpenedJob['compute'] {
  if (plan.computed.length === 0) return null;
  const over = rowDesign(survey.columns, design);
  for (const each of plan.computed) {
    const problem = computedProblem(each, over);
    if (problem !== null) throw new Refusal('invalid', problem);
  }
  return rowComputer(plan.computed, survey.columns, over, circumstancesOf(design, person, Date.now()), fileFormats[plan.reading.format].isGuarded);
}

/** Names in whatever capitals and with whatever blanks a cell has them. */
class NameIndex extends Map<string, number | null> {
  override get(name: string): number | null | undefined {
    return super.get(folded(name));
  }
}

/** Adds the rows that are about no record. @param known the records of tables that this import has filled before, by their names */
async function addRows(
  runner: QueryRunner,
  opened: OpenedApp,
  job: OpenedJob,
  known: ReadonlyMap<string, CaptionIndex>,
  onProgress: (part: number) => Promise<void>,
) {
  const { design, schema } = opened;
  const table = tableOf(design, job.plan.target.table);
  const granted = new SaveGrants({ design, schema }, job.person).permit(table, 'add');
  const read = (await cellColumns(runner, job, design, schema)).map((column) =>
    column.field.kind === 'reference' ? { ...column, captions: known.get(parentOf(design, column.field).id) ?? column.captions } : column,
  );
  const { columns, made, saves: makings } = await makeMissing(runner, opened, job, read, onProgress);
  const started = workedOut(job, design, table, columns);
  const taken = await takenValues(runner, job, design, schema, columns);
  const matching = await rowMatching(runner, job, design, schema, columns);
  const copied = await copyRows(
    runner,
    job,
    columns,
    started.map((each) => each.cell),
    taken,
    matching,
    compileCopy(granted, [...columns.map((column) => column.field.id), ...started.map((each) => each.field)], schema).text,
    onProgress,
  ).catch((error: unknown) => {
    if (error instanceof RowsRefused || error instanceof Stopped || error instanceof Refusal) throw error;
    throw asRefusal(error, design);
  });
  const route = routeOf(design, table.id);
  if (route !== undefined) await run(runner, compileStart(granted, route, schema));
  return { ...copied, table, granted, columns, matching, made, makings };
}

/** @param lines of the file that its records are from. @throws Refusal */
async function mustMeetChecks(
  runner: QueryRunner,
  { design, schema }: OpenedApp,
  job: OpenedJob,
  table: Table,
  granted: Permit,
  lines: readonly number[],
): Promise<void> {
  const failed = await new SaveChecks({ design, schema }, job.person).ofAdded(runner, table.id);
  if (failed.count === 0) return;
  const locale = localeFor(design, job.person);
  const places = await run<{ place: number }>(runner, compilePlaces(granted, failed.ids, schema));
  const at = places.map((row) => locale.count(lines[row.place - 1] ?? 0));
  const where = at.length === 0 ? '' : ` ${at.length === 1 ? 'Line' : 'Lines'} ${at.join(', ')}${failed.ids.length < failed.count ? ' and others' : ''}.`;
  throw new Refusal(
    'invalid',
    `${failed.count === 1 ? '1 row does' : `${locale.count(failed.count)} rows do`} not meet the checks of ${table.name}: ${failed.messages.join(' ')}${where}`,
  );
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
