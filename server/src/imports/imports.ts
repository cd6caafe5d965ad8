/** Imports as people see them: a file that was read, planned, run, stopped or undone. */
import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, rm, stat } from 'node:fs/promises';
import type { IncomingMessage } from 'node:http';
import { join } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import {
  localeFor,
  type FileReading,
  asRepeated,
  FileSurvey,
  type ImportPreview,
  type ImportAnswer,
  ImportPlan,
  type Person,
  type ReadingChoice,
} from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { inTransaction } from '../db/database.js';
import { AppPersons, Imports, type ImportRow } from '../db/entities.js';
import { runOwn } from '../db/own.js';
import type { Runner } from '../db/run.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import type { JobKind } from '../jobs/jobs.js';
import { nameOfFolder } from '../jobs/shared-folder.js';
import { Threads } from '../jobs/threads.js';
import { beginAttempt, mostAttempts } from '../jobs/work-row.js';
import { putJobs } from '../db/job-queue.js';
import type { ImportJob } from './job.js';
import { takeBackRows } from './take-back-rows.js';
import type { WorkerTask } from './worker.js';

const largestFile = 4 * 1024 ** 3;
/** Files that a process reads, and imports that it runs, at a time; the others wait. */
const atMost = { survey: 4, run: 2 };

interface AskedRun {
  readonly version: number;
  readonly plan: ImportPlan;
  readonly isTrial: boolean;
}

interface Facts {
  readonly progress?: number;
  /** Which run of this import is at work. */
  readonly attempt?: string;
  readonly size: number;
  readonly survey?: FileSurvey;
  readonly added?: number;
  readonly changed?: number;
  readonly unchanged?: number;
  readonly leftOut?: number;
  readonly removed?: number;
  readonly made?: ImportAnswer['made'];
  readonly isTrial?: boolean;
  readonly preview?: ImportPreview | null;
  readonly saves?: readonly string[];
  readonly table?: string;
  /** Tables of what its rows repeat, each after those whose records refer to it. */
  readonly others?: readonly string[];
  readonly began?: string;
  readonly complaints?: ImportAnswer['complaints'];
  readonly complaintCount?: number;
  readonly message?: string | null;
  readonly plan?: ImportPlan;
  readonly emptied?: ImportAnswer['emptied'];
  readonly emptiedCount?: number;
  readonly settled?: ImportAnswer['settled'];
  readonly settledCount?: number;
  readonly stayed?: number;
}
const factsOf = (row: ImportRow): Facts => row.facts as unknown as Facts;

/** What was found out about a file and still holds: another sheet has a heading of its own. */
function knownFor(known: FileReading | undefined, choice: ReadingChoice): ReadingChoice {
  if (known === undefined) return {};
  const { encoding, delimiter, heading, headingRows, skip, part, range } = known;
  const isElsewhere = choice.part !== undefined || choice.range !== undefined;
  return { encoding, delimiter, part, range, ...(isElsewhere ? {} : { heading, headingRows, skip }) };
}

/** The facts with which a run of an import begins. */
const begun = (): Partial<Facts> => ({
  attempt: randomUUID(),
  preview: null,
  progress: 0,
  message: null,
  complaints: [],
  complaintCount: 0,
});

/** What is asked of a job: to read a file, or to import it. */
type Asked =
  | { readonly kind: 'survey'; readonly id: string; readonly reading: ReadingChoice }
  | { readonly kind: 'run'; readonly job: Omit<ImportJob, 'path'> };

const put = (folder: string, kind: Asked['kind']): string => putJobs(jobName(folder, kind), 25, '$1::json', '$2', '(SELECT) AS asked');
const jobName = (folder: string, kind: Asked['kind']): string => `${kind === 'survey' ? 'read_file' : 'import_file'}_${folder}`;

export class ImportsService {
  private readonly threads = new Threads<WorkerTask>('imports/worker');
  private readonly folder: string;
  /** The work on files, which the server does beside requests. */
  readonly jobs: readonly JobKind[];

  constructor(
    private readonly database: DataSource,
    private readonly options: {
      readonly url: string;
      readonly files: string;
      readonly onEnded: (app: string) => void;
      /** Somebody is told of a table that an import has made before the announcement of the new design was heard. */
      readonly onAhead: () => void;
    },
  ) {
    this.folder = nameOfFolder(options.files);
    this.jobs = (['survey', 'run'] as const).map((kind) => ({
      name: jobName(this.folder, kind),
      atMost: atMost[kind],
      run: (asked, attempt) => this.work(asked as Asked, attempt),
    }));
  }

  private path(id: string): string {
    return join(this.options.files, id);
  }

  /** Takes the file as it streams in and begins to read it. @throws Refusal too_large */
  async upload(app: OpenedApp, person: Person, fileName: string, body: IncomingMessage): Promise<ImportAnswer> {
    const id = randomUUID();
    await mkdir(this.options.files, { recursive: true, mode: 0o700 });
    let size = 0;
    const counted = new Transform({
      transform(chunk: Buffer, _, done) {
        size += chunk.length;
        done(size > largestFile ? new Refusal('too_large', 'Files can have up to 4 GB. Split this one into several.') : null, chunk);
      },
    });
    try {
      await pipeline(body, counted, createWriteStream(this.path(id), { mode: 0o600 }));
    } catch (error) {
      await rm(this.path(id), { force: true });
      throw error;
    }
    await inTransaction(this.database, async (manager, runner) => {
      await manager.insert(Imports, { id, appId: app.id, personId: person.id, fileName, state: 'reading', facts: { size, ...begun() } as object });
      await this.put(runner, { kind: 'survey', id, reading: {} });
    });
    return this.read(app, id);
  }

  private async row(app: OpenedApp, id: string): Promise<ImportRow> {
    const row = await this.database.getRepository(Imports).findOneBy({ id, appId: app.id });
    if (row === null) throw new Refusal('not_found', 'There is no such import.');
    return row;
  }

  async read(app: OpenedApp, id: string): Promise<ImportAnswer> {
    const row = await this.row(app, id);
    const facts = factsOf(row);
    if (row.state === 'done' && facts.table !== undefined && !app.design.tables.some((table) => table.id === facts.table)) this.options.onAhead();
    return {
      id: row.id,
      fileName: row.fileName,
      state: row.state as ImportAnswer['state'],
      progress: facts.progress ?? 0,
      // One of before an update lacks what has been added since.
      survey: facts.survey === undefined ? null : FileSurvey.parse(facts.survey),
      added: facts.added ?? null,
      changed: facts.changed ?? 0,
      unchanged: facts.unchanged ?? 0,
      leftOut: facts.leftOut ?? 0,
      removed: facts.removed ?? 0,
      made: facts.made ?? [],
      table: facts.table ?? null,
      complaints: facts.complaints ?? [],
      complaintCount: facts.complaintCount ?? 0,
      message: facts.message ?? null,
      plan:
        facts.plan !== undefined
          ? ImportPlan.parse(facts.plan)
          : row.state === 'read' && facts.survey !== undefined
            ? await this.earlierPlan(app, facts.survey)
            : null,
      isTrial: facts.isTrial ?? false,
      preview: facts.preview ?? null,
      emptied: facts.emptied ?? [],
      emptiedCount: facts.emptiedCount ?? 0,
      settled: facts.settled ?? [],
      settledCount: facts.settledCount ?? 0,
      stayed: facts.stayed ?? 0,
    };
  }

  /** What was decided for the last file with the same columns, so that nobody decides it again. */
  private async earlierPlan(app: OpenedApp, survey: FileSurvey): Promise<ImportPlan | null> {
    const names = JSON.stringify(survey.columns.map((column) => column.name));
    const rows = await this.database
      .getRepository(Imports)
      .createQueryBuilder('i')
      .where("i.app_id = :app AND i.state = 'done'", { app: app.id })
      .andWhere("jsonb_path_query_array(i.facts, '$.survey.columns[*].name') = CAST(:names AS jsonb)", { names })
      .orderBy('i.created_at', 'DESC')
      .limit(1)
      .getMany();
    const plan = rows[0] === undefined ? undefined : factsOf(rows[0]).plan;
    return plan === undefined ? null : asRepeated({ ...ImportPlan.parse(plan), reading: survey.reading }, app.design);
  }

  /** From one state to another, unless something else was faster. */
  private async move(row: ImportRow, state: string, facts: Partial<Facts>, manager = this.database.manager): Promise<boolean> {
    const result = await manager.update(Imports, { id: row.id, state: row.state }, { state, facts: { ...row.facts, ...facts } as object });
    return result.affected === 1;
  }

  async survey(app: OpenedApp, id: string, reading: ReadingChoice): Promise<ImportAnswer> {
    const row = await this.row(app, id);
    if (['reading', 'running', 'done', 'taken_back'].includes(row.state))
      throw new Refusal('invalid', 'This import is at work or finished. Upload the file again.');
    await this.mustStillBeThere(id);
    const known = knownFor(factsOf(row).survey?.reading, reading);
    await this.begin(row, 'reading', {}, { kind: 'survey', id, reading: { ...known, ...reading } });
    return this.read(app, id);
  }

  /** @param isTrial whether it is only to be seen what the plan would do */
  async run(app: OpenedApp, person: Person, id: string, { version, plan, isTrial }: AskedRun): Promise<ImportAnswer> {
    const row = await this.row(app, id);
    const { survey, size } = factsOf(row);
    if (survey === undefined || !['read', 'refused', 'cancelled', 'failed'].includes(row.state))
      throw new Refusal('invalid', 'This import is at work or finished. Upload the file again.');
    if (plan.columns.length !== survey.columns.length + plan.computed.length)
      throw new Refusal('invalid', `The file has ${survey.columns.length} columns and the plan ${plan.columns.length}. Read the file again.`);
    if (plan.target.kind === 'table' && !app.design.tables.some((table) => table.id === plan.target.table))
      throw new Refusal('stale_design', 'This table no longer exists in the app.');
    await this.mustStillBeThere(id);
    await this.begin(row, 'running', { plan, isTrial }, { kind: 'run', job: { id, appId: app.id, person, size, survey, version, plan, isTrial } });
    return this.read(app, id);
  }

  async cancel(app: OpenedApp, id: string): Promise<ImportAnswer> {
    const row = await this.row(app, id);
    if (row.state === 'reading' || row.state === 'running') await this.move(row, 'cancelled', {});
    return this.read(app, id);
  }

  /** @throws Refusal needs_consent when records of it were changed since and `others` does not say that those stay, invalid when others refer to them */
  async takeBack(app: OpenedApp, person: Person, id: string, others: boolean): Promise<ImportAnswer> {
    const row = await this.row(app, id);
    const { table, others: besides = [], began, saves = [] } = factsOf(row);
    if (row.state !== 'done' || table === undefined || began === undefined) throw new Refusal('invalid', 'Only a finished import can be undone.');
    await inTransaction(this.database, async (manager, runner) => {
      const stayed = await takeBackRows(runner, app, person, { id, by: Number(row.personId), tables: [table, ...besides], began, saves });
      if (stayed > 0 && !others)
        throw new Refusal(
          'needs_consent',
          `${stayed === 1 ? '1 of these records was' : `${localeFor(app.design, person).count(stayed)} of these records were`} changed since the import.`,
        );
      await manager.update(Imports, { id, state: 'done' }, { state: 'taken_back', facts: { ...row.facts, stayed } });
    });
    return this.read(app, id);
  }

  private async mustStillBeThere(id: string): Promise<void> {
    const file = await stat(this.path(id)).catch(() => null);
    if (file === null) throw new Refusal('invalid', 'The file is not kept any longer. Upload it again.');
  }

  private async begin(row: ImportRow, state: string, facts: Partial<Facts>, asked: Asked): Promise<void> {
    await inTransaction(this.database, async (manager, runner) => {
      if (await this.move(row, state, { ...begun(), ...facts }, manager)) await this.put(runner, asked);
    });
  }

  private async put(runner: Runner, asked: Asked): Promise<void> {
    const id = asked.kind === 'survey' ? asked.id : asked.job.id;
    await runOwn(runner, `put ${asked.kind}`, put(this.folder, asked.kind), [JSON.stringify(asked), `file ${id}`]);
  }

  private async work(asked: Asked, attempt: number): Promise<void> {
    const [id, during, appId] = asked.kind === 'survey' ? [asked.id, 'reading', null] : [asked.job.id, 'running', asked.job.appId];
    if (attempt > mostAttempts) return this.giveUp(id, 'The server stopped several times while it worked on this file. Nothing was added; start again.');
    // It may have waited for long: until a server was there again.
    if (
      asked.kind === 'run' &&
      !(await this.database.getRepository(AppPersons).existsBy({ appId: asked.job.appId, personId: asked.job.person.id, role: 'builder' }))
    )
      return this.giveUp(id, 'The person who started this import no longer builds this app. Nothing was added.');
    const attempted = await beginAttempt(this.database, { rows: Imports, id, during });
    // Someone has cancelled it.
    if (attempted === null) return;
    const [url, path] = [this.options.url, this.path(id)];
    try {
      await this.threads.do(
        asked.kind === 'survey' ? { ...asked, url, attempt: attempted, path } : { kind: 'run', url, attempt: attempted, job: { ...asked.job, path } },
      );
    } catch (error) {
      // The same file would take as much again.
      if ((error as NodeJS.ErrnoException).code !== 'ERR_WORKER_OUT_OF_MEMORY') throw error;
      await this.giveUp(id, 'The file could not be worked on. Nothing was added; try again.');
    }
    if (appId !== null) this.options.onEnded(appId);
  }

  /** The person who waits for it is told. */
  private async giveUp(id: string, message: string): Promise<void> {
    const row = await this.database.getRepository(Imports).findOneBy({ id });
    if (row?.state === 'reading' || row?.state === 'running') await this.move(row, 'failed', { message });
  }

  /** Removes files that no import needs any longer. */
  async forgetFiles(now: Date): Promise<void> {
    const old = await this.database
      .getRepository(Imports)
      .createQueryBuilder('i')
      .where("i.created_at < :limit AND i.state NOT IN ('reading', 'running')", { limit: new Date(now.getTime() - 86_400_000) })
      .select(['i.id'])
      .getMany();
    for (const row of old) await rm(this.path(row.id), { force: true });
  }

  /** Stops what is at work: it begins anew when a server is there again. */
  close(): Promise<void> {
    return this.threads.close();
  }
}
