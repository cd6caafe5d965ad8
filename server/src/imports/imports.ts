/** Imports as people see them: a file that was read, planned, run, stopped or undone. */
import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, rm, stat } from 'node:fs/promises';
import type { IncomingMessage } from 'node:http';
import { join } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { pathToFileURL } from 'node:url';
import { Worker } from 'node:worker_threads';
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
import { Imports, type ImportRow } from '../db/entities.js';
import { Refusal } from '../http/refusal.js';
import type { OpenedApp } from '../http/serve.js';
import { takeBackRows } from './take-back-rows.js';
import type { WorkerTask, WorkerWord } from './worker.js';

const largestFile = 4 * 1024 ** 3;
const mostAtOnce = 2;
// Files that are read or imported at once; the others wait for a thread.
const mostThreads = 4;
/** The code of the thread: of the same build as this file. Sources are translated as they are loaded, unless tests have a build of them. */
function threadAt(): URL {
  if (!import.meta.url.endsWith('.ts')) return new URL('./imports/worker.js', import.meta.url);
  const built = process.env['SERVER_BUILD'];
  return built === undefined ? new URL('./worker-start.mjs', import.meta.url) : pathToFileURL(join(built, 'imports', 'worker.js'));
}
// A worker tells of itself every 0.4 s; silent for so long, its process is gone, and with it its transaction.
const silentAfter = 30;

interface AskedRun {
  readonly version: number;
  readonly plan: ImportPlan;
  readonly isTrial: boolean;
}

interface Facts {
  readonly progress?: number;
  readonly beat?: number;
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
const begun = (attempt: string): Partial<Facts> => ({
  attempt,
  preview: null,
  progress: 0,
  beat: Date.now() / 1000,
  message: null,
  complaints: [],
  complaintCount: 0,
});

/** A thread, and the imports it is at work on: one, or none. */
interface ImportThread {
  readonly worker: Worker;
  readonly tasks: Set<string>;
}
// In milliseconds.
const idleFor = 60_000;

export class ImportsService {
  private readonly workers = new Set<Worker>();
  /** Those that wait for another task. */
  private readonly idle: ImportThread[] = [];
  /** Tasks that wait for a thread; each tells of itself that it is alive. */
  private readonly queued: WorkerTask[] = [];
  private isClosed = false;
  /** Those that bring rows in, each with its app, until they have said how it ended. */
  private readonly running = new Map<Worker, string>();

  constructor(
    private readonly database: DataSource,
    private readonly options: {
      readonly url: string;
      readonly files: string;
      readonly onFault: (error: Error) => void;
      readonly onEnded: (app: string) => void;
      /** Somebody is told of a table that an import has made before the announcement of the new design was heard. */
      readonly onAhead: () => void;
    },
  ) {
    // A file that waits for a thread has not been forgotten.
    this.waitingBeat = setInterval(() => void this.tellWaiting().catch(() => undefined), (silentAfter * 1000) / 3).unref();
  }
  private readonly waitingBeat: NodeJS.Timeout;

  private async tellWaiting(): Promise<void> {
    const ids = this.queued.map((task) => (task.kind === 'survey' ? task.id : task.job.id));
    if (ids.length === 0) return;
    await this.database
      .createQueryBuilder()
      .update(Imports)
      .set({ facts: () => `facts || jsonb_build_object('beat', extract(epoch FROM clock_timestamp()))` })
      .where('id IN (:...ids)', { ids })
      .execute();
  }

  private path(id: string): string {
    return join(this.options.files, id);
  }

  /** Takes the file as it streams in and begins to read it. @throws Refusal too_large */
  async upload(app: OpenedApp, person: Person, fileName: string, body: IncomingMessage): Promise<ImportAnswer> {
    const [id, attempt] = [randomUUID(), randomUUID()];
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
    await this.database
      .getRepository(Imports)
      .insert({ id, appId: app.id, personId: person.id, fileName, state: 'reading', facts: { size, ...begun(attempt) } as object });
    this.start({ url: this.options.url, attempt, kind: 'survey', id, path: this.path(id), reading: {} });
    return this.read(app, id);
  }

  private async row(app: OpenedApp, id: string): Promise<ImportRow> {
    const row = await this.database.getRepository(Imports).findOneBy({ id, appId: app.id });
    if (row === null) throw new Refusal('not_found', 'There is no such import.');
    return row;
  }

  async read(app: OpenedApp, id: string): Promise<ImportAnswer> {
    let row = await this.row(app, id);
    const isAtWork = row.state === 'reading' || row.state === 'running';
    if (isAtWork && Date.now() / 1000 - (factsOf(row).beat ?? 0) > silentAfter) {
      await this.move(row, 'failed', { message: 'The server was stopped while it worked on this file. Nothing was added; start again.' });
      row = await this.row(app, id);
    }
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
  private async move(row: ImportRow, state: string, facts: Partial<Facts>): Promise<boolean> {
    const result = await this.database.getRepository(Imports).update({ id: row.id, state: row.state }, { state, facts: { ...row.facts, ...facts } as object });
    return result.affected === 1;
  }

  async survey(app: OpenedApp, id: string, reading: ReadingChoice): Promise<ImportAnswer> {
    const row = await this.row(app, id);
    if (['reading', 'running', 'done', 'taken_back'].includes(row.state))
      throw new Refusal('invalid', 'This import is at work or finished. Upload the file again.');
    await this.mustStillBeThere(id);
    const known = knownFor(factsOf(row).survey?.reading, reading);
    const attempt = randomUUID();
    if (await this.move(row, 'reading', begun(attempt)))
      this.start({ url: this.options.url, attempt, kind: 'survey', id, path: this.path(id), reading: { ...known, ...reading } });
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
    if (this.running.size >= mostAtOnce) throw new Refusal('too_many', 'Two imports are at work already. Wait for one of them to finish.');
    const attempt = randomUUID();
    if (await this.move(row, 'running', { ...begun(attempt), plan, isTrial })) {
      this.start({
        url: this.options.url,
        attempt,
        kind: 'run',
        job: { id, appId: app.id, person, path: this.path(id), size, survey, version, plan, isTrial },
      });
    }
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

  private start(task: WorkerTask): void {
    if (this.idle.length === 0 && this.workers.size >= mostThreads) {
      this.queued.push(task);
      return;
    }
    const { worker, tasks } = this.idle.pop() ?? this.begin();
    tasks.add(task.kind === 'survey' ? task.id : task.job.id);
    if (task.kind === 'run') this.running.set(worker, task.job.appId);
    worker.postMessage(task);
  }

  /** A new thread. Loading its code takes longer than reading a small file, so it is kept for a while for the next one. */
  private begin(): ImportThread {
    const worker = new Worker(threadAt(), {
      resourceLimits: { maxOldGenerationSizeMb: 1024, maxYoungGenerationSizeMb: 32 },
    });
    const thread: ImportThread = { worker, tasks: new Set() };
    const letGo = (): void => {
      const place = this.idle.indexOf(thread);
      // A thread that is at work again is not in the list.
      if (place >= 0 && this.idle.splice(place, 1).length > 0) void worker.terminate();
    };
    this.workers.add(worker);
    worker.on('error', (error: Error) => {
      this.options.onFault(error);
      // Where the database is what failed, this fails too: then its silence tells of it.
      for (const id of thread.tasks) void this.abandon(id).catch(this.options.onFault);
    });
    worker.on('message', (word: WorkerWord) => {
      const app = this.running.get(worker);
      this.running.delete(worker);
      if (app !== undefined) this.options.onEnded(app);
      if (word !== 'idle') return;
      thread.tasks.clear();
      this.idle.push(thread);
      const next = this.queued.shift();
      if (next !== undefined) return this.start(next);
      setTimeout(letGo, idleFor).unref();
    });
    worker.on('exit', () => {
      this.workers.delete(worker);
      this.running.delete(worker);
      const place = this.idle.indexOf(thread);
      if (place >= 0) this.idle.splice(place, 1);
      const next = this.isClosed ? undefined : this.queued.shift();
      if (next !== undefined) this.start(next);
    });
    return thread;
  }

  /** For a thread that ended without a word: the person who waits for it is told. */
  private async abandon(id: string): Promise<void> {
    const row = await this.database.getRepository(Imports).findOneBy({ id });
    if (row?.state === 'reading' || row?.state === 'running')
      await this.move(row, 'failed', { message: 'The file could not be worked on. Nothing was added; try again.' });
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

  /** Stops what is at work; the transactions of the workers end with their connections. */
  async close(): Promise<void> {
    this.isClosed = true;
    clearInterval(this.waitingBeat);
    await Promise.all([...this.workers].map((worker) => worker.terminate()));
  }
}
