/**
 * Work beside requests: what is put into the queue of the database is done by one of its server processes, once it is
 * committed. A job whose process ends before it is done, however it ends, is done anew by another.
 */
import { EventEmitter } from 'node:events';
import { setTimeout as wait } from 'node:timers/promises';
import { parseCronItems, run, type Runner, type TaskList, type WorkerEvents } from 'graphile-worker';
import type pg from 'pg';
import { forgivingPool } from '../db/connections.js';
import { isDatabaseAway } from '../db/errors.js';
import { freeJobsOfTheGone, jobsSchema, showWorkers, silent } from '../db/job-queue.js';

export interface JobKind {
  readonly name: string;
  /** Does it. When it throws, it is done again after a pause, as often as was said when it was put; each pause is longer than the one before. */
  readonly run: (payload: unknown, attempt: number) => Promise<void>;
  /** How many of them one process does at a time. */
  readonly atMost?: number;
  /** When it is put by itself, and at each start: minute, hour, day, month, day of the week (crontab(5)), in UTC. */
  readonly every?: string;
}

/** Raised by a job that is to be tried again, where that is told elsewhere. */
export class TryAgain extends Error {}

/** Jobs of a process at a time. */
const atOnce = 8;
/** In milliseconds. */
const [pauseBetween, sweepEvery, closingPatience] = [2000, 5000, 5000];

export class Jobs {
  private isClosed = false;
  private wake: () => void = () => undefined;
  private readonly work: Promise<void>;
  /** The kind of each job that is under way. */
  private readonly atWork: string[] = [];

  constructor(private readonly options: { readonly url: string; readonly kinds: readonly JobKind[]; readonly onFault: (error: Error) => void }) {
    this.work = this.keepWorking();
  }

  /** A worker that can't say that its job is done gives up: then all begin anew. */
  private async keepWorking(): Promise<void> {
    while (!this.isClosed) {
      try {
        await this.workUntilBroken();
      } catch (error) {
        // Who asks for something is told that; and it may be there again soon.
        if (!isDatabaseAway(error)) this.options.onFault(error as Error);
      }
      if (!this.isClosed) await this.pause(pauseBetween);
    }
  }

  private pause(time: number): Promise<void> {
    return new Promise((resolve) => {
      this.wake = resolve;
      setTimeout(resolve, time).unref();
    });
  }

  private async workUntilBroken(): Promise<void> {
    const { url, kinds, onFault } = this.options;
    const pool = forgivingPool(url, 'bibliona jobs', atOnce + 2);
    const recurring = kinds.flatMap(({ name, every }) => (every === undefined ? [] : [{ name, every }]));
    const workers: string[] = [];
    const shown = new Moment();
    const broken = new Moment();
    this.wake = broken.resolve;
    const events = new EventEmitter() as WorkerEvents;
    events.on('worker:create', ({ worker }) => workers.push(worker.workerId));
    events.on('worker:fatalError', broken.resolve);
    const turns = new Turns();
    events.on('job:start', ({ job }) => {
      this.atWork.push(job.task_identifier);
      turns.end();
    });
    events.on('worker:getJob:empty', () => turns.end());
    events.on('worker:getJob:error', () => turns.end());
    events.on('job:error', ({ error }) => {
      if (!(error instanceof TryAgain)) onFault(error instanceof Error ? error : new Error(String(error)));
    });
    // Its locks show that the workers are there: PostgreSQL lets them go when this process is gone, however it went.
    let presence: pg.PoolClient | null = null;
    let runner: Runner | null = null;
    let sweeping: NodeJS.Timeout | undefined;
    try {
      presence = await pool.connect();
      presence.on('error', broken.resolve);
      runner = await run({
        pgPool: pool,
        schema: jobsSchema,
        concurrency: atOnce,
        noHandleSignals: true,
        logger: silent,
        events,
        taskList: Object.fromEntries(kinds.map((kind) => [kind.name, (payload, { job }) => this.do(kind, payload, job.attempts)])) satisfies TaskList,
        parsedCronItems: parseCronItems(
          recurring.map(({ name, every }) => ({ task: name, match: every, options: { backfillPeriod: 0, jobKey: name, maxAttempts: 1 } })),
        ),
        // No job is taken before others can see that its worker is there.
        forbiddenFlags: () => shown.promise.then(() => turns.take()).then(() => this.full()),
      });
      runner.promise.then(broken.resolve, broken.resolve);
      await showWorkers(presence, workers);
      shown.resolve();
      await freeJobsOfTheGone(pool);
      sweeping = setInterval(() => void freeJobsOfTheGone(pool).catch(() => undefined), sweepEvery).unref();
      for (const { name } of recurring) await runner.addJob(name, {}, { jobKey: name, maxAttempts: 1 });
      await broken.promise;
    } finally {
      clearInterval(sweeping);
      shown.reject(new Error('No more jobs are taken.'));
      // What takes longer is done anew by another process.
      const patience = wait(closingPatience, undefined, { ref: false });
      await Promise.race([runner?.stop().catch(() => undefined), patience]);
      presence?.release(true);
      await Promise.race([pool.end(), patience]);
    }
  }

  private async do(kind: JobKind, payload: unknown, attempt: number): Promise<void> {
    try {
      await kind.run(payload, attempt);
    } finally {
      this.atWork.splice(this.atWork.indexOf(kind.name), 1);
    }
  }

  /** The kinds of which as many are under way as may be. */
  private full(): string[] {
    const { kinds } = this.options;
    const isFull = ({ name, atMost = Infinity }: JobKind): boolean => this.atWork.filter((each) => each === name).length >= atMost;
    return kinds.filter(isFull).map((kind) => kind.name);
  }

  /** Ends when the jobs under way are done, or take too long. */
  async close(): Promise<void> {
    this.isClosed = true;
    this.wake();
    await this.work;
  }
}

/** Workers take jobs one after another, so that each knows what the others have taken. */
class Turns {
  private isTaken = false;
  private readonly waiting: (() => void)[] = [];

  async take(): Promise<void> {
    if (this.isTaken) await new Promise<void>((resolve) => this.waiting.push(resolve));
    this.isTaken = true;
  }

  end(): void {
    const next = this.waiting.shift();
    if (next === undefined) this.isTaken = false;
    else next();
  }
}

/** A moment that is waited for: it comes, or it never will. */
class Moment {
  resolve!: () => void;
  reject!: (error: Error) => void;
  readonly promise = new Promise<void>((resolve, reject) => {
    this.resolve = resolve;
    this.reject = reject;
  });

  constructor() {
    // Those who wait for it get the error.
    this.promise.catch(() => undefined);
  }
}
