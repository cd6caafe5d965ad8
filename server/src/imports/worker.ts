/**
 * The thread an import runs in, so that the server goes on answering. It has its own connections and tells of itself
 * through the import's row alone: any server process can show it, and stop it by changing the state.
 */
import { workerData } from 'node:worker_threads';
import { QuoteNeverClosed, type FileSurvey } from '@bibliona/core';
import type { DataSource } from 'typeorm';
import { announce } from '../db/announce.js';
import { connect } from '../db/database.js';
import { Imports } from '../db/entities.js';
import { Refusal } from '../http/refusal.js';
import { FileUnreadable } from './read-file.js';
import { RowsRefused, runImport, Stopped, type ImportJob } from './run-import.js';
import { surveyFile } from './survey-file.js';

export type WorkerTask = { readonly url: string } & (
  | { readonly kind: 'survey'; readonly id: string; readonly path: string; readonly reading: Partial<FileSurvey['reading']> }
  | { readonly kind: 'run'; readonly job: ImportJob }
);

const beatEvery = 400;

/** Writes how far it is, and learns from the same statement whether to go on. */
function heartbeat(database: DataSource, id: string, state: 'reading' | 'running') {
  let [part, isStopped] = [0, false];
  const beat = async (): Promise<void> => {
    const result = await database
      .createQueryBuilder()
      .update(Imports)
      .set({ facts: () => `facts || jsonb_build_object('progress', ${part.toFixed(4)}::float8, 'beat', extract(epoch FROM clock_timestamp()))` })
      .where('id = :id AND state = :state', { id, state })
      .execute();
    if (result.affected === 0) isStopped = true;
  };
  const timer = setInterval(() => void beat().catch(() => undefined), beatEvery);
  return {
    progress: async (now: number): Promise<void> => {
      part = now;
      // Reading a file in a tight loop would leave no room for the timer.
      await new Promise((resolve) => setImmediate(resolve));
      if (isStopped) throw new Stopped();
    },
    end: () => clearInterval(timer),
  };
}

async function finish(database: DataSource, id: string, from: string, state: string, facts: Record<string, unknown>): Promise<void> {
  const row = await database.getRepository(Imports).findOneBy({ id });
  if (row === null || row.state !== from) return;
  await database.getRepository(Imports).update({ id, state: from }, { state, facts: { ...row.facts, ...facts } as object });
}

function failure(error: unknown): { readonly state: string; readonly facts: Record<string, unknown> } {
  if (error instanceof RowsRefused) return { state: 'refused', facts: { complaints: error.complaints, complaintCount: error.count, message: null } };
  if (error instanceof Stopped) return { state: 'cancelled', facts: {} };
  if (error instanceof QuoteNeverClosed || error instanceof FileUnreadable || error instanceof Refusal)
    return {
      state: 'failed',
      facts: { message: `${error.message}${error instanceof QuoteNeverClosed ? '. Close it in the file, or choose another delimiter.' : ''}` },
    };
  return {
    state: 'failed',
    facts: {
      message: 'Something went wrong on the server. Nothing was added.',
      fault: error instanceof Error ? (error.stack ?? error.message) : String(error),
    },
  };
}

async function work(task: WorkerTask): Promise<void> {
  const database = await connect({ url: task.url, connections: 3, statementTimeout: 0 });
  const id = task.kind === 'survey' ? task.id : task.job.id;
  const during = task.kind === 'survey' ? 'reading' : 'running';
  const beat = heartbeat(database, id, during);
  try {
    if (task.kind === 'survey') {
      const survey = await surveyFile(task.path, task.reading, beat.progress);
      await finish(database, id, during, 'read', { survey, progress: 1, message: null });
    } else {
      const row = await database.getRepository(Imports).findOneByOrFail({ id });
      await runImport(database, task.job, beat.progress, async (runner, result) => {
        // Within the transaction: rows and "done" come together, and a stop that came first wins.
        const done = await runner.manager.update(
          Imports,
          { id, state: during },
          { state: 'done', facts: { ...row.facts, ...result, progress: 1, complaints: [], complaintCount: 0, message: null } as object },
        );
        if (done.affected === 0) throw new Stopped();
      });
      await announce(database);
    }
  } catch (error) {
    const { state, facts } = failure(error);
    await finish(database, id, during, state, facts);
  } finally {
    beat.end();
    await database.destroy();
  }
}

await work(workerData as WorkerTask);
